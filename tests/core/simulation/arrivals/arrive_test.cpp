// Particles that arrive at points of their own, against the times, places and motions that are asked for.
#include "simulation/arrivals/arrive.h"

#include "geometry/assignment.h"
#include "io/picture_content.h"
#include "particles/rolling.h"
#include "render/look.h"
#include "simulation/arrivals/arrival_report.h"
#include "simulation/probe.h"
#include "support/meshes.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <gmock/gmock.h>
#include <set>

namespace comet {
namespace {

using test::kFrameRate;
using test::kGravity;
using test::onlyGroup;
using test::secondsAt;
using test::simulate;
using test::with;
using test::withInfluence;
using testing::HasSubstr;
using testing::IsEmpty;

// Particles that are all born at the first frame, around the origin, and arrive on a ring 5 units above in
// one second.
Scene burstToRing(int count, std::initializer_list<std::string> assignments = {}) {
  const Scene burst = with(test::oneBurst(count), {"emitter.shape=box", "emitter.extent=2,2,2"});
  return with(withInfluence(burst, "arrive",
                            {"arrive.shape=ring", "arrive.radius=2", "arrive.position=0,5,0",
                             "arrive.points=" + std::to_string(count), "arrive.travel_time=1"}),
              assignments);
}

std::vector<Vec3d> pointsAt(const Scene& scene, int frame) {
  const FrameTime time{.frame = frame, .start = secondsAt(frame)};
  const ArrivalRules rules(*scene.findByName("arrive"), time, {});
  std::vector<Vec3d> points;
  for (const OpenPoint& point : Arrive::pointsOf(rules, {}, 1)) points.push_back(point.at);
  return points;
}

// How far each particle is from its point at the most, and that no two have the same.
double farthestFromPoint(const Scene& scene, int frame) {
  const SceneFramePtr now = simulate(scene, frame);
  const std::vector<Vec3d> points = pointsAt(scene, frame);
  std::set<std::uint32_t> taken;
  double farthest = 0;
  for (std::size_t i = 0; i < onlyGroup(now).size(); ++i) {
    const Arrival arrival = arrivalOf(onlyGroup(now), i);
    EXPECT_EQ(arrival.stage, ArrivalStage::Led) << i;
    EXPECT_TRUE(taken.insert(arrival.point).second) << "two at point " << arrival.point;
    farthest = std::max(farthest, glm::length(onlyGroup(now).position(i) - points[arrival.point]));
  }
  return farthest;
}

// What one particle does at a frame.
struct One {
  Vec3d at{0.0}, velocity{0.0};
  Arrival arrival{};
};

One oneOf(const Scene& scene, int frame, std::size_t i = 0) {
  const SceneFramePtr now = simulate(scene, frame);
  const ParticleStore& particles = onlyGroup(now);
  return {particles.position(i), particles.velocity(i), arrivalOf(particles, i)};
}

// One particle that rises from the origin by 3 units a second, and one point.
Scene oneToPoint(std::initializer_list<std::string> assignments = {}) {
  return with(withInfluence(test::oneBurst(1), "arrive",
                            {"arrive.shape=point", "arrive.position=4,0,0", "arrive.travel_time=1"}),
              assignments);
}

TEST(Arrive, EachIsAtAPointOfItsOwnWhenItsTimeIsOver) {
  const Scene scene = burstToRing(60);
  EXPECT_GT(farthestFromPoint(scene, 23), 0.01) << "a little before";
  EXPECT_LT(farthestFromPoint(scene, 26), 1e-4 * 4);
  EXPECT_LT(farthestFromPoint(scene, 60), 1e-4 * 4);
  EXPECT_LT(glm::length(oneOf(scene, 60).velocity), 1e-4) << "it rests there";
}

TEST(Arrive, WaysAreAsShortInAllAsTheyCanBe) {
  const Scene scene = burstToRing(60);
  // Assigned as the second step begins, from where they are in the first frame.
  const SceneFramePtr first = simulate(scene, 2), led = simulate(scene, 3);
  std::vector<Vec3d> from;
  for (std::size_t i = 0; i < 60; ++i) from.push_back(onlyGroup(first).position(i));
  const std::vector<Vec3d> points = pointsAt(scene, 2);
  double total = 0;
  for (std::size_t i = 0; i < 60; ++i)
    total += glm::length(from[i] - points[arrivalOf(onlyGroup(led), i).point]);
  EXPECT_NEAR(total, assignPlaces(from, points).total, 1e-3);
}

TEST(Arrive, EachTakesItsOwnTime) {
  const Scene scene = burstToRing(200, {"arrive.travel_time=1±0.5"});
  const SceneFramePtr early = simulate(scene, 12), middle = simulate(scene, 25), late = simulate(scene, 38);
  const auto arrived = [&](const SceneFramePtr& frame) {
    return countArrivals(*scene.findByName("arrive"), *frame).arrived;
  };
  EXPECT_EQ(arrived(early), 0U);
  EXPECT_NEAR(static_cast<double>(arrived(middle)), 100, 25);
  EXPECT_EQ(arrived(late), 200U);
}

TEST(Arrive, FollowsAShapeThatTurnsAndMoves) {
  const Scene scene = burstToRing(
      12, {R"(arrive.rotation={"keys":[{"frame":1,"value":[0,0,0]},{"frame":97,"value":[90,720,0]}]})",
           R"(arrive.position={"keys":[{"frame":1,"value":[0,5,0]},{"frame":97,"value":[6,2,0]}]})",
           R"(arrive.radius={"keys":[{"frame":1,"value":2},{"frame":97,"value":3}]})"});
  for (const int frame : {26, 40, 63, 90}) EXPECT_LT(farthestFromPoint(scene, frame), 1e-4 * 4) << frame;
}

TEST(Arrive, SetsOutFromItsOwnMotionAndComesToRest) {
  const Scene scene = oneToPoint();
  double fastestChange = 0;
  Vec3d before = oneOf(scene, 1).velocity;
  for (int frame = 2; frame <= 30; ++frame) {
    const Vec3d velocity = oneOf(scene, frame).velocity;
    fastestChange = std::max(fastestChange, glm::length(velocity - before));
    before = velocity;
  }
  // 4 units in a second by a cubic accelerate by 24 units/s², 1 a frame.
  EXPECT_LT(fastestChange, 2.5) << "units/s from frame to frame";
  // Half way, by symmetry: half of the distance, and half of how far it would have risen in that time.
  const One middle = oneOf(scene, 13);
  EXPECT_NEAR(middle.at.x, 2, 0.02);
  EXPECT_NEAR(middle.at.y, 0.5 * 3 * 0.5, 0.02);
}

TEST(Arrive, EasesAsAsked) {
  const auto xAfter = [](const std::string& easing, int frame) {
    return oneOf(oneToPoint({"emitter.speed=0", "arrive.easing=" + easing}), frame).at.x / 4;
  };
  // A quarter of the time.
  EXPECT_NEAR(xAfter("linear", 7), 0.25, 1e-5);
  EXPECT_NEAR(xAfter("ease_in", 7), 0.0625, 1e-5);
  EXPECT_NEAR(xAfter("ease_out", 7), 0.4375, 1e-5);
  EXPECT_NEAR(xAfter("ease_in_out", 7), 0.15625, 1e-5);
}

TEST(Arrive, BulgesByAnArcAndStraysByNoise) {
  const One arc = oneOf(oneToPoint({"emitter.speed=0", "arrive.arc=50", "arrive.arc_direction=0,0,2"}), 13);
  EXPECT_NEAR(arc.at.x, 2, 1e-5);
  EXPECT_NEAR(arc.at.z, 2, 1e-5) << "half of 4 units";
  const Scene noisy = oneToPoint({"emitter.speed=0", "arrive.path_noise=0.5", "arrive.path_noise_rate=2.3"});
  double strays = 0;
  for (int frame = 2; frame < 25; ++frame) {
    const Vec3d at = oneOf(noisy, frame).at;
    strays = std::max(strays, std::hypot(at.y, at.z));
  }
  EXPECT_GT(strays, 0.02);
  EXPECT_LT(strays, 1);
  EXPECT_LT(glm::length(oneOf(noisy, 25).at - Vec3d(4, 0, 0)), 1e-4) << "and arrives all the same";
}

TEST(Arrive, UntilItsTimeHasComeOthersAct) {
  const Scene scene = withInfluence(oneToPoint({"arrive.age_range=from", "arrive.age_from=0.5"}), "gravity");
  const double seconds = secondsAt(12);
  EXPECT_NEAR(oneOf(scene, 12).at.y, 3 * seconds - 0.5 * kGravity * seconds * seconds, 1e-3);
  EXPECT_LT(glm::length(oneOf(scene, 38).at - Vec3d(4, 0, 0)), 1e-4);
  EXPECT_GT(glm::length(oneOf(scene, 36).at - Vec3d(4, 0, 0)), 1e-3);
}

TEST(Arrive, HalfOfItsForceLeavesHalfOfWhatLeadsAstrayEachFrame) {
  Scene scene = withInfluence(oneToPoint({"emitter.speed=0", "arrive.position=0,0,0"}), "wind");
  const auto arrive = scene.findByName("arrive")->id;
  const double full = oneOf(scene, 60).at.x;
  const double half = oneOf(scene.withResponse(scene.findByName("emitter")->id, arrive, {50}), 60).at.x;
  EXPECT_NEAR(full, 0, 1e-5);
  EXPECT_GT(half, 1e-4) << "the wind moves it a little";
  EXPECT_LT(half, 0.5);
  EXPECT_LT(oneOf(scene.withResponse(scene.findByName("emitter")->id, arrive, {80}), 60).at.x, half);
}

TEST(Arrive, WhoFindsNoFreePointWaitsForOne) {
  // 60 for 40 points; the ones that arrive first live no longer than 2 seconds.
  const Scene scene = burstToRing(60, {"arrive.points=40", "emitter.lifetime=3±1"});
  const Item& arrive = *scene.findByName("arrive");
  const SceneFramePtr early = simulate(scene, 30), late = simulate(scene, 68);
  EXPECT_EQ(countArrivals(arrive, *early).waiting, 20U);
  EXPECT_EQ(countArrivals(arrive, *early).arrived, 40U);
  EXPECT_EQ(countArrivals(arrive, *early).free(), 0U);
  EXPECT_THAT(notesOnArrivals(scene, arrive, *early),
              testing::ElementsAre(HasSubstr("20 particles find no free point")));
  const ArrivalCount then = countArrivals(arrive, *late);
  EXPECT_LT(then.waiting, 15U) << "points of those that died are taken";
  EXPECT_LE(then.arrived + then.travelling, 40U);
  std::set<std::uint32_t> taken;
  for (std::size_t i = 0; i < onlyGroup(late).size(); ++i) {
    const Arrival arrival = arrivalOf(onlyGroup(late), i);
    if (arrival.stage == ArrivalStage::Led) {
      EXPECT_TRUE(taken.insert(arrival.point).second) << arrival.point;
    }
  }
}

TEST(Arrive, WhatIsReleasedFliesOnAsItsPointMoved) {
  // A turn in two seconds, with radius 2.
  const std::string turning =
      R"(arrive.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":193,"value":[0,1440,0]}]})";
  const double speed = 2 * kPi / 2 * 2;
  const Scene held = burstToRing(6, {turning});
  EXPECT_NEAR(glm::length(oneOf(held, 40).velocity), speed, 0.02 * speed);
  const Scene scene = burstToRing(6, {turning, "arrive.hold=time", "arrive.hold_time=0.5"});
  EXPECT_EQ(oneOf(scene, 36).arrival.stage, ArrivalStage::Led);
  const One free = oneOf(scene, 40), later = oneOf(scene, 64);
  EXPECT_EQ(free.arrival.stage, ArrivalStage::Released);
  EXPECT_NEAR(glm::length(free.velocity), speed, 0.02 * speed);
  EXPECT_NEAR(glm::length(later.at - free.at), speed, 0.02 * speed) << "straight on for a second";
}

