#include "render/trail.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <limits>

namespace comet {
namespace {

constexpr int kMaxFrames = 480;          // that a trail reaches back
constexpr double kFewestPieces = 12;     // of a trail, so that width and colour can change along it
constexpr double kBend = 5 * kPi / 180;  // of a piece at most
constexpr double kMaxPieces = 16;        // between two frames
// Frames between which a particle goes no farther in the picture, pixels, may be left out, but no more of
// them at a time. The cubic between those that are left is as good as the way.
constexpr double kFinest = 4;
constexpr std::size_t kMaxFramesPerStep = 8;
constexpr double kUnseen = 0.1;  // pixels by which nobody sees a line lie elsewhere

// The longest life of an emitter's particles that is looked back at, seconds.
double longestLife(const Item& emitter, int frame) {
  if (!emitter.chooses("lifetime_mode", "lifetime")) return std::numeric_limits<double>::infinity();
  return emitter.number("lifetime", frame) + emitter.value("lifetime").variation;
}

double framesNeeded(const Item& emitter, int frame, double rate) {
  if (!Trails::hasAny(emitter) || !emitter.chooses("trail_connect", "path")) return 0;
  double seconds = emitter.chooses("trail_length_mode", "time")
                       ? emitter.number("trail_time", frame) + emitter.value("trail_time").variation
                       : longestLife(emitter, frame);
  if (emitter.chooses("trail_at_death", "lingers")) seconds += emitter.number("trail_fade_out", frame);
  // One more tells whether a particle was born since.
  return std::ceil(seconds * rate) + 1;
}

// The place at a fraction of the way from one knot to the next, by the cubic through both.
template <typename Knot>
Vec3d between(const Knot& from, const Knot& to, double fraction) {
  const double seconds = to.before - from.before, t = fraction, u = 1 - t;
  // Time runs backwards along a trail.
  return from.place * (u * u * (1 + 2 * t)) - from.velocity * (seconds * t * u * u) +
         to.place * (t * t * (3 - 2 * t)) + to.velocity * (seconds * t * t * u);
}

// Pieces of the way between two knots of which none bends by more than kBend, unless it is so short that
// nobody sees that.
template <typename Knot>
double piecesBetween(const Knot& from, const Knot& to) {
  const Vec3d &a = from.velocity, &b = to.velocity;
  const double lengths = std::sqrt(glm::dot(a, a) * glm::dot(b, b)), along = glm::dot(a, b);
  // As for nearly all, without the angle.
  static const double kStraight = std::cos(kBend);
  if (along >= kStraight * lengths || !(lengths > 0)) return 1;
  const double angle = std::acos(std::max(along / lengths, -1.0)), pieces = std::ceil(angle / kBend);
  if (!(to.pixelsPerUnit > 0)) return pieces;
  // An arc of this angle over a chord so long is an eighth of both away from it; of n pieces, each 1/n² of
  // that.
  const double arc = angle * glm::length(to.place - from.place) * to.pixelsPerUnit / 8;
  return std::min(pieces, std::max(1.0, std::ceil(std::sqrt(arc / kUnseen))));
}

// Velocities as the places around each knot say.
template <typename Knots>
void takeVelocities(Knots& knots) {
  for (std::size_t i = 0; i < knots.size(); ++i) {
    const auto &newer = knots[i > 0 ? i - 1 : i], &older = knots[std::min(i + 1, knots.size() - 1)];
    const double seconds = older.before - newer.before;
    if (seconds > 0) knots[i].velocity = (newer.place - older.place) / seconds;
  }
}

// Moves each knot halfway to the middle between its neighbours; the ends stay.
template <typename Knots>
void roundOff(Knots& knots) {
  Vec3d before = knots.front().place;
  for (std::size_t i = 1; i + 1 < knots.size(); ++i) {
    const Vec3d here = knots[i].place;
    knots[i].place = 0.25 * before + 0.5 * here + 0.25 * knots[i + 1].place;
    before = here;
  }
}

void setFractions(std::vector<LinePoint>& points) {
  const double length = points.back().along;
  for (LinePoint& point : points) point.fraction = length > 0 ? point.along / length : 0;
}

}  // namespace

int pastNeeded(const Scene& scene, int frame) {
  double max = 0;
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter))
    if (emitter->enabled) max = std::max(max, framesNeeded(*emitter, frame, frameRate(scene)));
  return static_cast<int>(std::min<double>(max, kMaxFrames));
}

