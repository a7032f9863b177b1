// The rules of a flock, each against what is known of it.
#include "simulation/flocks/flock.h"

#include "base/parallel.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::onlyGroup;
using test::positionOf;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withInfluence;

// So many particles in a ball, that do nothing by themselves.
Scene crowd(int count, std::initializer_list<std::string> settings) {
  Scene scene = with(test::oneBurst(count), {"emitter.shape=sphere", "emitter.radius=2", "emitter.speed=1",
                                             "emitter.launch=random"});
  scene = withInfluence(
      scene, "flock",
      {"flock.separation=0", "flock.alignment=0", "flock.cohesion=0", "flock.wander=0",
       "flock.sight_angle=360", "flock.min_speed=0", "flock.max_speed=10", "flock.turn_rate=36000"});
  return with(scene, settings);
}

Vec3d middleOf(const ParticleStore& particles) {
  Vec3d sum(0.0);
  for (std::size_t i = 0; i < particles.size(); ++i) sum += positionOf(particles, i);
  return sum / static_cast<double>(particles.size());
}

double spreadOf(const ParticleStore& particles) {
  const Vec3d middle = middleOf(particles);
  double sum = 0;
  for (std::size_t i = 0; i < particles.size(); ++i) sum += glm::length(positionOf(particles, i) - middle);
  return sum / static_cast<double>(particles.size());
}

double nearestPair(const ParticleStore& particles) {
  double nearest = 1e9;
  for (std::size_t i = 0; i < particles.size(); ++i)
    for (std::size_t j = 0; j < i; ++j)
      nearest = std::min(nearest, glm::length(positionOf(particles, i) - positionOf(particles, j)));
  return nearest;
}

// The length of the mean direction: 1 if all go the same way, about 0 if each goes its own.
double orderOf(const ParticleStore& particles) {
  Vec3d sum(0.0);
  for (std::size_t i = 0; i < particles.size(); ++i) sum += glm::normalize(velocityOf(particles, i));
  return glm::length(sum) / static_cast<double>(particles.size());
}

TEST(Flock, SteersByTheSumsThatTryingAllGives) {
  const Scene scene =
      crowd(150, {"flock.separation=5", "flock.separation_radius=0.7", "flock.alignment=3",
                  "flock.alignment_radius=0.9", "flock.cohesion=2", "flock.cohesion_radius=1.1",
                  "flock.sight_radius=1.3", "flock.sight_angle=200"});
  const SceneFramePtr frame = simulate(scene, 4);
  const ParticleStore& all = onlyGroup(frame);
  FrameTime now;
  const auto flock = std::static_pointer_cast<const Flock>(
      Flock(FlockRules(*scene.findByName("flock"), 4))
          .seeing({*frame->particles,
                   *frame->gases,
                   now,
                   {},
                   {{scene.findByName("flock")->id, {scene.findByName("emitter")->id}}},
                   1,
                   {}}));
  int seen = 0;
  for (std::size_t i = 0; i < all.size(); ++i) {
    const Vec3d place = positionOf(all, i), velocity = velocityOf(all, i);
    Vec3d apart(0.0), along(0.0), middle(0.0);
    int others = 0, nAlong = 0, nNear = 0;
    for (std::size_t j = 0; j < all.size(); ++j) {
      const Vec3d path = positionOf(all, j) - place;
      const double distance = glm::length(path);
      const double angle =
          std::acos(std::clamp(glm::dot(path, velocity) / (distance * glm::length(velocity)), -1.0, 1.0));
      if (i == j || distance > 1.3 || angle > 100 * kPi / 180) continue;
      ++others;
      if (distance < 0.7) apart -= glm::normalize(path) * (1 - distance / 0.7);
      if (distance < 0.9) along += velocityOf(all, j), ++nAlong;
      if (distance < 1.1) middle += path, ++nNear;
    }
    Vec3d expected = apart * 5.0;
    if (nAlong > 0) expected += (along / static_cast<double>(nAlong) - velocity) * 3.0;
    if (nNear > 0) expected += middle * (2.0 / nNear);
    const Flock::Sight sight = flock->sightOf({all.ids()[i], place, velocity}, 0, 0);
    EXPECT_EQ(sight.neighbours, others);
    EXPECT_LT(glm::length(sight.steering - expected), 1e-4 * (1 + glm::length(expected)));
    seen += others;
  }
  EXPECT_GT(seen, 500);
}

