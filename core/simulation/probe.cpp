#include "simulation/probe.h"

#include "gas/advect.h"
#include "simulation/cards/card_shape.h"
#include "simulation/contacts/contact.h"
#include "simulation/motion/chunk.h"
#include "simulation/plan.h"
#include "simulation/rules/apply_rules.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <numeric>
#include <unordered_map>

namespace comet {
namespace {

std::optional<std::size_t> indexOf(const ParticleStore& particles, ParticleId id) {
  const ParticleId* end = particles.ids() + particles.size();
  const ParticleId* found = std::find(particles.ids(), end, id);
  if (found == end) return std::nullopt;
  return static_cast<std::size_t>(found - particles.ids());
}

// A chunk that holds nothing but the particle.
std::unique_ptr<Chunk> chunkOf(const ProbedParticle& particle) {
  // Zeroed: whole vectors are read of it, of which the particle fills one lane.
  auto chunk = std::make_unique<Chunk>();
  chunk->count = 1;
  chunk->ids = &particle.id;
  chunk->setPosition(0, particle.position);
  chunk->setVelocity(0, particle.velocity);
  chunk->field(ParticleStore::Lifetime)[0] = static_cast<float>(particle.lifetime);
  chunk->middleAge[0] = static_cast<float>(particle.age);
  for (int axis = 0; axis < 3; ++axis) chunk->middle[axis][0] = static_cast<float>(particle.position[axis]);
  return chunk;
}

// What touches the particle by one contact.
class TouchFinder {
 public:
  TouchFinder(const ContactRule& rule, const EmitterPlan& emitter, ProbedParticle& particle)
      : rule_(rule), particle_(particle), radius_(radiusOf(emitter, particle.id)) {}

  void addFrom(const EmitterPlan& emitter, const ParticleStore& others) {
    if (!rule_.isBetweenAll && emitter.emission.emitter != particle_.emitter) return;
    for (std::size_t i = 0; i < others.size(); ++i) {
      const Vec3d apart = others.position(i) - particle_.position;
      const double radius = radiusOf(emitter, others.ids()[i]), reach = radius_ + radius;
      const double distance = glm::length(apart);
      if (others.ids()[i] == particle_.id || !(distance <= (1 + kTouching) * reach)) continue;
      const auto isSame = [&](const ProbedTouch& touch) { return touch.other == others.ids()[i]; };
      if (std::any_of(particle_.touches.begin(), particle_.touches.end(), isSame)) continue;
      particle_.touches.push_back({others.ids()[i], particle_.position + apart * (radius_ / reach),
                                   (reach - distance) / std::min(radius_, radius)});
    }
  }

 private:
  double radiusOf(const EmitterPlan& emitter, ParticleId id) const {
    return 0.5 * rule_.radius * emitter.size->diameter(id);
  }

  const ContactRule& rule_;
  ProbedParticle& particle_;
  double radius_;
};

void addTouches(const FramePlan& plan, const EmitterPlan& emitter, const SceneFrame& frame,
                ProbedParticle& particle) {
  for (const ActingInfluence& acting : emitter.influences) {
    const ContactRule* rule = acting.action().contact();
    if (!rule) continue;
    TouchFinder finder(*rule, emitter, particle);
    for (const EmitterPlan& other : plan.emitters) {
      const auto takesPart = [&](const ActingInfluence& its) {
        return its.influence() == acting.influence();
      };
      const ParticleGroup* group = frame.particles->find(other.emission.emitter);
      if (group && std::any_of(other.influences.begin(), other.influences.end(), takesPart))
        finder.addFrom(other, group->particles);
    }
  }
}

void addInfluences(const Scene& scene, const SceneFrame& frame, ProbedParticle& particle) {
  // As they act at the frame itself.
  FramePlan plan = planFrame(scene, frame.number);
  plan.time.start += plan.time.length;
  plan = seeing(frame, std::move(plan));
  const auto emitter =
      std::find_if(plan.emitters.begin(), plan.emitters.end(),
                   [&particle](const EmitterPlan& e) { return e.emission.emitter == particle.emitter; });
  if (emitter == plan.emitters.end()) return;
  const auto chunk = chunkOf(particle);
  particle.mass = emitter->emission.mass.of(particle.id, [&chunk] { return chunk->samples().moment(0); });
  const auto forces = std::make_unique<Forces>();
  const auto room = std::make_unique<ChunkArray>();
  const Substep now{plan.time.start, 0, static_cast<std::size_t>(plan.substeps - 1)};
  for (const ActingInfluence& acting : emitter->influences) {
    const InfluenceAction& action = acting.action();
    // What touches does so at moments: it is told by hits and touches. What brings it to a point does not
    // push.
    if (action.deflector() || action.contact() || action.remembers().has(ParticleStore::ArriveBy)) continue;
    const Weights weights = acting.weights(chunk->samples(), now, *room);
    forces->clear();
    action.addTo(*forces, chunk->samples(), now, weights);
    // Air acts on the faces of a card, each its own: it is no push on the particle in its middle.
    if (emitter->card && forces->air.of(0) != Vec3d(0.0)) continue;
    particle.influences.push_back(
        {acting.influence(), weights.of(0), forces->accelerationOn(0, particle.velocity, particle.mass)});
  }
  addTouches(plan, *emitter, frame, particle);
}

void addRemembered(const Scene& scene, int frame, const ParticleGroup& group, std::size_t index,
                   ProbedParticle& particle) {
  const float* still = group.particles.field(ParticleStore::Still);
  particle.isStill = still && still[index] != 0;
  if (group.particles.fields().has(ParticleStore::ArriveBy))
    particle.arrival = arrivalOf(group.particles, index);
  const float* fired = group.particles.field(ParticleStore::RulesFired);
  const Scene::ItemPtr emitter = scene.find(group.emitter);
  if (emitter && showsCards(*emitter) &&
      group.particles.bodyNumbers() == CardBody::numbers(cardGridOf(*emitter)))
    particle.stretch = cardStretch(CardRule(*emitter, frame), particle.id, group.particles.body(index));
  if (!fired || !emitter) return;
  const std::size_t rules = std::get<RuleList>(emitter->value("rules").base).size();
  for (std::size_t rule = 0; rule < rules; ++rule)
    particle.rulesFired.push_back(timesFired(fired[index], rule));
}

}  // namespace

std::optional<ProbedParticle> probeParticle(const Scene& scene, const SceneFrame& frame, ParticleId id) {
  for (const ParticleGroup& group : frame.particles->groups) {
    const auto index = indexOf(group.particles, id);
    if (!index) continue;
    ProbedParticle particle;
    particle.id = id;
    particle.emitter = group.emitter;
    particle.age = group.particles.field(ParticleStore::Age)[*index];
    particle.lifetime = group.particles.field(ParticleStore::Lifetime)[*index];
    particle.position = group.particles.position(*index);
    particle.velocity = group.particles.velocity(*index);
    particle.lineage = lineageOf(group.particles, *index);
    addRemembered(scene, frame.number, group, *index, particle);
    addInfluences(scene, frame, particle);
    return particle;
  }
  return std::nullopt;
}

std::optional<ProbedVoxel> probeGas(const SceneFrame& frame, ItemId gas, const Vec3d& position) {
  const auto content = frame.gases->find(gas);
  if (!content) return std::nullopt;
  const GasGrid& grid = content->grid();
  ProbedVoxel probed;
  probed.gas = gas;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const auto component = static_cast<int>(axis);
    const double at = std::floor((position[component] - grid.corner[component]) / grid.voxel);
    if (!(at >= 0 && at < static_cast<double>(grid.counts[axis]))) return std::nullopt;
    probed.voxel[axis] = static_cast<std::size_t>(at);
  }
  const std::size_t i = grid.cells().index(probed.voxel[0], probed.voxel[1], probed.voxel[2]);
  const GasState state = content->inScene();
  const auto number = [i](const GasChannel& channel) { return static_cast<double>(channel[i]); };
  probed.middle = grid.middleOf(i);
  probed.edge = grid.voxel;
  probed.density = number(state.density);
  probed.temperature = number(state.temperature);
  probed.velocity = velocityAt(grid, state.velocity, probed.middle);
  if (state.hasFuel()) probed.fuel = number(state.fuel);
  if (probed.density <= 0) return probed;
  if (state.hasAge()) probed.age = number(state.age) / probed.density;
  if (state.hasColor())
    probed.color =
        Vec3d(number(state.color[0]), number(state.color[1]), number(state.color[2])) / probed.density;
  return probed;
}

