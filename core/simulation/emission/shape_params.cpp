#include "simulation/emission/shape_params.h"

#include <cctype>

namespace comet {

std::vector<ParamSpec> shapeParams(const std::string& giving, const std::string& where) {
  const std::string begins = static_cast<char>(std::toupper(giving.front())) + giving.substr(1);
  return {
      choice("shape", "Shape",
             {{"point", "Point", begins + " at one point."},
              {"line", "Line", begins + " along a line."},
              {"ring", "Ring", begins + " on a circle."},
              {"disc", "Disc", begins + " all over a flat disc."},
              {"rectangle", "Rectangle", begins + " all over a flat rectangle."},
              {"box", "Box", begins + " in a box or on its faces."},
              {"sphere", "Sphere", begins + " in a sphere or on its surface."},
              {"mesh", "Mesh", begins + " on or in a mesh from a file."},
              {"picture", "Picture", begins + " where a picture is bright or opaque."}})
          .in("Shape")
          .tip("The shape on or in which " + giving + "."),
      choice(
          "emit_from", where,
          {{"inside", "Inside", "All through the shape."}, {"surface", "Surface", "On the shape's surface."}})
          .in("Shape")
          .when("shape", {"box", "sphere"})
          .tip("Where on the shape " + giving + "."),
      vector("extent", "Extent", {1, 1, 1})
          .in("Shape")
          .unit("units")
          .range(0, 100000)
          .usual(0, 10)
          .keyed()
          .when("shape", {"line", "rectangle", "box"})
          .axesWhen("shape", "line", "x")
          .axesWhen("shape", "rectangle", "xz")
          .tip("The full lengths of the shape along its axes."),
      number("radius", "Radius", 0.5)
          .in("Shape")
          .unit("units")
          .range(0, 100000)
          .usual(0, 5)
          .keyed()
          .when("shape", {"ring", "disc", "sphere"})
          .tip("The distance from the centre to the rim."),
      file("mesh", "Mesh", FileKind::Mesh)
          .in("Shape")
          .when("shape", {"mesh"})
          .tip("An OBJ, PLY, STL or glTF file. Drop one on the viewport, or choose it here."),
      choice("mesh_emit_from", where,
             {{"surface", "Surface", "Evenly over the faces."},
              {"vertices", "Vertices", "At the mesh's vertices."},
              {"edges", "Edges", "Evenly along the edges."},
              {"inside", "Inside", "All through the inside of a closed mesh."},
              {"facing", "Facing a direction", "Only on faces that point in a given direction."}})
          .in("Shape")
          .when("shape", {"mesh"})
          .tip("Where on the mesh " + giving + "."),
      text("mesh_part", "Mesh part")
          .in("Shape")
          .when("shape", {"mesh"})
          .when("mesh_emit_from", {"surface", "vertices", "edges", "facing"})
          .tip("The name of a group or material in the file; empty for the whole mesh."),
      vector("face_direction", "Face direction", {0, 1, 0})
          .in("Shape")
          .range(-1000, 1000)
          .usual(-1, 1)
          .keyed()
          .when("shape", {"mesh"})
          .when("mesh_emit_from", {"facing"})
          .tip("The direction in which faces must point to count, before the shape is rotated."),
      number("max_face_angle", "Max angle", 45)
          .in("Shape")
          .unit("°")
          .range(0, 180)
          .usual(0, 180)
          .keyed()
          .when("shape", {"mesh"})
          .when("mesh_emit_from", {"facing"})
          .tip("The largest angle between a face and that direction."),
      file("birth_picture", "Picture", FileKind::Picture)
          .in("Shape")
          .when("shape", {"picture"})
          .tip("A picture that stands upright in the scene; # stands for each digit of a sequence."),
      choice("picture_emit_from", where,
             {{"bright", "Bright", "More where the picture is brighter."},
              {"opaque", "Opaque", "More where the picture is more opaque."}})
          .in("Shape")
          .when("shape", {"picture"})
          .tip("What in the picture says where " + giving + "."),
      number("picture_threshold", "Threshold", 10)
          .in("Shape")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .when("shape", {"picture"})
          .tip("What is darker, or less opaque, than this counts for nothing."),
      number("picture_width", "Width", 4)
          .in("Shape")
          .unit("units")
          .range(0.001, 100000)
          .usual(0.1, 20)
          .keyed()
          .when("shape", {"picture"})
          .tip("The width of the picture in the scene; its height follows."),
  };
}

std::vector<ParamSpec> shapeMotionParams() {
  return {
      vector("position", "Position", {0, 0, 0})
          .in("Shape motion")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-10, 10)
          .keyed()
          .tip("The position of the shape. When it is keyed, all of its path counts, also between frames."),
      vector("rotation", "Rotation", {0, 0, 0})
          .in("Shape motion")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .tip("Rotates the shape, and directions that belong to it, about x, then y, then z."),
      vector("scale", "Scale", {1, 1, 1})
          .in("Shape motion")
          .unit("×")
          .range(-10000, 10000)
          .usual(0, 4)
          .keyed()
          .tip("Scales the shape along its own x, y and z."),
      number("wander", "Wander", 0)
          .in("Shape motion")
          .unit("units")
          .range(0, 100000)
          .usual(0, 5)
          .keyed()
          .tip("The farthest that the shape strays from its position, smoothly and at random."),
      number("wander_rate", "Wander rate", 0.5)
          .in("Shape motion")
          .unit("/s")
          .range(0, 1000)
          .usual(0, 5)
          .when("wander", {"positive"})
          .tip("How many times a second the shape changes its course."),
  };
}

std::vector<ParamSpec> emitWindowParams(const std::string& section, const std::string& giving,
                                        std::vector<ChoiceOption> more) {
  std::vector<ChoiceOption> options{{"always", "Always", "From the first frame to the last."},
                                    {"frame_range", "Frame range", "Only from one frame to another."}};
  options.insert(options.end(), more.begin(), more.end());
  return {
      choice("emits", "Emits", std::move(options)).in(section).tip("When " + giving + "."),
      number("emits_from", "From frame", 1)
          .in(section)
          .range(-100000, 100000)
          .usual(1, 200)
          .when("emits", {"frame_range"})
          .frame()
          .tip("Before this frame there is nothing."),
      number("emits_until", "Until frame", 48)
          .in(section)
          .range(-100000, 100000)
          .usual(1, 200)
          .when("emits", {"frame_range"})
          .frame()
          .tip("After this frame there is nothing more."),
  };
}

}  // namespace comet