TEST(Arrive, LetsGoWhereItsPointGetsTooFast) {
  const Scene scene = oneToPoint(
      {R"(arrive.position={"keys":[{"frame":1,"value":[4,0,0]},{"frame":49,"value":[4,0,0],"to_next":"linear"},{"frame":73,"value":[4,12,0]}]})",
       "arrive.hold=speed", "arrive.hold_speed=10"});
  EXPECT_EQ(oneOf(scene, 48).arrival.stage, ArrivalStage::Led);
  EXPECT_EQ(oneOf(scene, 52).arrival.stage, ArrivalStage::Released);
}

TEST(Arrive, AKeyReleasesOneAfterTheOther) {
  const Scene scene = withInfluence(
      burstToRing(
          200,
          {R"(arrive.release={"keys":[{"frame":40,"value":0,"to_next":"linear"},{"frame":80,"value":100}]})"}),
      "gravity");
  const Item& arrive = *scene.findByName("arrive");
  const auto arrivedAt = [&](int frame) { return countArrivals(arrive, *simulate(scene, frame)).arrived; };
  EXPECT_EQ(arrivedAt(40), 200U);
  EXPECT_NEAR(static_cast<double>(arrivedAt(60)), 100, 30);
  EXPECT_EQ(arrivedAt(82), 0U);
}

