// How much of what a source gives comes to each voxel, against the measures of its shape.
#include "simulation/gas/gas_coverage.h"
#include "simulation/gas/gas_kind.h"
#include "support/meshes.h"
#include "support/scenes.h"

#include <map>
#include <numeric>
#include <set>

namespace comet {
namespace {

using test::gasScene;
using test::with;

// A gas of 40³ voxels, 4 units along each side, from (-2, 0, -2) on.
struct Box {
  Scene scene;
  GasGrid grid;

  explicit Box(std::initializer_list<std::string> assignments = {})
      : scene(with(with(gasScene(),
                        {"gas.position=0,2,0", "gas.size=4,4,4", "gas.resolution=40", "source.position=0,2,0",
                         "source.thickness=0", "source.softness=0", "source.noise=0"}),
                   assignments)),
        grid(gasGridOf(*scene.findByName("gas"))) {}

  SourcePlan plan(int frame = 2) const {
    FrameTime time;
    time.frame = frame;
    time.start = test::secondsAt(frame - 1);
    time.length = 1 / test::kFrameRate;
    return planSource(scene, *scene.findByName("source"), time);
  }
  SourceCoverage coverage(const ParticleState& particles = {}, int frame = 2) const {
    return coverageOf(plan(frame), grid, particles, {});
  }
  // Of all that is covered, cubic units.
  double volume(int frame = 2) const {
    const SourceCoverage covered = coverage({}, frame);
    return std::accumulate(covered.amount.begin(), covered.amount.end(), 0.0) * std::pow(grid.voxel, 3);
  }
};

TEST(GasSource, FillsTheVolumeOfItsShape) {
  EXPECT_NEAR(Box({"source.shape=box", "source.extent=1,2,1.4"}).volume(), 2.8, 0.06);
  EXPECT_NEAR(Box({"source.shape=sphere", "source.radius=1.2"}).volume(), 4 * kPi / 3 * std::pow(1.2, 3),
              0.1);
  // Shapes without a volume have one by their thickness.
  EXPECT_NEAR(Box({"source.shape=point", "source.thickness=1"}).volume(), 4 * kPi / 3, 0.05);
  EXPECT_NEAR(Box({"source.shape=line", "source.extent=2,1,1", "source.thickness=0.5"}).volume(),
              kPi * 0.25 * 2 + kPi / 6, 0.05);
  EXPECT_NEAR(Box({"source.shape=disc", "source.radius=1.5", "source.thickness=0.1"}).volume(),
              kPi * 2.25 * 0.2 + kPi * 0.01 * kPi * 1.5, 0.08);
  const double ring = 2 * kPi * 1.2 * kPi * 0.09;
  EXPECT_NEAR(Box({"source.shape=ring", "source.radius=1.2", "source.thickness=0.3"}).volume(), ring, 0.05);
  const double shell = 4 * kPi / 3 * (std::pow(1.2, 3) - std::pow(0.8, 3));
  EXPECT_NEAR(
      Box({"source.shape=sphere", "source.emit_from=surface", "source.radius=1", "source.thickness=0.2"})
          .volume(),
      shell, 0.1);
}

TEST(GasSource, GoesAlongWithTheScaleAndTheTurnOfItsShape) {
  EXPECT_NEAR(
      Box({"source.shape=box", "source.extent=1,1,1", "source.scale=2,1,0.5", "source.rotation=0,30,20"})
          .volume(),
      1, 0.05);
  EXPECT_EQ(Box({"source.shape=box", "source.scale=0,0,0", "source.thickness=1"}).volume(), 0)
      << "a shape that is shrunk to nothing gives nothing";
}

TEST(GasSource, MeshesAreFilledOrCoatedWithoutHoles) {
  Box box;
  const auto mesh = std::make_shared<const MeshContent>(test::boxMesh({1, 2, 1.4}));
  ParamValue file = box.scene.findByName("source")->value("mesh");
  file.base = FileRef{"box.obj", mesh, {}};
  box.scene = box.scene.withParam(box.scene.findByName("source")->id, "mesh", file);
  box.scene = with(box.scene, {"source.shape=mesh", "source.mesh_emit_from=inside"});
  const SourceCoverage filled = box.coverage();
  const auto at = [&](const SourceCoverage& covered, const Vec3d& place) {
    const Vec3d voxel = (place - box.grid.corner) / box.grid.voxel;
    std::array<std::size_t, 3> i{};
    for (int axis = 0; axis < 3; ++axis) {
      i[axis] = static_cast<std::size_t>(voxel[axis]);
      if (i[axis] < covered.begin[axis] || i[axis] >= covered.end[axis]) return 0.0F;
      i[axis] -= covered.begin[axis];
    }
    return covered.amount[covered.layout().index(i[0], i[1], i[2])];
  };
  for (const double x : {-0.35, 0.05, 0.35})
    for (const double y : {1.15, 2.05, 2.85}) EXPECT_GT(at(filled, {x, y, 0.05}), 0.3F) << x << " " << y;
  EXPECT_EQ(at(filled, {0.9, 2, 0}), 0);
  box.scene = with(box.scene, {"source.mesh_emit_from=surface", "source.thickness=0.1"});
  const SourceCoverage coated = box.coverage();
  for (const double y : {1.15, 2.05, 2.85}) EXPECT_GT(at(coated, {0.5, y, 0.05}), 0.4F) << y;
  EXPECT_EQ(at(coated, {0.05, 2.05, 0.05}), 0) << "hollow";
}

TEST(GasSource, LeavesNoGapsOnItsWay) {
  const Box fast(
      {"source.shape=sphere", "source.radius=0.3",
       R"(source.position={"keys":[{"frame":1,"value":[-1.5,2,0]},{"frame":2,"value":[1.5,2,0]}]})"});
  // Over the frame it gives as much as if it rested.
  EXPECT_NEAR(fast.volume(2), 4 * kPi / 3 * 0.027, 0.01);
  EXPECT_GE(fast.coverage({}, 2).layout().counts[0], 20U);
}

TEST(GasSource, SitsOnParticles) {
  Box box({"source.emits_by=particles", "source.particles_of=emitter", "source.particle_radius=0.5",
           "source.sets_velocity=set", "source.velocity=0,0,0"});
  EXPECT_TRUE(box.coverage().isEmpty()) << "no particles, no gas";
  ParticleState particles;
  particles.groups.push_back({box.scene.findByName("emitter")->id, {}, ParticleStore(2)});
  ParticleStore& store = particles.groups.back().particles;
  store.resize(2);
  for (std::size_t i = 0; i < 2; ++i) {
    store.field(ParticleStore::PositionX)[i] = i == 0 ? -1.0F : 1.0F;
    store.field(ParticleStore::PositionY)[i] = 2.0F;
    store.field(ParticleStore::PositionZ)[i] = 0.0F;
    store.field(ParticleStore::VelocityX)[i] = i == 0 ? 3.0F : -5.0F;
    store.field(ParticleStore::VelocityY)[i] = store.field(ParticleStore::VelocityZ)[i] = 0;
  }
  const SourceCoverage covered = box.coverage(particles);
  const double volume =
      std::accumulate(covered.amount.begin(), covered.amount.end(), 0.0) * std::pow(box.grid.voxel, 3);
  EXPECT_NEAR(volume, 2 * 4 * kPi / 3 * 0.125, 0.03);
  // Each voxel moves as the particle that it belongs to.
  const GridLayout layout = covered.layout();
  for (std::size_t x = 0; x < layout.counts[0]; ++x) {
    const std::size_t i = layout.index(x, layout.counts[1] / 2, layout.counts[2] / 2);
    if (covered.amount[i] <= 0) continue;
    EXPECT_FLOAT_EQ(covered.velocity[i].x, x < layout.counts[0] / 2 ? 3.0F : -5.0F);
  }
}

TEST(GasSource, PuffsFollowTheSizeAndTheLifeOfTheirParticles) {
  Box box({"source.emits_by=particles", "source.particles_of=emitter", "source.particle_radius_by=size",
           "source.particle_radius_of_size=200", "emitter.size=0.6"});
  ParticleState particles;
  particles.groups.push_back({box.scene.findByName("emitter")->id, {}, ParticleStore(1)});
  ParticleStore& store = particles.groups.back().particles;
  store.resize(1);
  store.field(ParticleStore::PositionX)[0] = store.field(ParticleStore::PositionZ)[0] = 0;
  store.field(ParticleStore::PositionY)[0] = 2;
  store.field(ParticleStore::Lifetime)[0] = 2;
  const auto volumeAt = [&](float age) {
    store.field(ParticleStore::Age)[0] = age;
    const SourceCoverage covered = box.coverage(particles);
    return std::accumulate(covered.amount.begin(), covered.amount.end(), 0.0) * std::pow(box.grid.voxel, 3);
  };
  const double ball = 4 * kPi / 3 * 0.216;  // of twice half its size
  EXPECT_NEAR(volumeAt(0), ball, 0.02);
  EXPECT_NEAR(volumeAt(2), ball, 0.02) << "as much all its life long unless asked otherwise";
  ParamValue amount = box.scene.findByName("source")->value("amount_over_life");
  amount.base = Curve({{0, 1}, {0.5, 0}});
  box.scene = box.scene.withParam(box.scene.findByName("source")->id, "amount_over_life", amount);
  EXPECT_NEAR(volumeAt(0.5F), 0.5 * ball, 0.01) << "a quarter of its life is halfway down";
  EXPECT_EQ(volumeAt(1.2F), 0);
}

TEST(GasSource, ASequenceDrivesGasFrameByFrame) {
  // White in one quarter, another one in each picture.
  const auto picture = [](int quarter) {
    Picture made(32, 32);
    for (int y = 0; y < 16; ++y)
      for (int x = 0; x < 16; ++x) made.at(x + 16 * (quarter % 2), y + 16 * (quarter / 2)) = Vec4(1);
    return made;
  };
  const auto sequence = std::make_shared<const PictureContent>(
      picture(0), std::vector<std::filesystem::path>{"0", "1", "2", "3"},
      [&](const std::filesystem::path& path, StoredAlpha) { return picture(std::stoi(path.string())); });
  Box box({"source.shape=picture", "source.picture_width=2", "source.thickness=0.2", "source.density=1"});
  ParamValue file = box.scene.findByName("source")->value("birth_picture");
  file.base = FileRef{"#.png", sequence, {}};
  box.scene = box.scene.withParam(box.scene.findByName("source")->id, "birth_picture", file);
  for (int frame = 1; frame <= 5; ++frame) {
    const SourceCoverage covered = box.coverage({}, frame);
    const GridLayout layout = covered.layout();
    Vec3d middle(0.0);
    double sum = 0;
    for (std::size_t i = 0; i < layout.size(); ++i) {
      middle += static_cast<double>(covered.amount[i]) *
                box.grid.middleOf(covered.begin[0] + i % layout.row(),
                                  covered.begin[1] + i % layout.plane() / layout.row(),
                                  covered.begin[2] + i / layout.plane());
      sum += covered.amount[i];
    }
    middle /= sum;
    const int quarter = (frame - 1) % 4;
    EXPECT_NEAR(middle.x, quarter % 2 == 0 ? -0.5 : 0.5, 0.05) << "frame " << frame;
    EXPECT_NEAR(middle.y, quarter / 2 == 0 ? 2.5 : 1.5, 0.05) << "frame " << frame;
  }
}

TEST(GasSource, CoatsStrokes) {
  Box box({"source.emits_by=strokes", "source.thickness=0.3"});
  EXPECT_TRUE(box.coverage().isEmpty()) << "no strokes, no gas";
  const ItemId source = box.scene.findByName("source")->id;
  ParamValue strokes = box.scene.find(source)->value("strokes");
  strokes.base = StrokeList{{Vec3d(-1, 0, 0), Vec3d(0, 0, 0), Vec3d(1, 0, 0)}};
  box.scene = box.scene.withParam(source, "strokes", strokes);
  EXPECT_NEAR(box.volume(), kPi * 0.09 * 2 + 4 * kPi / 3 * 0.027, 0.03);
  // Two strokes along each other are no more than one.
  strokes.base = StrokeList{{Vec3d(-1, 0, 0), Vec3d(1, 0, 0)}, {Vec3d(-1, 0, 0), Vec3d(1, 0, 0)}};
  const double once = box.volume();
  box.scene = box.scene.withParam(source, "strokes", strokes);
  EXPECT_NEAR(box.volume(), once, 0.02 * once);
}

TEST(GasSource, PicturesAreAsDenseAsTheyAreBrightAndGiveTheirColors) {
  // The left half is red and half as bright as the white right one, the lower half is black.
  Picture picture(64, 64);
  for (int y = 0; y < 32; ++y)
    for (int x = 0; x < 64; ++x) picture.at(x, y) = x < 32 ? Vec4(1, 0, 0, 1) : Vec4(1, 1, 1, 1);
  Box box({"source.shape=picture", "source.picture_width=2", "source.thickness=0.2",
           "source.gives_color=picture", "source.density=1"});
  const ItemId source = box.scene.findByName("source")->id;
  ParamValue file = box.scene.find(source)->value("birth_picture");
  file.base = FileRef{"picture.png", std::make_shared<const PictureContent>(std::move(picture)), {}};
  box.scene = box.scene.withParam(source, "birth_picture", file);
  const double red = luminance(Vec3d(1, 0, 0));
  EXPECT_NEAR(box.volume(), 0.4 * (1 + red), 0.02);
  GasState state = emptyGas(box.grid, {.color = true});
  GasChannel expansion(box.grid.cells().size());
  giveGas(box.plan(), box.coverage(), box.grid, 1, 1, state, expansion);
  const auto at = [&](double x, double y) {
    const Vec3d voxel = (Vec3d(x, y, 0.01) - box.grid.corner) / box.grid.voxel;
    return box.grid.cells().index(static_cast<std::size_t>(voxel.x), static_cast<std::size_t>(voxel.y),
                                  static_cast<std::size_t>(voxel.z));
  };
  EXPECT_NEAR(state.density[at(-0.5, 2.5)], red, 0.01);
  EXPECT_NEAR(state.color[0][at(-0.5, 2.5)], red, 0.01) << "density times colour";
  EXPECT_NEAR(state.color[1][at(-0.5, 2.5)], 0, 0.01);
  EXPECT_NEAR(state.color[1][at(0.5, 2.5)], 1, 0.01);
  EXPECT_EQ(state.density[at(0.5, 1.5)], 0) << "where it is black";
}

TEST(GasSource, HeldGasTakesOnTheColorOfItsSource) {
  const Box box({"source.shape=box", "source.amount=held", "source.density=2", "source.gives_color=color",
                 "source.source_color=0.2,0.6,1"});
  GasState state = emptyGas(box.grid, {.color = true});
  GasChannel expansion(box.grid.cells().size());
  const std::size_t middle = box.grid.cells().index(20, 20, 20);
  state.density[middle] = 3;
  state.color[0][middle] = 3;
  giveGas(box.plan(), box.coverage(), box.grid, 0.1, 1, state, expansion);
  EXPECT_EQ(state.density[middle], 3) << "no less than there was";
  EXPECT_NEAR(state.color[2][middle], 3, 1e-5);
  EXPECT_NEAR(state.color[0][middle], 3 * box.plan().color.x, 1e-5);
}

TEST(GasSource, GivesInBursts) {
  const Box box({"source.emits=bursts", "source.first_burst=5", "source.burst_length=2.5",
                 "source.burst_interval=10", "source.burst_count=2"});
  // The step to a frame begins at the one before.
  const std::map<int, double> expected{{5, 0},  {6, 1},  {7, 1},    {8, 0.5}, {9, 0},  {15, 0},
                                       {16, 1}, {17, 1}, {18, 0.5}, {19, 0},  {26, 0}, {1000, 0}};
  for (const auto& [frame, activity] : expected)
    EXPECT_NEAR(box.plan(frame).activity, activity, 1e-9) << frame;
  EXPECT_EQ(
      Box({"source.emits=bursts", "source.first_burst=5", "source.burst_interval=10"}).plan(1006).activity, 1)
      << "without end";
}

TEST(GasSource, EachBurstDrawsItsVariationsOnce) {
  const Box box({"source.emits=bursts", "source.burst_length=6±2", "source.burst_interval=10±1.5",
                 "source.density=8±4", "source.temperature=100±50"});
  std::set<double> densities;
  std::vector<double> starts;
  double before = 0, lasting = 0;
  for (int frame = 2; frame <= 402; ++frame) {
    const SourcePlan plan = box.plan(frame);
    if (plan.activity > 0) {
      densities.insert(plan.density);
      EXPECT_GE(plan.density, 4);
      EXPECT_LE(plan.density, 12);
      if (before == 0) starts.push_back(frame - plan.activity);
    }
    before = plan.activity;
    lasting += plan.activity;
  }
  EXPECT_NEAR(densities.size(), 40, 1);
  ASSERT_NEAR(starts.size(), 40, 1);
  EXPECT_NEAR(lasting / 40, 6, 0.7);
  std::set<int> apart;
  for (std::size_t i = 1; i < starts.size(); ++i) {
    EXPECT_NEAR(starts[i] - starts[i - 1], 10, 3.01);
    apart.insert(static_cast<int>(std::floor(4 * (starts[i] - starts[i - 1]))));
  }
  EXPECT_GT(apart.size(), 5U) << "they come at uneven times";
}

TEST(GasSource, GivesSoMuchASecond) {
  const Box box({"source.shape=box", "source.extent=1,1,1", "source.density=3", "source.temperature=-50",
                 "source.expansion=7"});
  GasState state = emptyGas(box.grid);
  GasChannel expansion(box.grid.cells().size());
  giveGas(box.plan(), box.coverage(), box.grid, 0.5, 1, state, expansion);
  const double voxel = std::pow(box.grid.voxel, 3);
  const auto sum = [voxel](const GasChannel& channel) {
    return std::accumulate(channel.begin(), channel.end(), 0.0) * voxel;
  };
  EXPECT_NEAR(sum(state.density), 1.5, 0.05);
  EXPECT_NEAR(sum(state.temperature), -25, 1);
  EXPECT_NEAR(sum(expansion), 7, 0.3) << "a rate, whatever the step's length";
}

TEST(GasSource, HoldsWhatIsBelow) {
  const Box box({"source.shape=box", "source.extent=1,1,1", "source.amount=held", "source.density=2",
                 "source.temperature=100"});
  GasState state = emptyGas(box.grid);
  GasChannel expansion(box.grid.cells().size());
  const std::size_t middle = box.grid.cells().index(20, 20, 20), other = box.grid.cells().index(20, 20, 21);
  state.density[other] = 5;
  for (int i = 0; i < 3; ++i) giveGas(box.plan(), box.coverage(), box.grid, 0.1, 1, state, expansion);
  EXPECT_EQ(state.density[middle], 2);
  EXPECT_EQ(state.density[other], 5) << "what is denser stays";
  EXPECT_EQ(state.temperature[middle], 100);
}

TEST(GasSource, SetsTheVelocityOfItsGas) {
  const Box box({"source.shape=sphere", "source.radius=1", "source.sets_velocity=set",
                 "source.velocity=1,0,0", "source.rotation=0,0,90", "source.normal_speed=2"});
  GasState state = emptyGas(box.grid);
  GasChannel expansion(box.grid.cells().size());
  giveGas(box.plan(), box.coverage(), box.grid, 0.1, 1, state, expansion);
  // Turned with the shape, and outwards besides.
  const GridLayout faces = box.grid.faces(1);
  EXPECT_NEAR(state.velocity[1][faces.index(20, 26, 20)], 1 + 2, 0.02);
  EXPECT_NEAR(state.velocity[1][faces.index(20, 14, 20)], 1 - 2, 0.02);
  EXPECT_EQ(state.velocity[1][faces.index(20, 34, 20)], 0) << "outside nothing is set";
}

TEST(GasSource, GivesOnlyInItsFrameRange) {
  const Box box({"source.emits=frame_range", "source.emits_from=3", "source.emits_until=5.5"});
  EXPECT_EQ(box.plan(3).activity, 0);
  EXPECT_EQ(box.plan(4).activity, 1);
  EXPECT_EQ(box.plan(6).activity, 0.5);
  EXPECT_EQ(box.plan(7).activity, 0);
}

TEST(GasSource, NoiseTakesAwayPart) {
  const Box plain({"source.shape=box", "source.extent=2,2,2"});
  const Box noisy({"source.shape=box", "source.extent=2,2,2", "source.noise=80"});
  EXPECT_LT(noisy.volume(), 0.8 * plain.volume());
  EXPECT_GT(noisy.volume(), 0.3 * plain.volume());
  EXPECT_NE(noisy.coverage({}, 2).amount, noisy.coverage({}, 12).amount) << "it drifts";
}

TEST(GasSource, SaysWhyItGivesNothing) {
  const auto problem = [](std::initializer_list<std::string> assignments) {
    const Scene scene = with(gasScene(), assignments);
    return problemWithSource(scene, *scene.findByName("source"), 1);
  };
  EXPECT_EQ(problem({}), "");
  EXPECT_NE(problem({"source.gas="}), "");
  EXPECT_NE(problem({"source.density=0", "source.temperature=0"}), "");
  EXPECT_EQ(problem({R"(source.density={"keys":[{"frame":1,"value":0},{"frame":9,"value":2}]})",
                     "source.temperature=0"}),
            "");
  EXPECT_NE(problem({"source.position=0,40,0"}), "");
  EXPECT_NE(problem({"source.emits_by=particles"}), "");
  EXPECT_NE(problem({"source.shape=mesh"}), "");
}

}  // namespace
}  // namespace comet
