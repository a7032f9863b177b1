#include "render/link.h"

#include "base/parallel.h"
#include "particles/neighbour_grid.h"

#include <algorithm>
#include <glm/geometric.hpp>
#include <utility>

namespace comet {
namespace {

// The particles nearest to each of `from`, as indices into `to`; the nearest first.
std::vector<std::vector<std::size_t>> nearestOf(const ParticleStore& from, const ParticleStore& to,
                                                double within, std::size_t max) {
  const NeighbourGrid grid({&to}, within);
  std::vector<std::vector<std::size_t>> nearest(from.size());
  parallelFor(from.size(), [&](std::size_t i) {
    std::vector<std::pair<double, ParticleId>> near;
    const Vec3d place = from.position(i);
    grid.forNear(place, [&](const NeighbourGrid::Particle& other) {
      const double distance = glm::length(Vec3d(other.position) - place);
      if (distance <= within && other.id != from.ids()[i]) near.emplace_back(distance, other.id);
    });
    const std::size_t kept = std::min(max, near.size());
    std::partial_sort(near.begin(), near.begin() + static_cast<std::ptrdiff_t>(kept), near.end());
    for (std::size_t k = 0; k < kept; ++k) {
      const ParticleId* found = std::lower_bound(to.ids(), to.ids() + to.size(), near[k].second);
      nearest[i].push_back(static_cast<std::size_t>(found - to.ids()));
    }
  });
  return nearest;
}

bool contains(const std::vector<std::size_t>& list, std::size_t index) {
  return std::find(list.begin(), list.end(), index) != list.end();
}

}  // namespace

Links::Links(const Scene& scene, const Item& emitter, const SceneFrame& frame, const Look& look,
             StampCache& stamps)
    : look_(look),
      within_(emitter.number("link_max_length", frame.number)),
      max_(static_cast<std::size_t>(emitter.integer("link_max_count", frame.number))),
      width_(emitter.number("link_width", frame.number)),
      opacity_(emitter.number("link_opacity", frame.number) / 100),
      hasOwnColor_(emitter.chooses("link_color_source", "own")),
      color_(emitter.vector("link_color", frame.number)) {
  const auto& widthBy = std::get<Curve>(emitter.value("link_width_by_distance").base);
  const auto& opacityBy = std::get<Curve>(emitter.value("link_opacity_by_distance").base);
  widthBy_.fill([&](double x) { return static_cast<float>(widthBy.at(x)); });
  opacityBy_.fill([&](double x) { return static_cast<float>(opacityBy.at(x)); });
  const ParticleGroup* own = frame.particles->find(emitter.id);
  if (!own) return;
  from_ = &own->particles;
  if (emitter.chooses("links", "item")) {
    const Scene::ItemPtr item = scene.find(emitter.reference("link_item"));
    if (!item) return;
    place_ = item->vector("position", frame.number);
    for (std::size_t i = 0; i < from_->size(); ++i)
      if (glm::length(from_->shownPosition(i) - place_) <= within_) pairs_.push_back({i, 0});
    return;
  }
  const ItemId other = emitter.reference("link_emitter");
  const bool areOwn = other == 0 || other == emitter.id;
  const ParticleGroup* others = areOwn ? own : frame.particles->find(other);
  if (!others) return;
  to_ = &others->particles;
  if (const Scene::ItemPtr item = scene.find(other); item && !areOwn)
    otherLook_.emplace(scene, *item, frame.number, stamps);
  pairWithNear(*to_, areOwn);
}

// Among its own kind, two are linked if each is among the nearest of the other: so none has more links than
// are asked for.
void Links::pairWithNear(const ParticleStore& others, bool areOwn) {
  const auto nearest = nearestOf(*from_, others, within_, max_);
  for (std::size_t i = 0; i < nearest.size(); ++i)
    for (const std::size_t j : nearest[i])
      if (!areOwn || (i < j && contains(nearest[j], i))) pairs_.push_back({i, j});
}

double Links::age(std::size_t index) const { return from_->field(ParticleStore::Age)[pairs_[index].from]; }

double Links::find(std::size_t index, std::vector<LinePoint>& points, const Projector* /*seenBy*/) const {
  const Pair& pair = pairs_[index];
  const ParticleFacts from = drawnParticle(*from_, pair.from).state;
  const ParticleFacts to = to_ ? drawnParticle(*to_, pair.to).state : from;
  const Look& toLook = otherLook_ ? *otherLook_ : look_;
  const Vec3d end = to_ ? to.position : place_;
  const double length = glm::length(end - from.position), fraction = std::min(1.0, length / within_);
  const double width = width_ * static_cast<double>(widthBy_.at(fraction));
  const double opacity = opacity_ * static_cast<double>(opacityBy_.at(fraction));
  const auto pointAt = [&](const Vec3d& place, const ParticleFacts& state, const Look& look, double along) {
    LinePoint point;
    point.place = place;
    point.along = along;
    point.fraction = along > 0 ? 1 : 0;
    point.width = width;
    point.color = hasOwnColor_ ? color_ : look.color(state, state.age);
    point.opacity = opacity * (hasOwnColor_ ? 1.0 : look.opacity(state));
    return point;
  };
  points = {pointAt(from.position, from, look_, 0), pointAt(end, to, toLook, length)};
  return look_.glow(from);
}

}  // namespace comet
