#include "params/formula.h"

#include "cache/scene_run.h"
#include "simulation/plan.h"
#include "support/scenes.h"

#include <cmath>
#include <gmock/gmock.h>
#include <muParser.h>

namespace comet {
namespace {

using test::starting;
using test::with;

double at(const std::string& formula, double frame, double seconds, double value = 0) {
  return evaluateFormula(formula, {frame, seconds, value});
}

TEST(Formula, GivesWhatTheLibraryGives) {
  double time = 0.7, frame = 17;
  for (const char* formula : {"3 + 4*frame", "sin(2*time)^2", "frame > 10 ? sqrt(frame) : -1",
                              "max(1, 2, time) - min(frame, 3)", "exp(-time) * rint(frame / 3)"}) {
    mu::Parser parser;
    parser.DefineVar("time", &time);
    parser.DefineVar("frame", &frame);
    parser.SetExpr(formula);
    EXPECT_EQ(at(formula, frame, time), parser.Eval()) << formula;
  }
}

TEST(Formula, KnowsItsOwnNames) {
  EXPECT_DOUBLE_EQ(at("2*pi", 1, 0), 6.283185307179586);
  EXPECT_EQ(at("value + 1", 1, 0, 41), 42);
  EXPECT_EQ(at("mix(10, 20, 0.25)", 1, 0), 12.5);
  EXPECT_EQ(at("clamp(frame, 5, 8)", 30, 0), 8);
  EXPECT_EQ(at("noise(3)", 1, 0), 0);
  EXPECT_NE(at("noise(3.5)", 1, 0), 0);
  double sum = 0;
  for (int n = 0; n < 1000; ++n) {
    const double random = at("rand(" + std::to_string(n) + ")", 1, 0);
    ASSERT_GE(random, 0);
    ASSERT_LT(random, 1);
    sum += random / 1000;
  }
  EXPECT_NEAR(sum, 0.5, 0.04);
  EXPECT_THAT(formulaNames(FormulaScope::Scene),
              testing::IsSupersetOf({"frame", "noise(", "pi", "sin(", "time", "value"}));
}

TEST(ParticleFormula, GivesWhatTheLibraryGivesForEachParticle) {
  const ParticleFormula formula(
      "value * (1 + sin(time + id)) * age_fraction + speed / lifetime - x*y*z + rand(id)", 12, 0.5, -1e9,
      1e9);
  double age = 0, life = 0, fraction = 0, speed = 0, id = 0, x = 0, y = 0, z = 0, time = 0.5, value = 0,
         random = 0;
  mu::Parser parser;
  for (const auto& [name, variable] :
       std::vector<std::pair<const char*, double*>>{{"age", &age},
                                                    {"lifetime", &life},
                                                    {"age_fraction", &fraction},
                                                    {"speed", &speed},
                                                    {"id", &id},
                                                    {"x", &x},
                                                    {"y", &y},
                                                    {"z", &z},
                                                    {"time", &time},
                                                    {"value", &value},
                                                    {"random", &random}})
    parser.DefineVar(name, variable);
  parser.SetExpr("value * (1 + sin(time + id)) * age_fraction + speed / lifetime - x*y*z + random");
  for (int i = 0; i < 50; ++i) {
    age = 0.1 * i, life = 3 + i, fraction = age / life, speed = 2.5 * i, id = 7 * i;
    x = 0.3 * i, y = -0.2 * i, z = 1, value = 10 - i;
    random = at("rand(" + std::to_string(7 * i) + ")", 1, 0);
    EXPECT_EQ(formula.of({age, life, fraction, speed, id, x, y, z}, value), parser.Eval()) << i;
  }
}

TEST(ParticleFormula, KeepsTheValueWhereItGivesNoNumberAndTheRangeElsewhere) {
  const ParticleFormula divides("10 / (id - 3)", 1, 0, -5, 5);
  ParticleMoment third;
  third.id = 3;
  EXPECT_EQ(divides.of(third, 2.5), 2.5);
  EXPECT_EQ(divides.of({}, 2.5), -10.0 / 3);
  third.id = 4;
  EXPECT_EQ(divides.of(third, 2.5), 5);
}

TEST(ParticleFormula, NamesOfParticlesAreKnownWhereTheyMeanSomething) {
  EXPECT_TRUE(variesByParticle("age * 2"));
  EXPECT_TRUE(variesByParticle("rand(id)"));
  EXPECT_FALSE(variesByParticle("sin(time)"));
  EXPECT_FALSE(variesByParticle("age *"));
  EXPECT_FALSE(problemWithFormula("age * 2", FormulaScope::Particle));
  ASSERT_TRUE(problemWithFormula("2 * age", FormulaScope::Scene));
  EXPECT_EQ(problemWithFormula("2 * age", FormulaScope::Scene)->position, 4U);
  EXPECT_THAT(formulaNames(FormulaScope::Particle),
              testing::IsSupersetOf({"age", "age_fraction", "id", "speed", "x"}));
  EXPECT_THAT(formulaNames(FormulaScope::Scene), testing::Not(testing::Contains("age")));
}

TEST(ParticleFormula, SetsLifetimesAndSpeedsAtBirth) {
  const Scene scene = with(test::oneBurst(40), {R"(emitter.lifetime={"value":2,"formula":"value + id"})",
                                                R"(emitter.speed={"value":3,"formula":"1 + id"})"});
  const SceneFramePtr frame = test::simulate(scene, 2);
  const ParticleStore& particles = test::onlyGroup(frame);
  ASSERT_EQ(particles.size(), 40U);
  for (std::size_t i = 0; i < particles.size(); ++i) {
    EXPECT_FLOAT_EQ(particles.field(ParticleStore::Lifetime)[i], 2.0F + static_cast<float>(i));
    EXPECT_NEAR(test::velocityOf(particles, i).y, 1.0 + static_cast<double>(i), 1e-5);
  }
}

TEST(ParticleFormula, SetsAResponse) {
  Scene scene =
      test::withInfluence(with(test::oneBurst(10), {"emitter.speed=0"}), "gravity", {"gravity.strength=10"});
  const ItemId emitter = scene.findByName("emitter")->id, gravity = scene.findByName("gravity")->id;
  scene = scene.withResponse(emitter, gravity, {100, {}, "id >= 5 ? value : 0"});
  const SceneFramePtr frame = test::simulate(scene, 25);
  for (std::size_t i = 0; i < 10; ++i)
    EXPECT_NEAR(test::velocityOf(test::onlyGroup(frame), i).y, i >= 5 ? -10 : 0, 1e-4) << i;
  EXPECT_NE(planFrame(scene, 5).digest,
            planFrame(scene.withResponse(emitter, gravity, {100, {}, "id >= 6 ? value : 0"}), 5).digest);
}

TEST(Formula, SaysWhereItIsWrong) {
  const auto problem = [](const char* formula) {
    return problemWithFormula(formula).value_or(FormulaProblem{99, ""});
  };
  EXPECT_EQ(problem("2 * speeed").position, 4U);
  EXPECT_THAT(problem("2 * speeed").message, testing::HasSubstr("speeed"));
  EXPECT_THAT(problem("(1 + 2").message, testing::HasSubstr("bracket"));
  EXPECT_THAT(problem("3 +").message, testing::HasSubstr("too early"));
  EXPECT_THAT(problem("mix(1, 2)").message, testing::HasSubstr("more numbers"));
  EXPECT_NE(problem("").message, "");
  EXPECT_FALSE(problemWithFormula("sin(time)"));
}

TEST(Formula, RulesANumberOverTheScenesTime) {
  const Scene scene = with(starting(), {"scene.frame_rate=30", "scene.first_frame=11",
                                        R"(emitter.rate={"value":100,"formula":"value * time + frame"})"});
  const Item& emitter = *scene.findByName("emitter");
  EXPECT_DOUBLE_EQ(emitter.number("rate", 11), 11);
  EXPECT_DOUBLE_EQ(emitter.number("rate", 41), 141);
  // The clock follows the settings.
  EXPECT_DOUBLE_EQ(with(scene, {"scene.frame_rate=60"}).findByName("emitter")->number("rate", 41), 91);
}

TEST(Formula, IsHeldWithinItsRangeAndGivesWayWhereItIsNoNumber) {
  const Scene scene = with(starting(), {R"#(emitter.lifetime={"value":2,"formula":"1 / (frame - 5)"})#"});
  const Item& emitter = *scene.findByName("emitter");
  EXPECT_EQ(emitter.number("lifetime", 5), 2) << "a division by zero";
  EXPECT_EQ(emitter.number("lifetime", 7), 0.5);
  EXPECT_EQ(emitter.number("lifetime", 1), 0.001) << "the least that a lifetime may be";
}

TEST(Formula, ChangesOnlyTheFramesWhereItsNumberChanges) {
  const Scene base = with(test::withInfluence(starting(), "wind"), {"wind.speed=3"});
  const Scene late = with(base, {R"(wind.speed={"value":3,"formula":"frame > 60 ? 5 : value"})"});
  EXPECT_EQ(planFrame(base, 40).digest, planFrame(late, 40).digest);
  EXPECT_NE(planFrame(base, 70).digest, planFrame(late, 70).digest);
}

TEST(Formula, BadOnesAreRefusedWithTheirPlace) {
  try {
    (void)with(starting(), {R"(emitter.rate={"formula":"1 + qq"})"});
    FAIL();
  } catch (const std::exception& error) {
    EXPECT_THAT(error.what(), testing::HasSubstr("character 5"));
  }
  EXPECT_THROW((void)with(starting(), {R"(emitter.cone={"formula":""})", R"(emitter.shape={"formula":"1"})"}),
               std::exception);
}

}  // namespace
}  // namespace comet
