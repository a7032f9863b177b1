#include "simulation/step.h"

#include "base/error.h"
#include "simulation/contact_step.h"
#include "simulation/group_step.h"
#include "simulation/step_gas.h"

#include <algorithm>
#include <array>
#include <chrono>
#include <map>
#include <new>
#include <tuple>

namespace comet {
namespace {

using Clock = std::chrono::steady_clock;

// Births beyond the limit of living particles do not happen; emitters are served in the scene's order.
std::size_t refuseBirths(std::vector<GroupStep>& groups, std::size_t max) {
  std::size_t living = 0, refused = 0;
  for (const GroupStep& group : groups) living += group.survivors();
  for (GroupStep& group : groups) {
    group.limitBirths(living < max ? max - living : 0);
    living += group.births();
    refused += group.wantedBirths() - group.births();
  }
  return refused;
}

// Of all threads, by their times.
std::vector<SurfaceHit> hitsOf(const Workspaces& workspaces) {
  std::vector<SurfaceHit> hits;
  for (const std::unique_ptr<Workspace>& work : workspaces)
    for (const auto& [deflector, count] : work->deflections)
      hits.insert(hits.end(), count.list.begin(), count.list.end());
  const auto isEarlier = [](const SurfaceHit& a, const SurfaceHit& b) {
    return std::tie(a.time, a.particle, a.deflector) < std::tie(b.time, b.particle, b.deflector);
  };
  std::sort(hits.begin(), hits.end(), isEarlier);
  return hits;
}

// Finds the births of a child emitter, within the limit of living particles; returns how many it stopped.
std::size_t bearChildren(const FramePlan& plan, std::size_t index, const Workspaces& workspaces,
                         std::vector<GroupStep>& groups) {
  std::size_t living = 0;
  for (const GroupStep& group : groups) living += group.survivors() + group.births();
  const std::size_t room = living < plan.maxParticles ? plan.maxParticles - living : 0;
  std::vector<const GroupStep*> sources;
  for (const ItemId id : plan.emitters[index].sources) sources.push_back(&groups[plan.indexOf(id).value()]);
  GroupStep& group = groups[index];
  const bool asksHits = plan.emitters[index].emission.child.come == ChildRule::Come::Hits;
  group.bear(sources, asksHits ? hitsOf(workspaces) : std::vector<SurfaceHit>(), room);
  group.limitBirths(room);
  return group.wantedBirths() - group.births();
}

// Of those emitters whose particles rules ask to be near, as they were before the step.
std::map<ItemId, std::shared_ptr<const NeighbourGrid>> gridsForRules(const FramePlan& plan,
                                                                     const ParticleState& previous) {
  std::map<ItemId, double> radii;
  for (const EmitterPlan& emitter : plan.emitters)
    for (const PlannedRule& rule : emitter.rules.rules)
      for (const PlannedClause& ready : rule.when)
        if (ready.when() == RuleWhen::Near && ready.clause.first > 0)
          radii[ready.clause.item.id] = std::max(radii[ready.clause.item.id], ready.clause.first);
  std::map<ItemId, std::shared_ptr<const NeighbourGrid>> grids;
  for (const auto& [id, radius] : radii)
    if (const ParticleGroup* group = previous.find(id))
      grids[id] =
          std::make_shared<const NeighbourGrid>(std::vector<const ParticleStore*>{&group->particles}, radius);
  return grids;
}

// The particles of a start state, for the emitters that are there.
ParticleState startFrom(const ParticleState& start, const FramePlan& plan, Workspaces& workspaces,
                        const Progress& progress) {
  ParticleState state;
  for (const EmitterPlan& emitter : plan.emitters) {
    const ParticleGroup* group = start.find(emitter.emission.emitter);
    if (!group) continue;
    state.groups.push_back({group->emitter, group->births, group->particles.copy()});
    displace(plan, Schedule(emitter), workspaces, state.groups.back().particles, progress);
  }
  return state;
}

// Summed up over the threads, in the order of the scene.
std::vector<DeflectionStats> deflectionsOf(const FramePlan& plan, const Workspaces& workspaces) {
  std::vector<DeflectionStats> all;
  for (const EmitterPlan& emitter : plan.emitters)
    for (const ActingInfluence& acting : emitter.influences) {
      const ItemId id = acting.influence();
      const bool isListed = std::any_of(all.begin(), all.end(),
                                        [id](const DeflectionStats& stats) { return stats.deflector == id; });
      if (!acting.action().deflector() || isListed) continue;
      DeflectionStats sum{id, 0, 0};
      for (const std::unique_ptr<Workspace>& work : workspaces) {
        const auto found = work->deflections.find(id);
        if (found == work->deflections.end()) continue;
        sum.hits += found->second.hits;
        sum.caught += found->second.caught;
      }
      if (sum.hits + sum.caught > 0) all.push_back(sum);
    }
  return all;
}

SceneFramePtr frameOf(const FramePlan& plan, ParticleState state, GasesState gases, StepReport report) {
  report.stats.living = state.count();
  return std::make_shared<const SceneFrame>(
      SceneFrame{plan.frame, std::make_shared<const ParticleState>(std::move(state)),
                 std::make_shared<const StepReport>(std::move(report)),
                 std::make_shared<const GasesState>(std::move(gases))});
}

void reportRules(const GroupStep& group, StepReport& report) {
  const std::vector<std::uint64_t>& fired = group.outcome().fired;
  for (std::size_t rule = 0; rule < fired.size(); ++rule)
    if (fired[rule] > 0)
      report.rules.push_back(
          {group.emitter().emission.emitter, static_cast<std::uint32_t>(rule), fired[rule]});
}

// The step as a list of stages, and what they hand on to each other.
class Step {
 public:
  Step(const SceneFrame& previous, const FramePlan& plan, const Progress& progress)
      : previous_(previous), plan_(plan), progress_(progress) {
    report_.stats.losses = previous.report->stats.losses;
  }

