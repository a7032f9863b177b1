#include "simulation/emission/emitter_params.h"

namespace comet {
namespace {

std::vector<ParamSpec> throwParams() {
  return {
      choice("launch", "Launch",
             {{"direction", "Direction", "All in one direction."},
              {"normal", "Surface normal", "Away from the surface where they are born."},
              {"outward", "Outward", "Away from the middle of the shape."},
              {"tangential", "Tangential", "Around the direction as an axis."},
              {"random", "Random", "Evenly in all directions."}})
          .in("Launch")
          .tip("The direction in which particles are launched, before the cone spreads it."),
      vector("direction", "Direction", {0, 1, 0})
          .in("Launch")
          .range(-1000, 1000)
          .usual(-1, 1)
          .keyed()
          .when("launch", {"direction", "tangential"})
          .tip("The launch direction, or the axis that particles are launched around. It rotates with the "
               "shape; its length does not matter."),
      number("cone", "Cone", 20)
          .in("Launch")
          .unit("°")
          .range(0, 180)
          .usual(0, 180)
          .keyed()
          .when("launch", {"direction", "normal", "outward", "tangential"})
          .tip("The half angle of the cone around the launch direction; 180 launches in all directions."),
      choice("launch_space", "Space",
             {{"3d", "3D", "Particles move in space."},
              {"2d", "2D", "Particles keep the depth (z) at which they are born, whatever acts on them."}})
          .in("Launch")
          .tip("Whether particles move in space or in a plane."),
      number("speed", "Speed", 3)
          .in("Launch")
          .unit("units/s")
          .range(-100000, 100000)
          .usual(0, 20)
          .keyed()
          .varied()
          .perParticle()
          .tip("The speed at which particles are launched."),
      curve("speed_distribution", "Speed distribution", Curve::constant(1))
          .in("Launch")
          .tip("How often each speed of the variation occurs, from the slowest on the left to the fastest on "
               "the right."),
      number("launch_noise_direction", "Direction noise", 0)
          .in("Launch")
          .unit("°")
          .range(0, 180)
          .usual(0, 90)
          .keyed()
          .tip("How far neighbouring launches are turned aside together."),
      number("launch_noise_speed", "Speed noise", 0)
          .in("Launch")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How much faster or slower neighbouring launches are together."),
      number("launch_noise_scale", "Noise scale", 1)
          .in("Launch")
          .unit("units")
          .range(0.001, 100000)
          .usual(0.1, 10)
          .tip("The distance over which the noise changes."),
  };
}

std::vector<ParamSpec> lifeParams() {
  return {
      choice("lifetime_mode", "Lifetime mode",
             {{"lifetime", "Lifetime", "Each particle has its own lifetime."},
              {"frame", "Until a frame", "All particles die at one frame."},
              {"endless", "Endless", "Particles live until the end of the scene."}})
          .in("Life")
          .tip("When particles die."),
      number("lifetime", "Lifetime", 2)
          .in("Life")
          .unit("s")
          .range(0.001, 100000)
          .usual(0.1, 10)
          .keyed()
          .varied()
          .perParticle()
          .when("lifetime_mode", {"lifetime"})
          .tip("How long a particle lives."),
      number("lifetime_until", "Until frame", 96)
          .in("Life")
          .range(-100000, 100000)
          .usual(1, 200)
          .when("lifetime_mode", {"frame"})
          .frame()
          .tip("All particles die at this frame."),
      choice("bounds", "Bounds",
             {{"none", "None", "Particles may go anywhere."},
              {"distance", "Distance", "Particles die farther than this from a point."},
              {"sphere", "Sphere", "Particles die on one side of a sphere."},
              {"box", "Box", "Particles die on one side of a box."},
              {"mesh", "Mesh", "Particles die on one side of a closed mesh."},
              {"gas", "Gas box", "Particles die where they leave the box of a gas."}})
          .in("Life")
          .tip("Particles die when they cross these bounds."),
      vector("bounds_position", "Bounds position", {0, 0, 0})
          .in("Life")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-10, 10)
          .keyed()
          .when("bounds", {"distance", "sphere", "box", "mesh"})
          .tip("The centre of the bounds."),
      number("bounds_radius", "Bounds radius", 10)
          .in("Life")
          .unit("units")
          .range(0, 1e6)
          .usual(0, 50)
          .keyed()
          .when("bounds", {"distance", "sphere"})
          .tip("The distance from the centre to the bounds."),
      vector("bounds_extent", "Bounds extent", {10, 10, 10})
          .in("Life")
          .unit("units")
          .range(0, 1e6)
          .usual(0, 50)
          .keyed()
          .when("bounds", {"box"})
          .tip("The full lengths of the box."),
      file("bounds_mesh", "Bounds mesh", FileKind::Mesh)
          .in("Life")
          .when("bounds", {"mesh"})
          .tip("A closed mesh; its origin lies at the centre of the bounds."),
      reference("bounds_gas", "Gas", RefersTo::Gas)
          .in("Life")
          .when("bounds", {"gas"})
          .tip("The gas whose box the particles live in."),
      choice("bounds_side", "Ends",
             {{"outside", "Outside", "Particles that leave the bounds die."},
              {"inside", "Inside", "Particles that enter the bounds die."}})
          .in("Life")
          .when("bounds", {"sphere", "box", "mesh"})
          .tip("The side of the bounds on which particles die."),
      number("mass", "Mass", 1)
          .in("Life")
          .range(0.001, 100000)
          .usual(0.1, 10)
          .keyed()
          .perParticle()
          .varied()
          .tip("Heavier particles respond less to forces, wind and turbulence. Gravity acts on all masses "
               "alike."),
      number("mass_from_size", "Mass by size", 0)
          .in("Life")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How far mass follows size: at 100, a particle twice as large is twice as heavy, and small "
               "ones are carried farther by the wind."),
  };
}

}  // namespace

std::vector<ParamSpec> launchParams() {
  std::vector<ParamSpec> params = throwParams();
  for (ParamSpec& spec : lifeParams()) params.push_back(std::move(spec));
  return params;
}

}  // namespace comet
