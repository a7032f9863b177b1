// Influences that have a vector at each place: fields, paths, and turbulence as a displacement.
#include "fields/made_fields.h"
#include "io/volume_content.h"
#include "simulation/influences/field_source.h"
#include "simulation/influences/path.h"
#include "simulation/plan.h"
#include "simulation/push_at.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::oneBurst;
using test::onlyGroup;
using test::positionOf;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withInfluence;

Scene resting(const Scene& scene) { return with(scene, {"emitter.speed=0"}); }

Scene withContent(const Scene& scene, const char* item, const char* param,
                  std::shared_ptr<const FileContent> content) {
  ParamValue value;
  value.base = FileRef{"made here", std::move(content), {}};
  return scene.withParam(scene.findByName(item)->id, param, value);
}

// A scene whose field comes from a volume.
Scene withVolume(const Scene& scene, VectorVolume volume) {
  return withContent(scene, "field", "volume",
                     std::make_shared<const VolumeContent>(std::vector{std::move(volume)}));
}

VectorVolume linearVolume() {
  VectorVolume volume;
  volume.name = std::string("v");
  volume.grid = VectorGrid({8, 8, 8});
  volume.size = Vec3d(4.0);
  for (int z = 0; z < 8; ++z)
    for (int y = 0; y < 8; ++y)
      for (int x = 0; x < 8; ++x) volume.grid.at(x, y, z) = Vec3(volume.grid.middleOf(x, y, z)) * 4.0F - 2.0F;
  return volume;
}

TEST(VectorField, OfAFileIsTrilinearWhereItIsPut) {
  // In the file each vector is its own place; here it lies twice as large about (10, 0, 0), turned by 90°
  // about z.
  Scene scene = withInfluence(
      oneBurst(), "field",
      {"field.source=file", "field.volume_scale=2", "field.position=10,0,0", "field.rotation=0,0,90"});
  scene = withVolume(scene, linearVolume());
  const FieldSource source(*scene.findByName("field"), 1);
  EXPECT_LT(glm::length(source.at({11, 2, -1}) - Vec3d(0.5, 1, -0.5)), 1e-6);
  EXPECT_EQ(source.at({15, 0, 0}), Vec3d(0.0));
  EXPECT_LT(glm::length(source.at({10, 0, 0})), 1e-6);
}

TEST(VectorField, PushesOrCarriesByItsVectors) {
  Scene scene = withInfluence(oneBurst(), "field",
                              {"field.source=file", "field.position=0,0,0", "field.strength=-9",
                               "emitter.speed=0", "emitter.position=1,0,0", "scene.substeps=8"});
  scene = withVolume(scene, linearVolume());
  // A spring of stiffness 9: a third of a turn... cos(3 t).
  const double t = 20 / 24.0;
  EXPECT_NEAR(positionOf(onlyGroup(simulate(scene, 21)), 0).x, std::cos(3 * t), 2e-3);
  // Air that flees the middle in proportion to the distance, held on to firmly: e to the power of t.
  const Scene carried = with(scene, {"field.acts_as=wind", "field.air_speed=1", "field.air_drag=500",
                                     "emitter.position=0.5,0,0", "scene.substeps=32"});
  EXPECT_NEAR(positionOf(onlyGroup(simulate(carried, 25)), 0).x, 0.5 * std::exp(1.0), 0.02);
}

TEST(VectorField, WithoutItsFileDoesNothing) {
  const Scene scene = withInfluence(oneBurst(), "field", {"field.source=file"});
  EXPECT_EQ(velocityOf(onlyGroup(simulate(scene, 5)), 0), Vec3d(0, 3, 0));
}

TEST(VectorField, IsMadeOncePerChoiceAndDependsOnEach) {
  const Scene scene = withInfluence(oneBurst(), "field", {"field.resolution=16"});
  const auto gridOf = [](const Scene& s) { return &FieldSource(*s.findByName("field"), 1).grid(); };
  EXPECT_EQ(gridOf(scene), gridOf(with(scene, {"field.strength=2", "field.position=1,1,1"})));
  for (const char* change : {"field.resolution=17", "field.noise_scale=1", "field.noise_octaves=3",
                             "field.field_seed=9", "field.size=6,6,7"})
    EXPECT_NE(gridOf(scene), gridOf(with(scene, {change}))) << change;
}

