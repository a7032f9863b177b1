#include "simulation/emission/emitter_params.h"
#include "simulation/emission/shape_params.h"

namespace comet {
namespace {

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

std::vector<ParamSpec> pointParams() {
  return {
      integer("birth_points", "Birth points", 0)
          .in("Shape")
          .range(0, 100000)
          .usual(0, 60)
          .when("shape", {"line", "ring", "disc", "rectangle", "box", "sphere", "mesh", "picture"})
          .tip("How many fixed points of the shape give births, in turn; 0 for births anywhere on it. The "
               "particles of a point can make one line: see Connect."),
      choice("birth_point_spread", "Point spread",
             {{"random", "Random", "The points lie at random."},
              {"even", "Even", "The points lie far apart: on a ring, at equal angles."}})
          .in("Shape")
          .when("birth_points", {"positive"})
          .tip("How the birth points are spread over the shape."),
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
  };
}

std::vector<ParamSpec> limitParams() {
  return {
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

std::vector<ParamSpec> inheritParams() {
  return {
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

}  // namespace

std::vector<ParamSpec> ruleParams() {
  return {rules("rules", "Rules")
              .in("Rules")
              .tip("Sentences that say what becomes of particles when something is so: when … then … . They "
                   "are asked at the end of each frame, one after the other.")};
}

std::vector<ParamSpec> birthParams() {
  std::vector<ParamSpec> params;
  for (auto&& part :
       {sourceParams(), shapeParams("particles are born"), pointParams(), amountParams(),
        emitWindowParams("Birth", "particles are born"), limitParams(), shapeMotionParams(), inheritParams()})
    params.insert(params.end(), part.begin(), part.end());
  return params;
}

}  // namespace comet
