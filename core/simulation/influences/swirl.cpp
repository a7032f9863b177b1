#include "simulation/influences/influences.h"

namespace comet {
namespace {

class Swirl : public InfluenceAction {
 public:
  explicit Swirl(const Vec3d& turn) : turn_(turn) {}

  void describe(Hasher& hasher) const override { hasher << turn_; }

  void addTo(Forces& forces, const Samples& samples, const Substep&, const Weights& weights) const override {
    forces.turn.add(turn_, weights, samples.count);
  }

 private:
  Vec3d turn_;  // rad/s
};

const KindSpec& swirlSpec() {
  static const KindSpec kind(
      "swirl", "Swirl", ItemFamily::Influence,
      "Bends the way of particles, always to the side of where they are going: they run in circles, as fast "
      "as "
      "before.",
      influenceParams({
          vector("axis", "Axis", {0, 1, 0})
              .in("Bend")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .tip("What the ways turn about; only the direction counts. Along it nothing is bent."),
          number("turns", "Turn", 0.5)
              .in("Bend")
              .unit("turns/s")
              .range(-1000, 1000)
              .usual(-4, 4)
              .keyed()
              .tip(
                  "How many full circles in a second, whatever the speed. Negative bends to the other side."),
      }));
  return kind;
}

}  // namespace

InfluenceKind swirlInfluence() {
  return {.spec = swirlSpec(),
          .group = InfluenceGroup::Force,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            const Vec3d axis = unitOr(item.vector("axis", frame), Vec3d(0, 1, 0));
            return std::make_unique<Swirl>(axis * (2 * kPi * item.number("turns", frame)));
          },
          .feelsMass = false};
}

}  // namespace comet
