#include "base/noise.h"
#include "base/random.h"
#include "simulation/frame/cycles.h"
#include "simulation/influences/influences.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

struct Gusts {
  double strength = 0;  // fraction of the wind's speed
  double every = 1;     // seconds
  double rounds = 0;    // of a loop: after so many it is the same again
  std::uint64_t seed = 0;

  // What the wind's speed is multiplied with, seconds after the scene's first frame.
  double at(double seconds) const {
    if (strength == 0) return 1;
    // Noise is zero at whole numbers of the lattice, so it is read off them.
    const Vec3d place(seconds / every, 0.37, 0.71);
    return std::max(
        0.0, 1 + strength * kGain *
                     (rounds > 0 ? repeatingNoise(place, {rounds, 1, 1}, seed) : smoothNoise(place, seed)));
  }

  // Brings the noise's usual range to about ±1.
  static constexpr double kGain = 1.6;
};

class Wind : public InfluenceAction {
 public:
  Wind(const Vec3d& velocity, double airDrag, const Gusts& gusts)
      : velocity_(velocity), airDrag_(airDrag), gusts_(gusts) {}

  void describe(Hasher& hasher) const override {
    hasher << velocity_ << airDrag_ << gusts_.strength;
    if (gusts_.strength != 0) hasher << gusts_.every << gusts_.rounds << gusts_.seed;
  }

  void addTo(Forces& forces, const Samples& samples, const Substep& substep,
             const Weights& weights) const override {
    forces.addWind(velocity_ * gusts_.at(substep.middle()), airDrag_, weights, samples.count);
  }

 private:
  Vec3d velocity_;
  double airDrag_;
  Gusts gusts_;
};

const KindSpec& windSpec() {
  static const KindSpec kind(
      "wind", "Wind", ItemFamily::Influence,
      "Moving air that carries particles along. With more drag they follow it sooner.",
      influenceParams({
          number("speed", "Speed", 3)
              .in("Air")
              .unit("units/s")
              .range(-10000, 10000)
              .usual(0, 20)
              .keyed()
              .tip("The speed of the air, which particles approach."),
          vector("direction", "Direction", {1, 0, 0})
              .in("Air")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .tip("The direction in which the air moves; its length does not matter."),
          number("air_drag", "Air drag", 1)
              .in("Air")
              .unit("/s")
              .range(0, 1000)
              .usual(0, 10)
              .keyed()
              .tip("How quickly particles take on the air's velocity: at 1, two thirds of it within a "
                   "second."),
          number("gusts", "Gusts", 0)
              .in("Gusts")
              .unit("%")
              .range(0, 1000)
              .usual(0, 100)
              .keyed()
              .tip(
                  "How much the wind rises and falls by itself. At 100 the air comes to rest between gusts."),
          number("gust_period", "Gust period", 1.5)
              .in("Gusts")
              .unit("s")
              .range(0.01, 10000)
              .usual(0.1, 10)
              .tip("The mean time from one gust to the next."),
          integer("gust_seed", "Gust seed", 1)
              .in("Gusts")
              .range(0, 1e9)
              .usual(0, 100)
              .tip("Another seed gives other gusts."),
      }));
  return kind;
}

}  // namespace

InfluenceKind windInfluence() {
  return {.spec = windSpec(),
          .group = InfluenceGroup::Air,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            const Vec3d direction = unitOr(item.vector("direction", frame), Vec3d(1, 0, 0));
            const double rate = wholeCycles(1 / item.number("gust_period", frame), time.period);
            const Gusts gusts{item.number("gusts", frame) / 100, 1 / rate,
                              time.period > 0 ? cyclesOf(rate, time.period) : 0,
                              mixBits(static_cast<std::uint64_t>(item.number("gust_seed", frame)))};
            return std::make_unique<Wind>(direction * item.number("speed", frame),
                                          item.number("air_drag", frame), gusts);
          }};
}

}  // namespace comet
