// Rules: when something is so with a particle, then something is done with it.
#include "base/error.h"
#include "particles/lineage.h"
#include "scene/item_reference.h"
#include "scene/scene_file.h"
#include "simulation/plan.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <gmock/gmock.h>
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
using test::withInfluence;
using ::testing::HasSubstr;

RuleClause condition(RuleWhen when, double first = 0, double second = 0) {
  RuleClause clause = newCondition(when);
  clause.first = first;
  clause.second = second;
  return clause;
}

RuleClause action(RuleThen then, double first = 0, double second = 0, const std::string& item = {}) {
  RuleClause clause = newAction(then);
  clause.first = first;
  clause.second = second;
  clause.item.name = item;
  return clause;
}

Rule rule(std::vector<RuleClause> when, std::vector<RuleClause> then, int max = 1) {
  Rule made;
  made.when = std::move(when);
  made.then = std::move(then);
  made.max = max;
  return made;
}

Scene withRules(const Scene& scene, const RuleList& rules, const char* emitter = "emitter") {
  ParamValue value;
  value.base = rules;
  return scene.withParam(scene.findByName(emitter)->id, "rules", value);
}

// An emitter that gives births by rules alone, beside one whose particles go up at 3 units a second.
Scene withFluff(int parents) {
  Scene scene = test::oneBurst(parents);
  scene = scene.withAdded(newItem(*catalog().find("emitter"), "fluff"));
  return with(scene, {"fluff.birth_trigger=rules", "fluff.speed=0", "fluff.lifetime=100"});
}

// A copy, which outlives the frame.
ParticleStore groupOf(const Scene& scene, const SceneFramePtr& frame, const char* name) {
  return frame->particles->find(scene.findByName(name)->id)->particles.copy();
}

TEST(Rules, OnceFiresOnceForEachParticle) {
  const Scene scene = withRules(
      withFluff(50), {rule({condition(RuleWhen::Age, 10, 1000)}, {action(RuleThen::Burst, 3, 0, "fluff")})});
  SceneRun run(scene, std::make_shared<FrameCache>(std::size_t{1} << 28));
  std::map<int, std::uint64_t> fired;
  for (int frame = 1; frame <= 30; ++frame)
    for (const RuleStats& stats : run.frame(frame)->report->rules) fired[frame] += stats.fired;
  EXPECT_EQ(fired, (std::map<int, std::uint64_t>{{11, 50}})) << "at an age of ten frames";
  EXPECT_EQ(groupOf(scene, run.frame(30), "fluff").size(), 150U);
}

TEST(Rules, CountHowOftenTheyFire) {
  for (const int max : {0, 1, 3, 7}) {
    const Scene scene =
        withRules(withFluff(10),
                  {rule({condition(RuleWhen::Frame, 5, 14)}, {action(RuleThen::Burst, 1, 0, "fluff")}, max)});
    EXPECT_EQ(groupOf(scene, simulate(scene, 40), "fluff").size(), 10U * (max == 0 ? 10 : max)) << max;
  }
}

TEST(Rules, ChanceForEachParticleIsThatOfTheBinomialLaw) {
  const int parents = 5000;
  Rule drawn = rule({condition(RuleWhen::Age, 4, 8)}, {action(RuleThen::Burst, 1, 0, "fluff")}, 0);
  drawn.chance = 30;
  const Scene scene = withRules(withFluff(parents), {drawn});
  const ParticleStore& fluff = groupOf(scene, simulate(scene, 20), "fluff");
  std::map<ParticleId, int> perParent;
  for (std::size_t i = 0; i < fluff.size(); ++i) ++perParent[lineageOf(fluff, i).front().id];
  const double spread = std::sqrt(parents * 0.3 * 0.7);
  EXPECT_NEAR(static_cast<double>(perParent.size()), parents * 0.3, 4 * spread);
  for (const auto& [parent, count] : perParent) EXPECT_EQ(count, 5) << "drawn once for all frames";
}

