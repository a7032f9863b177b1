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
  static const KindSpec kind("gravity", "Gravity", ItemFamily::Influence,
                             "Pulls all particles the same way, whatever their size.",
                             influenceParams({
                                 number("strength", "Strength", 9.81)
                                     .in("Pull")
                                     .unit("units/s²")
                                     .range(-10000, 10000)
                                     .usual(0, 40)
                                     .keyed()
                                     .tip("How much faster particles get each second. Negative lifts them."),
                                 vector("direction", "Direction", {0, -1, 0})
                                     .in("Pull")
                                     .range(-1000, 1000)
                                     .usual(-1, 1)
                                     .keyed()
                                     .tip("Which way it pulls; only the direction counts, not the length."),
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
