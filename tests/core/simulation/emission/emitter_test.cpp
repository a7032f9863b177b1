// Shapes, paths, launches, lives and bounds of emitters, by what they do to particles.
#include "base/error.h"
#include "scene_files.h"
#include "simulation/emission/emission.h"
#include "simulation/emission/rearrange.h"
#include "simulation/gas/gas_edits.h"
#include "simulation/plan.h"
#include "support/meshes.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::oneBurst;
using test::positionOf;
using test::simulate;
using test::starting;
using test::velocityOf;
using test::with;

Scene withFile(const Scene& scene, const char* param, std::shared_ptr<const FileContent> content) {
  ParamValue value;
  value.base = FileRef{"made by the test", std::move(content), {}};
  return scene.withParam(scene.findByName("emitter")->id, param, value);
}

const ParticleStore& particlesOf(const SceneFramePtr& frame) {
  return frame->particles->groups.front().particles;
}

TEST(Window, EmitsOnlyBetweenItsFrames) {
  // From the middle of frame 3 to frame 7: 3.5 frames of 24 a second at 240 a second.
  const Scene scene =
      with(starting(), {"emitter.rate=240", "emitter.lifetime=100", "emitter.emits=frame_range",
                        "emitter.emits_from=3.5", "emitter.emits_until=7"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 24));
  EXPECT_EQ(run.frame(3)->report->stats.living, 0U);
  EXPECT_EQ(run.frame(4)->report->stats.living, 5U);
  EXPECT_EQ(run.frame(7)->report->stats.living, 35U);
  EXPECT_EQ(run.frame(20)->report->stats.living, 35U);
  // Those of the first, half step are born in its second half: half a frame old at most.
  const SceneFramePtr fourth = run.frame(4);
  for (std::size_t i = 0; i < 5; ++i)
    EXPECT_LE(particlesOf(fourth).field(ParticleStore::Age)[i], 0.5 / 24 + 1e-6);
}

TEST(Window, HoldsForBurstsToo) {
  const Scene scene =
      with(oneBurst(10), {R"(emitter.bursts=[{"frame":2,"count":10},{"frame":5,"count":7}])",
                          "emitter.emits=frame_range", "emitter.emits_from=4", "emitter.emits_until=9"});
  EXPECT_EQ(simulate(scene, 8)->report->stats.living, 7U);
}

TEST(Births, WaitWhileAsManyOfTheEmitterAreAlive) {
  const Scene scene =
      with(starting(), {"emitter.rate=2400", "emitter.lifetime=0.5", "emitter.max_particles=150"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 24));
  EXPECT_EQ(run.frame(2)->report->stats.living, 100U);
  for (int frame = 3; frame < 40; ++frame) EXPECT_LE(run.frame(frame)->report->stats.living, 150U);
  EXPECT_GT(run.frame(39)->report->stats.births, 0U);
}

TEST(Expected, LivingMatchesTheRun) {
  const Scene scene = with(starting(), {"emitter.rate=600", "emitter.lifetime=1±0.5",
                                        R"(emitter.bursts=[{"frame":20,"count":500}])"});
  const auto expected = expectedLiving(*scene.findByName("emitter"), frameRange(scene), 24);
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 26));
  for (const int frame : {5, 19, 20, 30, 50, 90}) {
    const auto living = static_cast<double>(run.frame(frame)->report->stats.living);
    EXPECT_NEAR(expected[static_cast<std::size_t>(frame - 1)], living, 0.05 * living + 20) << frame;
  }
}

TEST(Expected, LivingOfALoopIsThereFromTheFirstFrame) {
  const Scene scene =
      with(starting(), {"emitter.rate=600", "emitter.lifetime=1.5±0.3", "scene.exact_loop=true",
                        "scene.last_frame=24", R"(emitter.bursts=[{"frame":20,"count":500}])"});
  const auto expected = expectedLiving(*scene.findByName("emitter"), frameRange(scene), 24, true);
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 26));
  for (const int frame : {1, 5, 19, 20, 24}) {
    const auto living = static_cast<double>(run.frame(frame)->report->stats.living);
    EXPECT_NEAR(expected[static_cast<std::size_t>(frame - 1)], living, 0.05 * living + 20) << frame;
  }
}