TEST(Rules, ChanceInEachFrameIsDrawnAnew) {
  const int parents = 5000;
  Rule drawn = rule({condition(RuleWhen::Age, 4, 8)}, {action(RuleThen::Burst, 1, 0, "fluff")}, 0);
  drawn.chance = 30;
  drawn.chanceEachFrame = true;
  const Scene scene = withRules(withFluff(parents), {drawn});
  const ParticleStore& fluff = groupOf(scene, simulate(scene, 20), "fluff");
  std::map<ParticleId, int> perParent;
  for (std::size_t i = 0; i < fluff.size(); ++i) ++perParent[lineageOf(fluff, i).front().id];
  // Five draws each: so many parents of 0 to 5 births.
  std::array<int, 6> counts{};
  counts[0] = parents - static_cast<int>(perParent.size());
  for (const auto& [parent, count] : perParent) ++counts[static_cast<std::size_t>(count)];
  const std::array<double, 6> choose{1, 5, 10, 10, 5, 1};
  for (int k = 0; k <= 5; ++k) {
    const double fraction = choose[static_cast<std::size_t>(k)] * std::pow(0.3, k) * std::pow(0.7, 5 - k);
    EXPECT_NEAR(counts[static_cast<std::size_t>(k)], parents * fraction,
                4 * std::sqrt(parents * fraction * (1 - fraction)) + 1)
        << k;
  }
}

TEST(Rules, AMomentOfTheAgeIsSpreadOverItsWindowAndHitInTime) {
  const Scene scene =
      withRules(withFluff(2000), {rule({condition(RuleWhen::RandomAge, 12, 24)},
                                       {action(RuleThen::Burst, 1, 0, "fluff"), action(RuleThen::Die)})});
  const SceneFramePtr frame = simulate(scene, 30);
  EXPECT_EQ(groupOf(scene, frame, "emitter").size(), 0U) << "all have come to their moment, and ended";
  const ParticleStore& fluff = groupOf(scene, frame, "fluff");
  ASSERT_EQ(fluff.size(), 2000U);
  double sum = 0;
  for (std::size_t i = 0; i < fluff.size(); ++i) {
    const double moment = 29 / 24.0 - static_cast<double>(fluff.field(ParticleStore::Age)[i]);
    EXPECT_GE(moment, 0.5 - 1e-5);
    EXPECT_LE(moment, 1 + 1e-5);
    EXPECT_NEAR(positionOf(fluff, i).y, 3 * moment, 1e-4) << "where the parent was at that moment";
    sum += moment;
  }
  EXPECT_NEAR(sum / 2000, 0.75, 4 * 0.5 / std::sqrt(12 * 2000.0));
}

TEST(Rules, OneThatIsAParentTooGivesItsBirthsOnce) {
  Scene scene = with(
      withFluff(1), {"fluff.birth_trigger=parent_birth", "fluff.parent=emitter", "fluff.births_per_event=3"});
  scene = withRules(scene,
                    {rule({condition(RuleWhen::RandomAge, 6, 6)}, {action(RuleThen::Burst, 5, 0, "fluff")})});
  EXPECT_EQ(sourcesOf(scene, *scene.findByName("fluff")).size(), 1U);
  EXPECT_EQ(groupOf(scene, simulate(scene, 24), "fluff").size(), 3U + 5U);
}

TEST(Rules, DeathAndHitHappenWhereAndWhenTheyDo) {
  Scene scene = withInfluence(withInfluence(with(withFluff(1), {"emitter.position=0,2,0"}), "gravity"),
                              "deflector", {"deflector.bounce=50"});
  const ItemId fluff = scene.findByName("fluff")->id;
  for (const char* influence : {"gravity", "deflector"})
    scene = scene.withResponse(fluff, scene.findByName(influence)->id, {});
  const double fall = (3 + std::sqrt(9 + 4 * kGravity)) / kGravity;
  RuleClause hard = condition(RuleWhen::Hit, 4);
  hard.item.name = "deflector";
  const Scene hits = withRules(scene, {rule({hard}, {action(RuleThen::Burst, 5, 0, "fluff")}, 0)});
  // Half as fast after each bounce: only the first is faster than 4 units a second.
  const SceneFramePtr after = simulate(hits, 72);
  ASSERT_EQ(groupOf(hits, after, "fluff").size(), 5U);
  EXPECT_NEAR(groupOf(hits, after, "fluff").field(ParticleStore::Age)[0], 71 / 24.0 - fall, 1e-3);
  const Scene deaths =
      withRules(with(scene, {"emitter.lifetime=0.43"}),
                {rule({condition(RuleWhen::Death)}, {action(RuleThen::Burst, 2, 0, "fluff")})});
  const ParticleStore& born = groupOf(deaths, simulate(deaths, 20), "fluff");
  ASSERT_EQ(born.size(), 2U);
  EXPECT_NEAR(positionOf(born, 0).y, 2 + 3 * 0.43 - 0.5 * kGravity * 0.43 * 0.43, 1e-4);
}

