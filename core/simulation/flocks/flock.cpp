#include "simulation/flocks/flock.h"

#include "base/noise.h"
#include "base/random.h"
#include "base/stoppable.h"
#include "scene/item_reference.h"
#include "simulation/deflectors/deflector.h"
#include "simulation/flocks/flock_sums.h"
#include "simulation/influences/influences.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <limits>

namespace comet {
namespace {

// How quickly a particle brings its velocity to the one that it wants for its target, 1/s.
constexpr double kKeenness = 4;

// Particles that look one after the other.
constexpr std::size_t kBlock = 256;

// A rate, 1/s, held over a step without overshooting.
double rateOver(double rate, double step) { return step > 0 ? (1 - std::exp(-rate * step)) / step : rate; }

Vec3d shortened(const Vec3d& vector, double max) {
  const double length = glm::length(vector);
  return length > max ? vector * (max / length) : vector;
}

std::vector<ParamSpec> othersParams() {
  return {
      choice("neighbours", "Neighbours",
             {{"own", "Own emitter", "Each particle sees those of its own emitter."},
              {"all", "All emitters", "Each particle sees those of all emitters."}})
          .in("Flock")
          .tip("Which particles count as neighbours."),
      number("sight_radius", "Sight radius", 2)
          .in("Flock")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.2, 10)
          .keyed()
          .tip("The distance at which particles see each other. More neighbours take longer to simulate."),
      number("sight_angle", "Sight angle", 270)
          .in("Flock")
          .unit("°")
          .range(0, 360)
          .usual(30, 360)
          .keyed()
          .tip("The angle of view around a particle's velocity; at 360 it also sees what is behind it."),
      number("separation", "Separation", 8)
          .in("Flock")
          .unit("units/s²")
          .range(-10000, 10000)
          .usual(0, 40)
          .keyed()
          .tip("How strongly a particle keeps away from each neighbour that touches it; farther ones count "
               "less."),
      number("separation_radius", "Separation radius", 0.6)
          .in("Flock")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.1, 5)
          .keyed()
          .tip("Neighbours nearer than this are too near."),
      number("alignment", "Alignment", 2)
          .in("Flock")
          .unit("/s")
          .range(0, 10000)
          .usual(0, 10)
          .keyed()
          .tip("How quickly a particle takes on the velocity of its neighbours."),
      number("alignment_radius", "Alignment radius", 1.5)
          .in("Flock")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.1, 10)
          .keyed()
          .tip("Neighbours within this distance are followed."),
      number("cohesion", "Cohesion", 1.5)
          .in("Flock")
          .unit("/s²")
          .range(-10000, 10000)
          .usual(0, 10)
          .keyed()
          .tip(
              "How strongly a particle is drawn to the middle of its neighbours, for each unit of distance."),
      number("cohesion_radius", "Cohesion radius", 2)
          .in("Flock")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.1, 10)
          .keyed()
          .tip("Neighbours within this distance count for their middle."),
  };
}

std::vector<ParamSpec> targetParams() {
  return {
      choice("target", "Target",
             {{"none", "None", "The flock has no target."},
              {"seek", "Seek", "Particles go to the target and slow down there."},
              {"flee", "Flee", "Particles go away from the target."},
              {"circle", "Circle", "Particles circle the target."}})
          .in("Target")
          .tip("What particles do about a target."),
      reference("follow", "Follow", RefersTo::Placed)
          .in("Target")
          .when("target", {"seek", "flee", "circle"})
          .tip("The target moves with this item; none gives it a position of its own."),
      vector("position", "Position", {0, 2, 0})
          .in("Target")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-10, 10)
          .keyed()
          .when("target", {"seek", "flee", "circle"})
          .when("follow", {"none"})
          .tip("The position of the target."),
      number("target_strength", "Target strength", 6)
          .in("Target")
          .unit("units/s²")
          .range(0, 10000)
          .usual(0, 40)
          .keyed()
          .when("target", {"seek", "flee", "circle"})
          .tip("The strongest acceleration towards the target."),
      number("target_range", "Target range", 30)
          .in("Target")
          .unit("units")
          .range(0.001, 1e6)
          .usual(1, 100)
          .keyed()
          .when("target", {"seek", "flee", "circle"})
          .tip("Particles farther from the target than this ignore it."),
      number("slowing_radius", "Slowing radius", 1)
          .in("Target")
          .unit("units")
          .range(0, 10000)
          .usual(0, 5)
          .keyed()
          .when("target", {"seek"})
          .tip("Particles slow down within this distance of the target; at 0 they fly through it."),
      number("circle_radius", "Circle radius", 2)
          .in("Target")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.2, 10)
          .keyed()
          .when("target", {"circle"})
          .tip("The distance from the target at which particles circle."),
      vector("axis", "Axis", {0, 1, 0})
          .in("Target")
          .range(-1000, 1000)
          .usual(-1, 1)
          .keyed()
          .when("target", {"circle"})
          .tip("The axis about which they circle; its length does not matter."),
  };
}