Trails::Trails(const Scene& scene, const Item& emitter, const SceneFrame& now, const Past& past,
               const Look& look)
    : look_(look),
      random_(lookRandom(emitter, now.number)),
      frame_(now.number),
      frameSeconds_(1 / frameRate(scene)),
      byTime_(emitter.chooses("trail_length_mode", "time")),
      stays_(emitter.chooses("trail_at_death", "lingers")),
      fade_(emitter.number("trail_fade_out", now.number)),
      smoothness_(emitter.number("trail_smoothness", now.number)),
      spacing_(emitter.number("trail_point_spacing", now.number)),
      smoothing_(emitter.integer("trail_smoothing", now.number)),
      width_(emitter, "trail_width", now.number, Draw::TrailWidth, Draw::TrailWidthFollows),
      colorFrom_(emitter.choiceAs<ColorFrom>("trail_color_source",
                                             std::array<std::string_view, 3>{"particle", "path", "own"})),
      opacity_(emitter.number("trail_opacity", now.number) / 100) {
  const char* length = byTime_ ? "trail_time" : "trail_length";
  length_ = emitter.number(length, now.number);
  lengthVariation_ = emitter.value(length).variation;
  const auto& taper = std::get<Curve>(emitter.value("trail_width_along").base);
  const auto& fadesAlong = std::get<Curve>(emitter.value("trail_opacity_along").base);
  const auto& gradient = std::get<Gradient>(emitter.value("trail_color").base);
  const ColorMix mix = colorMixOf(emitter);
  taper_.fill([&](double x) { return static_cast<float>(taper.at(x)); });
  fadesAlong_.fill([&](double x) { return static_cast<float>(fadesAlong.at(x)); });
  ownColor_.fill([&](double x) { return Vec3(gradient.at(x, mix)); });
  if (emitter.chooses("birth_trigger", "own")) births_.emplace(scene, emitter, now.number);
  const ParticleGroup* group = now.particles->find(emitter.id);
  if (!group) return;
  stores_.push_back(&group->particles);
  for (const ParticleStatePtr& state : past) {
    const ParticleGroup* older = state ? state->find(emitter.id) : nullptr;
    if (!older) break;
    stores_.push_back(&older->particles);
  }
  if (emitter.chooses("trail_connect", "path"))
    findHeads();
  else
    findThreads(emitter.chooses("trail_connect", "birth_point") ? BirthPoints(emitter) : BirthPoints());
}

void Trails::findThreads(const BirthPoints& birthPoints) {
  const ParticleStore& store = *stores_.front();
  const std::size_t count = std::max<std::size_t>(1, birthPoints.count());
  UntouchedVector<std::uint32_t> pointOf(store.size());
  for (std::size_t i = 0; i < store.size(); ++i)
    pointOf[i] = static_cast<std::uint32_t>(birthPoints.pointOf(birthOfId(store.ids()[i])));
  threads_ = sortedByCell(pointOf, count);
  for (std::size_t point = 0; point < count; ++point) {
    const std::size_t end = threads_.starts[point + 1];
    if (end - threads_.starts[point] < 2) continue;
    heads_.push_back({0, threads_.order[end - 1]});
    threadOfTrail_.push_back(point);
  }
}

void Trails::findHeads() {
  for (std::size_t i = 0; i < stores_.front()->size(); ++i) heads_.push_back({0, i});
  if (!stays_) return;
  const auto frames = std::min(stores_.size(), static_cast<std::size_t>(fade_ / frameSeconds_) + 2);
  for (std::size_t frame = 1; frame < frames; ++frame) {
    const ParticleStore &older = *stores_[frame], &newer = *stores_[frame - 1];
    std::size_t next = 0;
    for (std::size_t i = 0; i < older.size(); ++i) {
      while (next < newer.size() && newer.ids()[next] < older.ids()[i]) ++next;
      if (next == newer.size() || newer.ids()[next] != older.ids()[i]) heads_.push_back({frame, i});
    }
  }
}

ParticleId Trails::particle(std::size_t index) const {
  const Head& head = heads_[index];
  return stores_[head.frame]->ids()[head.index];
}

double Trails::age(std::size_t index) const {
  const Head& head = heads_[index];
  return stores_[head.frame]->field(ParticleStore::Age)[head.index];
}