TEST(Rules, ConditionsAreJoinedByAndOrAndNot) {
  // Ages 5 to 9 and heights from 1 on: 3 / 24 units a frame.
  const RuleClause age = condition(RuleWhen::Age, 4.5, 9.5), high = condition(RuleWhen::Height, 1, 100);
  const auto firstAndCount = [&](Rule made) {
    made.max = 0;
    made.then = {action(RuleThen::Burst, 1, 0, "fluff")};
    const Scene scene = withRules(withFluff(1), {made});
    const ParticleStore& fluff = groupOf(scene, simulate(scene, 21), "fluff");
    return fluff.size();
  };
  Rule both = rule({age, high}, {}), either = both, neither = rule({age}, {});
  either.anyOf = true;
  neither.when[0].isNot = true;
  EXPECT_EQ(firstAndCount(both), 2U) << "ages 8 and 9";
  EXPECT_EQ(firstAndCount(either), 16U) << "ages 5 to 20";
  EXPECT_EQ(firstAndCount(neither), 16U) << "ages 0 to 4 and 10 to 20";
}

TEST(Rules, RegionSpeedWayAndNearnessAreSeen) {
  Scene scene = withFluff(1);
  scene = withInfluence(scene, "gravity",
                        {"gravity.strength=0", "gravity.reach=sphere", "gravity.reach_position=0,2,0",
                         "gravity.reach_radius=0.5"});
  scene = scene.withAdded(newItem(*catalog().find("emitter"), "post"));
  scene = with(scene, {"post.rate=0", R"(post.bursts=[{"frame":1,"count":1}])", "post.speed=0",
                       "post.lifetime=100", "post.position=0,3,0"});
  const auto frames = [&](RuleClause clause, const std::string& item = {}) {
    clause.item.name = item;
    const Scene ruled = withRules(scene, {rule({clause}, {action(RuleThen::Burst, 1, 0, "fluff")}, 0)});
    return groupOf(ruled, simulate(ruled, 33), "fluff").size();
  };
  // An eighth of a unit each frame; at frame 33 four units.
  EXPECT_EQ(frames(condition(RuleWhen::Region), "gravity"), 7U)
      << "between 1.5 and 2.5, the edge not included";
  EXPECT_EQ(frames(condition(RuleWhen::Near, 0.3), "post"), 5U) << "between 2.7 and 3.3";
  EXPECT_EQ(frames(condition(RuleWhen::Travelled, 2.99)), 9U) << "from 3 to 4";
  EXPECT_EQ(frames(condition(RuleWhen::Speed, 2.9, 3.1)), 33U);
  EXPECT_EQ(frames(condition(RuleWhen::Speed, 3.1, 100)), 0U);
}

TEST(Rules, HoldStillAndLetGo) {
  const Scene scene = withRules(withInfluence(test::oneBurst(1), "gravity"),
                                {rule({condition(RuleWhen::Frame, 13, 13)}, {action(RuleThen::Freeze)}),
                                 rule({condition(RuleWhen::Frame, 25, 25)}, {action(RuleThen::Release)})});
  SceneRun run(scene, std::make_shared<FrameCache>(std::size_t{1} << 26));
  const double held = positionOf(onlyGroup(run.frame(13)), 0).y;
  EXPECT_NEAR(held, 3 * 0.5 - 0.5 * kGravity * 0.25, 1e-4);
  for (const int frame : {14, 20, 25}) EXPECT_NEAR(positionOf(onlyGroup(run.frame(frame)), 0).y, held, 1e-6);
  // From rest on.
  EXPECT_NEAR(positionOf(onlyGroup(run.frame(37)), 0).y, held - 0.5 * kGravity * 0.25, 1e-4);
}