std::vector<ParamSpec> meetingParams() {
  return {
      reference("chase", "Chase", RefersTo::Emitter)
          .in("Collision")
          .tip("The emitter whose particles are chased: each particle goes for the nearest that it sees."),
      number("chase_strength", "Chase strength", 10)
          .in("Collision")
          .unit("units/s²")
          .range(0, 10000)
          .usual(0, 40)
          .keyed()
          .tip("The strongest acceleration towards what is chased."),
      reference("flee_from", "Flee from", RefersTo::Emitter)
          .in("Collision")
          .tip("The emitter whose particles are fled from as soon as they are seen."),
      number("flee_strength", "Flee strength", 20)
          .in("Collision")
          .unit("units/s²")
          .range(0, 10000)
          .usual(0, 40)
          .keyed()
          .tip("The strongest acceleration away from them; it weakens with distance."),
      number("look_ahead", "Look-ahead time", 0.6)
          .in("Collision")
          .unit("s")
          .range(0, 60)
          .usual(0, 3)
          .keyed()
          .tip("How long before it would hit a deflector a particle begins to turn aside; 0 turns this off."),
      number("avoid_distance", "Avoid distance", 0.4)
          .in("Collision")
          .unit("units")
          .range(0, 10000)
          .usual(0, 5)
          .keyed()
          .tip("The distance that particles keep from deflectors."),
      number("avoid_strength", "Avoid strength", 20)
          .in("Collision")
          .unit("units/s²")
          .range(0, 10000)
          .usual(0, 60)
          .keyed()
          .tip("How strongly a particle turns away from a deflector ahead of it."),
  };
}

std::vector<ParamSpec> ownParams() {
  return {
      number("wander", "Wander", 1)
          .in("Path")
          .unit("units/s²")
          .range(0, 10000)
          .usual(0, 20)
          .keyed()
          .tip("How strongly each particle strays from its course, smoothly and at random."),
      number("wander_rate", "Wander rate", 1)
          .when("wander", {"positive"})
          .in("Path")
          .unit("/s")
          .range(0, 1000)
          .usual(0, 10)
          .tip("How many times a second a particle changes its course."),
      number("min_speed", "Min speed", 1)
          .in("Path")
          .unit("units/s")
          .range(0, 10000)
          .usual(0, 10)
          .keyed()
          .tip("Particles of the flock are never slower than this."),
      number("max_speed", "Max speed", 4)
          .in("Path")
          .unit("units/s")
          .range(0, 10000)
          .usual(0, 20)
          .keyed()
          .tip("Particles of the flock are never faster than this."),
      number("turn_rate", "Turn rate", 240)
          .in("Path")
          .unit("°/s")
          .range(0, 36000)
          .usual(0, 720)
          .keyed()
          .tip("How quickly a particle can turn by itself: low for heavy birds, high for insects."),
  };
}

const KindSpec& flockSpec() {
  static const KindSpec kind("flock", "Flock", ItemFamily::Influence,
                             "Makes particles move as a flock: they keep apart, align with their neighbours, "
                             "stay near them and follow a target.",
                             [] {
                               std::vector<ParamSpec> params = othersParams();
                               for (const auto& more : {targetParams(), meetingParams(), ownParams()})
                                 params.insert(params.end(), more.begin(), more.end());
                               return influenceParams(std::move(params));
                             }());
  return kind;
}

