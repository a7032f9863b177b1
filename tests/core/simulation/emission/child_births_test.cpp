// Births that come from another emitter's particles.
#include "particles/lineage.h"
#include "render/look.h"
#include "simulation/plan.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <set>

namespace comet {
namespace {

using test::kGravity;
using test::onlyGroup;
using test::positionOf;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withChild;
using test::withInfluence;

// A copy, which outlives the frame.
ParticleStore groupOf(const Scene& scene, const SceneFramePtr& frame, const char* name) {
  return frame->particles->find(scene.findByName(name)->id)->particles.copy();
}

// One particle, thrown upwards at 3 units a second.
Scene oneParent() { return test::oneBurst(1); }

TEST(ChildBirths, EachParentGivesItsCountAsItIsBorn) {
  const Scene scene = withChild(with(oneParent(), {"emitter.speed=0", "emitter.rate=10"}), "parent_birth",
                                {"child.births_per_event=7", "child.speed=0", "child.lifetime=100"});
  const SceneFramePtr frame = simulate(scene, 49);
  const std::size_t parents = groupOf(scene, frame, "emitter").size();
  ASSERT_GE(parents, 20U);
  EXPECT_EQ(groupOf(scene, frame, "child").size(), 7 * parents);
}

TEST(ChildBirths, DeathsGiveBirthsWhereAndWhenTheParentDies) {
  // It dies between two frames, on the parabola's way down.
  const double lifetime = 0.73;
  const Scene scene = withInfluence(withChild(with(oneParent(), {"emitter.lifetime=0.73"}), "parent_death",
                                              {"child.births_per_event=3", "child.speed=0",
                                               "child.lifetime=100", "child.inherit_parent_velocity=50"}),
                                    "gravity");
  const Scene still = scene.withResponse(scene.findByName("child")->id, scene.findByName("gravity")->id, {});
  const int frame = 25;
  const ParticleStore& children = groupOf(still, simulate(still, frame), "child");
  ASSERT_EQ(children.size(), 3U);
  const double y = 3 * lifetime - 0.5 * kGravity * lifetime * lifetime;
  const double speed = 0.5 * (3 - kGravity * lifetime);
  const double age = (frame - 1) / 24.0 - lifetime;
  for (std::size_t i = 0; i < children.size(); ++i) {
    EXPECT_NEAR(children.field(ParticleStore::Age)[i], age, 1e-5);
    EXPECT_NEAR(velocityOf(children, i).y, speed, 1e-4);
    EXPECT_NEAR(positionOf(children, i).y, y + speed * age, 1e-4);
  }
}

TEST(ChildBirths, LivesGiveBirthsEvenlyInTimeAlongTheParabola) {
  const Scene scene =
      withInfluence(withChild(oneParent(), "parent_life",
                              {"child.births_per_second=1000", "child.speed=0", "child.lifetime=100"}),
                    "gravity");
  const Scene still = scene.withResponse(scene.findByName("child")->id, scene.findByName("gravity")->id, {});
  const ParticleStore& children = groupOf(still, simulate(still, 25), "child");
  EXPECT_NEAR(static_cast<double>(children.size()), 1000, 1);
  ASSERT_GT(children.size(), 900U);
  for (std::size_t i = 0; i < children.size(); ++i) {
    const double t = 1 - static_cast<double>(children.field(ParticleStore::Age)[i]);
    EXPECT_NEAR(positionOf(children, i).y, 3 * t - 0.5 * kGravity * t * t, 1e-4);
    if (i == 0) continue;
    const double gap = static_cast<double>(children.field(ParticleStore::Age)[i - 1]) -
                       static_cast<double>(children.field(ParticleStore::Age)[i]);
    EXPECT_NEAR(gap, 0.001, 1e-5);
  }
}

TEST(ChildBirths, WaysGiveBirthsAtEqualDistances) {
  const Scene scene =
      withInfluence(withChild(with(oneParent(), {"emitter.speed=10"}), "parent_path",
                              {"child.births_per_unit=20", "child.speed=0", "child.lifetime=100"}),
                    "gravity", {"gravity.strength=5"});
  const Scene still = scene.withResponse(scene.findByName("child")->id, scene.findByName("gravity")->id, {});
  const ParticleStore& children = groupOf(still, simulate(still, 25), "child");
  // 10 - 5 / 2 units in the first second.
  ASSERT_NEAR(static_cast<double>(children.size()), 150, 1);
  for (std::size_t i = 1; i < children.size(); ++i)
    EXPECT_NEAR(positionOf(children, i).y - positionOf(children, i - 1).y, 0.05, 1e-3) << i;
}

TEST(ChildBirths, HitsGiveBirthsOffTheSurface) {
  Scene scene = withInfluence(withInfluence(with(oneParent(), {"emitter.position=0,2,0"}), "gravity"),
                              "deflector", {"deflector.bounce=0"});
  scene = withChild(scene, "parent_hit",
                    {"child.births_per_event=50", "child.shape_orientation=surface_normal", "child.cone=10",
                     "child.speed=2", "child.lifetime=100"});
  const ItemId child = scene.findByName("child")->id;
  for (const char* influence : {"gravity", "deflector"})
    scene = scene.withResponse(child, scene.findByName(influence)->id, {});
  const SceneFramePtr frame = simulate(scene, 49);
  const ParticleStore& children = groupOf(scene, frame, "child");
  ASSERT_EQ(children.size(), 50U) << "it hits once and then rests";
  const double fall = (3 + std::sqrt(9 + 4 * kGravity)) / kGravity;
  for (std::size_t i = 0; i < children.size(); ++i) {
    EXPECT_NEAR(children.field(ParticleStore::Age)[i], 2 - fall, 1e-3);
    EXPECT_GT(velocityOf(children, i).y, 2 * std::cos(10.1 * kPi / 180));
  }
}

TEST(ChildBirths, ShapeStandsAlongTheMotion) {
  const Scene scene = withChild(with(oneParent(), {"emitter.direction=1,0,0"}), "parent_life",
                                {"child.births_per_second=100", "child.shape_orientation=velocity",
                                 "child.cone=0", "child.speed=2", "child.lifetime=100"});
  const ParticleStore& children = groupOf(scene, simulate(scene, 13), "child");
  ASSERT_GT(children.size(), 40U);
  for (std::size_t i = 0; i < children.size(); ++i)
    EXPECT_LT(glm::length(velocityOf(children, i) - Vec3d(2, 0, 0)), 1e-5);
}

TEST(ChildBirths, ChanceIsThatOfTheBinomialLaw) {
  const int parents = 4000;
  const double chance = 0.3;
  const Scene scene = withChild(test::oneBurst(parents), "parent_birth",
                                {"child.births_per_event=2", "child.birth_chance=30", "child.lifetime=100"});
  const ParticleStore& children = groupOf(scene, simulate(scene, 2), "child");
  std::map<ParticleId, int> perParent;
  for (std::size_t i = 0; i < children.size(); ++i) ++perParent[lineageOf(children, i).front().id];
  for (const auto& [parent, count] : perParent) EXPECT_EQ(count, 2);
  const double spread = std::sqrt(parents * chance * (1 - chance));
  EXPECT_NEAR(static_cast<double>(perParent.size()), parents * chance, 4 * spread);
}

TEST(ChildBirths, ChildrenKnowTheirAncestors) {
  Scene scene = withChild(with(oneParent(), {"emitter.lifetime=0.5"}), "parent_death",
                          {"child.births_per_event=1", "child.lifetime=0.25"});
  scene = withChild(scene, "parent_death", {}, "grandchild", "child");
  scene = with(scene, {"grandchild.births_per_event=1", "grandchild.lifetime=100"});
  const ParticleStore& grandchildren = groupOf(scene, simulate(scene, 25), "grandchild");
  ASSERT_EQ(grandchildren.size(), 1U);
  const Lineage lineage = lineageOf(grandchildren, 0);
  EXPECT_EQ(emitterOfId(lineage[0].id), scene.findByName("child")->id);
  EXPECT_EQ(emitterOfId(lineage[1].id), scene.findByName("emitter")->id);
  EXPECT_EQ(lineage[2].id, 0U);
  EXPECT_NEAR(lineage[0].age, 0.25, 1e-6);
  EXPECT_NEAR(lineage[1].age, 0.5, 1e-6);
  EXPECT_NEAR(lineage[1].speed, 3, 1e-5);
}

TEST(ChildBirths, LooksAreTakenOverExactlyAsFarAsSet) {
  Scene scene = withChild(
      with(oneParent(), {R"(emitter.color=[{"at":0,"color":[1,0,0]},{"at":1,"color":[0,0,1]}])",
                         R"(emitter.size={"value":2,"over_age":[{"at":0,"value":1}]})", "emitter.opacity=50",
                         "emitter.lifetime=1"}),
      "parent_life",
      {"child.births_per_second=40", "child.lifetime=100", "child.inherit_color=100", "child.inherit_size=25",
       "child.inherit_opacity=100", R"(child.opacity={"value":100,"over_age":[{"at":0,"value":1}]})",
       R"(child.size={"value":1,"over_age":[{"at":0,"value":1}]})"});
  scene = withChild(scene, "parent_birth", {}, "grandchild", "child");
  scene = with(scene,
               {"grandchild.births_per_event=1", "grandchild.inherit_color=100", "grandchild.lifetime=100"});
  const SceneFramePtr frame = simulate(scene, 20);
  StampCache stamps;
  const auto lookOf = [&](const char* name) { return Look(scene, *scene.findByName(name), 20, stamps); };
  const Look parent = lookOf("emitter"), child = lookOf("child"), grandchild = lookOf("grandchild");
  const ParticleStore& children = groupOf(scene, frame, "child");
  const ParticleStore& grandchildren = groupOf(scene, frame, "grandchild");
  ASSERT_GT(children.size(), 20U);
  ASSERT_EQ(grandchildren.size(), children.size());
  std::set<double> reds;
  for (std::size_t i = 0; i < children.size(); ++i) {
    const ParticleFacts state = drawnParticle(children, i).state;
    // The parent's colour goes from red to blue over its second of life.
    const double age = 19 / 24.0 - state.age;
    const Vec3d color = child.color(state, state.age);
    EXPECT_NEAR(color.x, 1 - age, 0.01);
    EXPECT_NEAR(color.z, age, 0.01);
    EXPECT_NEAR(child.diameter(state), 0.75 * 1 + 0.25 * 2, 1e-6);
    ParticleFacts atBirth = state;
    atBirth.id = state.lineage.front().id;
    atBirth.fraction = atBirth.age = age;
    EXPECT_NEAR(child.opacity(state), parent.opacity(atBirth), 1e-6);
    const ParticleFacts grand = drawnParticle(grandchildren, i).state;
    EXPECT_LT(glm::length(grandchild.color(grand, grand.age) - color), 1e-6);
    reds.insert(color.x);
  }
  EXPECT_GT(reds.size(), 10U) << "all were born of one age";
}

TEST(ChildBirths, LimitOfLivingParticlesHoldsAndSaysWhatItStopped) {
  const Scene scene = withChild(with(test::oneBurst(1000), {"scene.max_particles=5000"}), "parent_birth",
                                {"child.births_per_event=1000000", "child.lifetime=100"});
  const SceneFramePtr frame = simulate(scene, 1);
  EXPECT_EQ(frame->report->stats.living, 5000U);
  EXPECT_EQ(frame->report->stats.refused, 1000U * 1000000U - 4000U);
}

TEST(ChildBirths, WindowAndDisabledSourceGiveNone) {
  const Scene scene =
      withChild(oneParent(), "parent_life", {"child.births_per_second=100", "child.lifetime=100"});
  const Scene window =
      with(scene, {"child.emits=frame_range", "child.emits_from=10", "child.emits_until=13"});
  EXPECT_EQ(groupOf(window, simulate(window, 9), "child").size(), 0U);
  EXPECT_NEAR(static_cast<double>(groupOf(window, simulate(window, 30), "child").size()), 12.5, 1);
  const Scene off = scene.withEnabled(scene.findByName("emitter")->id, false);
  EXPECT_EQ(simulate(off, 20)->report->stats.living, 0U);
}

TEST(ChildBirths, OrderOfTheEmittersDoesNotMatter) {
  const Scene scene =
      withChild(oneParent(), "parent_life", {"child.births_per_second=100", "child.lifetime=100"});
  const Scene moved = scene.withMoved(scene.findByName("child")->id, scene.findByName("emitter")->id);
  ASSERT_EQ(moved.itemsOf(ItemFamily::Emitter).front()->name, "child");
  const SceneFramePtr a = simulate(scene, 20), b = simulate(moved, 20);
  const ParticleStore &first = groupOf(scene, a, "child"), &second = groupOf(moved, b, "child");
  ASSERT_GT(first.size(), 50U);
  ASSERT_EQ(first.size(), second.size());
  for (std::size_t i = 0; i < first.size(); ++i) EXPECT_EQ(positionOf(first, i), positionOf(second, i));
}

TEST(ChildBirths, AreTheSameOverThreadsAndResumedRuns) {
  Scene scene =
      withChild(with(test::busyScene(), {"emitter.rate=1500"}), "parent_path", {"child.births_per_unit=3"});
  scene = withChild(scene, "parent_death", {}, "grandchild", "child");
  scene = with(scene, {"grandchild.births_per_event=3 ± 2", "child.lifetime=0.3 ± 0.2"});
  const SceneFramePtr straight = simulate(scene, 30);
  ASSERT_GT(groupOf(scene, straight, "grandchild").size(), 100U);
  test::expectTheSameHoweverRun(scene, 30);
}

TEST(ChildBirths, EditOfTheParentsLookSimulatesNothing) {
  const Scene scene = withChild(oneParent(), "parent_life", {"child.inherit_color=100"});
  const Scene edited = with(scene, {R"(emitter.color=[{"at":0,"color":[0,1,0]}])", "child.inherit_size=50"});
  EXPECT_EQ(planFrame(scene, 20).digest, planFrame(edited, 20).digest);
  EXPECT_NE(planFrame(scene, 20).digest,
            planFrame(with(scene, {"child.inherit_parent_velocity=1"}), 20).digest);
}

}  // namespace
}  // namespace comet
