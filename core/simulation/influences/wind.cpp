#include "base/vec.h"
#include "simulation/influences/influences.h"

#include <cmath>

namespace comet {
namespace {

class Wind : public InfluenceAction {
 public:
  Wind(const Vec3d& velocity, double grip) : velocity_(velocity), grip_(grip) {}

  void describe(Hasher& hasher) const override {
    hasher << velocity_.x << velocity_.y << velocity_.z << grip_;
  }

  void addTo(Forces& forces, const Chunk&, const Substep&, double response) const override {
    forces.air += velocity_ * response;
    forces.drag += grip_ * std::abs(response);
  }

 private:
  Vec3d velocity_;
  double grip_;
};

const KindSpec& spec() {
  static const KindSpec kind(
      "wind", "Wind", ItemFamily::Influence,
      "Moving air that particles come to drift with. Drag makes them follow it sooner.",
      {
          number("speed", "Speed", 3)
              .in("Air")
              .unit("units/s")
              .range(-10000, 10000)
              .usual(0, 20)
              .keyed()
              .tip("How fast the air moves: the speed that particles approach."),
          vector("direction", "Direction", {1, 0, 0})
              .in("Air")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .tip("Where the air moves to; only the direction counts, not the length."),
          number("grip", "Grip", 1)
              .in("Air")
              .unit("/s")
              .range(0, 1000)
              .usual(0, 10)
              .keyed()
              .tip("How quickly particles take on the air's speed: at 1, two thirds of the way in a second."),
      });
  return kind;
}

}  // namespace

InfluenceKind windInfluence() {
  return {spec(), [](const Item& item, const FrameTime& time) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            const Vec3d direction = unitOr(item.vector("direction", frame), Vec3d(1, 0, 0));
            return std::make_unique<Wind>(direction * item.number("speed", frame),
                                          item.number("grip", frame));
          }};
}

}  // namespace comet
