#include "base/vec.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

class Gravity : public InfluenceAction {
 public:
  explicit Gravity(const Vec3d& acceleration) : acceleration_(acceleration) {}

  void describe(Hasher& hasher) const override { hasher << acceleration_; }

  void addTo(Forces& forces, const Samples& samples, const Substep&, const Weights& weights) const override {
    forces.acceleration.add(acceleration_, weights, samples.count);
  }

 private:
  Vec3d acceleration_;
};

const KindSpec& gravitySpec() {
  static const KindSpec kind(
      "gravity", "Gravity", ItemFamily::Influence,
      "Accelerates all particles in one direction, whatever their mass.",
      influenceParams({
          number("strength", "Strength", 9.81)
              .in("Gravity")
              .unit("units/s²")
              .range(-10000, 10000)
              .usual(0, 40)
              .keyed()
              .tip("The acceleration of all particles, whatever their mass. Negative values lift them."),
          vector("direction", "Direction", {0, -1, 0})
              .in("Gravity")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .tip("The direction of the pull; its length does not matter."),
      }));
  return kind;
}

}  // namespace

InfluenceKind gravityInfluence() {
  return {.spec = gravitySpec(),
          .group = InfluenceGroup::Force,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            const Vec3d direction = unitOr(item.vector("direction", frame), Vec3d(0, -1, 0));
            return std::make_unique<Gravity>(direction * item.number("strength", frame));
          },
          .feelsMass = false};
}

}  // namespace comet
