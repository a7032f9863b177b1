#include "simulation/influences/influences.h"

#include <algorithm>

namespace comet {
namespace {

class Drag : public InfluenceAction {
 public:
  explicit Drag(double rate) : rate_(rate) {}

  void describe(Hasher& hasher) const override { hasher << rate_; }

  void addTo(Forces& forces, const Chunk&, const Substep&, double response) const override {
    forces.drag += rate_ * response;
  }

 private:
  double rate_;
};

const KindSpec& spec() {
  static const KindSpec kind("drag", "Drag", ItemFamily::Influence,
                             "Slows particles down against the air, which is still unless there is wind.",
                             {
                                 number("rate", "Rate", 0.5)
                                     .in("Air")
                                     .unit("/s")
                                     .range(0, 1000)
                                     .usual(0, 10)
                                     .keyed()
                                     .tip("Share of the speed that is lost: at 1, two thirds of it within a "
                                          "second. Smoke 2 to 5, sparks 0.2 to "
                                          "1, drops below 0.2."),
                             });
  return kind;
}

}  // namespace

InfluenceKind dragInfluence() {
  return {spec(), [](const Item& item, const FrameTime& time) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Drag>(item.number("rate", time.middleFrame()));
          }};
}

}  // namespace comet