TEST(Arrive, LetsGoWhenItEndsAndTakesUpAgainWhenItComesBack) {
  const Scene scene = withInfluence(
      oneToPoint({"arrive.acts=frame_range", "arrive.acts_from=1", "arrive.acts_until=49"}), "gravity");
  EXPECT_LT(glm::length(oneOf(scene, 49).at - Vec3d(4, 0, 0)), 1e-3);
  const One falling = oneOf(scene, 73);
  EXPECT_NEAR(falling.at.y, -0.5 * kGravity, 0.25) << "for a second";
  EXPECT_EQ(falling.arrival.stage, ArrivalStage::None);
  // A second one takes over from it.
  const Scene both = withInfluence(scene, "attractor");
  const Item again = newItem(*catalog().find("arrive"), "again");
  const Scene second =
      with(both.withAdded(again),
           {"attractor.strength=0", "again.shape=point", "again.position=0,7,0", "again.acts=frame_range",
            "again.acts_from=60", "again.acts_until=200", "again.travel_time=0.5"});
  EXPECT_LT(glm::length(oneOf(second, 75).at - Vec3d(0, 7, 0)), 1e-3);
  EXPECT_EQ(oneOf(second, 75).arrival.influence, second.findByName("again")->id);
}

TEST(Arrive, OnlyTaggedOnesCome) {
  Rule rule;
  rule.when = {newCondition(RuleWhen::Age)};
  rule.when.front().first = 12;
  rule.when.front().second = 1000;
  rule.then = {newAction(RuleThen::AddTag)};
  rule.then.front().first = 3;
  rule.chance = 50;
  ParamValue value;
  value.base = RuleList{rule};
  const Scene scene = burstToRing(100, {"arrive.only_tag=3"});
  const Scene tagging = scene.withParam(scene.findByName("emitter")->id, "rules", value);
  const auto count = [&](const Scene& of, int frame) {
    return countArrivals(*of.findByName("arrive"), *simulate(of, frame));
  };
  EXPECT_EQ(count(scene, 60).arrived + count(scene, 60).travelling, 0U);
  EXPECT_EQ(count(tagging, 12).travelling, 0U);
  EXPECT_NEAR(static_cast<double>(count(tagging, 60).arrived), 50, 18);
}

