#include "simulation/influences/influences.h"

namespace comet {
namespace {

class Drag : public InfluenceAction {
 public:
  Drag(const Vec3d& rates, double bySpeed) : rates_(rates), bySpeed_(bySpeed) {}

  void describe(Hasher& hasher) const override { hasher << rates_ << bySpeed_; }

  void addTo(Forces& forces, const Samples& samples, const Substep&, const Weights& weights) const override {
    forces.drag.add(rates_, weights, samples.count);
    if (bySpeed_ != 0) forces.dragBySpeed.add(bySpeed_, weights, samples.count);
  }

 private:
  Vec3d rates_;     // 1/s
  double bySpeed_;  // 1/units
};

const KindSpec& dragSpec() {
  static const KindSpec kind(
      "drag", "Drag", ItemFamily::Influence,
      "Slows particles down by the resistance of the air, which is still unless there is wind.",
      influenceParams({
          choice(
              "drag_law", "Drag law",
              {{"linear", "Linear",
                "It grows with the speed: small, light things such as smoke, dust and fluff."},
               {"quadratic", "Quadratic",
                "It grows with the square of the speed: fast particles are slowed much, slow ones hardly."}})
              .in("Air")
              .tip("How drag depends on speed."),
          number("rate", "Drag rate", 0.5)
              .in("Air")
              .unit("/s")
              .range(0, 1000)
              .usual(0, 10)
              .keyed()
              .when("drag_law", {"linear"})
              .tip("The fraction of the velocity lost in each second, continuously: at 1, two thirds of it "
                   "within a second. Smoke 2 to 5, sparks 0.2 to 1, drops below 0.2."),
          vector("axes", "Along axes", {100, 100, 100})
              .in("Air")
              .unit("%")
              .range(0, 1000)
              .usual(0, 100)
              .keyed()
              .when("drag_law", {"linear"})
              .tip("How much of the drag acts along x, y and z. Less along y lets flat things slide sideways "
                   "as they fall."),
          number("coefficient", "Drag coefficient", 0.1)
              .in("Air")
              .unit("/unit")
              .range(0, 1000)
              .usual(0, 2)
              .keyed()
              .when("drag_law", {"quadratic"})
              .tip("The deceleration is this times the square of the speed. Under gravity g, the terminal "
                   "speed is the square root of g over it."),
      }));
  return kind;
}

}  // namespace

InfluenceKind dragInfluence() {
  return {.spec = dragSpec(),
          .group = InfluenceGroup::Air,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            if (item.chooses("drag_law", "quadratic"))
              return std::make_unique<Drag>(Vec3d(0.0), item.number("coefficient", frame));
            return std::make_unique<Drag>(item.number("rate", frame) * item.vector("axes", frame) / 100.0, 0);
          }};
}

}  // namespace comet
