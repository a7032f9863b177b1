// Cards in whole scenes: how they fly, fall and lie.
#include "simulation/cards/card_kernel.h"
#include "simulation/cards/card_shape.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>

namespace comet {
namespace {

using test::onlyGroup;
using test::positionOf;
using test::simulate;
using test::velocityOf;
using test::with;
using test::withInfluence;

// So many cards of 0.2 by 0.1 in a frame, at rest in the air.
Scene cards(int count = 1) {
  return with(test::oneBurst(count),
              {"emitter.sprite=card", "emitter.size=0.2", "emitter.aspect_ratio=0.5", "emitter.speed=0",
               "emitter.card_cells_across=2", "emitter.lifetime_mode=endless"});
}

Scene tumbling(int count) {
  return with(cards(count), {"emitter.sprite_rotation=0±180", "emitter.spin=0±300"});
}

const Item& emitterOf(const Scene& scene) { return *scene.findByName("emitter"); }

CardRule ruleOf(const Scene& scene) { return CardRule(emitterOf(scene), 1); }

CardBody bodyOf(const Scene& scene, const ParticleStore& store, std::size_t i = 0) {
  return CardBody(cardGridOf(emitterOf(scene)).points(), store.body(i));
}

double largestStretch(const Scene& scene, const ParticleStore& store) {
  const CardRule rule = ruleOf(scene);
  double most = 0;
  for (std::size_t i = 0; i < store.size(); ++i)
    most = std::max(most, cardStretch(rule, store.ids()[i], store.body(i)));
  return most;
}

Vec3d angularMomentum(const Scene& scene, const ParticleStore& store) {
  const CardGrid grid = cardGridOf(emitterOf(scene));
  const CardBody body = bodyOf(scene, store);
  Vec3d sum(0.0);
  for (std::size_t p = 0; p < grid.points(); ++p)
    sum += grid.areaOf(p) *
           glm::cross(body.position(p) - store.position(0), body.velocity(p) - store.velocity(0));
  return sum;
}

// Speeds at which air holds a card of writing paper up that falls flat, or edge on.
double terminalSpeed(double coefficient) {
  return std::sqrt(2 * 0.08 * test::kGravity / (1.2 * coefficient));
}

TEST(Card, InNoAirItFallsAsEverythingDoes) {
  const Scene scene =
      withInfluence(with(tumbling(20), {"emitter.card_air_resistance=0", "emitter.speed=3"}), "gravity");
  const SceneFramePtr nowFrame = simulate(scene, 25);
  const ParticleStore& now = onlyGroup(nowFrame);
  for (std::size_t i = 0; i < now.size(); ++i) {
    EXPECT_NEAR(positionOf(now, i).y, 3 - 0.5 * test::kGravity, 0.02);
    EXPECT_NEAR(velocityOf(now, i).y, 3 - test::kGravity, 1e-3);
  }
  EXPECT_LT(largestStretch(scene, now), 0.02);
}

TEST(Card, ItsParticleIsTheMiddleOfItsPoints) {
  const Scene scene = withInfluence(withInfluence(tumbling(5), "gravity"), "turbulence");
  const SceneFramePtr nowFrame = simulate(scene, 12);
  const ParticleStore& now = onlyGroup(nowFrame);
  const CardGrid grid = cardGridOf(emitterOf(scene));
  for (std::size_t i = 0; i < now.size(); ++i) {
    Vec3d middle(0.0);
    for (std::size_t p = 0; p < grid.points(); ++p)
      middle += grid.areaOf(p) * bodyOf(scene, now, i).position(p);
    EXPECT_LT(glm::length(middle - now.position(i)), 1e-5);
  }
}

TEST(Card, InNoAirItSpinsOn) {
  for (const char* curl : {"0", "120"}) {
    const Scene scene =
        with(cards(), {"emitter.card_air_resistance=0", "emitter.spin=200", "emitter.facing=plane",
                       "emitter.plane_normal=0.4,1,0.2", std::string("emitter.card_curl=") + curl});
    SceneRun run(scene, test::roomyCache());
    const Vec3d first = angularMomentum(scene, onlyGroup(run.frame(1)));
    const Vec3d last = angularMomentum(scene, onlyGroup(run.frame(49)));
    EXPECT_LT(glm::length(last - first), 0.08 * glm::length(first)) << curl;
    EXPECT_LT(glm::length(velocityOf(onlyGroup(run.frame(49)), 0)), 1e-3) << curl;
  }
}

TEST(Card, ACurledOneThatNothingMovesStaysAsItIs) {
  const Scene scene = with(cards(), {"emitter.card_curl=150"});
  SceneRun run(scene, test::roomyCache());
  const CardBody first = bodyOf(scene, onlyGroup(run.frame(1)));
  const CardBody last = bodyOf(scene, onlyGroup(run.frame(49)));
  for (std::size_t p = 0; p < ruleOf(scene).grid().points(); ++p)
    EXPECT_LT(glm::length(last.position(p) - first.position(p)), 0.002);
}

TEST(Card, FallsFlatAtItsTerminalSpeed) {
  const Scene scene = withInfluence(with(cards(), {"emitter.facing=plane"}), "gravity");
  const double speed = -velocityOf(onlyGroup(simulate(scene, 49)), 0).y;
  EXPECT_NEAR(speed, terminalSpeed(kFaceOnDrag), 0.03 * speed);
}

// Tumbling cards come down faster than flat ones and slower than those that fall edge on, and to the sides.
TEST(Card, FluttersDown) {
  const Scene scene = withInfluence(tumbling(100), "gravity");
  SceneRun run(scene, test::roomyCache());
  const ParticleStore &from = onlyGroup(run.frame(49)), &to = onlyGroup(run.frame(121));
  double mean = 0, aside = 0;
  for (std::size_t i = 0; i < to.size(); ++i) {
    const Vec3d path = to.position(i) - from.position(i);
    mean -= path.y / 3 / static_cast<double>(to.size());
    aside += std::hypot(path.x, path.z) / 3 / static_cast<double>(to.size());
  }
  EXPECT_GT(mean, terminalSpeed(kFaceOnDrag));
  EXPECT_LT(mean, terminalSpeed(kEdgeOnDrag));
  EXPECT_GT(aside, 0.1);
  EXPECT_LT(largestStretch(scene, to), 0.05);
}

TEST(Card, IsCarriedByWind) {
  const Scene scene = withInfluence(tumbling(10), "wind", {"wind.speed=2", "wind.air_drag=0"});
  const SceneFramePtr nowFrame = simulate(scene, 73);
  const ParticleStore& now = onlyGroup(nowFrame);
  for (std::size_t i = 0; i < now.size(); ++i) EXPECT_NEAR(velocityOf(now, i).x, 2, 0.5);
}

class LyingCards : public testing::TestWithParam<const char*> {};

// On level ground, and where static friction holds on a slope; by planes near by, and followed exactly.
TEST_P(LyingCards, DoNotSinkOrCreep) {
  Scene scene = withInfluence(tumbling(30), "gravity");
  scene = withInfluence(scene, "deflector",
                        {"deflector.shape=plane", "deflector.position=0,-0.5,0", "deflector.friction=0.7",
                         "deflector.bounce=0", GetParam()});
  SceneRun run(scene, test::roomyCache());
  const ParticleStore &before = onlyGroup(run.frame(144)), &after = onlyGroup(run.frame(240));
  for (std::size_t i = 0; i < before.size(); ++i) {
    const CardBody was = bodyOf(scene, before, i), is = bodyOf(scene, after, i);
    for (std::size_t p = 0; p < ruleOf(scene).grid().points(); ++p)
      EXPECT_LT(glm::length(is.position(p) - was.position(p)), 0.004) << i;
  }
  EXPECT_LT(largestStretch(scene, after), 0.02);
}

INSTANTIATE_TEST_SUITE_P(On, LyingCards,
                         testing::Values("deflector.rotation=0,0,0", "deflector.rotation=0,0,20",
                                         "deflector.roughness=1"));

TEST(Card, LiesOnTheGroundAndNotBelow) {
  Scene scene = withInfluence(tumbling(40), "gravity");
  scene = withInfluence(scene, "deflector", {"deflector.shape=plane", "deflector.position=0,-1,0"});
  const SceneFramePtr nowFrame = simulate(scene, 121);
  const ParticleStore& now = onlyGroup(nowFrame);
  for (std::size_t i = 0; i < now.size(); ++i)
    for (std::size_t p = 0; p < ruleOf(scene).grid().points(); ++p) {
      EXPECT_GE(bodyOf(scene, now, i).position(p).y, -1) << i;
      EXPECT_LT(bodyOf(scene, now, i).position(p).y, -0.85) << i;
    }
}

// A slope that friction does not hold: it slides down as a block does.
TEST(Card, SlidesDownASlopeAgainstItsFriction) {
  Scene scene = withInfluence(with(cards(), {"emitter.facing=plane", "emitter.plane_normal=0.5,0.866025,0",
                                             "emitter.card_air_resistance=0", "emitter.position=0,0.0005,0"}),
                              "gravity");
  scene = withInfluence(scene, "deflector",
                        {"deflector.shape=plane", "deflector.rotation=0,0,-30", "deflector.friction=0.3",
                         "deflector.bounce=0"});
  const double along = test::kGravity * (std::sin(kPi / 6) - 0.3 * std::cos(kPi / 6));
  EXPECT_NEAR(glm::length(velocityOf(onlyGroup(simulate(scene, 25)), 0)), along, 0.05 * along);
}

// Thrown at a ball it bends around it, and does not go through.
TEST(Card, StaysOutOfABall) {
  Scene scene = withInfluence(
      with(tumbling(60), {"emitter.card_bending_stiffness=5", "emitter.speed=6", "emitter.direction=0,-1,0",
                          "emitter.position=0,1.5,0", "emitter.card_cells_along=8"}),
      "gravity");
  scene = withInfluence(scene, "deflector", {"deflector.shape=sphere", "deflector.radius=0.5"});
  SceneRun run(scene, test::roomyCache());
  for (int frame = 2; frame <= 40; ++frame) {
    const ParticleStore& now = onlyGroup(run.frame(frame));
    for (std::size_t i = 0; i < now.size(); ++i)
      for (std::size_t p = 0; p < ruleOf(scene).grid().points(); ++p)
        ASSERT_GE(glm::length(bodyOf(scene, now, i).position(p)), 0.5 - 1e-4) << frame;
  }
}

// One hit for a card that lands, however many points it has; what lies does not hit again.
TEST(Card, HitsAsOne) {
  Scene scene = withInfluence(with(cards(8), {"emitter.facing=plane", "emitter.shape=box"}), "gravity");
  scene = withInfluence(scene, "deflector",
                        {"deflector.shape=plane", "deflector.position=0,-1.5,0", "deflector.bounce=0"});
  SceneRun run(scene, test::roomyCache());
  std::size_t hits = 0;
  for (int frame = 1; frame <= 120; ++frame) {
    const SceneFramePtr now = run.frame(frame);
    hits += now->report->hits.size();
    if (frame > 100) {
      EXPECT_TRUE(now->report->hits.empty()) << frame;
    }
  }
  EXPECT_GE(hits, 8U);
  EXPECT_LE(hits, 24U);
}

TEST(Card, EndsWhereItHits) {
  Scene scene = withInfluence(tumbling(10), "gravity");
  scene = withInfluence(scene, "deflector",
                        {"deflector.shape=plane", "deflector.position=0,-0.5,0", "deflector.on_hit=die"});
  EXPECT_EQ(onlyGroup(simulate(scene, 60)).size(), 0U);
}

// Thrown up to a ceiling, it hangs there by its points, and falls when these let go.
TEST(Card, SticksByThePointsThatTouchUntilTheyLetGo) {
  Scene scene = withInfluence(with(tumbling(10), {"emitter.speed=5"}), "gravity");
  scene = withInfluence(scene, "deflector",
                        {"deflector.shape=plane", "deflector.position=0,0.3,0", "deflector.rotation=180,0,0",
                         "deflector.on_hit=stick"});
  const SceneFramePtr held = simulate(scene, 96);
  for (std::size_t i = 0; i < onlyGroup(held).size(); ++i)
    EXPECT_GT(onlyGroup(held).position(i).y, 0.1) << "it hangs there";
  const SceneFramePtr free = simulate(with(scene, {"deflector.stick_time=1"}), 96);
  for (std::size_t i = 0; i < onlyGroup(free).size(); ++i)
    EXPECT_LT(onlyGroup(free).position(i).y, -0.4) << "it has fallen";
}

// Limits and points to arrive at are those of the card, which is moved as a whole.
TEST(Card, IsMovedAsAWhole) {
  const Scene slowed = withInfluence(withInfluence(tumbling(5), "gravity"), "speed_limit",
                                     {"speed_limit.max_speed=0.5", "speed_limit.firmness=1000"});
  const SceneFramePtr nowFrame = simulate(slowed, 25);
  const ParticleStore& now = onlyGroup(nowFrame);
  for (std::size_t i = 0; i < now.size(); ++i) EXPECT_LT(glm::length(now.velocity(i)), 0.55);
  EXPECT_LT(largestStretch(slowed, now), 0.02);
  const Scene arriving =
      withInfluence(tumbling(1), "arrive", {"arrive.shape=point", "arrive.position=1,2,0"});
  const SceneFramePtr thereFrame = simulate(arriving, 96);
  const ParticleStore& there = onlyGroup(thereFrame);
  for (std::size_t i = 0; i < there.size(); ++i)
    EXPECT_LT(glm::length(there.position(i) - Vec3d(1, 2, 0)), 0.01);
  EXPECT_LT(largestStretch(arriving, there), 0.02);
}

// What has no single points turns no card, and cards do not pile up: neither acts on them.
TEST(Card, IsLeftAloneBySpinAndContact) {
  const Scene plain = withInfluence(tumbling(3), "gravity");
  for (const char* kind : {"spin", "contact"}) {
    const Scene more = withInfluence(plain, kind);
    EXPECT_EQ(simulate(plain, 10)->particles->digest(), simulate(more, 10)->particles->digest()) << kind;
  }
}

TEST(Card, IsTheSameHoweverRun) {
  Scene scene = withInfluence(
      with(tumbling(0), {"emitter.rate=200", "emitter.lifetime_mode=lifetime", "emitter.lifetime=0.5±0.3",
                         "emitter.speed=2", "emitter.card_curl=20±40"}),
      "turbulence");
  scene = withInfluence(withInfluence(scene, "gravity"), "deflector",
                        {"deflector.shape=plane", "deflector.position=0,-0.1,0"});
  test::expectTheSameHoweverRun(scene, 24);
}

// A card of another grid, as one from a start state, is made anew where it was.
TEST(Card, OfAnotherGridIsMadeAnew) {
  const Scene scene = cards();
  const SceneFramePtr before = simulate(scene, 12);
  Scene next = withStartState(
      with(scene, {"emitter.card_cells_along=7", "emitter.emits=frame_range", "emitter.emits_from=50"}),
      *before->particles, *before->gases);
  const SceneFramePtr nowFrame = simulate(next, 2);
  const ParticleStore& now = onlyGroup(nowFrame);
  ASSERT_EQ(now.size(), 1U);
  EXPECT_EQ(now.bodyNumbers(), CardBody::numbers(cardGridOf(emitterOf(next))));
  EXPECT_LT(largestStretch(next, now), 0.01);
}

}  // namespace
}  // namespace comet