// Particles keep their order; those that have died since lie between them in the older frame.
std::optional<std::size_t> Trails::inOlder(std::size_t frame, std::size_t index, std::size_t frames) const {
  if (frame + frames >= stores_.size()) return std::nullopt;
  const ParticleId id = stores_[frame]->ids()[index];
  const ParticleId* ids = stores_[frame + frames]->ids();
  const std::size_t size = stores_[frame + frames]->size();
  if (index < size && ids[index] == id) return index;
  std::size_t from = index, step = 1;
  while (from + step < size && ids[from + step] < id) {
    from += step;
    step *= 2;
  }
  if (from >= size) return std::nullopt;
  const ParticleId* found = std::lower_bound(ids + from, ids + std::min(size, from + step + 1), id);
  if (found == ids + size || *found != id) return std::nullopt;
  return static_cast<std::size_t>(found - ids);
}

Trails::Sight Trails::sightOf(const Head& head, const Projector* seenBy) const {
  const ParticleStore& store = *stores_[head.frame];
  Sight sight{head, {store.shownPosition(head.index), store.velocity(head.index)}};
  sight.knot.age = store.field(ParticleStore::Age)[head.index];
  if (seenBy) sight.knot.pixelsPerUnit = seenBy->pixelsPerUnitAt(sight.knot.place);
  if (!(sight.knot.pixelsPerUnit > 0)) return sight;
  const double pixels = glm::length(sight.knot.velocity) * frameSeconds_ * sight.knot.pixelsPerUnit;
  std::size_t& frames = sight.maxFrames;
  while (frames < kMaxFramesPerStep && 2 * static_cast<double>(frames) * pixels <= kFinest) frames *= 2;
  return sight;
}

std::optional<Trails::Sight> Trails::olderThan(const Sight& sight, const Projector* seenBy) const {
  const Head& head = sight.head;
  const auto before = [&](std::size_t frames) -> std::optional<Sight> {
    const auto index = inOlder(head.frame, head.index, frames);
    if (!index) return std::nullopt;
    return sightOf({head.frame + frames, *index}, seenBy);
  };
  for (std::size_t max = sight.maxFrames; max > 1; max /= 2) {
    // To a frame whose number is a multiple, so that a trail stays where it was as time goes on.
    const int each = static_cast<int>(max), number = frame_ - static_cast<int>(head.frame) - 1;
    auto older = before(1 + static_cast<std::size_t>((number % each + each) % each));
    // Not past where it was much faster.
    if (older && 2 * older->maxFrames >= max) return older;
  }
  return before(1);
}

void Trails::addKnots(const Head& head, double seconds, double units, const Projector* seenBy,
                      Knots& knots) const {
  Sight at = sightOf(head, seenBy);
  const double first = knots.empty() ? 0 : knots.back().before,
               firstAge = knots.empty() ? 0 : knots.back().age;
  const bool hasHead = !knots.empty();
  double gone = 0;
  for (;;) {
    Knot& knot = at.knot;
    knot.before = static_cast<double>(at.head.frame - head.frame) * frameSeconds_;
    if (hasHead) knot.before += first + firstAge - stores_[head.frame]->field(ParticleStore::Age)[head.index];
    if (!byTime_ && !knots.empty()) gone += glm::length(knot.place - knots.back().place);
    knots.push_back(knot);
    // A chord is shorter than the way: one knot more than it says is taken.
    if (knot.before >= seconds || gone > 1.1 * units + 1e-9) return;
    const auto older = olderThan(at, seenBy);
    if (!older) break;
    at = *older;
  }
  addBirth(at.head, knots);
}

void Trails::addBirth(const Head& head, Knots& knots) const {
  // Without an older frame nobody knows whether it was born since.
  const Knot last = knots.back();
  if (head.frame + 1 >= stores_.size() || !(last.age > 0) || last.age > 1.01 * frameSeconds_) return;
  Knot birth;
  birth.before = last.before + last.age;
  const ParticleStore& store = *stores_[head.frame];
  if (births_) {
    const Birth born =
        births_->of(store.ids()[head.index], last.age + static_cast<double>(head.frame) * frameSeconds_);
    birth.place = born.position;
    birth.velocity = born.velocity;
  } else {
    // As it was pushed since.
    Vec3d push(0.0);
    if (knots.size() > 1) {
      const Knot& newer = knots[knots.size() - 2];
      if (const double seconds = last.before - newer.before; seconds > 0)
        push = (newer.velocity - last.velocity) / seconds;
    }
    birth.velocity = last.velocity - push * last.age;
    birth.place = last.place - last.velocity * last.age + push * (0.5 * last.age * last.age);
  }
  knots.push_back(birth);
}

