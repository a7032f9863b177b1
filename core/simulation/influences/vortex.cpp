#include "simulation/influences/influences.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Air that turns about an axis: rigidly within the core, and beyond it slower the farther out, as around a
// whirl of that size (Rankine, "A Manual of Applied Mechanics", 1858).
struct Whirl {
  Vec3d place{0.0}, axis{0, 1, 0};
  double turn = 0;            // rad/s in the core
  double core = 0;            // units
  double pull = 0, lift = 0;  // units/s at the core's edge; inward, along the axis

  Vec3d at(const Vec3d& position) const {
    const Vec3d from = position - place;
    const Vec3d out = from - axis * glm::dot(from, axis);
    const double distance = glm::length(out);
    if (distance < 1e-12) return axis * lift;
    // Of the speed at the core's edge.
    const double share = distance < core ? distance / core : core / distance;
    const Vec3d outward = out / distance;
    return glm::cross(axis, outward) * (turn * core * share) - outward * (pull * share) +
           axis * (lift * std::min(1.0, core / distance));
  }
};

class Vortex : public InfluenceAction {
 public:
  Vortex(const Whirl& whirl, double grip) : whirl_(whirl), grip_(grip) {}

  void describe(Hasher& hasher) const override {
    hasher << whirl_.place << whirl_.axis << whirl_.turn << whirl_.core << whirl_.pull << whirl_.lift
           << grip_;
  }

  bool readsPositions() const override { return true; }

  void addTo(Forces& forces, const Samples& samples, const Substep&, const Weights& weights) const override {
    forces.addWind(Vec3d(0.0), grip_, weights, samples.count);
    forces.air.addEach(weights, samples.count, [&](std::size_t i) { return whirl_.at(samples.position(i)); });
  }

 private:
  Whirl whirl_;
  double grip_;
};

const KindSpec& vortexSpec() {
  static const KindSpec kind(
      "vortex", "Vortex", ItemFamily::Influence,
      "Air that turns about an axis and takes particles along, inward and up if wanted.",
      influenceParams({
          vector("place", "Place", {0, 0, 0})
              .in("Whirl")
              .unit("units")
              .range(-1e6, 1e6)
              .usual(-20, 20)
              .keyed()
              .tip("A point on the axis."),
          vector("axis", "Axis", {0, 1, 0})
              .in("Whirl")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .tip("What the air turns about; only the direction counts. Seen against it, air turns "
                   "counter-clockwise."),
          number("turns", "Turn", 0.5)
              .in("Whirl")
              .unit("turns/s")
              .range(-1000, 1000)
              .usual(-4, 4)
              .keyed()
              .tip("How fast the core turns. Negative turns the other way."),
          number("core", "Core", 1.5)
              .in("Whirl")
              .unit("units")
              .range(0.001, 1e6)
              .usual(0.1, 20)
              .keyed()
              .tip("The radius up to which the air turns like a solid body; beyond it, it is slower the "
                   "farther out."),
          number("pull", "Inward", 1)
              .in("Whirl")
              .unit("units/s")
              .range(-10000, 10000)
              .usual(-10, 10)
              .keyed()
              .tip("How fast air flows to the axis at the core's edge. Without it particles are flung out."),
          number("lift", "Along axis", 0)
              .in("Whirl")
              .unit("units/s")
              .range(-10000, 10000)
              .usual(-10, 10)
              .keyed()
              .tip("How fast the air in the core moves along the axis."),
          number("grip", "Grip", 4)
              .in("Whirl")
              .unit("/s")
              .range(0.001, 1000)
              .usual(0.1, 20)
              .keyed()
              .tip("How quickly particles take on the air's speed: at 1, two thirds of the way in a second."),
      }));
  return kind;
}

}  // namespace

InfluenceKind vortexInfluence() {
  return {.spec = vortexSpec(),
          .group = InfluenceGroup::Air,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            Whirl whirl;
            whirl.place = item.vector("place", frame);
            whirl.axis = unitOr(item.vector("axis", frame), Vec3d(0, 1, 0));
            whirl.turn = 2 * kPi * item.number("turns", frame);
            whirl.core = item.number("core", frame);
            whirl.pull = item.number("pull", frame);
            whirl.lift = item.number("lift", frame);
            return std::make_unique<Vortex>(whirl, item.number("grip", frame));
          },
          .hints = [](const Item& item, double frame) -> std::vector<PlacedWire> {
            return {axisLines(item.vector("place", frame), item.vector("axis", frame),
                              item.number("core", frame))};
          }};
}

}  // namespace comet
