#include "simulation/emission/emitter_params.h"

namespace comet {
namespace {

std::vector<ParamSpec> shapeParams() {
  return {
      choice("shape", "Shape",
             {{"point", "Point", "All births in one place."},
              {"line", "Line", "Births along a line."},
              {"ring", "Ring", "Births on a circle."},
              {"disc", "Disc", "Births all over a flat disc."},
              {"rectangle", "Rectangle", "Births all over a flat rectangle."},
              {"box", "Box", "Births in a box or on its faces."},
              {"sphere", "Sphere", "Births in a ball or on its surface."},
              {"mesh", "Mesh", "Births on or in a mesh from a file."},
              {"picture", "Picture", "Births where a picture is bright or opaque."}})
          .in("Birth")
          .tip("Where particles are born."),
      choice("births_on", "Births",
             {{"inside", "Inside", "Births all through the shape."},
              {"surface", "Surface", "Births on the outside of the shape only."}})
          .in("Birth")
          .when("shape", {"box", "sphere"})
          .tip("Whether births fill the shape or lie on its surface."),
      vector("extent", "Extent", {1, 1, 1})
          .in("Birth")
          .unit("units")
          .range(0, 100000)
          .usual(0, 10)
          .keyed()
          .when("shape", {"line", "rectangle", "box"})
          .axesWhen("shape", "line", "x")
          .axesWhen("shape", "rectangle", "xz")
          .tip("Full lengths of the shape."),
      number("radius", "Radius", 0.5)
          .in("Birth")
          .unit("units")
          .range(0, 100000)
          .usual(0, 5)
          .keyed()
          .when("shape", {"ring", "disc", "sphere"})
          .tip("Distance from the centre to the rim."),
      file("mesh", "Mesh", FileKind::Mesh)
          .in("Birth")
          .when("shape", {"mesh"})
          .tip("An OBJ, PLY, STL or glTF file. Drop one on the viewport, or choose it here."),
      choice("mesh_births", "Births",
             {{"surface", "Surface", "All over the faces, evenly by area."},
              {"vertices", "Vertices", "At the mesh's points."},
              {"edges", "Edges", "Along the edges, evenly by length."},
              {"inside", "Inside", "All through the inside of a closed mesh."},
              {"facing", "Facing", "On the faces that look a certain way."}})
          .in("Birth")
          .when("shape", {"mesh"})
          .tip("Where on the mesh particles are born."),
      text("mesh_part", "Part")
          .in("Birth")
          .when("shape", {"mesh"})
          .when("mesh_births", {"surface", "vertices", "edges", "facing"})
          .tip("A group or material of the mesh, by its name in the file; empty for the whole mesh."),
      vector("facing", "Facing", {0, 1, 0})
          .in("Birth")
          .range(-1000, 1000)
          .usual(-1, 1)
          .keyed()
          .when("shape", {"mesh"})
          .when("mesh_births", {"facing"})
          .tip("The way faces must look to give births, before the shape is turned."),
      number("facing_angle", "Within", 45)
          .in("Birth")
          .unit("°")
          .range(0, 180)
          .usual(0, 180)
          .keyed()
          .when("shape", {"mesh"})
          .when("mesh_births", {"facing"})
          .tip("How far a face may look away from that."),
      file("birth_picture", "Picture", FileKind::Picture)
          .in("Birth")
          .when("shape", {"picture"})
          .tip("A picture that stands upright in the scene. A name with # for each digit stands for a "
               "sequence."),
      choice("picture_births", "Births",
             {{"bright", "Bright", "More where the picture is brighter."},
              {"opaque", "Opaque", "More where the picture is more opaque."}})
          .in("Birth")
          .when("shape", {"picture"})
          .tip("What in the picture gives births."),
      number("picture_threshold", "Threshold", 10)
          .in("Birth")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .when("shape", {"picture"})
          .tip("Nothing is born where the picture has less than this."),
      number("picture_width", "Width", 4)
          .in("Birth")
          .unit("units")
          .range(0.001, 100000)
          .usual(0.1, 20)
          .keyed()
          .when("shape", {"picture"})
          .tip("How wide the picture stands in the scene; its height follows."),
  };
}

std::vector<ParamSpec> motionParams() {
  return {
      vector("place", "Place", {0, 0, 0})
          .in("Birth")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-10, 10)
          .keyed()
          .tip("Where the shape is. When keyed, births lie along its path, also between frames."),
      vector("turn", "Turn", {0, 0, 0})
          .in("Birth")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .tip("How the shape and its launch direction are turned about x, y and z."),
      vector("scale", "Scale", {1, 1, 1})
          .in("Birth")
          .unit("×")
          .range(-10000, 10000)
          .usual(0, 4)
          .keyed()
          .tip("How much larger the shape is along its own x, y and z."),
      number("wander", "Wander", 0)
          .in("Birth")
          .unit("units")
          .range(0, 100000)
          .usual(0, 5)
          .keyed()
          .tip("How far the shape strays from its place at most, smoothly and at random."),
      number("wander_speed", "Wander speed", 0.5)
          .in("Birth")
          .unit("/s")
          .range(0, 1000)
          .usual(0, 5)
          .when("wander", {"positive"})
          .tip("How often a second the shape strays another way."),
      number("handed_over", "Handed over", 0)
          .in("Birth")
          .unit("%")
          .range(0, 200)
          .usual(0, 200)
          .keyed()
          .tip("How much of the shape's own velocity, from keys and wander, its particles start with."),
  };
}

// Of child emitters: what of another emitter's particles gives births.
std::vector<ParamSpec> sourceParams() {
  const auto ofChild = [](ParamSpec spec) {
    return std::move(
        spec.in("Birth").when("births_come", {"births", "lives", "ways", "deaths", "hits", "rules"}));
  };
  return {
      choice("births_come", "Births come",
             {{"alone", "By rate and bursts", "The emitter gives births on its own."},
              {"births", "With births", "Where particles of another emitter are born."},
              {"lives", "All the time", "From particles of another emitter as long as they live."},
              {"ways", "Along the way", "From particles of another emitter as far as they go."},
              {"deaths", "At deaths", "Where particles of another emitter die."},
              {"hits", "On hits", "Where particles of another emitter hit a deflector."},
              {"rules", "By rules", "When the rules of another emitter say so."}})
          .in("Birth")
          .tip("What gives births: the emitter on its own, or particles of another one, whose child it then "
               "is. Its shape then lies around each of them."),
      reference("parent", "Particles of", RefersTo::Source)
          .in("Birth")
          .when("births_come", {"births", "lives", "ways", "deaths", "hits"})
          .tip("The emitter whose particles give births."),
      number("each", "Births each", 20)
          .in("Birth")
          .range(0, 5e6)
          .usual(0, 200)
          .keyed()
          .varied()
          .perParticle()
          .when("births_come", {"births", "deaths", "hits"})
          .tip("Births from each particle, each time. The variation differs from particle to particle."),
      number("each_second", "Births a second", 30)
          .in("Birth")
          .unit("/s")
          .range(0, 1e6)
          .usual(0, 200)
          .keyed()
          .when("births_come", {"lives"})
          .tip("Births from each particle in every second of its life, evenly in time."),
      number("each_unit", "Births a unit", 5)
          .in("Birth")
          .unit("/unit")
          .range(0, 1e6)
          .usual(0, 50)
          .keyed()
          .when("births_come", {"ways"})
          .tip("Births from each particle on every unit of its way, evenly along it."),
      number("birth_chance", "Chance", 100)
          .in("Birth")
          .when("births_come", {"births", "lives", "ways", "deaths", "hits"})
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How many of the particles give births at all; drawn once for each of them."),
      ofChild(number("from_velocity", "Its velocity", 0))
          .unit("%")
          .range(-1000, 1000)
          .usual(-100, 100)
          .keyed()
          .tip("How much of the velocity of the particle that it comes from a birth starts with."),
      ofChild(choice("stands", "Shape stands",
                     {{"scene", "As in the scene", "Its y goes up."},
                      {"motion", "Along the motion", "Its y goes the way that the particle goes."},
                      {"surface", "Off the surface", "Its y goes off the surface that was hit."}}))
          .tip("How the shape and the launch direction stand around the particle."),
  };
}

std::vector<ParamSpec> amountParams() {
  return {
      number("rate", "Rate", 120)
          .in("Birth")
          .when("births_come", {"alone"})
          .unit("/s")
          .range(0, 5e6)
          .usual(0, 1000)
          .keyed()
          .varied()
          .tip("Particles born each second, evenly in time. The variation changes it from frame to frame."),
      bursts("bursts", "Bursts")
          .in("Birth")
          .when("births_come", {"alone"})
          .tip("Many births at one moment, once or repeated."),
      choice("emits", "Emits",
             {{"always", "Always", "From the first frame to the last."},
              {"window", "In a window", "Only between two frames."}})
          .in("Birth")
          .tip("When particles are born."),
      number("emits_from", "From frame", 1)
          .in("Birth")
          .range(-100000, 100000)
          .usual(1, 200)
          .when("emits", {"window"})
          .frame()
          .tip("Nothing is born before this frame."),
      number("emits_until", "Until frame", 48)
          .in("Birth")
          .range(-100000, 100000)
          .usual(1, 200)
          .when("emits", {"window"})
          .frame()
          .tip("Nothing is born after this frame."),
      integer("most_alive", "At most alive", 0)
          .in("Birth")
          .range(0, 50000000)
          .usual(0, 10000)
          .tip("Births wait while as many particles of this emitter are alive; 0 for no limit of its own."),
      integer("seed", "Seed", 1)
          .in("Birth")
          .range(0, 1e9)
          .usual(0, 100)
          .tip("Another number gives other random choices for this emitter alone."),
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