TEST(VectorField, BeyondItsBoxItRepeatsIfWanted) {
  const Scene scene = withInfluence(oneBurst(), "field", {"field.resolution=16", "field.beyond=repeat"});
  const FieldSource source(*scene.findByName("field"), 1);
  EXPECT_LT(glm::length(source.at({0.4, 1, 2}) - source.at({6.4, -5, 14})), 1e-6);
}

TEST(Path, LeadsAlongAndDrawsIn) {
  const Scene scene = withInfluence(oneBurst(), "path",
                                    {"path.strokes=[[[-5,0,0],[0,0,0],[5,0,0]]]", "path.width=2",
                                     "path.inward=50", "path.around=100", "path.position=0,1,0"});
  const PathFlow flow(*scene.findByName("path"), 1);
  EXPECT_LT(glm::length(flow.at({1, 1, 0}) - Vec3d(1, 0, 0)), 1e-9) << "on the line";
  const Vec3d beside = flow.at({1, 2, 0});  // half the width above it
  EXPECT_NEAR(beside.x, 0.5625, 1e-9);
  EXPECT_NEAR(beside.y, -0.25, 1e-9);
  EXPECT_GT(beside.z, 0.5) << "right-handed about the way it goes";
  const Vec3d far = flow.at({1, 1, 7});
  EXPECT_NEAR(far.x, 0, 1e-9);
  EXPECT_NEAR(far.z, -0.5, 1e-9) << "drawn in as strongly from anywhere";
}

TEST(Path, AroundIsFastestWhereItSays) {
  const Scene scene = withInfluence(
      oneBurst(), "path",
      {"path.strokes=[[[-5,0,0],[5,0,0]]]", "path.width=1", "path.inward=0", "path.around=100"});
  const PathFlow flow(*scene.findByName("path"), 1);
  double max = 0;
  for (int i = 0; i <= 1000; ++i) max = std::max(max, std::abs(flow.at({0, i * 0.001, 0}).z));
  EXPECT_NEAR(max, 1, 1e-5);
}

TEST(Path, CarriesAParticleFromItsBeginningToItsEnd) {
  const Scene scene =
      resting(withInfluence(oneBurst(), "path",
                            {"path.strokes=[[[0,0,0],[2,2,0],[4,0,0],[6,-2,0],[8,0,0]]]", "path.acts_as=wind",
                             "path.air_speed=4", "path.air_drag=40", "path.width=1", "path.inward=150",
                             "emitter.position=0,0.1,0", "scene.substeps=4"}));
  const SceneFramePtr end = simulate(scene, 1 + 24 * 4);
  EXPECT_GT(positionOf(onlyGroup(end), 0).x, 7);
  // On the way it has passed the hill and the valley.
  double highest = 0, lowest = 0;
  for (int frame = 1; frame < 80; frame += 4) {
    const double y = positionOf(onlyGroup(simulate(scene, frame)), 0).y;
    highest = std::max(highest, y);
    lowest = std::min(lowest, y);
  }
  EXPECT_GT(highest, 1.5);
  EXPECT_LT(lowest, -1.5);
}

TEST(Displacement, ShowsParticlesElsewhereAndLeavesTheirMotionAlone) {
  const Scene plain = with(oneBurst(500), {"emitter.shape=sphere", "emitter.radius=3", "emitter.cone=180"});
  const Scene displaced =
      withInfluence(plain, "turbulence", {"turbulence.acts_as=displacement", "turbulence.amount=0.5"});
  for (const int frame : {1, 2, 60}) {
    const SceneFramePtr a = simulate(plain, frame), b = simulate(displaced, frame);
    EXPECT_EQ(a->particles->digest(), b->particles->digest()) << "nothing adds up, frame " << frame;
    double squares = 0;
    for (std::size_t i = 0; i < onlyGroup(b).size(); ++i) {
      const Vec3d away = onlyGroup(b).shownPosition(i) - onlyGroup(b).position(i);
      squares += glm::dot(away, away);
    }
    // The noise's root mean square is about the first octave's strength, and the second adds a quarter.
    EXPECT_NEAR(std::sqrt(squares / static_cast<double>(onlyGroup(b).size())), 0.55, 0.2) << frame;
  }
  EXPECT_TRUE(onlyGroup(simulate(plain, 5)).displacement().empty());
}