TEST(Path, BirthsFollowAKeyedShapeAndTakeItsVelocityOver) {
  const Scene scene = with(
      starting(),
      {"emitter.rate=2400", "emitter.speed=0", "emitter.inherit_emitter_velocity=50", "emitter.lifetime=100",
       R"(emitter.position={"value":[0,0,0],"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":25,"value":[12,0,0]}]})"});
  // 12 units in a second; half of that is handed over.
  const SceneFramePtr frame = simulate(scene, 13);
  ASSERT_EQ(frame->report->stats.living, 1200U);
  for (std::size_t i = 0; i < 1200; ++i) {
    EXPECT_NEAR(velocityOf(particlesOf(frame), i).x, 6, 1e-3);
    // Born where the shape was, and gone on from there at half its speed.
    const double age = particlesOf(frame).field(ParticleStore::Age)[i];
    EXPECT_NEAR(positionOf(particlesOf(frame), i).x, 12 * (0.5 - age) + 6 * age, 2e-3);
  }
}

TEST(Path, WanderingIsSmoothAndStaysNear) {
  const Scene scene = with(starting(), {"emitter.wander=2", "emitter.wander_rate=1"});
  const Item& emitter = *scene.findByName("emitter");
  double farthest = 0;
  for (int i = 0; i < 480; ++i) {
    const Vec3d here = poseAt(emitter, i / 4.0, 24, 5, 0).position,
                next = poseAt(emitter, (i + 1) / 4.0, 24, 5, 0).position;
    farthest = std::max(farthest, glm::length(here));
    EXPECT_LT(glm::length(next - here), 0.2);
  }
  EXPECT_GT(farthest, 0.5);
  EXPECT_LT(farthest, 2 * std::sqrt(3.0));
}

TEST(Path, ScaledNormalsStandOnTheScaledSurface) {
  // A sphere squeezed to an ellipsoid: the normal is the gradient of its equation.
  const Scene scene =
      with(starting(), {"emitter.shape=sphere", "emitter.emit_from=surface", "emitter.radius=1",
                        "emitter.scale=3,1,0.5", "emitter.launch=normal", "emitter.cone=0"});
  const SceneFramePtr frame =
      simulate(with(scene, {"emitter.rate=0", R"(emitter.bursts=[{"frame":1,"count":200}])"}), 1);
  for (std::size_t i = 0; i < 200; ++i) {
    const Vec3d p = positionOf(particlesOf(frame), i);
    const Vec3d gradient = glm::normalize(Vec3d(p.x / 9, p.y, p.z / 0.25));
    EXPECT_GT(glm::dot(glm::normalize(velocityOf(particlesOf(frame), i)), gradient), 1 - 1e-4);
  }
}

TEST(Launch, OutwardAroundAndAny) {
  const Scene ring =
      with(oneBurst(300), {"emitter.shape=ring", "emitter.radius=2", "emitter.rotation=0,0,0"});
  const auto velocities = [](const Scene& scene, const auto& check) {
    const SceneFramePtr frame = simulate(scene, 1);
    for (std::size_t i = 0; i < 300; ++i)
      check(positionOf(particlesOf(frame), i), velocityOf(particlesOf(frame), i) / 3.0);
  };
  velocities(with(ring, {"emitter.launch=outward"}),
             [](const Vec3d& p, const Vec3d& v) { EXPECT_NEAR(glm::dot(v, p / 2.0), 1, 1e-5); });
  velocities(with(ring, {"emitter.launch=tangential", "emitter.direction=0,1,0"}),
             [](const Vec3d& p, const Vec3d& v) {
               EXPECT_NEAR(glm::length(v - glm::cross(Vec3d(0, 1, 0), p / 2.0)), 0, 1e-5);
             });
  Vec3d sum(0.0);
  velocities(with(ring, {"emitter.launch=random"}), [&sum](const Vec3d&, const Vec3d& v) {
    EXPECT_NEAR(glm::length(v), 1, 1e-5);
    sum += v;
  });
  EXPECT_LT(glm::length(sum) / 300, 0.2);
}

TEST(Launch, InTwoDimensionsStaysInThePlaneAndItsFan) {
  const SceneFramePtr frame = simulate(
      with(oneBurst(500), {"emitter.launch_space=2d", "emitter.cone=30", "emitter.direction=1,1,5"}), 1);
  double widest = 0;
  for (std::size_t i = 0; i < 500; ++i) {
    const Vec3d v = velocityOf(particlesOf(frame), i) / 3.0;
    EXPECT_EQ(v.z, 0);
    widest = std::max(widest, std::acos(glm::dot(v, glm::normalize(Vec3d(1, 1, 0)))));
  }
  EXPECT_LE(widest, radians(30) + 1e-5);
  EXPECT_GT(widest, radians(28));
}