TEST(Flock, WhatEachSumsUpDoesNotDependOnWhoLooksWithIt) {
  const SceneFramePtr frame = simulate(crowd(3000, {}), 3);
  const ParticleStore& all = onlyGroup(frame);
  const NeighbourGrid grid({&all}, 0.8);
  const FlockSearch search{0.01F, 0.7F, 0.3F, 0.5F, 0.6F};
  std::vector<FlockLooker> lookers;
  for (const std::uint32_t i : grid.arrays().indices) {
    FlockLooker looker;
    looker.position = Vec3(all.position(i));
    looker.ahead = glm::normalize(Vec3(all.velocity(i)));
    looker.cosineOfSight = i % 3 == 0 ? -2.0F : 0.2F;
    looker.mark = NeighbourGrid::markOf(all.ids()[i]);
    lookers.push_back(looker);
  }
  std::vector<FlockSums> together(lookers.size());
  flockSums(grid, search, lookers.data(), lookers.size(), together.data());
  float seen = 0;
  for (std::size_t i = 0; i < lookers.size(); ++i) {
    FlockSums alone;
    flockSums(grid, search, &lookers[i], 1, &alone);
    EXPECT_EQ(alone.apart, together[i].apart);
    EXPECT_EQ(alone.velocity, together[i].velocity);
    EXPECT_EQ(alone.middle, together[i].middle);
    EXPECT_EQ(alone.seen, together[i].seen);
    seen += alone.seen;
  }
  EXPECT_GT(seen, 3 * 3000);
}

TEST(Flock, SeparationAloneKeepsApartByItsRadius) {
  const Scene scene =
      with(crowd(60, {"flock.separation=30", "flock.separation_radius=0.8", "flock.sight_radius=1"}),
           {"emitter.speed=0", "emitter.radius=0.7"});
  EXPECT_LT(nearestPair(onlyGroup(simulate(scene, 1))), 0.2);
  EXPECT_GT(nearestPair(onlyGroup(simulate(scene, 96))), 0.75);
}

TEST(Flock, CohesionAloneContracts) {
  const Scene scene =
      with(crowd(200, {"flock.cohesion=4", "flock.sight_radius=5", "flock.cohesion_radius=5"}),
           {"emitter.speed=0"});
  const double before = spreadOf(onlyGroup(simulate(scene, 1)));
  // Towards their common middle as a spring pulls: a quarter of a swing after π / (2 √4) seconds.
  EXPECT_LT(spreadOf(onlyGroup(simulate(scene, 18))), 0.35 * before);
  // Nobody outside pushes: the middle stays.
  EXPECT_LT(glm::length(middleOf(onlyGroup(simulate(scene, 18))) - middleOf(onlyGroup(simulate(scene, 1)))),
            0.02);
}

// After Vicsek et al., "Novel Type of Phase Transition in a System of Self-Driven Particles", 1995: aligned
// where chance turns them little, in disorder where it turns them much.
TEST(Flock, AlignmentOrdersAtLittleNoiseAndNotAtMuch) {
  const auto orderAt = [](const char* wander) {
    Scene scene = crowd(1200, {"flock.alignment=6", "flock.alignment_radius=1.5", "flock.sight_radius=1.5",
                               "flock.min_speed=1", "flock.max_speed=1", "flock.wander_rate=8",
                               std::string("flock.wander=") + wander});
    scene = withInfluence(scene, "enclosure",
                          {"enclosure.shape=box", "enclosure.size=6,6,6", "enclosure.at_wall=wrap",
                           "enclosure.position=0,0,0"});
    scene = with(scene, {"emitter.shape=box", "emitter.extent=6,6,6"});
    return orderOf(onlyGroup(simulate(scene, 150)));
  };
  EXPECT_GT(orderAt("1"), 0.9);
  EXPECT_LT(orderAt("300"), 0.3);
}