TEST(Rules, HandingOverKeepsPlaceAndVelocity) {
  const Scene scene = with(withFluff(20), {"fluff.speed=50", "fluff.inherit_parent_velocity=0"});
  for (const bool aged : {false, true}) {
    const Scene ruled = withRules(
        scene, {rule({condition(RuleWhen::Age, 12, 100)},
                     {action(aged ? RuleThen::MoveKeepAge : RuleThen::MoveResetAge, 0, 0, "fluff")})});
    const SceneFramePtr frame = simulate(ruled, 25);
    EXPECT_EQ(groupOf(ruled, frame, "emitter").size(), 0U);
    const ParticleStore& over = groupOf(ruled, frame, "fluff");
    ASSERT_EQ(over.size(), 20U);
    for (std::size_t i = 0; i < over.size(); ++i) {
      EXPECT_LT(glm::length(positionOf(over, i) - Vec3d(0, 3, 0)), 1e-4);
      EXPECT_LT(glm::length(velocityOf(over, i) - Vec3d(0, 3, 0)), 1e-5);
      EXPECT_NEAR(over.field(ParticleStore::Age)[i], aged ? 1 : 0.5, 1e-4);
    }
  }
}

TEST(Rules, TagsOfOneAreSeenByAnother) {
  const Scene scene = withRules(
      withFluff(10), {rule({condition(RuleWhen::Age, 5, 5)}, {action(RuleThen::AddTag, 3)}),
                      rule({condition(RuleWhen::Tag, 3), condition(RuleWhen::Age, 10, 12)},
                           {action(RuleThen::Burst, 1, 0, "fluff"), action(RuleThen::RemoveTag, 3)}, 0),
                      rule({condition(RuleWhen::Tag, 4)}, {action(RuleThen::Die)})});
  const SceneFramePtr frame = simulate(scene, 20);
  EXPECT_EQ(groupOf(scene, frame, "fluff").size(), 10U) << "the tag was taken away at once";
  EXPECT_EQ(groupOf(scene, frame, "emitter").size(), 10U);
}

TEST(Rules, KicksAlongAndAnyWay) {
  const Scene along = withRules(test::oneBurst(1),
                                {rule({condition(RuleWhen::Frame, 5, 5)}, {action(RuleThen::Kick, 2, 0)})});
  EXPECT_NEAR(velocityOf(onlyGroup(simulate(along, 6)), 0).y, 5, 1e-5);
  const Scene any = withRules(test::oneBurst(500),
                              {rule({condition(RuleWhen::Frame, 5, 5)}, {action(RuleThen::Kick, 0, 1)})});
  const ParticleStore& kicked = onlyGroup(simulate(any, 6));
  Vec3d mean(0.0);
  for (std::size_t i = 0; i < kicked.size(); ++i) {
    const Vec3d kick = velocityOf(kicked, i) - Vec3d(0, 3, 0);
    EXPECT_NEAR(glm::length(kick), 1, 1e-5);
    mean += kick / 500.0;
  }
  EXPECT_LT(glm::length(mean), 4 / std::sqrt(500.0));
}

TEST(Rules, AreTheSameOverThreadsAndResumedRuns) {
  Rule drawn = rule({condition(RuleWhen::Height, 0.5, 2)}, {action(RuleThen::Burst, 4, 3, "fluff")}, 2);
  drawn.chance = 20;
  drawn.chanceEachFrame = true;
  Scene scene = test::busyScene().withAdded(newItem(*catalog().find("emitter"), "fluff"));
  scene = withRules(with(scene, {"fluff.birth_trigger=rules", "emitter.rate=5000"}),
                    {drawn, rule({condition(RuleWhen::Hit, 0)}, {action(RuleThen::Die)})});
  const SceneFramePtr straight = simulate(scene, 30);
  ASSERT_GT(groupOf(scene, straight, "fluff").size(), 200U);
  test::expectTheSameHoweverRun(scene, 30);
}

