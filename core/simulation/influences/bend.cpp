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

const KindSpec& bendSpec() {
  static const KindSpec kind(
      "bend", "Bend", ItemFamily::Influence,
      "Bends the paths of particles without changing their speed: they run in circles or spirals.",
      influenceParams({
          vector("axis", "Axis", {0, 1, 0})
              .in("Bend")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .tip("The axis about which paths bend; its length does not matter. Motion along it is not "
                   "bent."),
          number("angular_speed", "Angular speed", 0.5)
              .in("Bend")
              .unit("turns/s")
              .range(-1000, 1000)
              .usual(-4, 4)
              .keyed()
              .tip("How many full circles particles make in a second, whatever their speed. Negative values "
                   "bend the other way."),
      }));
  return kind;
}

}  // namespace

InfluenceKind bendInfluence() {
  return {.spec = bendSpec(),
          .group = InfluenceGroup::Force,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            const Vec3d axis = unitOr(item.vector("axis", frame), Vec3d(0, 1, 0));
            return std::make_unique<Swirl>(axis * (2 * kPi * item.number("angular_speed", frame)));
          },
          .feelsMass = false};
}

}  // namespace comet