// Whatever acts along z, in whatever way.
TEST(Launch, InTwoDimensionsNothingLeavesItsPlane) {
  Scene scene = with(starting(), {"emitter.launch_space=2d", "emitter.rate=300", "emitter.wander=3",
                                  "emitter.inherit_emitter_velocity=100", "emitter.position=0,2,0.5",
                                  "emitter.cone=60", "emitter.lifetime=2"});
  scene = test::withInfluence(scene, "wind", {"wind.direction=0.3,0,1", "wind.speed=6"});
  scene = test::withInfluence(scene, "turbulence", {"turbulence.strength=9"});
  scene = test::withInfluence(scene, "vortex", {"vortex.axis=1,0.4,0", "vortex.position=0,2,-1"});
  scene = test::withInfluence(scene, "kicks", {"kicks.rate=10"});
  scene = test::withInfluence(scene, "deflector", {"deflector.shape=sphere", "deflector.position=0,3,0.9"});
  const SceneFramePtr frame = simulate(scene, 40);
  const ParticleStore& particles = frame->particles->groups.front().particles;
  ASSERT_GT(particles.size(), 200U);
  Vec3d min(1e9), max(-1e9);
  for (std::size_t i = 0; i < particles.size(); ++i) {
    EXPECT_EQ(positionOf(particles, i).z, 0.5);
    EXPECT_EQ(velocityOf(particles, i).z, 0);
    min = glm::min(min, positionOf(particles, i));
    max = glm::max(max, positionOf(particles, i));
  }
  EXPECT_GT(max.x - min.x, 1) << "within the plane it is pushed about";
}

TEST(Emitter, WandersAsFarAsItIsToldAndNoFarther) {
  const Scene scene =
      with(starting(), {"emitter.wander=5", "emitter.wander_rate=2", "emitter.position=1,2,3"});
  const Item& emitter = *scene.findByName("emitter");
  double farthest = 0, step = 0;
  Vec3d before(1, 2, 3);
  for (int frame = 0; frame < 4000; ++frame) {
    const Vec3d place =
        poseAt(emitter, frame, 24, wanderKey(emissionKey(emitter, sceneSeed(scene), 1)), 0).position;
    farthest = std::max(farthest, glm::length(place - Vec3d(1, 2, 3)));
    if (frame > 0) step = std::max(step, glm::length(place - before));
    before = place;
  }
  EXPECT_LE(farthest, 5);
  EXPECT_GT(farthest, 4.8);
  EXPECT_LT(step, 3) << "smoothly: two points a second that lie up to 10 units apart";
}

TEST(Emitter, WanderingRepeatsWithALoop) {
  const Scene scene = with(starting(), {"emitter.wander=5", "emitter.wander_rate=1.3"});
  const Item& emitter = *scene.findByName("emitter");
  const auto placeAt = [&](double frame) { return poseAt(emitter, frame, 24, 77, 4).position; };
  for (double frame = 0; frame < 96; frame += 7.5)
    EXPECT_LT(glm::length(placeAt(frame) - placeAt(frame + 96)), 1e-9) << frame;
  EXPECT_GT(glm::length(placeAt(5) - placeAt(40)), 0.1);
}

TEST(Launch, SpeedsFollowTheirSpread) {
  const SceneFramePtr frame = simulate(
      with(oneBurst(20000),
           {"emitter.speed=5±3",
            R"(emitter.speed_distribution=[{"at":0,"value":1,"to_next":"linear"},{"at":1,"value":0}])"}),
      1);
  // Density falling to zero from 2 to 8: the mean lies a third of the way.
  double sum = 0;
  for (std::size_t i = 0; i < 20000; ++i) sum += glm::length(velocityOf(particlesOf(frame), i));
  EXPECT_NEAR(sum / 20000, 4, 5 * std::sqrt(2.0 / 20000));
}

