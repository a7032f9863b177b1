#include "base/random.h"
#include "simulation/emission/launch.h"
#include "simulation/influences/influences.h"

#include <cmath>

namespace comet {
namespace {

// Sudden changes of velocity at moments of chance. Time is cut into equal spans; each particle is kicked once
// in each, at a moment of its own, so that kicks do not depend on frames and substeps.
class Kicks : public InfluenceAction {
 public:
  Kicks(const Item& item, double frame)
      : random_(mixBits(static_cast<std::uint64_t>(item.number("seed", frame)))),
        rate_(item.number("rate", frame)),
        strength_(item.number("strength", frame)),
        variation_(item.value("strength").variation),
        direction_(unitOr(item.vector("direction", frame), Vec3d(0, 1, 0))),
        cone_(radians(item.number("cone", frame))) {}

  void describe(Hasher& hasher) const override {
    hasher << random_.key() << rate_ << strength_ << variation_ << direction_ << cone_;
  }

  bool corrects() const override { return true; }

  void correct(Chunk& chunk, const Substep& substep, const Durations& durations, const Masses& masses,
               const Weights& weights) const override {
    if (rate_ <= 0) return;
    const double end = substep.start + substep.length;
    const auto spanOf = [this](double seconds) {
      return static_cast<std::int64_t>(std::floor(seconds * rate_));
    };
    for (std::size_t i = 0; i < chunk.count; ++i) {
      const double start = end - durations.of(i);
      for (std::int64_t span = spanOf(start); span <= spanOf(end); ++span) {
        const std::uint64_t kick = combineKeys(withoutCycle(chunk.ids[i]), static_cast<std::uint64_t>(span));
        const double moment = (static_cast<double>(span) + random_.unit(kick, Draw::KickMoment)) / rate_;
        if (moment < start || moment >= end) continue;
        const Vec3d change = changeBy(kick) * (weights.of(i) / masses.of(i));
        chunk.setVelocity(i, chunk.velocity(i) + change);
        // It has moved so since then.
        chunk.setPosition(i, chunk.position(i) + change * (end - moment));
      }
    }
  }

 private:
  Vec3d changeBy(std::uint64_t kick) const {
    const Vec3d path = directionInCone(direction_, cone_, random_.unit(kick, Draw::KickDirectionA),
                                       random_.unit(kick, Draw::KickDirectionB));
    return path * (strength_ + variation_ * random_.signedUnit(kick, Draw::KickStrength));
  }

  RandomSource random_;
  double rate_;  // 1/s
  double strength_, variation_;
  Vec3d direction_;
  double cone_;  // radians
};

const KindSpec& kicksSpec() {
  static const KindSpec kind(
      "kicks", "Kicks", ItemFamily::Influence,
      "Gives each particle sudden kicks at random moments: nervous sparks, insects, grains on a drum.",
      influenceParams({
          number("rate", "Rate", 2)
              .in("Kicks")
              .unit("/s")
              .range(0, 1000)
              .usual(0, 20)
              .keyed()
              .tip("How many kicks each particle gets in a second."),
          number("strength", "Strength", 2)
              .in("Kicks")
              .unit("units/s")
              .range(-10000, 10000)
              .usual(0, 20)
              .keyed()
              .varied()
              .tip("The speed that a kick adds to a particle of mass 1."),
          vector("direction", "Direction", {0, 1, 0})
              .in("Kicks")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .tip("The direction of kicks; its length does not matter."),
          number("cone", "Cone", 180)
              .in("Kicks")
              .unit("°")
              .range(0, 180)
              .usual(0, 180)
              .keyed()
              .tip("The half angle of the cone around the direction; 180 kicks in all directions."),
          integer("seed", "Seed", 1)
              .in("Kicks")
              .range(0, 1e9)
              .usual(0, 100)
              .tip("Another seed gives other kicks."),
      }));
  return kind;
}

}  // namespace

InfluenceKind kicksInfluence() {
  return {.spec = kicksSpec(),
          .group = InfluenceGroup::Force,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Kicks>(item, time.middleFrame());
          },
          .movesGas = false};
}

}  // namespace comet
