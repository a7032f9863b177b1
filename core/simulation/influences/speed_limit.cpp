#include "simulation/influences/influences.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Holds speeds between two limits and takes some of them away, whatever gave them.
class Pace : public InfluenceAction {
 public:
  Pace(const Item& item, double frame)
      : min_(item.number("min_speed", frame)),
        max_(item.flag("limits", frame) ? std::max(min_, item.number("max_speed", frame)) : kNoLimit),
        firmness_(item.number("firmness", frame)),
        brake_(item.number("brake", frame)) {}

  void describe(Hasher& hasher) const override { hasher << min_ << max_ << firmness_ << brake_; }

  bool corrects() const override { return true; }

  void correct(Chunk& chunk, const Substep&, const Durations& durations, const Masses&,
               const Weights& weights) const override {
    for (std::size_t i = 0; i < chunk.count; ++i) {
      const Vec3d velocity = chunk.velocity(i);
      const double speed = glm::length(velocity), time = durations.of(i) * weights.of(i);
      if (speed < 1e-9 || time == 0) continue;
      double wanted = std::max(0.0, speed - brake_ * time);
      const double beyond = wanted - std::clamp(wanted, min_, max_);
      // What is beyond a limit dies away, so that the result does not depend on the number of substeps.
      wanted -= beyond * (1 - std::exp(-firmness_ * std::max(0.0, time)));
      const Vec3d changed = velocity * (wanted / speed);
      chunk.setVelocity(i, changed);
      // The change came about evenly over the substep.
      chunk.setPosition(i, chunk.position(i) + (changed - velocity) * (0.5 * durations.of(i)));
    }
  }

 private:
  static constexpr double kNoLimit = 1e30;

  double min_, max_;  // units/s
  double firmness_;   // 1/s
  double brake_;      // units/s²
};

const KindSpec& speedLimitSpec() {
  static const KindSpec kind(
      "speed_limit", "Speed limit", ItemFamily::Influence,
      "Holds the speed of particles within limits, or brakes them to a halt.",
      influenceParams({
          flag("limits", "Limit speed", true)
              .in("Speed")
              .keyed()
              .tip("Holds the speed of particles between two limits."),
          number("max_speed", "Max speed", 5)
              .in("Speed")
              .unit("units/s")
              .range(0, 1e6)
              .usual(0, 40)
              .keyed()
              .when("limits", {"true"})
              .tip("Faster particles are slowed to this speed."),
          number("min_speed", "Min speed", 0)
              .in("Speed")
              .unit("units/s")
              .range(0, 1e6)
              .usual(0, 40)
              .keyed()
              .tip("Slower particles are sped up to this speed in the direction of their velocity. A "
                   "particle at rest stays at rest."),
          number("firmness", "Firmness", 20)
              .in("Speed")
              .unit("/s")
              .range(0, 10000)
              .usual(0, 100)
              .keyed()
              .tip("How quickly a speed beyond a limit is brought back to it. A high value makes a hard "
                   "limit."),
          number("brake", "Slow down", 0)
              .in("Speed")
              .unit("units/s²")
              .range(0, 1e6)
              .usual(0, 40)
              .keyed()
              .tip("The speed lost in each second until the particle rests, as by sliding on the ground."),
      }));
  return kind;
}

}  // namespace

InfluenceKind speedLimitInfluence() {
  return {.spec = speedLimitSpec(),
          .group = InfluenceGroup::Limit,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Pace>(item, time.middleFrame());
          },
          .feelsMass = false,
          .movesGas = false};
}

}  // namespace comet