TEST(Launch, NoiseTurnsNeighboursTogether) {
  const SceneFramePtr frame =
      simulate(with(oneBurst(2000),
                    {"emitter.shape=line", "emitter.extent=40,1,1", "emitter.launch_noise_direction=60",
                     "emitter.launch_noise_scale=5", "emitter.launch_noise_speed=50"}),
               1);
  std::map<double, Vec3d> byPlace;
  for (std::size_t i = 0; i < 2000; ++i)
    byPlace[positionOf(particlesOf(frame), i).x] = velocityOf(particlesOf(frame), i);
  double turned = 0;
  for (auto a = byPlace.begin(), b = std::next(a); b != byPlace.end(); ++a, ++b) {
    turned = std::max(turned, std::acos(std::min(1.0, glm::normalize(b->second).y)));
    if (b->first - a->first < 0.1) {
      EXPECT_LT(glm::length(a->second - b->second), 0.4);
    }
  }
  EXPECT_GT(turned, radians(15));
  EXPECT_LE(turned, radians(60) + 1e-6);
}

TEST(Life, EndlessAndUntilAFrame) {
  const Scene scene = with(starting(), {"emitter.rate=240", "emitter.lifetime=0.1"});
  EXPECT_EQ(simulate(with(scene, {"emitter.lifetime_mode=endless"}), 90)->report->stats.living, 890U);
  const Scene until = with(scene, {"emitter.lifetime_mode=frame", "emitter.lifetime_until=30"});
  EXPECT_EQ(simulate(until, 29)->report->stats.living, 280U);
  EXPECT_EQ(simulate(until, 31)->report->stats.living, 0U);
}

TEST(Life, EndsAtEachKindOfBounds) {
  const Scene scene = with(oneBurst(4000), {"emitter.launch=random", "emitter.speed=3±2"});
  const auto positions = [](const Scene& bounded) {
    SceneRun run(bounded, std::make_shared<FrameCache>(1 << 26));
    std::vector<Vec3d> living;
    std::uint64_t deaths = 0;
    for (int f = 1; f <= 25; ++f) deaths += run.frame(f)->report->stats.deaths;
    const SceneFramePtr frame = run.frame(25);
    EXPECT_EQ(frame->report->stats.living + deaths, 4000U);
    for (std::size_t i = 0; i < particlesOf(frame).size(); ++i)
      living.push_back(positionOf(particlesOf(frame), i));
    return living;
  };
  // After a second speeds of 1 to 5 lie as far out: those beyond 2 units are gone, three quarters.
  const auto near = positions(with(scene, {"emitter.bounds=distance", "emitter.bounds_radius=2"}));
  EXPECT_NEAR(static_cast<double>(near.size()), 1000, 140);
  for (const Vec3d& p : near) EXPECT_LE(glm::length(p), 2 + 1e-5);
  for (const Vec3d& p : positions(with(scene, {"emitter.bounds=box", "emitter.bounds_extent=2,4,6"}))) {
    EXPECT_LE(std::abs(p.x), 1 + 1e-5);
    EXPECT_LE(std::abs(p.z), 3 + 1e-5);
  }
  const Scene meshBound = withFile(with(scene, {"emitter.bounds=mesh"}), "bounds_mesh",
                                   std::make_shared<const MeshContent>(test::boxMesh({2, 4, 6})));
  const auto inMesh = positions(meshBound);
  EXPECT_EQ(inMesh.size(),
            positions(with(scene, {"emitter.bounds=box", "emitter.bounds_extent=2,4,6"})).size());
  // Inside-out: born outside a sphere they end where they enter it.
  const Scene inGas = withNewGas(scene);
  for (const Vec3d& p :
       positions(with(inGas, {"emitter.bounds=gas", "emitter.bounds_gas=gas", "gas.position=0,0,0",
                              "gas.size=2,4,6", "gas.dimensions=2d", "gas.resolution=8"})))
    EXPECT_TRUE(glm::all(glm::lessThanEqual(glm::abs(p), Vec3d(1, 2, 3) + 1e-5)));
  EXPECT_EQ(positions(with(inGas, {"emitter.bounds=gas", "emitter.bounds_gas=gas", "gas.position=0,0,0",
                                   "gas.size=2,4,6", "gas.resolution=8"}))
                .size(),
            positions(with(scene, {"emitter.bounds=box", "emitter.bounds_extent=2,4,6"})).size());
  EXPECT_EQ(positions(with(inGas, {"emitter.bounds=gas", "gas.resolution=8"})).size(),
            positions(scene).size())
      << "without a gas nothing ends";
  const auto outside = positions(with(scene, {"emitter.bounds=sphere", "emitter.bounds_side=inside",
                                              "emitter.bounds_position=3,0,0", "emitter.bounds_radius=2"}));
  EXPECT_LT(outside.size(), 4000U);
  for (const Vec3d& p : outside) EXPECT_GT(glm::length(p - Vec3d(3, 0, 0)), 2);
}

