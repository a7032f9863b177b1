#include "simulation/influences/influences.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

enum class AtWall { Bounce, Wrap, End };

class Enclosure : public InfluenceAction {
 public:
  Enclosure(const Item& item, double frame)
      : isSphere_(item.chooses("shape", "sphere")),
        atWall_(item.choiceAs<AtWall>("at_wall", std::array<std::string_view, 3>{"bounce", "wrap", "die"})),
        centre_(item.vector("position", frame)),
        half_(0.5 * item.vector("size", frame)),
        radius_(item.number("radius", frame)),
        bounce_(item.number("bounce", frame) / 100) {}

  void describe(Hasher& hasher) const override {
    hasher << isSphere_ << atWall_ << centre_ << half_ << radius_ << bounce_;
  }

  bool corrects() const override { return true; }

  void correct(Chunk& chunk, const Substep&, const Durations&, const Masses&,
               const Weights& weights) const override {
    for (std::size_t i = 0; i < chunk.count; ++i) {
      if (weights.of(i) == 0 || isWithin(chunk.position(i) - centre_)) continue;
      if (atWall_ == AtWall::End)
        chunk.field(ParticleStore::Lifetime)[i] = 0;
      else if (isSphere_)
        keepInSphere(chunk, i);
      else
        keepInBox(chunk, i);
    }
  }

 private:
  bool isWithin(const Vec3d& p) const {
    if (isSphere_) return glm::dot(p, p) <= radius_ * radius_;
    return std::abs(p.x) <= half_.x && std::abs(p.y) <= half_.y && std::abs(p.z) <= half_.z;
  }

  void keepInBox(Chunk& chunk, std::size_t i) const {
    Vec3d p = chunk.position(i) - centre_, v = chunk.velocity(i);
    for (int axis = 0; axis < 3; ++axis) {
      const double half = half_[axis];
      if (atWall_ == AtWall::Wrap) {
        p[axis] -= 2 * half * std::round(p[axis] / (2 * half));
        continue;
      }
      if (std::abs(p[axis]) <= half) continue;
      const double side = p[axis] > 0 ? 1 : -1, beyond = std::abs(p[axis]) - half;
      p[axis] = side * std::max(-half, half - beyond * bounce_);
      if (v[axis] * side > 0) v[axis] *= -bounce_;
    }
    chunk.setPosition(i, centre_ + p);
    chunk.setVelocity(i, v);
  }

  void keepInSphere(Chunk& chunk, std::size_t i) const {
    const Vec3d p = chunk.position(i) - centre_, v = chunk.velocity(i);
    const double distance = glm::length(p);
    const Vec3d outward = p / distance;
    if (atWall_ == AtWall::Wrap) {
      // Straight through the centre to the other side.
      const double beyond = std::fmod(distance - radius_, 2 * radius_);
      return chunk.setPosition(i, centre_ - outward * (radius_ - beyond));
    }
    const double inside = std::max(-radius_, radius_ - (distance - radius_) * bounce_);
    chunk.setPosition(i, centre_ + outward * inside);
    const double out = glm::dot(v, outward);
    if (out > 0) chunk.setVelocity(i, v - outward * (out * (1 + bounce_)));
  }

  bool isSphere_;
  AtWall atWall_;
  Vec3d centre_, half_;
  double radius_;
  double bounce_;
};

const KindSpec& enclosureSpec() {
  static const KindSpec kind(
      "enclosure", "Enclosure", ItemFamily::Influence,
      "Keeps particles in a box or sphere: at its wall they bounce, wrap around or die.",
      influenceParams({
          choice("shape", "Shape",
                 {{"box", "Box", "A box along the axes."}, {"sphere", "Sphere", "A sphere."}})
              .in("Walls")
              .tip("The shape that particles are kept in."),
          vector("position", "Position", {0, 2, 0})
              .in("Walls")
              .unit("units")
              .range(-1e6, 1e6)
              .usual(-20, 20)
              .keyed()
              .tip("The centre of the enclosure."),
          vector("size", "Size", {8, 4, 8})
              .in("Walls")
              .unit("units")
              .range(0.001, 1e6)
              .usual(0.1, 40)
              .keyed()
              .when("shape", {"box"})
              .tip("The full lengths of the box."),
          number("radius", "Radius", 3)
              .in("Walls")
              .unit("units")
              .range(0.001, 1e6)
              .usual(0.1, 20)
              .keyed()
              .when("shape", {"sphere"})
              .tip("The radius of the sphere."),
          choice("at_wall", "At the wall",
                 {{"bounce", "Bounce", "They bounce back."},
                  {"wrap", "Wrap around",
                   "They come in again on the opposite side: endless drizzle, rows of stars."},
                  {"die", "Die", "They die."}})
              .in("Walls")
              .tip("What happens to particles that reach the wall."),
          number("bounce", "Bounce", 60)
              .in("Walls")
              .unit("%")
              .range(0, 100)
              .usual(0, 100)
              .keyed()
              .when("at_wall", {"bounce"})
              .tip("How much of the speed against the wall they keep."),
      }));
  return kind;
}

}  // namespace

InfluenceKind enclosureInfluence() {
  return {.spec = enclosureSpec(),
          .group = InfluenceGroup::Limit,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Enclosure>(item, time.middleFrame());
          },
          .feelsMass = false,
          .movesGas = false,
          .walls = [](const Item& item, double frame) -> std::vector<PlacedWire> {
            return {{item.chooses("shape", "sphere") ? sphereWire(item.number("radius", frame))
                                                     : boxWire(item.vector("size", frame)),
                     {item.vector("position", frame)}}};
          }};
}

}  // namespace comet