double Trails::addDeath(const Head& head, Knots& knots) const {
  const ParticleStore& store = *stores_[head.frame];
  const double age = store.field(ParticleStore::Age)[head.index];
  const double since = static_cast<double>(head.frame) * frameSeconds_;
  const double left = static_cast<double>(store.field(ParticleStore::Lifetime)[head.index]) - age;
  // One that something else ended has left no more than where it was seen last.
  if (!(left > 0) || left > 1.01 * frameSeconds_) return since;
  Vec3d push(0.0);
  if (const auto older = inOlder(head.frame, head.index))
    push = (store.velocity(head.index) - stores_[head.frame + 1]->velocity(*older)) / frameSeconds_;
  const Vec3d velocity = store.velocity(head.index);
  knots.push_back({store.shownPosition(head.index) + velocity * left + push * (0.5 * left * left),
                   velocity + push * left, 0, age + left});
  return since - left;
}

// The mean over a time around each knot, less near the ends so that those stay where they are.
void Trails::smooth(Knots& knots) const {
  if (!(smoothness_ > 0) || knots.size() < 3) return;
  const Knots rough = knots;
  for (std::size_t i = 0; i < knots.size(); ++i) {
    const double reach = std::min(
        {0.5 * smoothness_, rough[i].before - rough.front().before, rough.back().before - rough[i].before});
    Vec3d sum(0.0);
    double weights = 0;
    for (const Knot& other : rough) {
      const double weight = 1 - std::abs(other.before - rough[i].before) / (reach + 0.5 * frameSeconds_);
      if (weight <= 0) continue;
      sum += other.place * weight;
      weights += weight;
    }
    knots[i].place = sum / weights;
  }
  takeVelocities(knots);
}

// Points along the knots as far as the trail is long, close enough for its bends.
void Trails::refine(const Knots& knots, double seconds, double units, std::vector<LinePoint>& points) const {
  const double min = std::max(1.0, std::ceil(kFewestPieces / static_cast<double>(knots.size())));
  const auto add = [&](const Vec3d& place, double before) {
    const double along = points.empty() ? 0 : points.back().along + glm::length(place - points.back().place);
    LinePoint point;
    point.place = place;
    point.before = before;
    point.along = along;
    points.push_back(point);
  };
  add(knots.front().place, knots.front().before);
  for (std::size_t i = 0; i + 1 < knots.size(); ++i) {
    const Knot &from = knots[i], &to = knots[i + 1];
    const int pieces = static_cast<int>(std::clamp(piecesBetween(from, to), min, kMaxPieces));
    const double span = to.before - from.before;
    // By time it ends within a piece: at the very moment.
    const double end = std::min(to.before, seconds);
    for (int piece = 1; piece <= pieces; ++piece) {
      const double before = std::min(end, from.before + span * piece / pieces);
      if (span > 0)
        add(before == to.before ? to.place : between(from, to, (before - from.before) / span), before);
      const LinePoint& last = points.back();
      if (points.size() > 1 && last.along > units) {
        const LinePoint& previous = points[points.size() - 2];
        const double fraction = (units - previous.along) / (last.along - previous.along);
        LinePoint cut = last;
        cut.place = previous.place + (last.place - previous.place) * fraction;
        cut.before = previous.before + (last.before - previous.before) * fraction;
        cut.along = units;
        points.back() = cut;
        return;
      }
      if (before >= end && end >= seconds) return;
    }
  }
}

Trails::Brush Trails::brushOf(const ParticleFacts& state, double fade) const {
  const bool asNow = colorFrom_ == ColorFrom::Particle;
  return {state, std::max(0.0, width_.of(state, random_)), asNow ? look_.color(state, state.age) : Vec3d(0.0),
          opacity_ * fade * (asNow ? look_.opacity(state) : 1.0)};
}

void Trails::paint(const Brush& brush, LinePoint& point) const {
  point.width = brush.width * static_cast<double>(taper_.at(point.fraction));
  point.opacity = brush.opacity * static_cast<double>(fadesAlong_.at(point.fraction));
  point.color = colorFrom_ == ColorFrom::Own ? Vec3d(ownColor_.at(point.fraction)) : brush.color;
  if (colorFrom_ != ColorFrom::Way) return;
  ParticleFacts there = brush.state;
  if (!leadThroughMany()) there.age = std::max(0.0, there.age - point.before);
  there.fraction = lifeFraction(static_cast<float>(there.age), static_cast<float>(there.lifetime));
  there.position = point.place;
  // What is asked for of the birth lies as far back as ever.
  point.color = look_.color(there, brush.state.age);
  point.opacity *= look_.opacity(there);
}

