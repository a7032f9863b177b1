#include "simulation/emission/emitter_params.h"

namespace comet {
namespace {

std::vector<ParamSpec> throwParams() {
  return {
      choice("launch", "Launch",
             {{"fixed", "One way", "All in the given direction."},
              {"normal", "Along normal", "Away from the surface at the place of birth."},
              {"outward", "Outward", "Away from the middle of the shape."},
              {"around", "Around", "Round the direction as an axis."},
              {"any", "Any way", "To all sides alike."}})
          .in("Launch")
          .tip("Where particles are thrown to, before the cone spreads them."),
      vector("direction", "Direction", {0, 1, 0})
          .in("Launch")
          .range(-1000, 1000)
          .usual(-1, 1)
          .keyed()
          .when("launch", {"fixed", "around"})
          .tip("Where particles are thrown to, or the axis they are thrown round; only the direction counts. "
               "It "
               "turns with the shape."),
      number("cone", "Cone", 20)
          .in("Launch")
          .unit("°")
          .range(0, 180)
          .usual(0, 180)
          .keyed()
          .when("launch", {"fixed", "normal", "outward", "around"})
          .tip("How far a launch may point away from the direction; 180 throws to all sides."),
      choice("launch_space", "Space",
             {{"3d", "3D", "Particles move in space."},
              {"2d", "2D", "Particles keep the depth (z) at which they are born, whatever acts on them."}})
          .in("Launch")
          .tip("Whether particles are thrown and moved in space, or stay in a plane of x and y."),
      number("speed", "Speed", 3)
          .in("Launch")
          .unit("units/s")
          .range(-100000, 100000)
          .usual(0, 20)
          .keyed()
          .varied()
          .perParticle()
          .tip("How fast particles are thrown."),
      curve("speed_spread", "Speed spread", Curve::constant(1))
          .in("Launch")
          .tip("How often each speed of the variation occurs, the slowest left and the fastest right: high "
               "on the "
               "left for few fast, most slow."),
      number("launch_noise_turn", "Noise turn", 0)
          .in("Launch")
          .unit("°")
          .range(0, 180)
          .usual(0, 90)
          .keyed()
          .tip("How far launches from neighbouring places turn aside together."),
      number("launch_noise_speed", "Noise speed", 0)
          .in("Launch")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How much faster or slower launches from neighbouring places are together."),
      number("launch_noise_scale", "Noise scale", 1)
          .in("Launch")
          .unit("units")
          .range(0.001, 100000)
          .usual(0.1, 10)
          .tip("Over which distance the noise changes."),
  };
}

std::vector<ParamSpec> lifeParams() {
  return {
      choice("lives", "Lives",
             {{"lifetime", "A lifetime", "Each particle its own lifetime."},
              {"window", "Until a frame", "All until the frame where the emitter stops."},
              {"endless", "Endless", "Until the end of the scene."}})
          .in("Life")
          .tip("When particles end."),
      number("lifetime", "Lifetime", 2)
          .in("Life")
          .unit("s")
          .range(0.001, 100000)
          .usual(0.1, 10)
          .keyed()
          .varied()
          .perParticle()
          .when("lives", {"lifetime"})
          .tip("How long a particle lives."),
      number("lives_until", "Until frame", 96)
          .in("Life")
          .range(-100000, 100000)
          .usual(1, 200)
          .when("lives", {"window"})
          .frame()
          .tip("The frame at which all particles end."),
      choice("ends", "Ends at",
             {{"nothing", "Nothing", "Particles may go anywhere."},
              {"distance", "A distance", "Beyond a distance from a place."},
              {"sphere", "A sphere", "On one side of a sphere."},
              {"box", "A box", "On one side of a box."},
              {"mesh", "A mesh", "On one side of a closed mesh."}})
          .in("Life")
          .tip("Where particles end before their time."),
      vector("ends_place", "Centre", {0, 0, 0})
          .in("Life")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-10, 10)
          .keyed()
          .when("ends", {"distance", "sphere", "box", "mesh"})
          .tip("The middle of the bounds."),
      number("ends_radius", "Distance", 10)
          .in("Life")
          .unit("units")
          .range(0, 1e6)
          .usual(0, 50)
          .keyed()
          .when("ends", {"distance", "sphere"})
          .tip("How far the bounds reach."),
      vector("ends_extent", "Extent", {10, 10, 10})
          .in("Life")
          .unit("units")
          .range(0, 1e6)
          .usual(0, 50)
          .keyed()
          .when("ends", {"box"})
          .tip("Full lengths of the box."),
      file("ends_mesh", "Mesh", FileKind::Mesh)
          .in("Life")
          .when("ends", {"mesh"})
          .tip("A closed mesh; its own zero lies at the centre."),
      choice("ends_side", "End",
             {{"outside", "Outside", "Particles that leave the bounds end."},
              {"inside", "Inside", "Particles that enter the bounds end."}})
          .in("Life")
          .when("ends", {"sphere", "box", "mesh"})
          .tip("On which side of the bounds particles end."),
      number("mass", "Mass", 1)
          .in("Life")
          .range(0.001, 100000)
          .usual(0.1, 10)
          .keyed()
          .perParticle()
          .varied()
          .tip("Heavier particles answer less to wind, drag and turbulence, and the same to gravity."),
      number("mass_from_size", "Mass by size", 0)
          .in("Life")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How far the mass follows the size: at 100, a particle twice as large is twice as heavy, and "
               "small "
               "ones are carried further by wind and drag."),
  };
}

}  // namespace

std::vector<ParamSpec> launchParams() {
  std::vector<ParamSpec> params = throwParams();
  for (ParamSpec& spec : lifeParams()) params.push_back(std::move(spec));
  return params;
}

}  // namespace comet