// A small cross of circles, from where it is seen, and the circle about it, if they go round it.
std::vector<PlacedWire> targetLines(const Item& item, double frame) {
  if (item.chooses("target", "none")) return {};
  constexpr double kMark = 0.15;
  const Vec3d place = item.vector("position", frame);
  std::vector<PlacedWire> lines{{sphereWire(kMark), {place}},
                                {sphereWire(item.number("target_range", frame)), {place}}};
  if (item.chooses("target", "circle"))
    lines.push_back({{circleLine(item.number("circle_radius", frame), 0, 2)},
                     {place, turnedTo(unitOr(item.vector("axis", frame), Vec3d(0, 1, 0)))}});
  return lines;
}

}  // namespace

FlockRules::FlockRules(const Item& item, double frame)
    : seesAll(item.chooses("neighbours", "all")),
      sight(item.number("sight_radius", frame)),
      cosineOfSight(std::cos(0.5 * radians(item.number("sight_angle", frame)))),
      separation(item.number("separation", frame)),
      separationRadius(item.number("separation_radius", frame)),
      alignment(item.number("alignment", frame)),
      alignmentRadius(item.number("alignment_radius", frame)),
      cohesion(item.number("cohesion", frame)),
      cohesionRadius(item.number("cohesion_radius", frame)),
      target(
          item.choiceAs<Target>("target", std::array<std::string_view, 4>{"none", "seek", "flee", "circle"})),
      place(item.vector("position", frame)),
      axis(unitOr(item.vector("axis", frame), Vec3d(0, 1, 0))),
      targetStrength(item.number("target_strength", frame)),
      targetSight(item.number("target_range", frame)),
      slowWithin(item.number("slowing_radius", frame)),
      circleRadius(item.number("circle_radius", frame)),
      wander(item.number("wander", frame)),
      wanderRate(item.number("wander_rate", frame)),
      minSpeed(item.number("min_speed", frame)),
      maxSpeed(std::max(minSpeed, item.number("max_speed", frame))),
      turnRate(radians(item.number("turn_rate", frame))),
      self(item.id),
      chased{item.reference("chase"), item.number("chase_strength", frame)},
      feared{item.reference("flee_from"), item.number("flee_strength", frame)},
      lookAhead(item.number("look_ahead", frame)),
      keepsOff(item.number("avoid_distance", frame)),
      avoidance(item.number("avoid_strength", frame)) {
  // At the full circle, rounding must not leave out what is straight behind.
  if (item.number("sight_angle", frame) >= 360) cosineOfSight = -2;
}

void FlockRules::describe(Hasher& hasher) const {
  hasher << seesAll << sight << cosineOfSight << separation << separationRadius << alignment
         << alignmentRadius << cohesion << cohesionRadius << target << place << axis << targetStrength
         << targetSight << slowWithin << circleRadius << wander << wanderRate << minSpeed << maxSpeed
         << turnRate << self << chased.emitter << chased.strength << feared.emitter << feared.strength
         << lookAhead << keepsOff << avoidance;
}