TEST(Mass, DividesForcesAndLeavesGravity) {
  const Scene wind = test::withInfluence(oneBurst(1), "wind", {"wind.speed=10", "wind.air_drag=2"});
  const Scene gravity = test::withInfluence(oneBurst(1), "gravity");
  const auto velocity = [](const Scene& scene) { return velocityOf(particlesOf(simulate(scene, 25)), 0); };
  // Towards a wind w at airDrag k over a mass m: w (1 - exp(-k t / m)) after a second.
  for (const double mass : {0.5, 1.0, 4.0})
    EXPECT_NEAR(velocity(with(wind, {"emitter.mass=" + std::to_string(mass)})).x,
                10 * (1 - std::exp(-2 / mass)), 1e-3);
  EXPECT_NEAR(velocity(with(gravity, {"emitter.mass=7"})).y, velocity(gravity).y, 1e-5);
}

double massOf(const MassRule& rule, ParticleId id) {
  return rule.of(id, [] { return ParticleMoment(); });
}

TEST(Mass, ByAFormulaIsThatOfEachParticleAsItIs) {
  // Drag at rate k / m on a mass that grows with the age as 1 + t: the speed falls as 1 / (1 + t)^k.
  const Scene scene = with(test::withInfluence(oneBurst(1), "drag", {"drag.rate=2"}),
                           {R"(emitter.mass={"value":1,"formula":"1 + age"})", "scene.frame_rate=240"});
  EXPECT_NEAR(velocityOf(particlesOf(simulate(scene, 241)), 0).y, 3 / std::pow(2.0, 2), 0.01);
  // Another for each birth.
  const Scene each = with(test::withInfluence(oneBurst(5), "drag", {"drag.rate=2"}),
                          {R"(emitter.mass={"value":1,"formula":"1 + id"})"});
  for (std::size_t i = 0; i < 5; ++i)
    EXPECT_NEAR(velocityOf(particlesOf(simulate(each, 25)), i).y,
                3 * std::exp(-2 / (1 + static_cast<double>(i))), 1e-4);
}

TEST(Mass, VariesAndFollowsSize) {
  const Scene scene = with(starting(), {"emitter.mass=2±1", "emitter.size=1±0.5"});
  const MassRule varied(*scene.findByName("emitter"), 1);
  double min = 9, max = 0;
  for (ParticleId id = 0; id < 2000; ++id) {
    min = std::min(min, massOf(varied, id));
    max = std::max(max, massOf(varied, id));
  }
  EXPECT_NEAR(min, 1, 0.01);
  EXPECT_NEAR(max, 3, 0.01);
  const Scene sized = with(scene, {"emitter.mass=2", "emitter.mass_from_size=100"});
  const MassRule bySize(*sized.findByName("emitter"), 1);
  const BirthSize size(*sized.findByName("emitter"), 1);
  for (ParticleId id = 0; id < 100; ++id) EXPECT_NEAR(massOf(bySize, id), 2 * size.diameter(id), 1e-9);
}

TEST(MeshShape, GivesBirthsOnItsSurfaceWithItsNormals) {
  const Scene scene = withFile(with(oneBurst(500), {"emitter.shape=mesh", "emitter.launch=normal",
                                                    "emitter.position=5,0,0", "emitter.scale=2,1,1"}),
                               "mesh", std::make_shared<const MeshContent>(test::boxMesh(Vec3d(2.0))));
  const SceneFramePtr frame = simulate(scene, 1);
  ASSERT_EQ(frame->report->stats.living, 500U);
  for (std::size_t i = 0; i < 500; ++i) {
    const Vec3d p = (positionOf(particlesOf(frame), i) - Vec3d(5, 0, 0)) / Vec3d(2, 1, 1);
    EXPECT_NEAR(std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)}), 1, 1e-5);
    EXPECT_NEAR(glm::dot(velocityOf(particlesOf(frame), i) / 3.0, p), 1, 1e-4);
  }
}

