#include "simulation/emission/emitter_params.h"

namespace comet {
namespace {

std::vector<ParamSpec> shapeParams() {
  return {
      choice("shape", "Shape",
             {{"point", "Point", "All particles are born at one point."},
              {"line", "Line", "Particles are born along a line."},
              {"ring", "Ring", "Particles are born on a circle."},
              {"disc", "Disc", "Particles are born all over a flat disc."},
              {"rectangle", "Rectangle", "Particles are born all over a flat rectangle."},
              {"box", "Box", "Particles are born in a box or on its faces."},
              {"sphere", "Sphere", "Particles are born in a sphere or on its surface."},
              {"mesh", "Mesh", "Particles are born on or in a mesh from a file."},
              {"picture", "Picture", "Particles are born where a picture is bright or opaque."}})
          .in("Shape")
          .tip("The shape on or in which particles are born."),
      choice("emit_from", "Emit from",
             {{"inside", "Inside", "Births fill the shape."},
              {"surface", "Surface", "Births lie on the shape's surface."}})
          .in("Shape")
          .when("shape", {"box", "sphere"})
          .tip("Where on the shape particles are born."),
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
      choice(
          "mesh_emit_from", "Emit from",
          {{"surface", "Surface", "Births are spread evenly over the faces."},
           {"vertices", "Vertices", "Births happen at the mesh's vertices."},
           {"edges", "Edges", "Births are spread evenly along the edges."},
           {"inside", "Inside", "Births fill the inside of a closed mesh."},
           {"facing", "Facing a direction", "Births happen only on faces that point in a given direction."}})
          .in("Shape")
          .when("shape", {"mesh"})
          .tip("Where on the mesh particles are born."),
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
          .tip("The direction in which faces must point to give births, before the shape is rotated."),
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
      choice("picture_emit_from", "Emit from",
             {{"bright", "Bright", "More births where the picture is brighter."},
              {"opaque", "Opaque", "More births where the picture is more opaque."}})
          .in("Shape")
          .when("shape", {"picture"})
          .tip("What in the picture gives births."),
      number("picture_threshold", "Threshold", 10)
          .in("Shape")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .when("shape", {"picture"})
          .tip("Nothing is born where the picture is darker, or less opaque, than this."),
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

std::vector<ParamSpec> motionParams() {
  return {
      vector("position", "Position", {0, 0, 0})
          .in("Shape motion")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-10, 10)
          .keyed()
          .tip(
              "The position of the shape. When it is keyed, births lie along its path, also between frames."),
      vector("rotation", "Rotation", {0, 0, 0})
          .in("Shape motion")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .tip("Rotates the shape and its launch direction about x, then y, then z."),
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
      number("inherit_emitter_velocity", "Inherit velocity", 0)
          .in("Shape motion")
          .unit("%")
          .range(0, 200)
          .usual(0, 200)
          .keyed()
          .tip("The percentage of the shape's own velocity, from keys and wander, that is added to the "
               "launch."),
  };
}

// Of child emitters: what of another emitter's particles gives births.
std::vector<ParamSpec> sourceParams() {
  const auto ofChild = [](ParamSpec spec) {
    return std::move(spec.in("Parent").when("birth_trigger", {"parent_birth", "parent_life", "parent_path",
                                                              "parent_death", "parent_hit", "rules"}));
  };
  return {
      choice("birth_trigger", "Birth trigger",
             {{"own", "Own rate and bursts", "The emitter gives births by its rate and its bursts."},
              {"parent_birth", "Parent birth", "Particles of the parent give births as they are born."},
              {"parent_life", "Parent life",
               "Particles of the parent give births all their lives, evenly in time."},
              {"parent_path", "Parent path",
               "Particles of the parent give births as they travel, evenly along their paths."},
              {"parent_death", "Parent death", "Particles of the parent give births where they die."},
              {"parent_hit", "Parent hit", "Particles of the parent give births where they hit a deflector."},
              {"rules", "Rules", "The rules of another emitter decide."}})
          .in("Birth")
          .tip("What causes births: the emitter itself, or particles of a parent emitter. A child's shape "
               "lies around each particle that gives births."),
      reference("parent", "Parent emitter", RefersTo::Source)
          .in("Parent")
          .when("birth_trigger", {"parent_birth", "parent_life", "parent_path", "parent_death", "parent_hit"})
          .tip("The emitter whose particles give births."),
      number("births_per_event", "Births per event", 20)
          .in("Parent")
          .range(0, 5e6)
          .usual(0, 200)
          .keyed()
          .varied()
          .perParticle()
          .when("birth_trigger", {"parent_birth", "parent_death", "parent_hit"})
          .tip("The number of births each time that a particle gives births. The variation differs from "
               "particle to particle."),
      number("births_per_second", "Births per second", 30)
          .in("Parent")
          .unit("/s")
          .range(0, 1e6)
          .usual(0, 200)
          .keyed()
          .when("birth_trigger", {"parent_life"})
          .tip("The births from each particle in every second of its life."),
      number("births_per_unit", "Births per unit", 5)
          .in("Parent")
          .unit("/unit")
          .range(0, 1e6)
          .usual(0, 50)
          .keyed()
          .when("birth_trigger", {"parent_path"})
          .tip("The births from each particle for every unit of its path."),
      number("birth_chance", "Birth chance", 100)
          .in("Parent")
          .when("birth_trigger", {"parent_birth", "parent_life", "parent_path", "parent_death", "parent_hit"})
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("The chance that a particle of the parent gives births at all, drawn once for each."),
      ofChild(number("inherit_parent_velocity", "Inherit velocity", 0))
          .unit("%")
          .range(-1000, 1000)
          .usual(-100, 100)
          .keyed()
          .tip("The percentage of the parent particle's velocity that is added to the launch."),
      ofChild(choice("shape_orientation", "Orient shape",
                     {{"world", "World", "The shape's y axis points up."},
                      {"velocity", "Velocity", "The shape's y axis points along the particle's velocity."},
                      {"surface_normal", "Surface normal",
                       "The shape's y axis points away from the surface that was hit."}}))
          .tip("How the shape and the launch direction are oriented around the parent particle."),
  };
}

std::vector<ParamSpec> amountParams() {
  return {
      number("rate", "Rate", 120)
          .in("Birth")
          .when("birth_trigger", {"own"})
          .unit("/s")
          .range(0, 5e6)
          .usual(0, 1000)
          .keyed()
          .varied()
          .tip("Particles born each second, evenly in time. The variation changes it from frame to frame."),
      bursts("bursts", "Bursts")
          .in("Birth")
          .when("birth_trigger", {"own"})
          .tip("Many births at one moment, once or repeated."),
      choice("emits", "Emits",
             {{"always", "Always", "From the first frame to the last."},
              {"frame_range", "Frame range", "Only from one frame to another."}})
          .in("Birth")
          .tip("When particles are born."),
      number("emits_from", "From frame", 1)
          .in("Birth")
          .range(-100000, 100000)
          .usual(1, 200)
          .when("emits", {"frame_range"})
          .frame()
          .tip("Nothing is born before this frame."),
      number("emits_until", "Until frame", 48)
          .in("Birth")
          .range(-100000, 100000)
          .usual(1, 200)
          .when("emits", {"frame_range"})
          .frame()
          .tip("Nothing is born after this frame."),
      integer("max_particles", "Max particles", 0)
          .in("Birth")
          .range(0, 50000000)
          .usual(0, 10000)
          .tip("Births wait while this many particles of the emitter are alive; 0 sets no limit."),
      integer("seed", "Seed", 1)
          .in("Birth")
          .range(0, 1e9)
          .usual(0, 100)
          .tip("Another seed gives other random choices for this emitter alone."),
  };
}

}  // namespace

std::vector<ParamSpec> ruleParams() {
  return {rules("rules", "Rules")
              .in("Rules")
              .tip("Sentences that say what becomes of particles when something is so: when … then … . They "
                   "are asked at the end of each frame, one after the other.")};
}

std::vector<ParamSpec> birthParams() {
  std::vector<ParamSpec> params;
  for (auto&& part : {sourceParams(), shapeParams(), amountParams(), motionParams()})
    params.insert(params.end(), part.begin(), part.end());
  return params;
}

}  // namespace comet