TEST(Flock, SeeksItsTargetAndSlowsDownThere) {
  const Scene scene = crowd(20, {"flock.target=seek", "flock.position=8,3,-2", "flock.slowing_radius=2",
                                 "flock.target_strength=20", "flock.max_speed=5"});
  const ParticleStore& there = onlyGroup(simulate(scene, 24 * 8));
  for (std::size_t i = 0; i < there.size(); ++i) {
    EXPECT_LT(glm::length(positionOf(there, i) - Vec3d(8, 3, -2)), 0.2);
    EXPECT_LT(glm::length(velocityOf(there, i)), 0.3);
  }
}

TEST(Flock, CirclesAtItsDistance) {
  const Scene scene = crowd(20, {"flock.target=circle", "flock.position=0,0,0", "flock.circle_radius=3",
                                 "flock.target_strength=40", "flock.max_speed=4", "flock.min_speed=4"});
  const ParticleStore& there = onlyGroup(simulate(scene, 24 * 8));
  for (std::size_t i = 0; i < there.size(); ++i) {
    const Vec3d place = positionOf(there, i);
    EXPECT_NEAR(glm::length(place), 3, 0.5);
    EXPECT_GT(std::abs(glm::cross(glm::normalize(place), glm::normalize(velocityOf(there, i))).y), 0.8);
  }
}

TEST(Flock, TurnsNoFasterThanItMay) {
  // From straight up towards a target far to the side, at 90° a second.
  const Scene scene =
      with(crowd(1, {"flock.target=seek", "flock.position=10000,0,0", "flock.target_range=1000000",
                     "flock.target_strength=1000", "flock.min_speed=3", "flock.max_speed=3",
                     "flock.turn_rate=90"}),
           {"emitter.launch=direction", "emitter.direction=0,1,0", "emitter.cone=0", "scene.substeps=4"});
  const Vec3d half = velocityOf(onlyGroup(simulate(scene, 13)), 0);
  EXPECT_NEAR(std::atan2(half.x, half.y) * 180 / kPi, 45, 2.5);
  EXPECT_NEAR(glm::length(half), 3, 1e-4);
}

TEST(Flock, IsTheSameOverThreadsAndResumedRuns) {
  const Scene scene =
      crowd(3000, {"flock.separation=6", "flock.alignment=2", "flock.cohesion=1", "flock.wander=3"});
  const Digest many = simulate(scene, 30)->particles->digest();
  const ThreadLimit limit(1);
  EXPECT_EQ(simulate(scene, 30)->particles->digest(), many);
  SceneRun run(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
  (void)run.frame(12);
  EXPECT_EQ(run.frame(30)->particles->digest(), many);
}

TEST(Flock, TellsHowManyAreSeenAndWhetherTheTargetIs) {
  const Scene scene = crowd(500, {"flock.target=seek", "flock.position=50,0,0", "flock.target_range=10"});
  const FlockSight sight = flockSight(scene, *scene.findByName("flock"), *simulate(scene, 2));
  EXPECT_EQ(sight.particles, 500U);
  EXPECT_GT(sight.neighbours, 20);
  EXPECT_EQ(sight.targetSeen, 0);
  const Scene near = with(scene, {"flock.target_range=100"});
  EXPECT_EQ(flockSight(near, *near.findByName("flock"), *simulate(near, 2)).targetSeen, 1);
}

TEST(Flock, TellsHowManyTheSpeedLimitHolds) {
  const Scene pulled = crowd(300, {"flock.target=seek", "flock.position=500,0,0", "flock.target_range=1000",
                                   "flock.target_strength=80", "flock.max_speed=4"});
  EXPECT_GT(flockSight(pulled, *pulled.findByName("flock"), *simulate(pulled, 30)).atMostSpeed, 0.95);
  const Scene free = with(pulled, {"flock.max_speed=10000", "flock.min_speed=0"});
  EXPECT_EQ(flockSight(free, *free.findByName("flock"), *simulate(free, 30)).atMostSpeed, 0);
  Progress cancelled;
  cancelled.cancel();
  EXPECT_THROW((void)flockSight(pulled, *pulled.findByName("flock"), *simulate(pulled, 2), cancelled), Error);
}

TEST(Flock, TargetFollowsAnotherItemWhereverItGoes) {
  Scene scene = crowd(50, {"flock.target=seek", "flock.target_strength=40", "flock.sight_radius=1"});
  scene = scene.withAdded(newItem(*catalog().find("emitter"), "lantern"));
  scene = with(scene, {"lantern.rate=0", "flock.follow=lantern", "flock.position=0,-50,0",
                       R"(lantern.position={"keys":[{"frame":1,"value":[5,0,0],"to_next":"hold"},
                                                 {"frame":80,"value":[0,6,0]}]})"});
  EXPECT_LT(glm::length(middleOf(onlyGroup(simulate(scene, 72))) - Vec3d(5, 0, 0)), 0.5);
  EXPECT_LT(glm::length(middleOf(onlyGroup(simulate(scene, 152))) - Vec3d(0, 6, 0)), 0.5);
  EXPECT_EQ(flockSight(scene, *scene.findByName("flock"), *simulate(scene, 72)).targetSeen, 1.0);
}