  SceneFramePtr run() {
    timed(StepStage::Gases, [&] { stepGases(); });
    if (plan_.start)
      return frameOf(plan_, startFrom(*plan_.start->particles, plan_, workspaces_, progress_),
                     std::move(gases_), std::move(report_));
    timed(StepStage::See, [&] { see(); });
    timed(StepStage::Births, [&] { report_.stats.refused = refuseBirths(groups_, plan_.maxParticles); });
    timed(StepStage::Touch, [&] { moveTogether(); });
    for (const std::size_t index : plan_.order)
      for (const EmitterStage& stage : kEmitterStages) timed(stage.stage, [&] { (this->*stage.run)(index); });
    timed(StepStage::Finish, [&] { finish(); });
    return frameOf(plan_, std::move(state_), std::move(gases_), std::move(report_));
  }

 private:
  struct EmitterStage {
    StepStage stage;
    void (Step::*run)(std::size_t index);
  };
  static const std::array<EmitterStage, 4> kEmitterStages;

  template <typename Stage>
  void timed(StepStage which, const Stage& stage) {
    progress_.stopIfCancelled();
    const auto start = Clock::now();
    stage();
    const std::chrono::duration<double, std::milli> took = Clock::now() - start;
    report_.stats.millisecondsOf(which) += took.count();
  }

  void see() {
    plan_ = seeing(previous_, std::move(plan_), progress_);
    groups_.reserve(plan_.emitters.size());
    for (const EmitterPlan& emitter : plan_.emitters)
      groups_.emplace_back(plan_, emitter, previous_.particles->find(emitter.emission.emitter), progress_);
    grids_ = gridsForRules(plan_, *previous_.particles);
  }

  // Gases take the particles as they are when the step begins.
  void stepGases() {
    const GasesState& before = plan_.start ? *plan_.start->gases : *previous_.gases;
    for (const GasPlan& gas : plan_.gases) {
      SteppedGas stepped = stepGas(gas, plan_.time, plan_.substeps, before.find(gas.gas).get(),
                                   *previous_.particles, progress_);
      gases_.gases.push_back({gas.gas, std::move(stepped.content)});
      report_.gases.push_back(stepped.stats);
    }
  }

  void moveTogether() {
    ContactStep together(plan_, workspaces_, progress_);
    for (GroupStep& group : groups_)
      if (group.touchesOthers())
        for (MovingParticles* particles : group.startTogether()) together.add(*particles);
    together.run();
    report_.contacts = together.stats();
  }

  void bear(std::size_t index) {
    if (groups_[index].isChild()) report_.stats.refused += bearChildren(plan_, index, workspaces_, groups_);
  }

  void moveOld(std::size_t index) { groups_[index].moveOld(workspaces_); }

  void moveNew(std::size_t index) { groups_[index].addNew(workspaces_); }

  void applyRules(std::size_t index) {
    GroupStep& group = groups_[index];
    if (!group.hasRules()) return;
    const bool asksHits = group.emitter().rules.asks(RuleWhen::Hit);
    const std::vector<SurfaceHit> hits = asksHits ? hitsOf(workspaces_) : std::vector<SurfaceHit>();
    group.applyRules({plan_.time, hits, grids_});
    reportRules(group, report_);
  }

  void finish() {
    FrameStats& stats = report_.stats;
    for (GroupStep& group : groups_) {
      state_.groups.push_back(group.finish(workspaces_));
      stats.births += group.births();
      stats.deaths += group.deaths();
      stats.losses.lost += group.lost();
    }
    stats.losses.refused += stats.refused;
    report_.deflections = deflectionsOf(plan_, workspaces_);
    report_.hits = hitsOf(workspaces_);
    if (report_.hits.size() > kMaxHitsKept) report_.hits.resize(kMaxHitsKept);
    report_.hits.shrink_to_fit();
  }

  const SceneFrame& previous_;
  FramePlan plan_;  // after its influences have seen the particles
  const Progress& progress_;
  Workspaces workspaces_;
  std::vector<GroupStep> groups_;  // in the scene's order
  std::map<ItemId, std::shared_ptr<const NeighbourGrid>> grids_;
  ParticleState state_;
  GasesState gases_;
  StepReport report_;
};

const std::array<Step::EmitterStage, 4> Step::kEmitterStages{{{StepStage::Births, &Step::bear},
                                                              {StepStage::MoveOld, &Step::moveOld},
                                                              {StepStage::MoveNew, &Step::moveNew},
                                                              {StepStage::Rules, &Step::applyRules}}};

}  // namespace

SceneFramePtr stepFrame(const SceneFrame& previous, const FramePlan& plan, const Progress& progress) {
  try {
    return Step(previous, plan, progress).run();
  } catch (const std::bad_alloc&) {
    throw Error(ErrorKind::Budget, "", "there is not enough memory for one frame",
                "Lower the rate, the lifetime, \"Particle limit\" or the resolution of gases");
  }
}

}  // namespace comet