TEST(Arrive, ARuleSeesWhoHasArrived) {
  Rule rule;
  rule.when = {newCondition(RuleWhen::Arrived)};
  rule.then = {newAction(RuleThen::Die)};
  ParamValue value;
  value.base = RuleList{rule};
  const Scene plain = burstToRing(20);
  const Scene scene = plain.withParam(plain.findByName("emitter")->id, "rules", value);
  EXPECT_EQ(onlyGroup(simulate(scene, 24)).size(), 20U);
  EXPECT_EQ(onlyGroup(simulate(scene, 26)).size(), 0U);
}

TEST(Arrive, LooksFollowHowFarItHasCome) {
  Scene scene = oneToPoint({"arrive.acts=frame_range", "arrive.acts_from=1", "arrive.acts_until=36"});
  scene = with(
      scene,
      {R"(emitter.size={"value":1,"over_age":[{"at":0,"value":0},{"at":1,"value":1}],"follows":"arrival"})"});
  StampCache stamps;
  const auto sizeAt = [&](int frame) {
    const SceneFramePtr now = simulate(scene, frame);
    const Look look(scene, *scene.findByName("emitter"), frame, stamps);
    return look.diameter(drawnParticle(onlyGroup(now), 0).state);
  };
  EXPECT_NEAR(sizeAt(7), 0.15625, 0.001) << "a quarter of its way, along a smooth curve";
  EXPECT_NEAR(sizeAt(13), 0.5, 0.01);
  EXPECT_NEAR(sizeAt(30), 1, 1e-6);
  EXPECT_NEAR(sizeAt(48), 0.5, 0.05) << "back as it came, once it is let go";
  EXPECT_NEAR(sizeAt(64), 0, 1e-6);
}

