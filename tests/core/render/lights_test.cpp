// The scene's lights: what they shine on, what they follow, how they flicker.
#include "render/lights.h"

#include "cache/scene_plans.h"
#include "render/light_kind.h"
#include "render/renderer.h"
#include "scene/scene_change.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>
#include <set>

namespace comet {
namespace {

using test::simulate;
using test::with;

constexpr Camera kFront{Camera::Projection::Orthographic, {0, 0, 10}, {0, 0, 0}, 40, 6};

Scene withLight(const Scene& scene, std::initializer_list<std::string> assignments = {},
                const std::string& name = "light") {
  return with(scene.withAdded(newItem(lightKind(), name)), assignments);
}

// One that rests at the origin in the dark, and a light.
Scene oneInTheDark(std::initializer_list<std::string> assignments) {
  return with(
      withLight(with(test::oneBurst(),
                     {"emitter.speed=0", "emitter.sprite=dot", "emitter.size=2", "emitter.opacity=100",
                      "scene.light_strength=0", "scene.ambient_color=0,0,0",
                      R"(emitter.color=[{"at":0,"color":[1,0.5,0.25]}])"}),
                {"light.color=1,1,1", "light.strength=3", "light.position=0,2,0", "light.full_distance=1"}),
      assignments);
}

Vec4 middleOf(const Scene& scene) {
  return Renderer().draw({scene, *simulate(scene, 1), {}, kFront, {60, 60}}).at(30, 30);
}

Vec3d placeOf(const Scene& scene, int frame) {
  return lightPlace(scene, *scene.findByName("light"), *simulate(scene, frame)).value_or(Vec3d(-99));
}

TEST(Lights, ShineOnLitSpritesByTheirDistanceAndOthersShineAlone) {
  EXPECT_NEAR(middleOf(oneInTheDark({})).x, 1, 1e-5) << "not lit";
  const Vec4 lit = middleOf(oneInTheDark({"emitter.lit=true"}));
  EXPECT_NEAR(lit.x, 3.0 / 4, 1e-5);
  EXPECT_NEAR(lit.y, 0.5 * 3 / 4, 1e-5);
  EXPECT_EQ(lit.w, 1) << "in the dark they still cover";
  EXPECT_NEAR(middleOf(oneInTheDark({"emitter.lit=true", "scene.ambient_color=0.2,0,0"})).x, 0.95, 1e-5);
  EXPECT_NEAR(middleOf(oneInTheDark({"emitter.lit=true", "light.type=directional"})).x, 3, 1e-5);
}

TEST(Lights, AddUpAndCanBeOff) {
  Scene scene =
      withLight(oneInTheDark({"emitter.lit=true"}),
                {"light 2.color=0,0,1", "light 2.strength=2", "light 2.type=directional"}, "light 2");
  EXPECT_NEAR(middleOf(scene).x, 0.75, 1e-5);
  EXPECT_NEAR(middleOf(scene).z, 0.25 * (0.75 + 2), 1e-5);
  scene = scene.withEnabled(scene.findByName("light")->id, false);
  EXPECT_EQ(middleOf(scene).x, 0);
  EXPECT_NEAR(middleOf(scene).z, 0.25 * 2, 1e-5);
}

TEST(Lights, ShineOnSurfacesByAngleAndDistance) {
  // A wall that faces the viewer, and a light one unit before it.
  Scene scene =
      test::withInfluence(oneInTheDark({"light.position=0,0,-2.9", "light.strength=2"}), "deflector",
                          {"deflector.shape=box", "deflector.size=8,8,2", "deflector.position=0,0,-5",
                           "deflector.render_display=visible", "deflector.surface_color=1,1,1"});
  scene = scene.withEnabled(scene.findByName("emitter")->id, false);
  const SceneLights lights = lightsOf(scene, *simulate(scene, 1));
  for (const double x : {0.0, 0.7, 2.5}) {
    const double distance = std::hypot(x, 1.1);
    EXPECT_NEAR(lights.on(Vec3d(x, 0, -4), Vec3d(0, 0, 1)).x,
                2 / std::max(1.0, distance * distance) * 1.1 / distance, 1e-6);
  }
  EXPECT_EQ(lights.on(Vec3d(0, 0, -4), Vec3d(0, 0, -1)), Vec3d(0.0)) << "from behind";
  const Picture picture = Renderer().draw({scene, *simulate(scene, 1), {}, kFront, {60, 60}});
  EXPECT_GT(picture.at(30, 30).x, 0);
  EXPECT_EQ(picture.at(30, 30).w, 1);
}

TEST(Lights, FollowItemsAndParticles) {
  // Three, a frame apart, that fly up at 3 units a second.
  const Scene three = with(withLight(test::oneBurst()),
                           {R"(emitter.bursts=[{"frame":1,"count":1,"times":3,"every":4}])",
                            "emitter.position=1,0,0", "light.follow=emitter", "light.follow_offset=0,0,0.5"});
  EXPECT_EQ(placeOf(three, 9), Vec3d(1, 0, 0.5)) << "the emitter's own place";
  const auto at = [&](const char* what) {
    return placeOf(with(three, {std::string("light.follow_what=") + what}), 9);
  };
  const double step = 3 / test::kFrameRate;
  EXPECT_NEAR(glm::length(at("oldest") - Vec3d(1, 8 * step, 0.5)), 0, 1e-5);
  EXPECT_NEAR(glm::length(at("middle") - Vec3d(1, 4 * step, 0.5)), 0, 1e-5);
  EXPECT_NEAR(glm::length(at("newest") - Vec3d(1, 0, 0.5)), 0, 1e-5);
  // It goes out with what it follows.
  const Scene none = with(three, {"light.follow_what=oldest", "emitter.bursts=[]"});
  EXPECT_FALSE(lightPlace(none, *none.findByName("light"), *simulate(none, 9)));
  EXPECT_EQ(lightsOf(none, *simulate(none, 9)).lights.size(), 1U) << "the scene's own";
  // A shape that wanders takes it along.
  const Scene wanders = with(three, {"emitter.wander=2", "light.follow_offset=0,0,0"});
  EXPECT_GT(glm::length(placeOf(wanders, 9) - Vec3d(1, 0, 0)), 0.05);
}

TEST(Lights, SayWhyTheyFollowNothing) {
  Scene scene = test::withInfluence(withLight(test::oneBurst()), "attractor");
  const auto problem = [&] { return problemWithLight(scene, *scene.findByName("light")); };
  EXPECT_EQ(problem(), "");
  scene = with(scene, {"light.follow=attractor"});
  EXPECT_EQ(problem(), "");
  scene = with(scene, {"light.follow_what=oldest"});
  EXPECT_NE(problem().find("\"attractor\" has no particles"), std::string::npos);
  scene = with(scene, {"light.follow=emitter"});
  EXPECT_EQ(problem(), "");
  scene = scene.withEnabled(scene.findByName("emitter")->id, false);
  EXPECT_NE(problem().find("\"emitter\" is off"), std::string::npos);
}

// At 100 moments of each second.
std::vector<double> flickerOver(double seconds, std::initializer_list<std::string> assignments) {
  const Scene scene =
      with(withLight(test::starting(), {"light.flicker=60", "light.flicker_rate=5"}), assignments);
  const Item& light = *scene.findByName("light");
  std::vector<double> values;
  for (int i = 0; i < static_cast<int>(100 * seconds); ++i)
    values.push_back(flickerOf(scene, light, 1 + i * 0.01 * test::kFrameRate));
  return values;
}

TEST(Flicker, TakesAwayAsMuchAsItSaysAndNoMore) {
  const std::vector<double> values = flickerOver(120, {});
  const auto [least, most] = std::minmax_element(values.begin(), values.end());
  EXPECT_GE(*least, 0.4 - 1e-12);
  EXPECT_LE(*most, 1);
  EXPECT_LT(*least, 0.43);
  EXPECT_GT(*most, 0.97);
  double sum = 0;
  for (const double value : values) sum += value;
  EXPECT_NEAR(sum / values.size(), 0.7, 0.03);
  EXPECT_EQ(flickerOver(1, {"light.flicker=0"})[37], 1);
}

TEST(Flicker, CrossesItsMeanAboutAsOftenAsItsRateSays) {
  for (const double rate : {2.0, 8.0}) {
    const std::vector<double> values = flickerOver(100, {"light.flicker_rate=" + std::to_string(rate)});
    int rises = 0;
    for (std::size_t i = 1; i < values.size(); ++i) rises += values[i - 1] < 0.7 && values[i] >= 0.7 ? 1 : 0;
    EXPECT_GT(rises, 0.4 * rate * 100);
    EXPECT_LT(rises, 1.6 * rate * 100);
  }
}

TEST(Flicker, DoesNotRepeat) {
  const std::vector<double> values = flickerOver(60, {});
  const auto likeness = [&](std::size_t lag) {
    double both = 0, own = 0;
    for (std::size_t i = 0; i + lag < values.size(); ++i) {
      both += (values[i] - 0.7) * (values[i + lag] - 0.7);
      own += (values[i] - 0.7) * (values[i] - 0.7);
    }
    return both / own;
  };
  for (std::size_t lag = 60; lag < 3000; lag += 5)
    EXPECT_LT(std::abs(likeness(lag)), 0.5) << lag / 100.0 << " s";
  EXPECT_NE(flickerOver(1, {})[40], flickerOver(1, {"light.flicker_seed=2"})[40]);
}

TEST(Flicker, RepeatsWithAnExactLoop) {
  const Scene scene = with(withLight(test::starting()), {"scene.exact_loop=true", "scene.last_frame=48",
                                                         "light.flicker=80", "light.flicker_rate=3"});
  const Item& light = *scene.findByName("light");
  double apart = 0;
  for (int frame = 1; frame <= 48; ++frame) {
    EXPECT_NEAR(flickerOf(scene, light, frame), flickerOf(scene, light, frame + 48), 1e-9) << frame;
    apart = std::max(apart, std::abs(flickerOf(scene, light, frame) - flickerOf(scene, light, frame + 5)));
  }
  EXPECT_GT(apart, 0.2) << "but not within it";
}

TEST(Lights, ANewOneIsSeenByTheCamera) {
  for (const char* camera : {"camera.position=0,2,10", "camera.position=300,200,900"}) {
    const Scene scene = withNewLight(with(test::starting(), {camera}));
    const Item& light = *scene.items().back();
    EXPECT_EQ(light.kind, &lightKind());
    const Projector projector(cameraOf(scene, 1), 100, 100);
    const auto point = projector.project(light.vector("position", 1));
    EXPECT_TRUE(projector.visible(point));
    EXPECT_GT(point.x, 5);
    EXPECT_LT(point.x, 50);
    EXPECT_GT(point.y, 5);
    EXPECT_LT(point.y, 50);
    // Its full distance is a good part of the picture.
    EXPECT_NEAR(light.number("full_distance", 1) * point.pixelsPerUnit, 18, 8);
  }
}

TEST(Lights, SimulateNothingAgain) {
  const Scene scene = test::busyScene();
  const Scene lit = withLight(scene, {"light.follow=emitter"});
  const auto keys = [](const Scene& of) { return ScenePlans(of).key(5); };
  EXPECT_EQ(keys(scene), keys(lit));
  EXPECT_FALSE(changeBetween(scene, lit).simulation);
  EXPECT_TRUE(changeBetween(scene, lit).look);
}

}  // namespace
}  // namespace comet