TEST(MeshShape, WithoutAMeshNothingIsBornAndTheReasonIsSaid) {
  const Scene scene = with(starting(), {"emitter.shape=mesh", "emitter.lifetime=9"});
  EXPECT_EQ(simulate(scene, 20)->report->stats.living, 0U);
  EXPECT_NE(problemWithShape(*scene.findByName("emitter"), 1), "");
  const Scene whole = withFile(scene, "mesh", std::make_shared<const MeshContent>(test::boxMesh(Vec3d(1.0))));
  EXPECT_EQ(problemWithShape(*whole.findByName("emitter"), 1), "");
  EXPECT_NE(problemWithShape(*with(whole, {"emitter.mesh_part=sail"}).findByName("emitter"), 1), "");
}

// Left half black, right half white with a quarter opacity at the top.
std::shared_ptr<const PictureContent> halves() {
  Picture picture(8, 4);
  for (int y = 0; y < 4; ++y)
    for (int x = 0; x < 8; ++x) {
      const float alpha = y < 2 ? 0.25F : 1.0F;
      picture.at(x, y) = x < 4 ? Vec4(0, 0, 0, 1) : Vec4(alpha, alpha, alpha, alpha);
    }
  return std::make_shared<const PictureContent>(std::move(picture));
}

TEST(PictureShape, IsBornWhereItIsBrightInProportion) {
  const Scene scene = withFile(with(oneBurst(5000), {"emitter.shape=picture", "emitter.picture_width=8",
                                                     "emitter.picture_threshold=1"}),
                               "birth_picture", halves());
  const SceneFramePtr frame = simulate(scene, 1);
  int upper = 0;
  for (std::size_t i = 0; i < 5000; ++i) {
    const Vec3d p = positionOf(particlesOf(frame), i);
    EXPECT_GE(p.x, 0);
    EXPECT_LE(p.x, 4);
    EXPECT_LE(std::abs(p.y), 2);
    EXPECT_EQ(p.z, 0);
    upper += p.y > 0 ? 1 : 0;
  }
  EXPECT_NEAR(upper / 5000.0, 0.2, 5 * std::sqrt(0.16 / 5000));
  const SceneFramePtr strict = simulate(with(scene, {"emitter.picture_threshold=50"}), 1);
  for (std::size_t i = 0; i < 5000; ++i) EXPECT_LE(positionOf(particlesOf(strict), i).y, 0);
}

TEST(Rearrange, TimeAndSpaceMoveEverythingThatIsPlacedInThem) {
  const Scene scene =
      with(starting(), {R"(emitter.bursts=[{"frame":5,"count":10}])", "emitter.emits=frame_range",
                        "emitter.emits_from=2", "emitter.emits_until=9", "emitter.position=1,2,3",
                        R"(emitter.rate={"value":1,"keys":[{"frame":3,"value":1},{"frame":8,"value":2}]})"});
  const Item moved = shiftedInSpace(shiftedInTime(*scene.findByName("emitter"), 10, {1, 96}), {1, 0, -1});
  EXPECT_EQ(std::get<BurstList>(moved.value("bursts").base)[0].frame, 15);
  EXPECT_EQ(moved.number("emits_from", 0), 12);
  EXPECT_EQ(moved.value("rate").keys[1].frame, 18);
  EXPECT_EQ(moved.vector("position", 1), Vec3d(2, 2, 2));
  // One that always emits begins later.
  const Item later = shiftedInTime(*starting().findByName("emitter"), 10, {1, 96});
  EXPECT_TRUE(later.chooses("emits", "frame_range"));
  EXPECT_EQ(later.number("emits_from", 0), 11);
}

TEST(Rearrange, MeshesAreFittedAndStoodOnTheGround) {
  const Scene scene = withFile(with(starting(), {"emitter.shape=mesh", "emitter.rotation=0,0,90"}), "mesh",
                               std::make_shared<const MeshContent>(test::boxMesh({20, 40, 10})));
  const Item fitted = withMeshFitted(*scene.findByName("emitter"), 4, {1, 2, 3});
  const Vec3d extent = meshExtent(fitted, 1);
  EXPECT_LT(glm::length(extent - Vec3d(4, 2, 1)), 1e-6);
  const Item stood = withMeshOnGround(fitted);
  EXPECT_NEAR(stood.vector("position", 1).y, 1, 1e-6);
}

}  // namespace
}  // namespace comet
