#include "bake/cell_paint.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

Vec2d placeOf(const Projector::Point& point) { return {point.x, point.y}; }

// Where the line is at a time before its head; beyond its ends it goes on straight.
Vec3d placeAt(const std::vector<LinePoint>& points, double before) {
  const auto after =
      std::lower_bound(points.begin() + 1, points.end() - 1, before,
                       [](const LinePoint& point, double wanted) { return point.before < wanted; });
  const LinePoint &a = *(after - 1), &b = *after;
  const double span = b.before - a.before;
  return span > 0 ? a.place + (b.place - a.place) * ((before - a.before) / span) : a.place;
}

}  // namespace

MotionPaint::MotionPaint(const ParticleState& next, const Projector& projector, double seconds)
    : next_(next), then_(projector), seconds_(seconds) {}

std::optional<std::size_t> MotionPaint::indexThen(const ParticleStore& store, ParticleId id) const {
  const ParticleId* end = store.ids() + store.size();
  const ParticleId* found = std::lower_bound(store.ids(), end, id);
  if (found == end || *found != id) return std::nullopt;
  return static_cast<std::size_t>(found - store.ids());
}

Vec2d MotionPaint::until(const Vec3d& then, const Projector::Point& now) const {
  const Projector::Point place = then_.project(then);
  return then_.visible(place) ? placeOf(place) - placeOf(now) : Vec2d(0.0);
}

Vec2d MotionPaint::of(const DrawnParticle& particle, const Sprite&, const Projector::Point& point,
                      const Projector&) const {
  if (const ParticleGroup* group = next_.find(emitterOfId(particle.state.id)))
    if (const auto index = indexThen(group->particles, particle.state.id))
      return until(group->particles.shownPosition(*index), point);
  return until(particle.state.position + particle.velocity * seconds_, point);
}

Vec2d MotionPaint::ofCard(const CardCorner& corner, const Projector::Point& point, const Projector&) const {
  const DrawnParticle& card = corner.card;
  const ParticleGroup* group = next_.find(emitterOfId(card.state.id));
  if (group && card.body && group->particles.bodyNumbers() == card.bodyNumbers)
    if (const auto index = indexThen(group->particles, card.state.id)) {
      const ParticleStore& store = group->particles;
      const CardBody then(CardBody::pointsOf(card.bodyNumbers), store.body(*index));
      return until(then.position(corner.point) + store.shownPosition(*index) - store.position(*index), point);
    }
  return until(corner.at + corner.velocity * seconds_, point);
}

void MotionPaint::ofTrail(const std::vector<LinePoint>& points, const Projector& projector,
                          std::vector<Vec2d>& values) const {
  values.assign(points.size(), Vec2d(0.0));
  const bool isTimed = points.size() > 1 && points.back().before > points.front().before;
  for (std::size_t i = 0; isTimed && i < points.size(); ++i) {
    const Projector::Point now = projector.project(points[i].place);
    const Projector::Point then = then_.project(placeAt(points, points[i].before - seconds_));
    if (projector.visible(now) && then_.visible(then)) values[i] = placeOf(then) - placeOf(now);
  }
}

std::optional<Vec2d> MotionPaint::ofGas(const GasPlace& place, const Projector& projector) const {
  const Projector::Point now = projector.project(place.position());
  const Projector::Point then = then_.project(place.position() + place.velocity() * seconds_);
  return projector.visible(now) && then_.visible(then) ? placeOf(then) - placeOf(now) : Vec2d(0.0);
}

std::optional<Vec2d> DepthPaint::ofGas(const GasPlace& place, const Projector& projector) const {
  return Vec2d(projector.project(place.position()).depth, 0);
}

std::optional<Vec2d> MiddlePaint::ofGas(const GasPlace& place, const Projector& projector) const {
  return -projector.directionInPicture(place.normal());
}

Vec2d MiddlePaint::ofCard(const CardCorner& corner, const Projector::Point&,
                          const Projector& projector) const {
  return -projector.directionInPicture(corner.normal);
}

Vec2d CurvaturePaint::ofCard(const CardCorner&, const Projector::Point&, const Projector&) const {
  return Vec2d(0.0);
}

std::optional<Vec2d> CurvaturePaint::ofGas(const GasPlace&, const Projector&) const { return Vec2d(0.0); }

Vec2d DepthPaint::of(const DrawnParticle&, const Sprite&, const Projector::Point& point,
                     const Projector&) const {
  return {point.depth, 0};
}

void DepthPaint::ofTrail(const std::vector<LinePoint>& points, const Projector& projector,
                         std::vector<Vec2d>& values) const {
  values.clear();
  for (const LinePoint& point : points) values.emplace_back(projector.project(point.place).depth, 0);
}

Vec2d AgePaint::of(const DrawnParticle& particle, const Sprite&, const Projector::Point&,
                   const Projector&) const {
  return {particle.state.fraction, 0};
}

void AgePaint::ofTrail(const std::vector<LinePoint>& points, const Projector&,
                       std::vector<Vec2d>& values) const {
  values.clear();
  for (const LinePoint& point : points) values.emplace_back(point.fraction, 0);
}

std::optional<Vec2d> AgePaint::ofGas(const GasPlace& place, const Projector&) const {
  const std::optional<double> age = place.age();
  return age ? std::optional(Vec2d(*age, 0)) : std::nullopt;
}

Vec2d GasChannelPaint::of(const DrawnParticle&, const Sprite&, const Projector::Point&,
                          const Projector&) const {
  return Vec2d(0.0);
}

std::optional<Vec2d> GasChannelPaint::ofGas(const GasPlace& place, const Projector&) const {
  return Vec2d(place.value(channel_), 0);
}

Vec2d MiddlePaint::of(const DrawnParticle&, const Sprite& sprite, const Projector::Point&,
                      const Projector&) const {
  return (Vec2d(sprite.x, sprite.y) - middle_) / static_cast<double>(sprite.radius);
}

Vec2d CurvaturePaint::of(const DrawnParticle&, const Sprite& sprite, const Projector::Point&,
                         const Projector&) const {
  return {1.0 / static_cast<double>(sprite.radius), 0};
}

}  // namespace comet