TEST(Arrive, TakesOnTheColoursOfThePicture) {
  // The left half red, the right half blue.
  Picture picture(8, 4);
  for (int y = 0; y < 4; ++y)
    for (int x = 0; x < 8; ++x) picture.at(x, y) = x < 4 ? Vec4(1, 0, 0, 1) : Vec4(0, 0, 1, 1);
  ParamValue value;
  value.base = FileRef{"made by the test", std::make_shared<const PictureContent>(std::move(picture)), {}};
  Scene scene =
      burstToRing(40, {"arrive.shape=picture", "arrive.picture_width=4", "emitter.color_source=arrival",
                       R"(emitter.color=[{"at":0,"color":[0,1,0]}])"});
  scene = scene.withParam(scene.findByName("arrive")->id, "birth_picture", value);
  StampCache stamps;
  const auto colorsAt = [&](int frame) {
    const SceneFramePtr now = simulate(scene, frame);
    const Look look(scene, *scene.findByName("emitter"), frame, stamps);
    std::vector<std::pair<Vec3d, Vec3d>> seen;  // where, and in which colour
    for (std::size_t i = 0; i < onlyGroup(now).size(); ++i)
      seen.emplace_back(onlyGroup(now).position(i), look.color(drawnParticle(onlyGroup(now), i).state, 0));
    return seen;
  };
  for (const auto& [at, color] : colorsAt(1)) EXPECT_LT(glm::length(color - Vec3d(0, 1, 0)), 1e-6);
  for (const auto& [at, color] : colorsAt(30))
    EXPECT_LT(glm::length(color - (at.x < 0 ? Vec3d(1, 0, 0) : Vec3d(0, 0, 1))), 1e-6) << at.x;
  for (const auto& [at, color] : colorsAt(13)) EXPECT_NEAR(color.y, 0.5, 1e-3) << "half way";
}

TEST(Arrive, TurnsToFaceTheSurface) {
  Scene scene =
      burstToRing(20, {"arrive.shape=sphere", "arrive.emit_from=surface", "arrive.face_surface=true"});
  const SceneFramePtr now = simulate(scene, 30);
  for (std::size_t i = 0; i < 20; ++i) {
    const Vec3d up = orientationOf(onlyGroup(now), i) * Vec3d(0, 1, 0);
    const Vec3d outwards = glm::normalize(onlyGroup(now).position(i) - Vec3d(0, 5, 0));
    EXPECT_GT(glm::dot(up, outwards), 0.999) << i;
  }
}