std::vector<PathPoint> pathOf(ParticleId id, const std::vector<SceneFramePtr>& frames) {
  std::vector<PathPoint> path;
  for (const SceneFramePtr& frame : frames)
    for (const ParticleGroup& group : frame->particles->groups)
      if (const auto index = indexOf(group.particles, id))
        path.push_back({frame->number, group.particles.shownPosition(*index)});
  return path;
}

PathPoint highestPoint(const std::vector<PathPoint>& path) {
  if (path.empty()) return {};
  return *std::max_element(path.begin(), path.end(), [](const PathPoint& a, const PathPoint& b) {
    return a.position.y < b.position.y;
  });
}

Spread spreadOf(const std::vector<double>& numbers) {
  Spread spread;
  if (numbers.empty()) return spread;
  const auto [min, max] = std::minmax_element(numbers.begin(), numbers.end());
  spread.min = *min;
  spread.max = *max;
  spread.mean = std::accumulate(numbers.begin(), numbers.end(), 0.0) / static_cast<double>(numbers.size());
  spread.counts.assign(kSpreadSteps, 0);
  const double range = spread.max - spread.min;
  for (const double number : numbers) {
    const double fraction = range > 0 ? (number - spread.min) / range : 0;
    ++spread.counts[std::min(kSpreadSteps - 1, static_cast<std::size_t>(fraction * kSpreadSteps))];
  }
  return spread;
}

EmitterSpreads spreadsOf(ItemId emitter, const SceneFrame& frame, const std::vector<SceneFramePtr>& frames) {
  const ParticleGroup* group = frame.particles->find(emitter);
  if (!group) return {};
  struct Highest {
    double height = -1e300, age = 0;
  };
  const ParticleStore& particles = group->particles;
  std::vector<double> ages, speeds, heights, highestAges;
  std::unordered_map<ParticleId, Highest> highest;
  for (std::size_t i = 0; i < particles.size(); ++i) {
    ages.push_back(particles.field(ParticleStore::Age)[i]);
    speeds.push_back(glm::length(particles.velocity(i)));
    highest[particles.ids()[i]];
  }
  for (const SceneFramePtr& other : frames) {
    const ParticleGroup* then = other->particles->find(emitter);
    for (std::size_t i = 0; then && i < then->particles.size(); ++i) {
      const auto found = highest.find(then->particles.ids()[i]);
      const double height = then->particles.field(ParticleStore::PositionY)[i];
      if (found != highest.end() && height > found->second.height)
        found->second = {height, then->particles.field(ParticleStore::Age)[i]};
    }
  }
  for (const auto& [id, top] : highest) {
    heights.push_back(top.height);
    highestAges.push_back(top.age);
  }
  return {spreadOf(ages), spreadOf(speeds), spreadOf(heights), spreadOf(highestAges)};
}

}  // namespace comet
