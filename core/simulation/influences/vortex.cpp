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
    const double fraction = distance < core ? distance / core : core / distance;
    const Vec3d outward = out / distance;
    return glm::cross(axis, outward) * (turn * core * fraction) - outward * (pull * fraction) +
           axis * (lift * std::min(1.0, core / distance));
  }
};

class Vortex : public InfluenceAction {
 public:
  Vortex(const Whirl& whirl, double airDrag) : vortex_(whirl), airDrag_(airDrag) {}

  void describe(Hasher& hasher) const override {
    hasher << vortex_.place << vortex_.axis << vortex_.turn << vortex_.core << vortex_.pull << vortex_.lift
           << airDrag_;
  }

  bool readsPositions() const override { return true; }

  void addTo(Forces& forces, const Samples& samples, const Substep&, const Weights& weights) const override {
    forces.addWind(Vec3d(0.0), airDrag_, weights, samples.count);
    forces.air.addEach(weights, samples.count,
                       [&](std::size_t i) { return vortex_.at(samples.position(i)); });
  }

 private:
  Whirl vortex_;
  double airDrag_;
};

const KindSpec& vortexSpec() {
  static const KindSpec kind(
      "vortex", "Vortex", ItemFamily::Influence,
      "Air that turns about an axis and carries particles along, also inward and along the axis.",
      influenceParams({
          vector("position", "Position", {0, 0, 0})
              .in("Vortex")
              .unit("units")
              .range(-1e6, 1e6)
              .usual(-20, 20)
              .keyed()
              .tip("A point on the axis."),
          vector("axis", "Axis", {0, 1, 0})
              .in("Vortex")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .tip("The axis about which the air turns; its length does not matter. Seen against it, the air "
                   "turns counter-clockwise."),
          number("angular_speed", "Angular speed", 0.5)
              .in("Vortex")
              .unit("turns/s")
              .range(-1000, 1000)
              .usual(-4, 4)
              .keyed()
              .tip("How fast the core turns. Negative values turn the other way."),
          number("core_radius", "Core radius", 1.5)
              .in("Vortex")
              .unit("units")
              .range(0.001, 1e6)
              .usual(0.1, 20)
              .keyed()
              .tip("Within this radius the air turns like a solid body; beyond it, it turns more slowly the "
                   "farther out."),
          number("inward_speed", "Inward speed", 1)
              .in("Vortex")
              .unit("units/s")
              .range(-10000, 10000)
              .usual(-10, 10)
              .keyed()
              .tip("The speed of the air towards the axis at the core's edge. Without it particles are flung "
                   "out."),
          number("axial_speed", "Axial speed", 0)
              .in("Vortex")
              .unit("units/s")
              .range(-10000, 10000)
              .usual(-10, 10)
              .keyed()
              .tip("The speed of the air along the axis inside the core."),
          number("air_drag", "Air drag", 4)
              .in("Vortex")
              .unit("/s")
              .range(0.001, 1000)
              .usual(0.1, 20)
              .keyed()
              .tip("How quickly particles take on the air's velocity: at 1, two thirds of it within a "
                   "second."),
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
            whirl.place = item.vector("position", frame);
            whirl.axis = unitOr(item.vector("axis", frame), Vec3d(0, 1, 0));
            whirl.turn = 2 * kPi * item.number("angular_speed", frame);
            whirl.core = item.number("core_radius", frame);
            whirl.pull = item.number("inward_speed", frame);
            whirl.lift = item.number("axial_speed", frame);
            return std::make_unique<Vortex>(whirl, item.number("air_drag", frame));
          },
          .hints = [](const Item& item, double frame) -> std::vector<PlacedWire> {
            return {axisLines(item.vector("position", frame), item.vector("axis", frame),
                              item.number("core_radius", frame))};
          }};
}

}  // namespace comet