TEST(Arrive, ArrivesAtTheParticlesOfAnother) {
  Scene scene = with(test::oneBurst(8), {"emitter.shape=ring", "emitter.radius=3", "emitter.speed=1"});
  scene = with(scene.withAdded(newItem(*catalog().find("emitter"), "chasers")),
               {"chasers.rate=0", R"(chasers.bursts=[{"frame":1,"count":12}])", "chasers.lifetime=100"});
  scene = withInfluence(scene, "arrive",
                        {"arrive.target=particles", "arrive.target_emitter=emitter", "arrive.travel_time=1"});
  scene = scene.withResponse(scene.findByName("emitter")->id, scene.findByName("arrive")->id, {});
  const SceneFramePtr now = simulate(scene, 60);
  const ParticleStore& targets = now->particles->find(scene.findByName("emitter")->id)->particles;
  const ParticleStore& chasers = now->particles->find(scene.findByName("chasers")->id)->particles;
  std::size_t held = 0;
  for (std::size_t i = 0; i < chasers.size(); ++i) {
    const Arrival arrival = arrivalOf(chasers, i);
    if (arrival.stage != ArrivalStage::Led) continue;
    ++held;
    EXPECT_LT(glm::length(chasers.position(i) - targets.position(arrival.point)), 1e-4);
  }
  EXPECT_EQ(held, 8U);
}

TEST(Arrive, TakesEveryVertexOfAMeshOnce) {
  Scene scene = burstToRing(8, {"arrive.shape=mesh", "arrive.mesh_emit_from=vertices", "arrive.points=500"});
  EXPECT_THAT(notesOnArrivals(scene, *scene.findByName("arrive"), *simulate(scene, 1)),
              testing::ElementsAre("there are no points: there is no mesh: choose one"));
  ParamValue mesh;
  mesh.base = FileRef{"made by the test", std::make_shared<const MeshContent>(test::boxMesh({1, 1, 1})), {}};
  scene = scene.withParam(scene.findByName("arrive")->id, "mesh", mesh);
  EXPECT_EQ(pointsAt(scene, 1).size(), 8U);
  EXPECT_LT(farthestFromPoint(scene, 30), 1e-4);
}

TEST(Arrive, SaysWhichPointsNobodyCanReach) {
  const Scene scene =
      withInfluence(burstToRing(20), "deflector",
                    {"deflector.shape=box", "deflector.position=2,5,0", "deflector.size=2,2,8"});
  const auto notes = notesOnArrivals(scene, *scene.findByName("arrive"), *simulate(scene, 1));
  ASSERT_EQ(notes.size(), 1U);
  EXPECT_THAT(notes[0], HasSubstr("of the points lie inside deflector"));
  EXPECT_THAT(notesOnArrivals(burstToRing(20), *scene.findByName("arrive"), *simulate(scene, 1)), IsEmpty());
}

TEST(Arrive, TheProbeTellsWhereAParticleIsOnItsWay) {
  const Scene scene = oneToPoint();
  const auto probedAt = [&](int frame) {
    const SceneFramePtr now = simulate(scene, frame);
    return probeParticle(scene, *now, onlyGroup(now).ids()[0]).value();
  };
  const ProbedParticle during = probedAt(13), after = probedAt(30);
  EXPECT_EQ(during.arrival.influence, scene.findByName("arrive")->id);
  EXPECT_NEAR(during.arrival.travelled(), 0.5, 1e-5);
  EXPECT_FALSE(during.arrival.isHeld());
  EXPECT_TRUE(after.arrival.isHeld());
  EXPECT_THAT(after.influences, IsEmpty()) << "it does not push";
}

TEST(Arrive, ShowsWhoGoesWhere) {
  const Scene scene = burstToRing(20);
  const ArrivalMap during = mapArrivals(*scene.findByName("arrive"), *simulate(scene, 12));
  EXPECT_EQ(during.points.size(), 20U);
  ASSERT_EQ(during.travelling.size(), 20U);
  for (const ArrivalLine& line : during.travelling) EXPECT_NEAR(line.to.y, 5, 1e-9);
  EXPECT_THAT(mapArrivals(*scene.findByName("arrive"), *simulate(scene, 30)).travelling, IsEmpty());
}

TEST(Arrive, IsTheSameHoweverItIsRun) {
  test::expectTheSameHoweverRun(
      with(burstToRing(300, {"arrive.points=250", "arrive.travel_time=1±0.5", "arrive.path_noise=0.3",
                             "arrive.hold=time", "arrive.hold_time=0.3±0.2"}),
           {"emitter.rate=100", "emitter.lifetime=2±1", "scene.substeps=3"}),
      50);
}

}  // namespace
}  // namespace comet