std::shared_ptr<const InfluenceAction> Flock::seeing(const Surroundings& around) const {
  // Where they will be in the middle of the step; before and after, they are seen a little away from there.
  const double ahead = 0.5 * around.time.length;
  const double moves = around.substeps > 1 ? 1 - 1.0 / around.substeps : 0;
  using Stores = std::vector<const ParticleStore*>;
  const auto gridOf = [&](const Stores& stores) {
    double fastest = 0;
    for (const ParticleStore* store : stores)
      for (std::size_t i = 0; moves > 0 && i < store->size(); ++i)
        fastest = std::max(fastest, glm::length(store->velocity(i)));
    return std::make_shared<const NeighbourGrid>(stores, rules_.sight + fastest * ahead * moves, ahead);
  };
  Stores stores;
  View view;
  const auto found = around.answering.find(rules_.self);
  const auto answers = [&](ItemId emitter) {
    return found != around.answering.end() &&
           std::find(found->second.begin(), found->second.end(), emitter) != found->second.end();
  };
  for (const ParticleGroup& group : around.particles.groups) {
    stores.push_back(&group.particles);
    const auto own = [&] { return gridOf({&group.particles}); };
    if (!rules_.seesAll && answers(group.emitter)) view.flocks[group.emitter] = own();
    if (group.emitter == rules_.chased.emitter) view.chased = own();
    if (group.emitter == rules_.feared.emitter) view.feared = own();
  }
  if (rules_.seesAll) {
    const auto all = gridOf(stores);
    for (const ParticleGroup& group : around.particles.groups)
      if (answers(group.emitter)) view.flocks[group.emitter] = all;
  }
  view.deflectors = around.deflectors;
  view.at = around.time.start + ahead;
  const auto flock = std::make_shared<Flock>(rules_, std::move(view));
  if (around.substeps == 1 && around.time.length > 0) flock->sumUp(around.progress);
  return flock;
}

// Calls visit(other, way, distance) for each of a grid that a particle sees, itself not among them.
template <typename Visit>
void Flock::forSeen(const NeighbourGrid& grid, const Self& self, double seconds, const Visit& visit) const {
  const Vec3d ahead = unitOr(self.velocity, Vec3d(0.0));
  // One at rest looks all round.
  const double cosine = ahead == Vec3d(0.0) ? -1 : rules_.cosineOfSight;
  const double since = seconds - view_.at;
  grid.forNear(self.position, [&](const NeighbourGrid::Particle& other) {
    const Vec3d path = Vec3d(other.position) + Vec3d(other.velocity) * since - self.position;
    const double squared = glm::dot(path, path);
    if (squared > rules_.sight * rules_.sight || other.id == self.id) return;
    const double distance = std::sqrt(squared);
    if (glm::dot(path, ahead) >= cosine * distance) visit(other, path, distance);
  });
}

const NeighbourGrid* Flock::gridFor(ParticleId id) const {
  const auto grid = view_.flocks.find(emitterOfId(id));
  return grid == view_.flocks.end() ? nullptr : grid->second.get();
}

FlockSearch Flock::searchAt(double seconds) const {
  // Seconds are counted from the scene's beginning: what is left of them here may be nothing but rounding.
  constexpr double kNoTime = 1e-9;
  const double since = seconds - view_.at;
  return {std::abs(since) < kNoTime ? 0.0F : static_cast<float>(since), static_cast<float>(rules_.sight),
          static_cast<float>(rules_.separationRadius), static_cast<float>(rules_.alignmentRadius),
          static_cast<float>(rules_.cohesionRadius)};
}

FlockLooker Flock::lookerFor(const Self& self) const {
  FlockLooker looker;
  looker.position = Vec3(self.position);
  // One at rest looks all round, as all do whose field of sight is the full circle.
  if (rules_.cosineOfSight > -1) looker.ahead = Vec3(unitOr(self.velocity, Vec3d(0.0)));
  if (looker.ahead != Vec3(0.0F)) looker.cosineOfSight = static_cast<float>(rules_.cosineOfSight);
  looker.mark = NeighbourGrid::markOf(self.id);
  return looker;
}

Vec3d Flock::fromOthers(const FlockSums& sums, const Self& self, double alignment) const {
  Vec3d steering = Vec3d(sums.apart) * rules_.separation;
  if (sums.aligned > 0)
    steering += (Vec3d(sums.velocity) / static_cast<double>(sums.aligned) - self.velocity) * alignment;
  if (sums.gathered > 0)
    steering += Vec3d(sums.middle) * (rules_.cohesion / static_cast<double>(sums.gathered));
  return steering;
}