TEST(Flock, HuntersCatchUpAndTheHuntedFlee) {
  // One hunter behind one that it sees, on a line.
  Scene scene = with(test::oneBurst(1), {"emitter.speed=0", "emitter.position=3,0,0"});
  scene = withInfluence(scene.withAdded(newItem(*catalog().find("emitter"), "hawk")), "flock",
                        {"flock.separation=0", "flock.alignment=0", "flock.cohesion=0", "flock.wander=0",
                         "flock.sight_radius=8", "flock.sight_angle=360", "flock.min_speed=0",
                         "flock.max_speed=4", "flock.turn_rate=36000"});
  scene = with(
      scene, {"hawk.rate=0", R"(hawk.bursts=[{"frame":1,"count":1}])", "hawk.speed=0", "hawk.lifetime=100"});
  const ItemId prey = scene.findByName("emitter")->id, hawk = scene.findByName("hawk")->id;
  const auto placeOf = [&](const Scene& s, ItemId emitter, int frame) {
    return positionOf(simulate(s, frame)->particles->find(emitter)->particles, 0);
  };
  const Scene hunts =
      with(scene, {"flock.chase=emitter"}).withResponse(prey, scene.findByName("flock")->id, {});
  EXPECT_LT(glm::length(placeOf(hunts, hawk, 40) - Vec3d(3, 0, 0)), 0.8);
  EXPECT_GT(placeOf(hunts, hawk, 12).x, 0.2);
  const Scene fears =
      with(scene, {"flock.flee_from=hawk"}).withResponse(hawk, scene.findByName("flock")->id, {});
  EXPECT_GT(placeOf(fears, prey, 40).x, 5);
  // What is out of sight is neither chased nor feared.
  EXPECT_NEAR(placeOf(with(hunts, {"flock.sight_radius=2"}), hawk, 40).x, 0, 1e-6);
  EXPECT_NEAR(placeOf(with(fears, {"flock.sight_radius=2"}), prey, 40).x, 3, 1e-6);
}

TEST(Flock, TurnsAsideBeforeItMeetsADeflector) {
  // Straight and slantwise at a ball; without looking ahead they would hit it.
  Scene scene = withInfluence(
      with(crowd(200, {}), {"emitter.position=-6,0,0", "emitter.radius=0.8", "emitter.launch=direction",
                            "emitter.direction=1,0,0", "emitter.cone=10", "emitter.speed=4"}),
      "deflector", {"deflector.shape=sphere", "deflector.radius=1"});
  const auto hitsUntil = [](const Scene& s, int last) {
    SceneRun run(s, std::make_shared<FrameCache>(std::size_t{1} << 28));
    std::uint64_t hits = 0;
    for (int frame = 1; frame <= last; ++frame)
      for (const DeflectionStats& stats : run.frame(frame)->report->deflections) hits += stats.hits;
    return hits;
  };
  EXPECT_GT(hitsUntil(with(scene, {"flock.look_ahead=0"}), 72), 60U);
  const Scene careful = with(scene, {"flock.look_ahead=1", "flock.avoid_strength=40"});
  EXPECT_EQ(hitsUntil(careful, 72), 0U);
  // They go on beyond it.
  EXPECT_GT(middleOf(onlyGroup(simulate(careful, 72))).x, 2);
}

}  // namespace
}  // namespace comet
