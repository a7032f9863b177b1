// Sprites that are turned, stretched, stamped or made of triangles, and the blends, against plain geometry.
#include "io/picture_content.h"
#include "render/look.h"
#include "render/renderer.h"
#include "support/meshes.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>
#include <set>

namespace comet {
namespace {

using test::starting;
using test::with;

// One particle that rests in the middle of an orthographic picture of 10 × 10 units.
Scene oneSprite(std::initializer_list<std::string> assignments) {
  Scene scene =
      with(starting(), {"emitter.rate=0", R"(emitter.bursts=[{"frame":1,"count":1}])", "emitter.speed=0",
                        "emitter.lifetime_mode=endless", "camera.projection=orthographic", "camera.height=10",
                        "camera.position=0,0,10", "camera.aim=0,0,0",
                        R"(emitter.opacity={"value":100,"over_age":[{"at":0,"value":1}]})"});
  return with(scene, assignments);
}

Scene withContent(const Scene& scene, const char* param, std::shared_ptr<const FileContent> content) {
  ParamValue value;
  value.base = FileRef{"made by the test", std::move(content), {}};
  return scene.withParam(scene.findByName("emitter")->id, param, value);
}

Picture drawn(const Scene& scene, int size = 200, int frame = 1, const Finish& finish = {}) {
  return Renderer().draw({scene, *test::simulate(scene, frame), {}, cameraOf(scene, frame), {size, size}},
                         finish);
}

double coverage(const Picture& picture) {
  double sum = 0;
  for (const Vec4& pixel : picture.pixels()) sum += pixel.w;
  return sum;
}

Vec2d centreOf(const Picture& picture) {
  Vec2d sum(0.0);
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x)
      sum += Vec2d(x + 0.5, y + 0.5) * static_cast<double>(picture.at(x, y).w);
  return sum / coverage(picture);
}

// 20 pixels a unit.
constexpr double kScale = 20;

TEST(MeshSprites, ThatHaveNoMeshYetShowNothing) {
  const Scene scene = test::with(test::oneBurst(50), {"emitter.sprite=mesh", "emitter.size=1"});
  const SceneFramePtr frame = test::simulate(scene, 3);
  const Picture picture = Renderer().draw({scene, *frame, {}, cameraOf(scene, 3), {32, 32}});
  EXPECT_EQ(picture, Picture(32, 32));
}

TEST(TurnedSprite, AnEllipseHasItsAreaHoweverItLies) {
  for (const char* rotation :
       {"emitter.sprite_rotation=0", "emitter.sprite_rotation=33", "emitter.sprite_rotation=90"}) {
    const Picture picture =
        drawn(oneSprite({"emitter.sprite=dot", "emitter.size=6", "emitter.aspect_ratio=0.5", rotation}));
    EXPECT_NEAR(coverage(picture), kPi * 3 * 1.5 * kScale * kScale, 0.01 * kPi * 4.5 * kScale * kScale)
        << rotation;
  }
}

TEST(TurnedSprite, TurnsClockwise) {
  const Picture picture = drawn(oneSprite(
      {"emitter.sprite=dot", "emitter.size=8", "emitter.aspect_ratio=0.1", "emitter.sprite_rotation=45"}));
  // Upright it reaches up; turned by 45° clockwise it reaches to the upper right.
  EXPECT_GT(picture.at(140, 60).w, 0.9F);
  EXPECT_LT(picture.at(60, 60).w, 0.1F);
}

TEST(TurnedSprite, APolygonHasItsAreaAndPointsUp) {
  for (const int points : {3, 4, 6, 12}) {
    const Picture picture = drawn(oneSprite({"emitter.sprite=star", "emitter.pointedness=0", "emitter.size=8",
                                             "emitter.star_points=" + std::to_string(points)}));
    const double area = 0.5 * points * std::sin(2 * kPi / points) * 16 * kScale * kScale;
    EXPECT_NEAR(coverage(picture), area, 0.01 * area) << points;
    EXPECT_GT(picture.at(100, 26).w, 0.1F) << points;
  }
}

TEST(TurnedSprite, AStarHasItsArea) {
  const Picture picture =
      drawn(oneSprite({"emitter.sprite=star", "emitter.pointedness=100", "emitter.size=8"}));
  // Ten triangles between a point at radius 4 and a valley at 0.8, 36° apart.
  const double area = 10 * 0.5 * 4 * 0.8 * std::sin(kPi / 5) * kScale * kScale;
  EXPECT_NEAR(coverage(picture), area, 0.02 * area);
}

TEST(TurnedSprite, StretchAddsTheWayOfItsTime) {
  const Scene scene =
      oneSprite({"emitter.sprite=dot", "emitter.size=1", "emitter.speed=10", "emitter.cone=0",
                 "emitter.direction=1,0,0", "emitter.facing=velocity", "emitter.stretch=0.3"});
  const Picture picture = drawn(scene);
  // An ellipse of 1 × (1 + 3), lying along x.
  EXPECT_NEAR(coverage(picture), kPi / 4 * 4 * kScale * kScale, 0.02 * kPi * kScale * kScale);
  EXPECT_GT(picture.at(135, 100).w, 0.5F);
  EXPECT_LT(picture.at(100, 135).w, 0.01F);
}

TEST(TurnedSprite, InAPlaneIsForeshortened) {
  // Seen at 60° from its normal, half as high.
  const Picture picture = drawn(oneSprite({"emitter.sprite=dot", "emitter.size=6", "emitter.facing=plane",
                                           "emitter.plane_normal=0,0.8660254,0.5"}));
  EXPECT_NEAR(coverage(picture), kPi * 9 * 0.5 * kScale * kScale, 0.01 * kPi * 4.5 * kScale * kScale);
  EXPECT_EQ(coverage(drawn(
                oneSprite({"emitter.sprite=dot", "emitter.facing=plane", "emitter.plane_normal=0,1,0"}))),
            0);
}

TEST(TurnedSprite, TumblingTurnsAboutAnAxisOfItsOwn) {
  const double full = kPi * 9 * kScale * kScale;
  const auto sprite = [](const std::string& rotation, int seed) {
    return oneSprite({"emitter.sprite=dot", "emitter.size=6", "emitter.facing=tumbling",
                      "emitter.sprite_rotation=" + rotation, "emitter.seed=" + std::to_string(seed)});
  };
  EXPECT_NEAR(coverage(drawn(sprite("0", 1))), full, 0.01 * full) << "upright, seen from the front";
  // By a right angle about (x, y, z) of length one, the normal's z becomes z²: a third on average.
  double sum = 0;
  std::set<double> all;
  constexpr int kCount = 200;
  for (int seed = 1; seed <= kCount; ++seed) {
    const double seen = coverage(drawn(sprite("90", seed))) / full;
    sum += seen / kCount;
    all.insert(seen);
  }
  // Four deviations of the mean: z² has a variance of 4/45.
  EXPECT_NEAR(sum, 1 / 3.0, 4 * std::sqrt(4 / 45.0 / kCount));
  EXPECT_LT(*all.begin(), 0.02);
  EXPECT_GT(*all.rbegin(), 0.9);
  // Spin goes on from there, and comes back.
  const Scene spins = with(sprite("0", 3), {"emitter.spin=360", "emitter.lifetime=4"});
  constexpr int kSecond = static_cast<int>(test::kFrameRate);
  EXPECT_NEAR(coverage(drawn(spins, 200, 1 + kSecond)), coverage(drawn(spins)), 0.01 * full);
  EXPECT_LT(coverage(drawn(spins, 200, 1 + kSecond / 4)), 0.9 * full);
}

TEST(TurnedSprite, TumblingCatchesTheLightByTheSideThatIsSeen) {
  for (int seed = 1; seed <= 12; ++seed) {
    const Picture picture = drawn(
        oneSprite({"emitter.sprite=dot", "emitter.size=6", "emitter.facing=tumbling",
                   "emitter.sprite_rotation=130", "emitter.seed=" + std::to_string(seed), "emitter.lit=true",
                   "scene.light_direction=0,0,1", "scene.light_strength=1", "scene.light_color=1,1,1",
                   "scene.ambient_color=0,0,0", R"(emitter.color=[{"at":0,"color":[1,1,1]}])"}));
    const double tilt = coverage(picture) / (kPi * 9 * kScale * kScale);
    if (tilt < 0.05) continue;
    // The light comes from the viewer: as much as is seen of the area, whichever side it is.
    EXPECT_NEAR(picture.at(100, 100).x, tilt, 0.02) << seed;
  }
}

TEST(TurnedSprite, ThinOnesKeepTheirLight) {
  // On average over where it lies between the pixels.
  double sum = 0;
  for (int i = 0; i < 8; ++i)
    sum += coverage(drawn(oneSprite({"emitter.sprite=dot", "emitter.size=6", "emitter.aspect_ratio=0.005",
                                     "emitter.position=" + std::to_string(i / 160.0) + ",0,0"})));
  const double area = kPi / 4 * 6 * 0.03 * kScale * kScale;
  EXPECT_NEAR(sum / 8, area, 0.05 * area);
}

TEST(TurnedSprite, SpinAddsUpOverItsCourse) {
  // From 360°/s falling to nothing over a life of 2 s: at half of it three quarters of the way to 360° are
  // done.
  const Scene scene = oneSprite(
      {"emitter.lifetime_mode=lifetime", "emitter.lifetime=2", "emitter.sprite=dot", "emitter.size=8",
       "emitter.aspect_ratio=0.05",
       R"(emitter.spin={"value":360,"over_age":[{"at":0,"value":1,"to_next":"linear"},{"at":1,"value":0}]})"});
  const Picture picture = drawn(scene, 200, 25);
  EXPECT_GT(picture.at(30, 100).w, 0.5F);
  EXPECT_LT(picture.at(100, 30).w, 0.05F);
}

// 40 × 20 texels: left half red, right half green, all opaque.
std::shared_ptr<const PictureContent> redAndGreen() {
  Picture picture(40, 20);
  for (int y = 0; y < 20; ++y)
    for (int x = 0; x < 40; ++x) picture.at(x, y) = x < 20 ? Vec4(1, 0, 0, 1) : Vec4(0, 1, 0, 1);
  return std::make_shared<const PictureContent>(std::move(picture));
}

Scene pictureSprite(std::initializer_list<std::string> assignments) {
  return with(withContent(oneSprite({"emitter.sprite=picture", "emitter.size=2"}), "picture", redAndGreen()),
              assignments);
}

TEST(PictureSprite, TexelsMeetPixels) {
  // 2 units are 40 pixels: the picture lies from (80, 90) to (120, 110), texel on pixel.
  const Picture picture = drawn(pictureSprite({}));
  const auto isNear = [&picture](int x, int y, const Vec4& expected) {
    return glm::length(picture.at(x, y) - expected) < 1e-5F;
  };
  EXPECT_TRUE(isNear(80, 90, Vec4(1, 0, 0, 1)));
  EXPECT_TRUE(isNear(99, 109, Vec4(1, 0, 0, 1)));
  EXPECT_TRUE(isNear(100, 90, Vec4(0, 1, 0, 1)));
  EXPECT_TRUE(isNear(119, 109, Vec4(0, 1, 0, 1)));
  EXPECT_TRUE(isNear(79, 100, Vec4(0.0F)));
  EXPECT_TRUE(isNear(100, 110, Vec4(0.0F)));
  EXPECT_NEAR(coverage(picture), 800, 1e-3);
}

TEST(PictureSprite, CropLeavesTheRest) {
  const Picture picture = drawn(pictureSprite({"emitter.crop_left=50", "emitter.size=1"}));
  for (int y = 91; y < 109; ++y) EXPECT_EQ(picture.at(100, y), Vec4(0, 1, 0, 1));
  EXPECT_NEAR(coverage(picture), 400, 1e-3);
}

TEST(PictureSprite, ThePivotLiesAtTheParticle) {
  const Picture picture = drawn(pictureSprite({"emitter.pivot_x=0", "emitter.pivot_y=100"}));
  // Its lower left corner is in the middle of the picture.
  EXPECT_NEAR(centreOf(picture).x, 120, 1e-3);
  EXPECT_NEAR(centreOf(picture).y, 90, 1e-3);
  const Picture turned =
      drawn(pictureSprite({"emitter.pivot_x=0", "emitter.pivot_y=100", "emitter.sprite_rotation=90"}));
  // Turned clockwise about that corner it lies below and to the right.
  EXPECT_NEAR(centreOf(turned).x, 110, 0.05);
  EXPECT_NEAR(centreOf(turned).y, 120, 0.05);
}

TEST(PictureSprite, TheMaskCutsToThePixel) {
  // The left quarter, upper half, in fractions of the picture.
  const Picture picture = drawn(
      pictureSprite({R"(emitter.mask=[{"x":0,"y":0},{"x":0.25,"y":0},{"x":0.25,"y":0.5},{"x":0,"y":0.5}])"}));
  EXPECT_NEAR(coverage(picture), 10 * 10, 1e-3);
  EXPECT_EQ(picture.at(89, 99).w, 1.0F);
  EXPECT_EQ(picture.at(90, 99).w, 0.0F);
  EXPECT_EQ(picture.at(89, 100).w, 0.0F);
  // A triangle covers half.
  const Picture triangle =
      drawn(pictureSprite({R"(emitter.mask=[{"x":0,"y":0},{"x":1,"y":0},{"x":0,"y":1}])"}));
  EXPECT_NEAR(coverage(triangle), 400, 8);
}

TEST(PictureSprite, SmallOnesAverageTheirTexels) {
  const Picture picture = drawn(pictureSprite({"emitter.size=0.1"}));
  Vec4 sum(0.0F);
  for (const Vec4& pixel : picture.pixels()) sum += pixel;
  EXPECT_NEAR(sum.x, sum.y, 0.1);
  EXPECT_NEAR(sum.w, 2 * 1, 0.3);
}

TEST(PictureSprite, WithoutAPictureItIsASoftDisc) {
  EXPECT_GT(coverage(drawn(oneSprite({"emitter.sprite=picture", "emitter.size=2"}))), 100);
}

// A row of eight cells, the n-th of brightness n / 10.
Scene book(std::initializer_list<std::string> assignments) {
  Picture picture(80, 10);
  for (int y = 0; y < 10; ++y)
    for (int x = 0; x < 80; ++x) picture.at(x, y) = Vec4(Vec3(static_cast<float>(x / 10) / 10), 1);
  Scene scene = withContent(oneSprite({"emitter.sprite=flipbook", "emitter.flipbook_columns=8",
                                       "emitter.flipbook_rows=1", "emitter.size=2"}),
                            "picture", std::make_shared<const PictureContent>(std::move(picture)));
  return with(scene, assignments);
}

TEST(FlipbookSprite, ShowsTheCellOfItsAge) {
  const Scene scene =
      book({"emitter.lifetime_mode=lifetime", "emitter.lifetime=2", "emitter.flipbook_blend=false"});
  SceneRun run(scene, std::make_shared<FrameCache>(1 << 20));
  for (int frame = 1; frame < 49; ++frame) {
    const Picture picture =
        Renderer().draw({scene, *run.frame(frame), {}, cameraOf(scene, frame), {200, 200}});
    const double fraction = (frame - 1) / 48.0;
    EXPECT_NEAR(picture.at(100, 100).x, std::floor(fraction * 8 + 1e-5) / 10, 1e-5) << frame;
  }
}

TEST(FlipbookSprite, BlendsBetweenCells) {
  const Scene scene = book({"emitter.lifetime_mode=lifetime", "emitter.lifetime=2"});
  // A quarter of 2 s and half a cell more: cells 2 and 3 in equal parts.
  const Picture picture = drawn(scene, 200, 1 + 12 + 3);
  EXPECT_NEAR(picture.at(100, 100).x, 0.25, 1e-3);
}

TEST(FlipbookSprite, PlaysAtARateAndStartsAgain) {
  const Scene scene =
      book({"emitter.flipbook_play_mode=rate", "emitter.flipbook_rate=24", "emitter.flipbook_blend=false"});
  for (const auto& [frame, cell] : std::vector<std::pair<int, int>>{{1, 0}, {4, 3}, {8, 7}, {9, 0}, {12, 3}})
    EXPECT_NEAR(drawn(scene, 200, frame).at(100, 100).x, cell / 10.0, 1e-5) << frame;
}

TEST(MeshSprite, ABoxShowsItsFrontWithoutGaps) {
  Scene scene =
      withContent(oneSprite({"emitter.sprite=mesh", "emitter.size=4", "emitter.facing=plane",
                             "emitter.plane_normal=0,1,0", "scene.light_direction=0,0,1",
                             "scene.light_color=1,1,1", "scene.ambient_color=0,0,0", "emitter.shading=flat"}),
                  "sprite_mesh", std::make_shared<const MeshContent>(test::boxMesh({2, 2, 2})));
  const Picture picture = drawn(scene);
  // 80 × 80 pixels, lit in full.
  for (int y = 61; y < 139; ++y)
    for (int x = 61; x < 139; ++x) {
      ASSERT_NEAR(picture.at(x, y).w, 1, 1e-5) << x << " " << y;
      ASSERT_NEAR(picture.at(x, y).x, 1, 1e-5) << x << " " << y;
    }
  EXPECT_NEAR(coverage(picture), 80 * 80, 1) << "exactly as large as it is";
  // Lit from the side the front is black, but covers as much.
  const Picture dark = drawn(with(scene, {"scene.light_direction=1,0,0"}));
  EXPECT_NEAR(dark.at(100, 100).x, 0, 1e-5);
  EXPECT_NEAR(dark.at(100, 100).w, 1, 1e-5);
}

TEST(MeshSprite, SeenThroughItShowsNoSeamsBetweenItsFaces) {
  // Turned so that several faces and all diagonals lie at odd angles.
  const Picture picture =
      drawn(withContent(oneSprite({"emitter.sprite=mesh", "emitter.size=6", "emitter.facing=plane",
                                   "emitter.plane_normal=0.3,0.8,0.5", "emitter.sprite_rotation=31",
                                   R"(emitter.opacity={"value":40,"over_age":[{"at":0,"value":1}]})"}),
                        "sprite_mesh", std::make_shared<const MeshContent>(test::boxMesh({2, 2, 2}))));
  int full = 0, sparse = 0;
  for (const Vec4& pixel : picture.pixels()) {
    ASSERT_LE(pixel.w, 0.4 + 1e-5);
    full += pixel.w > 0.4 - 1e-5 ? 1 : 0;
    sparse += pixel.w > 1e-5 && pixel.w <= 0.4 - 1e-5 ? 1 : 0;
  }
  // The shadow of a cube is nowhere smaller than its face, here of 120 pixels.
  EXPECT_GT(full, 118 * 118);
  // Only the rim, about a pixel wide, has less.
  EXPECT_LT(sparse, 1200);
}

TEST(MeshSprite, AFaceSeenNearlyEdgeOnEndsAtItsCorners) {
  Mesh sliver;
  sliver.points = {{0, -1, 0}, {0.001F, 1, 0.001F}, {0.002F, 0.2F, 0.002F}};
  sliver.normals.assign(3, {0, 0, 1});
  sliver.triangles = {{0, 1, 2}};
  sliver.parts = {0};
  sliver.partNames = {{}};
  const Picture picture = drawn(withContent(oneSprite({"emitter.sprite=mesh", "emitter.size=4",
                                                       "emitter.facing=plane", "emitter.plane_normal=0,1,0"}),
                                            "sprite_mesh", std::make_shared<const MeshContent>(sliver)));
  // 80 pixels long, so from 60 to 140, and a hundredth of a pixel wide.
  for (int y = 0; y < 200; ++y)
    for (int x = 0; x < 200; ++x) {
      const bool isNear = y >= 59 && y < 141 && x >= 98 && x < 102;
      ASSERT_TRUE(isNear || picture.at(x, y).w == 0) << x << " " << y;
    }
  EXPECT_LT(coverage(picture), 3);
}

// A ball of many faces as it is, and as the mean of a picture eight times as large.
TEST(MeshSprite, EdgesAreAsCleanAsSupersampledOnes) {
  for (const double pixels : {3.5, 9.0, 24.0}) {
    const Scene scene = withContent(
        oneSprite({"emitter.sprite=mesh", "emitter.size=" + std::to_string(pixels / kScale),
                   "emitter.position=0.013,0.021,0", "scene.light_color=0,0,0", "scene.ambient_color=1,1,1"}),
        "sprite_mesh", std::make_shared<const MeshContent>(test::ballMesh(1, 24, 16)));
    const Picture picture = drawn(scene);
    Picture reference(200, 200);
    reference.pasteReduced(drawn(scene, 1600), 8, 0, 0);
    double area = 0;
    for (int y = 0; y < 200; ++y)
      for (int x = 0; x < 200; ++x) {
        // Sixteen samples a pixel tell its cover to about an eighth.
        ASSERT_NEAR(picture.at(x, y).w, reference.at(x, y).w, 0.15) << x << " " << y << ", " << pixels;
        ASSERT_NEAR(picture.at(x, y).x, picture.at(x, y).w, 1e-5) << "as bright as it covers";
        area += reference.at(x, y).w;
      }
    ASSERT_GT(area, 0.6 * pixels * pixels) << "there is a ball";
    EXPECT_NEAR(coverage(picture), area, 0.02 * area + 0.1);
  }
}

TEST(MeshSprite, SmoothShadingFollowsTheNormals) {
  Scene scene =
      withContent(oneSprite({"emitter.sprite=mesh", "emitter.size=8", "emitter.facing=plane",
                             "emitter.plane_normal=0,0,1", "scene.light_direction=0,0,1",
                             "scene.light_color=1,1,1", "scene.ambient_color=0,0,0"}),
                  "sprite_mesh", std::make_shared<const MeshContent>(test::torusMesh(3, 1, 96, 48)));
  const Picture picture = drawn(scene);
  // Seen along its axis: on the ring's crown the normal faces the light, off it by a fraction s of the tube
  // sqrt(1 - s²).
  const auto at = [&picture](double distance) {
    return picture.at(static_cast<int>(100 + distance * kScale), 100).x;
  };
  EXPECT_NEAR(at(3), 1, 0.02);
  EXPECT_NEAR(at(3.6), 0.8, 0.05);
  EXPECT_NEAR(at(2.4), 0.8, 0.05);
  EXPECT_EQ(picture.at(100, 100).w, 0.0F);
}

struct BlendCase {
  const char* name;
  Vec4 expected;
};

// Colour (0.5, 0.25, 1) at an opacity of 0.6 over an opaque grey of 0.4.
class Blends : public testing::TestWithParam<BlendCase> {};

TEST_P(Blends, FollowTheirFormula) {
  Scene scene =
      oneSprite({"emitter.sprite=dot", "emitter.size=8", R"(emitter.color=[{"color":[0.5,0.25,1]}])",
                 "emitter.position=0,0,1", R"(emitter.opacity={"value":60,"over_age":[{"at":0,"value":1}]})",
                 std::string("emitter.blend=") + GetParam().name});
  Item ground =
      *oneSprite({"emitter.sprite=dot", "emitter.size=9", R"(emitter.color=[{"color":[0.4,0.4,0.4]}])"})
           .findByName("emitter");
  ground.id = 0;
  ground.name = "ground";
  scene = scene.withAdded(ground);
  const Vec4 pixel = drawn(scene).at(100, 100);
  for (int c = 0; c < 4; ++c) EXPECT_NEAR(pixel[c], GetParam().expected[c], 1e-5) << c;
  // The kernel for turned sprites agrees.
  const Vec4 turned = drawn(with(scene, {"emitter.aspect_ratio=0.99"})).at(100, 100);
  for (int c = 0; c < 4; ++c) EXPECT_NEAR(turned[c], GetParam().expected[c], 1e-5) << c;
}

INSTANTIATE_TEST_SUITE_P(
    All, Blends,
    testing::Values(BlendCase{"normal", {0.4 * 0.4 + 0.3, 0.4 * 0.4 + 0.15, 0.4 * 0.4 + 0.6, 1}},
                    BlendCase{"additive", {0.7, 0.55, 1.0, 1}},
                    BlendCase{"screen", {0.4 + 0.3 - 0.12, 0.4 + 0.15 - 0.06, 0.4 + 0.6 - 0.24, 1}},
                    // Of each channel 1 - 0.6 (1 - colour) is left.
                    BlendCase{"multiply", {0.4 * 0.7, 0.4 * 0.55, 0.4 * 1.0, 1}}),
    [](const auto& made) { return std::string(made.param.name); });

TEST(Order, OldestAndYoungestFirst) {
  // Two dots at one place, the second born later and nearer to the back.
  const Scene scene = with(
      starting(),
      {"emitter.rate=0", R"(emitter.bursts=[{"frame":1,"count":1},{"frame":5,"count":1}])", "emitter.speed=0",
       "emitter.lifetime_mode=lifetime", "emitter.lifetime=1", "emitter.sprite=dot", "emitter.size=4",
       "camera.projection=orthographic", "camera.height=10", "camera.position=0,0,10", "camera.aim=0,0,0",
       R"(emitter.opacity={"value":100,"over_age":[{"at":0,"value":1}]})",
       R"(emitter.color=[{"at":0,"color":[1,0,0]},{"at":0.25,"color":[0,1,0]},{"at":1,"color":[0,1,0]}])"});
  // At frame 8 the older one is green, the younger one still reddish.
  EXPECT_GT(drawn(with(scene, {"scene.draw_order=oldest"}), 200, 8).at(100, 100).x, 0.3F);
  EXPECT_LT(drawn(with(scene, {"scene.draw_order=youngest"}), 200, 8).at(100, 100).x, 0.01F);
}

TEST(Look, FollowsSpeedAndChance) {
  StampCache stamps;
  const Scene scene = with(
      starting(),
      {R"(emitter.size={"value":2,"over_age":[{"at":0,"value":0,"to_next":"linear"},{"at":1,"value":1}],"follows":"speed","fastest":10})",
       R"(emitter.color={"value":[{"at":0,"color":[0,0,0]},{"at":1,"color":[1,1,1]}],"follows":"random"})"});
  const Look look(scene, *scene.findByName("emitter"), 1, stamps);
  EXPECT_NEAR(look.diameter({3, 0.9, 2.5}), 0.5, 1e-5);
  EXPECT_NEAR(look.diameter({3, 0.1, 99}), 2, 1e-5);
  double sum = 0;
  for (ParticleId id = 0; id < 4000; ++id) {
    const double grey = look.color({id, 0.2, 0}, 1).x;
    EXPECT_EQ(grey, look.color({id, 0.8, 5}, 2).x);
    sum += grey;
  }
  EXPECT_NEAR(sum / 4000, 0.5, 5 / std::sqrt(12.0 * 4000));
}

TEST(Look, TakesItsColourFromTheBirthPicture) {
  Scene scene = with(starting(), {"emitter.shape=picture", "emitter.rate=240", "emitter.speed=0",
                                  "emitter.color_source=picture", "emitter.picture_emit_from=opaque",
                                  "emitter.picture_width=4", "emitter.lifetime=10"});
  scene = withContent(scene, "birth_picture", redAndGreen());
  const SceneFramePtr frame = test::simulate(scene, 20);
  StampCache stamps;
  const Look look(scene, *scene.findByName("emitter"), 20, stamps);
  const ParticleStore& particles = frame->particles->groups.front().particles;
  ASSERT_GT(particles.size(), 100U);
  for (std::size_t i = 0; i < particles.size(); ++i) {
    const DrawnParticle particle = drawnParticle(particles, i);
    EXPECT_EQ(look.color(particle.state, particle.state.age),
              particle.state.position.x < 0 ? Vec3d(1, 0, 0) : Vec3d(0, 1, 0));
  }
}

// A large picture takes a third more again as stamps: that is spent once.
TEST(StampCache, SharesTheStampsOfAPicture) {
  const Scene scene = withContent(with(starting(), {"emitter.sprite=picture"}), "picture", redAndGreen());
  StampCache here, there;
  const auto stamps = here.stampsOf(*scene.findByName("emitter"), 1);
  ASSERT_NE(stamps, nullptr);
  EXPECT_EQ(there.stampsOf(*scene.findByName("emitter"), 1), stamps);
  const Scene cropped = with(scene, {"emitter.crop_left=50"});
  EXPECT_NE(there.stampsOf(*cropped.findByName("emitter"), 1), stamps);
}

}  // namespace
}  // namespace comet