Vec3d Flock::toTarget(const Self& self) const {
  const Vec3d path = rules_.place - self.position;
  const double distance = glm::length(path);
  if (rules_.target == FlockRules::Target::None || distance > rules_.targetSight || distance < 1e-9)
    return Vec3d(0.0);
  const Vec3d towards = path / distance;
  Vec3d wanted = towards * rules_.maxSpeed;
  if (rules_.target == FlockRules::Target::Flee) wanted = -wanted;
  if (rules_.target == FlockRules::Target::Seek && rules_.slowWithin > 0)
    wanted *= std::min(1.0, distance / rules_.slowWithin);
  if (rules_.target == FlockRules::Target::Circle) {
    const Vec3d around = unitOr(glm::cross(towards, rules_.axis), Vec3d(0.0));
    const double off = std::clamp((distance - rules_.circleRadius) / rules_.circleRadius, -1.0, 1.0);
    wanted = unitOr(around + towards * (2 * off), towards) * rules_.maxSpeed;
  }
  return shortened((wanted - self.velocity) * kKeenness, rules_.targetStrength);
}

Vec3d Flock::toHunted(const Self& self, double seconds) const {
  if (!view_.chased) return Vec3d(0.0);
  double nearest = std::numeric_limits<double>::infinity();
  Vec3d chase(0.0);
  forSeen(*view_.chased, self, seconds,
          [&](const NeighbourGrid::Particle& other, const Vec3d& path, double distance) {
            if (distance >= nearest || !(distance > 0)) return;
            nearest = distance;
            // To where it will be.
            const double until = distance / std::max(1e-6, rules_.maxSpeed);
            chase = path + Vec3d(other.velocity) * until;
          });
  if (std::isinf(nearest)) return chase;
  const Vec3d wanted = unitOr(chase, Vec3d(0.0)) * rules_.maxSpeed;
  return shortened((wanted - self.velocity) * kKeenness, rules_.chased.strength);
}

Vec3d Flock::fromFeared(const Self& self, double seconds) const {
  Vec3d away(0.0);
  if (!view_.feared) return away;
  forSeen(*view_.feared, self, seconds,
          [&](const NeighbourGrid::Particle&, const Vec3d& path, double distance) {
            if (distance > 0) away -= path * ((1 - distance / rules_.sight) / distance);
          });
  return shortened(away * rules_.feared.strength, rules_.feared.strength);
}

// The nearest place on its way that lies too close to a deflector turns it aside, the more the sooner it
// comes there.
Vec3d Flock::fromDeflectors(const Self& self, double seconds) const {
  constexpr int kLooks = 6;
  Vec3d aside(0.0);
  if (!(rules_.lookAhead > 0)) return aside;
  const Vec3d ahead = unitOr(self.velocity, Vec3d(0.0));
  for (const auto& action : view_.deflectors) {
    const Deflector& deflector = *action->deflector();
    const Pose pose = deflector.motion().at(deflector.fractionAt(seconds));
    for (int look = 0; look < kLooks; ++look) {
      const double fraction = static_cast<double>(look) / (kLooks - 1);
      const Vec3d place = self.position + self.velocity * (fraction * rules_.lookAhead);
      const SurfaceDistance gap = deflector.shape().at(pose.toOwn(place), rules_.keepsOff);
      if (gap.distance > rules_.keepsOff) continue;
      const Vec3d normal = pose.rotation * gap.normal;
      // One that flies straight at it turns to any side.
      Vec3d first, second;
      perpendiculars(normal, first, second);
      const Vec3d along = ahead - normal * glm::dot(ahead, normal);
      const Vec3d path = glm::dot(ahead, normal) < 0 ? normal + unitOr(along, first) * 0.5 : normal;
      aside += unitOr(path, normal) * (rules_.avoidance * (1 - 0.8 * fraction));
      break;
    }
  }
  return aside;
}

Vec3d Flock::wandering(ParticleId id, double seconds) const {
  if (rules_.wander == 0) return Vec3d(0.0);
  // Each along a line of its own through the noise; about half as large as its limit is usual.
  const std::uint64_t own = combineKeys(rules_.self, id);
  const double offset = static_cast<double>(own >> 44);
  return smoothNoise3({seconds * rules_.wanderRate + 0.5, offset * 0.37, offset * 0.73}, own) *
         (2 * rules_.wander);
}