TEST(Displacement, ObeysResponseReachAndTheStartState) {
  Scene scene = withInfluence(oneBurst(200), "turbulence",
                              {"turbulence.acts_as=displacement", "turbulence.change_rate=0",
                               "emitter.shape=box", "emitter.speed=0"});
  const auto awayAt = [](const Scene& s) {
    const SceneFramePtr frame = simulate(s, 10);
    return onlyGroup(frame).shownPosition(7) - onlyGroup(frame).position(7);
  };
  const Vec3d full = awayAt(scene);
  EXPECT_GT(glm::length(full), 0.01);
  const ItemId emitter = scene.findByName("emitter")->id, turbulence = scene.findByName("turbulence")->id;
  EXPECT_LT(glm::length(awayAt(scene.withResponse(emitter, turbulence, {-50})) + 0.5 * full), 1e-6);
  EXPECT_EQ(awayAt(with(scene, {"turbulence.reach=sphere", "turbulence.reach_position=90,0,0"})), Vec3d(0.0));
}

TEST(SurfaceAttractor, HoldsParticlesAtTheNearestPointOfItsMesh) {
  Mesh floor;
  floor.points = {{-5, 0, -5}, {5, 0, -5}, {5, 0, 5}, {-5, 0, 5}};
  floor.normals.assign(4, Vec3(0, 1, 0));
  floor.triangles = {{0, 2, 1}, {0, 3, 2}};
  floor.parts = {0, 0};
  floor.partNames = {{}};
  Scene scene =
      resting(withInfluence(oneBurst(), "attractor",
                            {"attractor.target=surface", "attractor.falloff=linear", "attractor.strength=4",
                             "attractor.position=0,1,0", "attractor.mesh_rotation=0,0,90",
                             "attractor.mesh_scale=0.5", "emitter.position=3,2,1", "scene.substeps=4"}));
  const Scene without = scene;
  scene = withContent(scene, "attractor", "mesh", std::make_shared<const MeshContent>(floor));
  // The floor stands upright now: the particle swings about it along x alone, as a spring of stiffness 4.
  const Vec3d place = positionOf(onlyGroup(simulate(scene, 25)), 0);
  EXPECT_NEAR(place.x, 3 * std::cos(2.0), 5e-3);
  EXPECT_NEAR(place.y, 2, 1e-5);
  EXPECT_NEAR(place.z, 1, 1e-5);
  EXPECT_EQ(positionOf(onlyGroup(simulate(without, 25)), 0), Vec3d(3, 2, 1));
}

TEST(PushAt, IsWhatARestingParticleFeels) {
  Scene scene = withInfluence(oneBurst(), "gravity", {"gravity.strength=10"});
  scene = withInfluence(scene, "wind", {"wind.speed=3", "wind.air_drag=2"});
  const ItemId emitter = scene.findByName("emitter")->id, gravity = scene.findByName("gravity")->id;
  const std::vector<Vec3d> places{{0, 0, 0}, {4, 5, 6}};
  const PushField one = pushOf(scene, gravity, 1, places);
  ASSERT_EQ(one.vectors.size(), 2U);
  EXPECT_EQ(one.vectors[1], Vec3d(0, -10, 0));
  scene = scene.withResponse(emitter, gravity, {50});
  const Vec3d sum = pushOn(scene, emitter, 1, places).vectors[0];
  EXPECT_LT(glm::length(sum - Vec3d(6, -5, 0)), 1e-6);
  EXPECT_EQ(pushOf(with(scene, {"gravity.acts=frame_range", "gravity.acts_from=40"}), gravity, 1, places)
                .vectors[0],
            Vec3d(0.0));
}

TEST(PushAt, IsTheSameAtAnyAgeAndForNobodyInParticular) {
  const Scene scene = withInfluence(
      oneBurst(), "force",
      {"force.push=1,2,3", "force.variation=5,5,5", "force.age_range=from", "force.age_from=4"});
  const std::vector<Vec3d> places{{0, 0, 0}, {4, 5, 6}};
  const PushField push = pushOf(scene, scene.findByName("force")->id, 1, places);
  EXPECT_EQ(push.vectors[0], Vec3d(1, 2, 3));
  EXPECT_EQ(push.vectors[1], Vec3d(1, 2, 3));
}

}  // namespace
}  // namespace comet
