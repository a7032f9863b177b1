#include "simulation/gas/source_kind.h"

#include "simulation/emission/shape_params.h"

namespace comet {
namespace {

std::vector<ParamSpec> whereParams() {
  return {
      reference("gas", "Gas", RefersTo::Gas).in("Source").tip("The gas that it gives to."),
      choice("emits_by", "Emits from",
             {{"shape", "Shape", "Gas comes from a shape."},
              {"strokes", "Strokes", "Gas comes from lines that you draw in the viewport."},
              {"particles", "Particles", "Gas comes from the particles of an emitter."}})
          .in("Source")
          .tip("Where the gas comes from."),
      reference("particles_of", "Emitter", RefersTo::Emitter)
          .in("Source")
          .when("emits_by", {"particles"})
          .tip("The emitter whose particles give off gas."),
      strokes("strokes", "Strokes")
          .in("Source")
          .range(-1e6, 1e6)
          .when("emits_by", {"strokes"})
          .tip("The lines that give off gas."),
      choice("particle_radius_by", "Radius",
             {{"fixed", "The same for all", "There is gas so far around each particle."},
              {"size", "By size", "Around particles that are born larger there is gas farther out."}})
          .in("Source")
          .when("emits_by", {"particles"})
          .tip("Whether all particles give off equally large puffs."),
      number("particle_radius", "Particle radius", 0.15)
          .in("Source")
          .unit("units")
          .range(0, 10000)
          .usual(0, 2)
          .keyed()
          .when("emits_by", {"particles"})
          .when("particle_radius_by", {"fixed"})
          .tip("How far around each particle there is gas."),
      number("particle_radius_of_size", "Radius of size", 100)
          .in("Source")
          .unit("%")
          .range(0, 10000)
          .usual(0, 400)
          .keyed()
          .when("emits_by", {"particles"})
          .when("particle_radius_by", {"size"})
          .tip(
              "How far around each particle there is gas, as a percentage of half the size it is born with."),
      curve("amount_over_life", "Amount over life", Curve::constant(1))
          .in("Source")
          .when("emits_by", {"particles"})
          .tip("How much each particle gives off from its birth on the left to its death on the right."),
      number("thickness", "Thickness", 0.2)
          .in("Source")
          .unit("units")
          .range(0, 10000)
          .usual(0, 2)
          .keyed()
          .when("emits_by", {"shape", "strokes"})
          .tip("How far beyond the points, lines or surfaces of the shape there is gas."),
      number("softness", "Softness", 0.1)
          .in("Source")
          .unit("units")
          .range(0, 10000)
          .usual(0, 2)
          .keyed()
          .tip("The distance over which it fades at its edge; never less than a voxel."),
  };
}

std::vector<ParamSpec> amountParams() {
  const auto own = [](ParamSpec spec) { return std::move(spec.in("Amount")); };
  return {
      own(choice("amount", "Amount",
                 {{"per_second", "Per second", "So much is added every second."},
                  {"held", "Held", "Density, temperature and fuel are held at these values, or above."}}))
          .tip("What the numbers below mean."),
      own(number("density", "Density", 8))
          .range(0, 10000)
          .usual(0, 20)
          .keyed()
          .varied()
          .tip("How dense the gas becomes in a second, or at once where it is held. "
               "The variation changes it from burst to burst, or else from frame to frame."),
      own(number("temperature", "Temperature", 400))
          .unit("K")
          .range(-10000, 10000)
          .usual(-500, 2000)
          .keyed()
          .varied()
          .tip("By how much the gas becomes warmer than the air in a second, or at once where it is held."),
      own(number("fuel", "Fuel", 0))
          .range(0, 10000)
          .usual(0, 20)
          .keyed()
          .varied()
          .tip("How much fuel the gas gets in a second, or at once where it is held. It burns in a gas whose "
               "Burning is on."),
      own(number("noise", "Noise", 60))
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How much the amount varies over the source."),
      own(number("noise_size", "Noise size", 0.4))
          .unit("units")
          .range(0.001, 10000)
          .usual(0.01, 5)
          .when("noise", {"positive"})
          .tip("The size of the spots of the noise."),
      own(number("noise_speed", "Noise speed", 1))
          .unit("units/s")
          .range(-1000, 1000)
          .usual(0, 5)
          .when("noise", {"positive"})
          .tip("How fast the noise drifts upwards through the source, so that it changes over time."),
      own(number("expansion", "Expansion", 0))
          .unit("/s")
          .range(-1000, 1000)
          .usual(0, 50)
          .keyed()
          .varied()
          .tip("How fast the gas swells: by so many times its volume each second. A few frames of it make a "
               "puff."),
      own(integer("seed", "Seed", 1)).range(0, 1e9).usual(0, 100).tip("Another seed gives other noise."),
  };
}

std::vector<ParamSpec> colorParams() {
  return {
      choice("gives_color", "Colour",
             {{"none", "None", "The source gives no colour of its own: its gas is white among coloured gas."},
              {"color", "One colour", "All of its gas has one colour."},
              {"picture", "Picture", "Its gas has the colours of the picture that it comes from."}})
          .in("Colour")
          .tip("The colour that the source gives to the gas, seen where the gas is coloured by Source."),
      color("source_color", "Gas colour", {0.78, 0.8, 0.83})
          .in("Colour")
          .keyed()
          .when("gives_color", {"color"})
          .tip("The colour of the gas that it gives off."),
  };
}

std::vector<ParamSpec> velocityParams() {
  const auto own = [](ParamSpec spec) { return std::move(spec.in("Velocity")); };
  const auto set = [&own](ParamSpec spec) {
    return std::move(own(std::move(spec)).keyed().when("sets_velocity", {"set"}));
  };
  return {
      own(choice("sets_velocity", "Velocity",
                 {{"none", "Leave", "The source does not change how the gas moves."},
                  {"set", "Set", "Gas in the source moves as said below."}}))
          .tip("Whether the source gives its gas a velocity."),
      set(vector("velocity", "Direction and speed", {0, 2, 0}))
          .unit("units/s")
          .range(-10000, 10000)
          .usual(-10, 10)
          .tip("The velocity of the gas, turned with the shape."),
      set(number("normal_speed", "Speed outwards", 0))
          .when("emits_by", {"shape"})
          .unit("units/s")
          .range(-10000, 10000)
          .usual(-10, 10)
          .tip("How fast the gas leaves the surface of the shape."),
      set(number("inherit_velocity", "Inherit velocity", 100))
          .unit("%")
          .range(-1000, 1000)
          .usual(0, 200)
          .tip("The percentage of the velocity of the shape, or of the particles, that the gas takes over."),
  };
}

std::vector<ParamSpec> whenParams() {
  const auto own = [](ParamSpec spec) { return std::move(spec.in("When").when("emits", {"bursts"})); };
  std::vector<ParamSpec> params =
      emitWindowParams("When", "gas is given off", {{"bursts", "Bursts", "In bursts, one after the other."}});
  for (ParamSpec& spec :
       std::vector{own(number("first_burst", "First burst", 1))
                       .range(-100000, 100000)
                       .usual(1, 200)
                       .frame()
                       .tip("The frame at which the first burst begins."),
                   own(number("burst_length", "Burst length", 4))
                       .unit("frames")
                       .range(0.01, 100000)
                       .usual(1, 48)
                       .varied()
                       .tip("How many frames a burst lasts. The variation differs from burst to burst."),
                   own(number("burst_interval", "Interval", 24))
                       .unit("frames")
                       .range(0.1, 100000)
                       .usual(1, 200)
                       .varied()
                       .tip("How many frames lie between the beginnings of two bursts. The variation moves "
                            "each of them by itself."),
                   own(integer("burst_count", "Number of bursts", 0))
                       .range(0, 100000)
                       .usual(0, 20)
                       .tip("How many bursts there are; 0 for no end.")})
    params.push_back(std::move(spec));
  return params;
}

}  // namespace

const KindSpec& sourceKind() {
  static const KindSpec kind(
      "source", "Source", ItemFamily::Source, "Gives density, temperature and velocity to a gas.", [] {
        std::vector<ParamSpec> params;
        std::vector<ParamSpec> shape = shapeParams("gas is given off");
        for (ParamSpec& spec : shape) spec.when("emits_by", {"shape"});
        for (ParamSpec& spec : shapeMotionParams())
          shape.push_back(spec.when("emits_by", {"shape", "strokes"}));
        for (auto&& part :
             {whereParams(), shape, amountParams(), colorParams(), velocityParams(), whenParams()})
          params.insert(params.end(), part.begin(), part.end());
        return params;
      }());
  return kind;
}

}  // namespace comet
