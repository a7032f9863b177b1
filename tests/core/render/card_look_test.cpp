// Cards in pictures: their outline, sides and pictures, and what data sheets say of them.
#include "bake/card_export.h"
#include "bake/cell_paint.h"
#include "io/picture_content.h"
#include "render/renderer.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>
#include <numeric>

namespace comet {
namespace {

using test::with;

// A card of 2 by 4 that faces a camera of 6 units on 96 pixels, its first row up, lit by nothing but what is
// all around.
Scene facing() {
  return with(test::oneBurst(),
              {"emitter.sprite=card", "emitter.size=4", "emitter.aspect_ratio=0.5", "emitter.speed=0",
               "emitter.facing=plane", "emitter.plane_normal=0,0,1", "emitter.sprite_rotation=-90",
               "emitter.opacity=100", R"(emitter.color=[{"at":0,"color":[1,0,0]}])", "scene.light_strength=0",
               "scene.ambient_color=1,1,1"});
}

Camera front() { return {Camera::Projection::Orthographic, {0, 0, 5}, {0, 0, 0}, 40, 6}; }
Camera behind() { return {Camera::Projection::Orthographic, {0, 0, -5}, {0, 0, 0}, 40, 6}; }

Picture drawn(const Scene& scene, const Camera& camera) {
  return Renderer().draw({scene, *test::simulate(scene, 1), {}, camera, {96, 96}});
}

double area(const Picture& picture) {
  const std::vector<Vec4> pixels(picture.pixels().begin(), picture.pixels().end());
  return std::accumulate(pixels.begin(), pixels.end(), 0.0,
                         [](double sum, const Vec4& pixel) { return sum + static_cast<double>(pixel.w); });
}

// Left half red, right half green; the lower quarter is transparent.
Scene withPicture(const Scene& scene, const char* param, const Vec3& left, const Vec3& right) {
  Picture picture(16, 16);
  for (int y = 0; y < 12; ++y)
    for (int x = 0; x < 16; ++x) picture.row(y)[x] = Vec4(x < 8 ? left : right, 1);
  ParamValue value;
  value.base = FileRef{"made by the test", std::make_shared<const PictureContent>(std::move(picture)), {}};
  return scene.withParam(scene.findByName("emitter")->id, param, std::move(value));
}

TEST(CardLook, HasItsOutline) {
  constexpr double kPixels = 16 * 16;  // of a unit²
  EXPECT_NEAR(area(drawn(facing(), front())) / kPixels, 8, 0.01);
  // Bent to half a tube along its length it is as high as the tube is wide.
  const double high = 4 / kPi * 2;
  EXPECT_NEAR(
      area(drawn(with(facing(), {"emitter.card_curl=180", "emitter.card_cells_along=8"}), front())) / kPixels,
      2 * high, 0.1);
}

TEST(CardLook, ShowsEachSideInItsColour) {
  const Scene scene =
      with(facing(), {"emitter.card_back=own", R"(emitter.card_back_color=[{"at":0,"color":[0,0,1]}])"});
  const Vec4 red = drawn(scene, front()).at(48, 48), blue = drawn(scene, behind()).at(48, 48);
  EXPECT_GT(red.x, 0.2F);
  EXPECT_EQ(red.z, 0.0F);
  EXPECT_GT(blue.z, 0.2F);
  EXPECT_EQ(blue.x, 0.0F);
  EXPECT_GT(drawn(facing(), behind()).at(48, 48).x, 0.2F) << "the same on both";
}

TEST(CardLook, ShowsItsPictureUpright) {
  const Scene white = with(facing(), {R"(emitter.color=[{"at":0,"color":[1,1,1]}])"});
  const Scene scene = withPicture(white, "picture", {1, 0, 0}, {0, 1, 0});
  const Picture shown = drawn(scene, front());
  EXPECT_GT(shown.at(36, 40).x, 0.2F) << "left";
  EXPECT_EQ(shown.at(36, 40).y, 0.0F);
  EXPECT_GT(shown.at(60, 40).y, 0.2F) << "right";
  EXPECT_EQ(shown.at(48, 74).w, 0.0F) << "a hole below";
  EXPECT_NEAR(area(shown), 0.75 * area(drawn(white, front())), 30);
  // From behind, what is on the front is seen in mirror image; what is on the back is not.
  EXPECT_GT(drawn(scene, behind()).at(36, 40).y, 0.2F);
  const Picture back = drawn(withPicture(scene, "card_back_picture", {0, 0, 1}, {0, 1, 0}), behind());
  EXPECT_GT(back.at(36, 40).z, 0.2F);
  EXPECT_GT(back.at(60, 40).y, 0.2F);
}

TEST(CardLook, FacesTheLightWithEitherSide) {
  const Scene lit = with(facing(), {"scene.light_strength=1", "scene.light_direction=0,0,1",
                                    "scene.light_color=1,1,1", "scene.ambient_color=0,0,0"});
  EXPECT_GT(drawn(lit, front()).at(48, 48).x, 0.2F);
  EXPECT_LT(drawn(lit, behind()).at(48, 48).x, 0.05F) << "the shadow side";
}

// Of a card that leans by 30 degrees, the normal does.
TEST(CardLook, TellsWhereItsFacesLook) {
  const Scene scene = with(facing(), {"emitter.plane_normal=0.5,0,0.866025"});
  Renderer renderer;
  renderer.prepare({scene, *test::simulate(scene, 1), {}, front(), {96, 96}});
  const Vec4 said = renderer.paint(MiddlePaint(Vec2d(48))).at(48, 48);
  EXPECT_NEAR(said.x, -0.5, 1e-3);
  EXPECT_NEAR(said.y, 0, 1e-3);
  EXPECT_EQ(renderer.paint(CurvaturePaint()).at(48, 48).x, 0.0F);
  // Of a picture, the holes count and the colours do not.
  renderer.prepare({withPicture(scene, "picture", {0, 0, 0}, {0, 0, 1}),
                    *test::simulate(scene, 1),
                    {},
                    front(),
                    {96, 96}});
  EXPECT_NEAR(renderer.paint(MiddlePaint(Vec2d(48))).at(48, 40).x, -0.5, 1e-3);
  EXPECT_EQ(renderer.paint(MiddlePaint(Vec2d(48))).at(48, 74).z, 0.0F);
}

// A card that turns in the picture moves to opposite sides at opposite ends.
TEST(CardLook, TellsHowEachPointMoves) {
  const Scene scene = with(facing(), {"emitter.spin=60", "emitter.card_air_resistance=0"});
  SceneRun run(scene, test::roomyCache());
  const SceneFramePtr now = run.frame(1), next = run.frame(2);
  Renderer renderer;
  renderer.prepare({scene, *now, {}, front(), {96, 96}});
  const Projector then(front(), 96, 96);
  const Picture moves = renderer.paint(MotionPaint(*next->particles, then, 1 / test::kFrameRate));
  // Sixty degrees a second about the viewer, from 24 pixels away.
  const double expected = 24 * kPi / 3 / test::kFrameRate;
  EXPECT_NEAR(moves.at(48, 24).x, -expected, 0.05);
  EXPECT_NEAR(moves.at(48, 71).x, expected, 0.05);
  EXPECT_NEAR(moves.at(48, 48).x, 0, 0.05);
}

TEST(CardExport, IsTheMeshThatIsDrawn) {
  const Scene scene = with(facing(), {"emitter.card_cells_across=3"});
  const MeshFrame cards = cardsOf(scene, *test::simulate(scene, 1));
  const Mesh mesh = meshOf(cards);
  EXPECT_EQ(mesh.points.size(), 20U);
  EXPECT_EQ(mesh.triangles.size(), 24U);
  double sum = 0;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    sum += 0.5 * glm::length(mesh.areaVector(t));
    EXPECT_GT(mesh.areaVector(t).z, 0) << "its front looks at the viewer";
  }
  EXPECT_NEAR(sum, 8, 1e-4);
  const std::string usd = encodeUsdMeshes({cards}, 24);
  for (const char* part : {"def Mesh \"cards\"", "faceVertexIndices.timeSamples", "normal3f[] normals",
                           "texCoord2f[] primvars:st", "1: [3, 3, 3"})
    EXPECT_NE(usd.find(part), std::string::npos) << part;
}

}  // namespace
}  // namespace comet
