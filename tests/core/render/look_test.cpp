#include "render/look.h"

#include "bake/particle_table.h"
#include "render/renderer.h"
#include "support/scenes.h"

namespace comet {
namespace {

using test::starting;
using test::with;

Look lookOf(const Scene& scene) {
  StampCache stamps;
  return Look(scene, *scene.findByName("emitter"), 1, stamps);
}

ParticleFacts at(double fraction, ParticleId id = 5) {
  ParticleFacts state;
  state.id = id;
  state.fraction = fraction;
  return state;
}

TEST(Look, ComputesAFormulaForEachParticle) {
  const Look look = lookOf(with(
      starting(),
      {R"(emitter.size={"value":2,"over_age":[{"at":0,"value":1}],"formula":"value * age_fraction + id"})",
       R"(emitter.opacity={"value":80,"over_age":[{"at":0,"value":1}],"formula":"100 * age_fraction"})",
       R"(emitter.glow={"value":50,"formula":"50 + 10*age"})"}));
  EXPECT_NEAR(look.diameter(at(0.5, 7)), 2 * 0.5 + 7, 1e-9);
  EXPECT_NEAR(look.opacity(at(0.25)), 0.25, 1e-9);
  EXPECT_FALSE(look.hasConstantGlow());
  ParticleFacts older = at(0.5);
  older.age = 3;
  EXPECT_NEAR(look.glow(older), 0.8, 1e-9);
}

TEST(Look, ComputesTheColoursNumbersForEachParticle) {
  const Look look =
      lookOf(with(starting(), {R"(emitter.color=[{"at":0,"color":[1,0,0]}])",
                               R"(emitter.hue={"value":0,"formula":"120 * id - 120"})",
                               R"(emitter.value={"value":100,"formula":"value * age_fraction"})"}));
  const Vec3d blue = look.color(at(1, 0), 1), red = look.color(at(1, 1), 1),
              green = look.color(at(0.5, 2), 1);
  EXPECT_NEAR(red.x, 1, 1e-6);
  EXPECT_NEAR(red.y, 0, 1e-6);
  EXPECT_GT(green.y, 5 * green.x);
  EXPECT_GT(blue.z, 5 * blue.y);
  EXPECT_NEAR(std::max({green.x, green.y, green.z}), 0.5, 0.01);
}

TEST(Look, FollowsItsCurvesOverAge) {
  const Look look = lookOf(with(
      starting(),
      {R"(emitter.size={"value":2,"over_age":[{"at":0,"value":0,"to_next":"linear"},{"at":1,"value":1}]})",
       R"(emitter.opacity={"value":80,"over_age":[{"at":0,"value":1,"to_next":"linear"},{"at":1,"value":0}]})",
       R"(emitter.color=[{"at":0,"color":[1,0,0]},{"at":1,"color":[0,0,1]}])", "emitter.brightness=3"}));
  EXPECT_NEAR(look.diameter(at(0.5)), 1, 1e-6);
  EXPECT_NEAR(look.opacity(at(0.25)), 0.6, 1e-6);
  const Vec3d color = look.color(at(0.5), 1);
  EXPECT_NEAR(color.x, 1.5, 1e-5);
  EXPECT_NEAR(color.z, 1.5, 1e-5);
}

TEST(Look, VariationIsUniformPerParticleAndConstantOverItsLife) {
  const Look look = lookOf(with(starting(), {"emitter.size={\"value\":2,\"variation\":1}"}));
  double sum = 0, min = 9, max = 0;
  for (ParticleId id = 0; id < 5000; ++id) {
    const double diameter = look.diameter(at(0.3, id));
    EXPECT_EQ(diameter, look.diameter(at(0.9, id)));
    sum += diameter;
    min = std::min(min, diameter);
    max = std::max(max, diameter);
  }
  EXPECT_NEAR(sum / 5000, 2, 0.05);
  EXPECT_NEAR(min, 1, 0.01);
  EXPECT_NEAR(max, 3, 0.01);
}

TEST(Renderer, SpriteHasItsSizeInPixels) {
  // Orthographic, 6 units on 300 pixels: a dot of 2 units is a disc of 50 pixels' radius.
  const Scene scene = with(test::oneBurst(), {"emitter.sprite=dot", "emitter.size=2", "emitter.opacity=100",
                                              "camera.projection=orthographic", "camera.height=6"});
  const Picture picture = Renderer().draw({scene,
                                           *test::simulate(scene, 1),
                                           {},
                                           {Camera::Projection::Orthographic, {0, 0, 5}, {0, 0, 0}, 40, 6},
                                           {300, 300}});
  double area = 0;
  for (const Vec4& pixel : picture.pixels()) area += pixel.w;
  EXPECT_NEAR(area / (kPi * 50 * 50), 1, 0.01);
}

TEST(Renderer, EmitterThatIsOffIsNotDrawn) {
  Scene scene = test::oneBurst();
  const SceneFramePtr frame = test::simulate(scene, 1);
  scene = scene.withEnabled(scene.findByName("emitter")->id, false);
  const Picture picture = Renderer().draw({scene, *frame, {}, cameraOf(scene, 1), {64, 64}});
  for (const Vec4& pixel : picture.pixels()) EXPECT_EQ(pixel, Vec4(0.0F));
}

TEST(ParticleTable, HoldsWhatIsDrawn) {
  const Scene scene = test::busyScene();
  const SceneFramePtr frame = test::simulate(scene, 12);
  const PointTable table = particleTable(scene, *frame);
  ASSERT_GT(table.count, 100U);
  EXPECT_EQ(table.count, frame->report->stats.living);
  for (const PointColumn& column : table.columns)
    EXPECT_EQ(column.numbers.size(), table.count) << column.name;
  EXPECT_EQ(table.columns[1].texts.front(), "emitter");
  EXPECT_EQ(table.columns[2].numbers[7],
            frame->particles->groups[0].particles.field(ParticleStore::PositionX)[7]);
}

}  // namespace
}  // namespace comet