Vec3d Flock::heldToTurn(const Vec3d& steering, const Vec3d& velocity) const {
  const double speed = glm::length(velocity);
  if (speed < 1e-6) return steering;
  const Vec3d ahead = velocity / speed, along = ahead * glm::dot(steering, ahead);
  return along + shortened(steering - along, rules_.turnRate * speed);
}

Flock::Sight Flock::sightOf(const Self& self, double seconds, double step) const {
  FlockSums sums;
  const FlockLooker looker = lookerFor(self);
  if (const NeighbourGrid* grid = gridFor(self.id)) flockSums(*grid, searchAt(seconds), &looker, 1, &sums);
  return sightWith(sums, self, seconds, rateOver(rules_.alignment, step));
}

Flock::Sight Flock::sightWith(const FlockSums& sums, const Self& self, double seconds,
                              double alignment) const {
  Sight sight;
  sight.neighbours = static_cast<int>(sums.seen);
  sight.seesTarget = hasTarget() && glm::length(rules_.place - self.position) <= rules_.targetSight;
  const Vec3d wanted = fromOthers(sums, self, alignment) + toTarget(self) + toHunted(self, seconds) +
                       fromFeared(self, seconds) + fromDeflectors(self, seconds) +
                       wandering(self.id, seconds);
  sight.steering = heldToTurn(wanted, self.velocity);
  return sight;
}

void Flock::sumUp(const Progress& progress) {
  const FlockSearch search = searchAt(view_.at);
  for (const auto& [emitter, grid] : view_.flocks) {
    UntouchedVector<FlockSums>& sums = view_.sums[emitter];
    sums.resize(grid->countOf(emitter));
    const NeighbourGrid::Arrays& arrays = grid->arrays();
    stoppableFor(
        (grid->size() + kBlock - 1) / kBlock, progress,
        [&, grid = grid.get(), emitter = emitter](std::size_t block) {
          const std::size_t first = block * kBlock, last = std::min(grid->size(), first + kBlock);
          std::array<FlockLooker, kBlock> lookers;
          std::array<std::uint32_t, kBlock> places;
          std::size_t count = 0;
          for (std::size_t i = first; i < last; ++i) {
            if (emitterOfId(arrays.ids[i]) != emitter) continue;
            const NeighbourGrid::Particle particle = grid->particle(i);
            places[count] = arrays.indices[i];
            lookers[count++] = lookerFor({particle.id, Vec3d(particle.position), Vec3d(particle.velocity)});
          }
          std::array<FlockSums, kBlock> found{};
          flockSums(*grid, search, lookers.data(), count, found.data());
          for (std::size_t k = 0; k < count; ++k) sums[places[k]] = found[k];
        });
  }
}

const FlockSums* Flock::knownSums(const Samples& samples, const FlockSearch& search) const {
  const auto found = view_.sums.find(emitterOfId(samples.ids[0]));
  const bool areKnown = found != view_.sums.end() && samples.startInGroup && search.since == 0;
  return areKnown ? found->second.data() + *samples.startInGroup : nullptr;
}

template <typename Use>
void Flock::forSums(const Samples& samples, const FlockSearch& search, const Use& use) const {
  if (const FlockSums* known = knownSums(samples, search)) {
    for (std::size_t i = 0; i < samples.count; ++i) use(i, known[i]);
    return;
  }
  const NeighbourGrid* grid = gridFor(samples.ids[0]);  // samples are of one emitter
  // Those that are near each other one after the other.
  std::array<std::uint64_t, kChunkSize> order;
  for (std::size_t i = 0; i < samples.count; ++i)
    order[i] = static_cast<std::uint64_t>(grid ? grid->cellAt(samples.position(i)) : 0) << 32 | i;
  std::sort(order.begin(), order.begin() + static_cast<std::ptrdiff_t>(samples.count));
  std::array<FlockLooker, kBlock> lookers;
  for (std::size_t first = 0; first < samples.count; first += kBlock) {
    const std::size_t count = std::min(kBlock, samples.count - first);
    const auto at = [&](std::size_t k) { return static_cast<std::size_t>(order[first + k] & 0xFFFFFFFFU); };
    for (std::size_t k = 0; k < count; ++k)
      lookers[k] = lookerFor({samples.ids[at(k)], samples.position(at(k)), samples.velocity(at(k))});
    std::array<FlockSums, kBlock> sums{};
    if (grid) flockSums(*grid, search, lookers.data(), count, sums.data());
    for (std::size_t k = 0; k < count; ++k) use(at(k), sums[k]);
  }
}