TEST(Rules, SurviveTheFileAndFollowRenaming) {
  Rule made = rule({condition(RuleWhen::Age, 10, 20), condition(RuleWhen::Hit, 2)},
                   {action(RuleThen::Burst, 100, 20, "fluff"), action(RuleThen::Die)}, 3);
  made.anyOf = made.chanceEachFrame = made.when[1].isNot = true;
  made.chance = 12.5;
  const Scene scene = withRules(withFluff(1), {made});
  EXPECT_EQ(sceneFromText(textFromScene(scene), catalog()), scene);
  const Scene renamed = scene.withName(scene.findByName("fluff")->id, "down");
  const auto& rules = std::get<RuleList>(renamed.findByName("emitter")->value("rules").base);
  EXPECT_EQ(rules.front().then.front().item.name, "down");
  EXPECT_EQ(sentenceOf(rules.front()),
            "When its age is between 10 and 20 frames or not: it hits anything faster than 2 units/s, with a "
            "chance of 12.5 % in each frame, up to 3 times per particle: it gives 100 ± 20 births of down, "
            "it dies.");
}

TEST(Rules, EveryFormIsWrittenReadAndSaid) {
  RuleList rules;
  for (std::size_t i = 0; i < conditionForms().size(); ++i) {
    RuleClause clause = newCondition(static_cast<RuleWhen>(i));
    const RuleForm& form = conditionForms()[i];
    EXPECT_FALSE(problemWith(rule({clause}, {action(RuleThen::Die)}))) << form.id;
    rules.assign(1, rule({clause}, {action(RuleThen::Die)}));
    const Scene scene = withRules(withFluff(1), rules);
    EXPECT_EQ(sceneFromText(textFromScene(scene), catalog()), scene) << form.id;
    EXPECT_THAT(sentenceOf(rules[0]), HasSubstr("When ")) << form.id;
    EXPECT_NO_THROW((void)simulate(scene, 3)) << form.id;
  }
  for (std::size_t i = 0; i < actionForms().size(); ++i) {
    const RuleClause clause = newAction(static_cast<RuleThen>(i));
    rules.assign(1, rule({condition(RuleWhen::Age, 0, 10)}, {clause}));
    const Scene scene = withRules(withFluff(1), rules);
    EXPECT_EQ(sceneFromText(textFromScene(scene), catalog()), scene) << actionForms()[i].id;
    EXPECT_NO_THROW((void)simulate(scene, 3)) << actionForms()[i].id;
  }
}

TEST(Rules, WrongOnesAreRefusedWithTheirPlace) {
  const std::string text = textFromScene(withRules(
      withFluff(1), {rule({condition(RuleWhen::Age, 1, 2)}, {action(RuleThen::Burst, 1, 0, "fluff")})}));
  const auto problemAfter = [&](const std::string& from, const std::string& to) {
    std::string broken = text;
    const auto at = broken.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    broken.replace(at, from.size(), to);
    try {
      sceneFromText(broken, catalog());
    } catch (const Error& error) {
      return std::string(error.what());
    }
    return std::string();
  };
  EXPECT_THAT(problemAfter("\"age\"", "\"shoe size\""), HasSubstr("/rules/0/when/0/if"));
  EXPECT_THAT(problemAfter("\"burst\"", "\"sing\""), HasSubstr("/rules/0/then/0/do"));
  EXPECT_THAT(problemAfter("\"first\": 1.0", "\"first\": -4"), HasSubstr("rule 1"));
  EXPECT_THAT(problemAfter("\"max_times\": 1", "\"max_times\": 99"), HasSubstr("limited"));
  EXPECT_THAT(problemAfter("\"item\": \"fluff\"", "\"item\": \"lost\""), HasSubstr("/items/2/params/rules"));
  EXPECT_THAT(problemAfter("\"item\": \"fluff\"", "\"item\": \"emitter\""), HasSubstr("to itself"));
}

TEST(Rules, CirclesOfBirthsAreRefused) {
  const Scene scene =
      withRules(withFluff(1), {rule({condition(RuleWhen::Death)}, {action(RuleThen::Burst, 1, 0, "fluff")})});
  const Scene back = withRules(
      scene, {rule({condition(RuleWhen::Death)}, {action(RuleThen::Burst, 1, 0, "emitter")})}, "fluff");
  EXPECT_THROW(checkReferences(back), Error);
  EXPECT_NO_THROW(checkReferences(scene));
  EXPECT_THROW(with(scene, {"emitter.birth_trigger=parent_birth", "emitter.parent=fluff"}), Error);
}

}  // namespace
}  // namespace comet