double Trails::find(std::size_t index, std::vector<LinePoint>& points, const Projector* seenBy) const {
  points.clear();
  if (leadThroughMany()) return throughMany(index, points, seenBy);
  const Head& head = heads_[index];
  const ParticleStore& store = *stores_[head.frame];
  ParticleFacts state = drawnParticle(store, head.index).state;
  const double length =
      std::max(0.0, length_ + lengthVariation_ * random_.signedUnit(state.id, Draw::TrailLength));
  constexpr double kAny = std::numeric_limits<double>::infinity();
  const double seconds = byTime_ ? length : kAny, units = byTime_ ? kAny : length;
  thread_local Knots knots;
  knots.clear();
  double fade = 1;
  if (head.frame > 0) {
    fade = 1 - addDeath(head, knots) / std::max(1e-9, fade_);
    if (!knots.empty()) state.age = knots.front().age;
    state.fraction = lifeFraction(static_cast<float>(state.age), static_cast<float>(state.lifetime));
  }
  if (!(length > 0) || fade <= 0) return 0;
  // What is smoothed needs all that it is the mean of.
  addKnots(head, seconds, units, smoothness_ > 0 ? nullptr : seenBy, knots);
  if (knots.size() < 2) return 0;
  smooth(knots);
  refine(knots, seconds, units, points);
  setFractions(points);
  const Brush brush = brushOf(state, fade);
  for (LinePoint& point : points) paint(brush, point);
  return look_.glow(state);
}

void Trails::spread(Knots& knots) const {
  std::vector<LinePoint> points;
  takeVelocities(knots);
  constexpr double kAny = std::numeric_limits<double>::infinity();
  refine(knots, kAny, kAny, points);
  const double length = points.back().along;
  // With very many it would only take longer.
  constexpr double kMaxKnots = 100000;
  const double pieces = std::clamp(std::round(length / spacing_), 1.0, kMaxKnots);
  Knots even;
  std::size_t next = 1;
  for (double piece = 0; piece <= pieces; ++piece) {
    const double along = length * piece / pieces;
    while (next + 1 < points.size() && points[next].along < along) ++next;
    const double from = points[next - 1].along, span = points[next].along - from;
    const double fraction = span > 0 ? std::clamp((along - from) / span, 0.0, 1.0) : 0;
    const LinePoint point = pointBetween(points[next - 1], points[next], fraction);
    even.push_back({point.place, Vec3d(0.0), point.before});
  }
  knots = std::move(even);
}

double Trails::throughMany(std::size_t index, std::vector<LinePoint>& points, const Projector* seenBy) const {
  const ParticleStore& store = *stores_.front();
  const std::size_t thread = threadOfTrail_[index], first = threads_.starts[thread],
                    count = threads_.starts[thread + 1] - first;
  // From the youngest on; `before` counts particles here.
  const auto member = [&](std::size_t i) -> std::size_t { return threads_.order[first + count - 1 - i]; };
  Knots knots;
  for (std::size_t i = 0; i < count; ++i)
    knots.push_back({store.shownPosition(member(i)), Vec3d(0.0), static_cast<double>(i)});
  if (spacing_ > 0) spread(knots);
  for (int i = 0; i < smoothing_; ++i) roundOff(knots);
  takeVelocities(knots);
  if (seenBy)
    for (Knot& knot : knots) knot.pixelsPerUnit = seenBy->pixelsPerUnitAt(knot.place);
  constexpr double kAny = std::numeric_limits<double>::infinity();
  refine(knots, kAny, kAny, points);
  setFractions(points);
  // Each particle gives what the line has beside it, which are several points, one after the other.
  std::size_t painting = 0;
  Brush brush = brushOf(drawnParticle(store, member(painting)).state, 1);
  for (LinePoint& point : points) {
    const auto nearest = static_cast<std::size_t>(std::lround(point.before));
    if (nearest != painting) {
      painting = nearest;
      brush = brushOf(drawnParticle(store, member(painting)).state, 1);
    }
    paint(brush, point);
  }
  return look_.glow(drawnParticle(store, member(0)).state);
}

}  // namespace comet