void Flock::addTo(Forces& forces, const Samples& samples, const Substep& substep,
                  const Weights& weights) const {
  if (samples.count == 0 || !samples.areParticles()) return;
  const double alignment = rateOver(rules_.alignment, substep.length);
  std::array<Vec3d, kChunkSize> steering;
  forSums(samples, searchAt(substep.middle()), [&](std::size_t i, const FlockSums& sums) {
    const Self self{samples.ids[i], samples.position(i), samples.velocity(i)};
    steering[i] = sightWith(sums, self, substep.middle(), alignment).steering;
  });
  forces.acceleration.addEach(weights, samples.count, [&](std::size_t i) { return steering[i]; });
}

void Flock::correct(Chunk& chunk, const Substep&, const Durations&, const Masses&,
                    const Weights& weights) const {
  for (std::size_t i = 0; i < chunk.count; ++i) {
    if (weights.of(i) == 0) continue;
    const Vec3d velocity = chunk.velocity(i);
    const double speed = glm::length(velocity);
    if (speed > 0)
      chunk.setVelocity(i, velocity * (std::clamp(speed, rules_.minSpeed, rules_.maxSpeed) / speed));
  }
}

FlockSight flockSight(const Scene& scene, const Item& item, const SceneFrame& frame,
                      const Progress& progress) {
  // Particles that steer towards a target come near the limit without ever quite reaching it.
  constexpr double kAtLimit = 0.95;
  constexpr std::size_t kBetweenStops = 64;
  const Scene::ItemPtr resolved = followingItem(scene, std::make_shared<const Item>(item));
  const Item& flock = *resolved;
  FrameTime now;
  now.frame = frame.number;
  now.start = flock.clock.seconds(frame.number);
  const FlockRules rules(flock, frame.number);
  const Flock action(rules);
  Surroundings around{*frame.particles, *frame.gases, now, {}, {}, 1, progress};
  for (const ParticleGroup& group : frame.particles->groups)
    if (scene.response(group.emitter, flock.id).acts()) around.answering[flock.id].push_back(group.emitter);
  const auto seeing = std::static_pointer_cast<const Flock>(action.seeing(around));
  FlockSight sum;
  sum.hasTarget = action.hasTarget();
  for (const ParticleGroup& group : frame.particles->groups) {
    const Response response = scene.response(group.emitter, flock.id);
    if (!response.acts()) continue;
    const ParticleStore& particles = group.particles;
    for (std::size_t i = 0; i < particles.size(); ++i) {
      if (i % kBetweenStops == 0) progress.stopIfCancelled();
      const Flock::Sight sight =
          seeing->sightOf({particles.ids()[i], particles.position(i), particles.velocity(i)}, now.start, 0);
      sum.neighbours += sight.neighbours;
      sum.targetSeen += sight.seesTarget ? 1 : 0;
      sum.atMostSpeed += glm::length(particles.velocity(i)) >= kAtLimit * rules.maxSpeed ? 1 : 0;
      ++sum.particles;
    }
  }
  if (sum.particles == 0) return sum;
  sum.neighbours /= static_cast<double>(sum.particles);
  sum.targetSeen /= static_cast<double>(sum.particles);
  sum.atMostSpeed /= static_cast<double>(sum.particles);
  return sum;
}

InfluenceKind flockInfluence() {
  return {.spec = flockSpec(),
          .group = InfluenceGroup::Flock,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Flock>(FlockRules(item, time.middleFrame()));
          },
          .feelsMass = false,
          .movesGas = false,
          .repeats = false,
          .hints = targetLines,
          .notes = {{flockSpec().params().front().id, KindNote::About::FlockSight},
                    {"target_strength", KindNote::About::FlockLimit},
                    {"max_speed", KindNote::About::FlockLimit}}};
}

}  // namespace comet
