#include "base/random.h"
#include "base/vec.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

// A steady push, for each particle one of its own within the variation; what is no particle gets the mean.
class Force : public InfluenceAction {
 public:
  Force(const Item& item, double frame)
      : push_(item.vector("push", frame)), variation_(item.vector("variation", frame)), random_(item.id) {}

  void describe(Hasher& hasher) const override { hasher << push_ << variation_ << random_.key(); }

  void addTo(Forces& forces, const Samples& samples, const Substep&, const Weights& weights) const override {
    forces.force.add(push_, weights, samples.count);
    if (variation_ == Vec3d(0.0) || !samples.areParticles()) return;
    forces.force.addEach(weights, samples.count, [&](std::size_t i) {
      const auto fraction = [&](Draw draw) { return random_.signedUnit(samples.ids[i], draw); };
      return variation_ * Vec3d(fraction(Draw::ShapeA), fraction(Draw::ShapeB), fraction(Draw::ShapeC));
    });
  }

 private:
  Vec3d push_, variation_;  // units/s² at a mass of 1
  RandomSource random_;     // of its own, so that its draws are nobody else's
};

const KindSpec& forceSpec() {
  static const KindSpec kind(
      "force", "Force", ItemFamily::Influence,
      "Pushes particles steadily: lift, thrust, a push to the side. Heavier particles respond less.",
      influenceParams({
          vector("push", "Push", {0, 4, 0})
              .in("Force")
              .unit("units/s²")
              .range(-100000, 100000)
              .usual(-40, 40)
              .keyed()
              .tip("The acceleration of a particle of mass 1 along x, y and z. Upwards it lifts."),
          vector("variation", "±", {0, 0, 0})
              .in("Force")
              .unit("units/s²")
              .range(0, 100000)
              .usual(0, 20)
              .keyed()
              .tip("The largest difference between particles along each axis; each particle keeps its own."),
      }));
  return kind;
}

}  // namespace

InfluenceKind forceInfluence() {
  return {.spec = forceSpec(),
          .group = InfluenceGroup::Force,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Force>(item, time.middleFrame());
          }};
}

}  // namespace comet
