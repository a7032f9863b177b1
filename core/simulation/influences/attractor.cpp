#include "simulation/influences/influences.h"

#include <array>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

enum class Law { Even, Spring, Falling, FallingFast };

class Attractor : public InfluenceAction {
 public:
  Attractor(const Item& item, double frame)
      : isLine_(item.chooses("to", "line")),
        place_(item.vector("place", frame)),
        axis_(unitOr(item.vector("axis", frame), Vec3d(0, 1, 0))),
        law_(item.choiceAs<Law>(
            "law", std::array<std::string_view, 4>{"even", "spring", "falling", "falling_fast"})),
        strength_(item.number("strength", frame)),
        core_(item.number("core", frame)) {}

  void describe(Hasher& hasher) const override {
    hasher << isLine_ << place_ << axis_ << law_ << strength_ << core_;
  }

  bool readsPositions() const override { return true; }

  void addTo(Forces& forces, const Chunk& chunk, const Substep&, const Weights& weights) const override {
    forces.force.addEach(weights, chunk.count,
                         [&](std::size_t i) { return pullAt(chunk.middlePosition(i)); });
  }

 private:
  // Softened at the core as masses in simulations of stars are (Plummer 1911; Aarseth 1963): the pull is
  // strength × way × (d² + core²)^(-(n + 1) / 2) for a law that falls with d^n.
  Vec3d pullAt(const Vec3d& position) const {
    Vec3d way = place_ - position;
    if (isLine_) way -= axis_ * glm::dot(way, axis_);
    if (law_ == Law::Spring) return way * strength_;
    const double squared = glm::dot(way, way) + core_ * core_;
    if (squared < 1e-18) return Vec3d(0.0);
    switch (law_) {
      case Law::Falling:
        return way * (strength_ / squared);
      case Law::FallingFast:
        return way * (strength_ / (squared * std::sqrt(squared)));
      case Law::Even:
      case Law::Spring:
        break;
    }
    return way * (strength_ / std::sqrt(squared));
  }

  bool isLine_;
  Vec3d place_, axis_;
  Law law_;
  double strength_;
  double core_;
};

const KindSpec& spec() {
  static const KindSpec kind(
      "attractor", "Attractor", ItemFamily::Influence,
      "Pulls particles to a point or a line, or drives them away from it.",
      influenceParams({
          choice("to", "To",
                 {{"point", "Point", "Straight to a point."}, {"line", "Line", "To an endless line."}})
              .in("Pull")
              .tip("What particles are pulled to."),
          vector("place", "Place", {0, 2, 0})
              .in("Pull")
              .unit("units")
              .range(-1e6, 1e6)
              .usual(-20, 20)
              .keyed()
              .tip("The point, or a point on the line."),
          vector("axis", "Axis", {0, 1, 0})
              .in("Pull")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .when("to", {"line"})
              .tip("Which way the line runs; only the direction counts."),
          number("strength", "Strength", 8)
              .in("Pull")
              .unit("units/s²")
              .range(-100000, 100000)
              .usual(-40, 40)
              .keyed()
              .tip("How hard it pulls at a distance of one unit. Negative drives away."),
          choice(
              "law", "Distance",
              {{"even", "The same everywhere", "As hard far away as near."},
               {"spring", "Grows", "In proportion to the distance, like a spring: particles swing through."},
               {"falling", "Falls", "Half as hard at twice the distance."},
               {"falling_fast", "Falls fast", "A quarter at twice the distance, as between stars."}})
              .in("Pull")
              .tip("How the pull changes with the distance."),
          number("core", "Core", 0.2)
              .in("Pull")
              .unit("units")
              .range(0, 1e6)
              .usual(0, 5)
              .keyed()
              .when("law", {"even", "falling", "falling_fast"})
              .tip("Within about this distance the pull weakens to nothing, so that particles that come "
                   "close are "
                   "not flung away."),
      }));
  return kind;
}

}  // namespace

InfluenceKind attractorInfluence() {
  return {spec(), [](const Item& item, const FrameTime& time) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Attractor>(item, time.middleFrame());
          }};
}

}  // namespace comet
