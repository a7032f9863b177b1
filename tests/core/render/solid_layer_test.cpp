// Surfaces that hide: their distances against closed forms, and what they do to sprites.
#include "render/solid_layer.h"

#include "geometry/shape_mesh.h"
#include "render/renderer.h"
#include "support/meshes.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::oneBurst;
using test::simulate;
using test::with;
using test::withInfluence;

constexpr Camera kBeforeSolids{Camera::Projection::Orthographic, {0, 0, 10}, {0, 0, 0}, 40, 6};

Solid solidOf(Mesh mesh) {
  Solid solid;
  solid.mesh = std::make_shared<const Mesh>(std::move(mesh));
  return solid;
}

TEST(ShapeMesh, HasTheVolumeOfItsShapeAndLooksOutwards) {
  EXPECT_NEAR(volumeOf(boxMesh({1, 2, 3})), 48, 1e-4);
  EXPECT_NEAR(volumeOf(latheMesh(sphereOutline(2))) / (4 * kPi * 8 / 3), 1, 0.01);
  EXPECT_NEAR(volumeOf(latheMesh(cylinderOutline(2, 1.5))) / (kPi * 4 * 3), 1, 0.01);
  EXPECT_NEAR(volumeOf(latheMesh(capsuleOutline(1, 2))) / (kPi * 4 + 4 * kPi / 3), 1, 0.01);
  for (const Mesh& mesh : {latheMesh(sphereOutline(2)), latheMesh(cylinderOutline(2, 1.5))})
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      for (const std::uint32_t corner : mesh.triangles[t])
        EXPECT_GE(glm::dot(Vec3d(mesh.normals[corner]), mesh.areaVector(t)), -1e-6);
}

class SphereFrom : public ::testing::TestWithParam<Camera::Projection> {};

TEST_P(SphereFrom, IsAsFarAtEachPixelAsARaySays) {
  Camera camera = kBeforeSolids;
  camera.projection = GetParam();
  const Projector projector(camera, 120, 90);
  Solid ball = solidOf(latheMesh(sphereOutline(1.5)));
  ball.place = {0.5, 0.2, 1};
  const SolidLayer layer({ball}, {}, projector, 120, 90);
  int covered = 0;
  for (int y = 0; y < 90; ++y)
    for (int x = 0; x < 120; ++x) {
      Vec3d from, offset;
      projector.ray(x + 0.5, y + 0.5, from, offset);
      const Vec3d to = ball.place - from;
      const double along = glm::dot(to, offset), off2 = glm::dot(to, to) - along * along;
      const float depth = layer.depths(y)[x];
      // Beside the rim, whose sides are straight, it may be either.
      if (std::abs(std::sqrt(off2) - 1.5) < 0.05) continue;
      EXPECT_EQ(std::isfinite(depth), off2 < 1.5 * 1.5) << x << " " << y;
      if (!std::isfinite(depth)) continue;
      ++covered;
      const Vec3d met = from + offset * (along - std::sqrt(1.5 * 1.5 - off2));
      EXPECT_NEAR(depth, 10 - met.z, 0.03);
    }
  EXPECT_GT(covered, 500);
}

INSTANTIATE_TEST_SUITE_P(Both, SphereFrom,
                         ::testing::Values(Camera::Projection::Perspective,
                                           Camera::Projection::Orthographic));

TEST(SolidLayer, IsCutOffBehindTheCamera) {
  // A floor that goes on under and behind a camera that looks level: everything below the horizon.
  const Camera camera{Camera::Projection::Perspective, {0, 1, 0}, {0, 1, -10}, 60, 6};
  const Projector projector(camera, 40, 40);
  Solid floor = solidOf(boxMesh({1000, 0, 1000}));
  floor.faces = Solid::Faces::Both;
  const SolidLayer layer({floor}, {}, projector, 40, 40);
  for (int x = 0; x < 40; ++x) {
    EXPECT_TRUE(std::isinf(layer.depths(10)[x]));
    EXPECT_TRUE(std::isfinite(layer.depths(39)[x]));
    // One unit below at the tangent of the angle downwards.
    const double down = (39.5 - 20) / 20 * std::tan(kPi / 6);
    EXPECT_NEAR(layer.depths(39)[x], 1 / down, 1e-3);
  }
}

TEST(SolidLayer, ShowsColourUnderTheLightAndHollowThingsFromWithin) {
  const SceneLights light{{{Vec3d(0, 0, 1), Vec3(0.5F)}}, Vec3d(0.25)};
  Solid box = solidOf(boxMesh({1, 1, 1}));
  box.isVisible = true;
  box.color = {1, 0.5, 0};
  const Projector projector(kBeforeSolids, 60, 60);
  const SolidLayer outside({box}, light, projector, 60, 60);
  EXPECT_NEAR(outside.depths(30)[30], 9, 1e-5);
  const Vec3d lit = light.on(Vec3d(0.0), {0, 0, 1}) * box.color;
  for (int c = 0; c < 3; ++c) EXPECT_NEAR(outside.colors().at(30, 30)[c], lit[c], 1e-6);
  EXPECT_EQ(outside.colors().at(30, 30).w, 1);
  box.faces = Solid::Faces::Back;
  EXPECT_NEAR(SolidLayer({box}, light, projector, 60, 60).depths(30)[30], 11, 1e-5);
}

TEST(SolidLayer, CoversPixelsAtItsEdgesByTheirPart) {
  constexpr int kSize = 80;
  constexpr double kUnits = 6.0 / kSize, kAngle = 0.35;
  Solid box = solidOf(boxMesh({1.5, 0.8, 0.5}));
  box.turn = rotationFromDegrees({0, 0, kAngle * 180 / kPi});
  const SolidLayer layer({box}, {}, Projector(kBeforeSolids, kSize, kSize), kSize, kSize);
  const auto isInside = [&](double px, double py) {
    const double x = (px - kSize / 2.0) * kUnits, y = (kSize / 2.0 - py) * kUnits;
    return std::abs(x * std::cos(kAngle) + y * std::sin(kAngle)) < 1.5 &&
           std::abs(y * std::cos(kAngle) - x * std::sin(kAngle)) < 0.8;
  };
  double sum = 0;
  for (int y = 0; y < kSize; ++y)
    for (int x = 0; x < kSize; ++x) {
      constexpr int kFine = 32;
      int inside = 0;
      for (int i = 0; i < kFine * kFine; ++i)
        inside += isInside(x + (i % kFine + 0.5) / kFine, y + (i / kFine + 0.5) / kFine) ? 1 : 0;
      EXPECT_NEAR(layer.covers(y)[x], static_cast<double>(inside) / (kFine * kFine), 0.2) << x << " " << y;
      EXPECT_EQ(layer.covers(y)[x] > 0, std::isfinite(layer.depths(y)[x]));
      sum += layer.covers(y)[x];
    }
  EXPECT_NEAR(sum * kUnits * kUnits, 3 * 1.6, 0.01);
}

// One dot at the origin before, behind or beside a wall, seen from in front.
double coverBy(const std::string& wallAt, std::initializer_list<std::string> settings) {
  Scene scene =
      with(oneBurst(), {"emitter.speed=0", "emitter.sprite=dot", "emitter.size=0.5", "emitter.opacity=100"});
  scene = withInfluence(scene, "deflector",
                        {"deflector.shape=box", "deflector.size=2,2,0.2", "deflector.position=" + wallAt,
                         "deflector.render_display=holdout"});
  scene = with(scene, settings);
  const Picture picture = Renderer().draw({scene, *simulate(scene, 1), {}, kBeforeSolids, {90, 90}});
  double cover = 0;
  for (const Vec4& pixel : picture.pixels()) cover += pixel.w;
  return cover / (kPi * std::pow(0.25 * 90 / 6, 2));
}

TEST(Solids, HideWhatLiesBehindThemOnly) {
  EXPECT_NEAR(coverBy("0,0,-2", {}), 1, 0.05);
  EXPECT_NEAR(coverBy("0,0,2", {}), 0, 1e-6);
  EXPECT_NEAR(coverBy("1,0,2", {}), 0.5, 0.06) << "half of it looks out";
  EXPECT_NEAR(coverBy("0,0,2", {"deflector.render_display=hidden"}), 1, 0.05);
  EXPECT_NEAR(coverBy("0,0,2", {"deflector.viewport_display=shaded", "deflector.render_display=hidden"}), 1,
              0.05)
      << "shaded in the viewport only";
  // By distance, whatever the order in which sprites are drawn.
  for (const char* order : {"oldest", "youngest"})
    EXPECT_NEAR(coverBy("0,0,2", {std::string("scene.draw_order=") + order}), 0, 1e-6);
  // What rests on a surface is seen whole.
  EXPECT_NEAR(coverBy("0,0,-0.1", {}), 1, 0.05);
}

TEST(Solids, AreSeenWhereVisibleUnderSpritesBeforeThem) {
  Scene scene = withInfluence(oneBurst(), "deflector",
                              {"deflector.shape=box", "deflector.size=2,2,2", "deflector.position=0,0,-3",
                               "deflector.render_display=visible"});
  scene = with(scene, {"emitter.speed=0", "emitter.sprite=dot", "emitter.size=0.5", "emitter.opacity=50",
                       R"(emitter.color=[{"at":0,"color":[1,1,1]}])"});
  const Picture picture = Renderer().draw({scene, *simulate(scene, 1), {}, kBeforeSolids, {90, 90}});
  const Vec4 wall = picture.at(35, 35), over = picture.at(45, 45);
  EXPECT_EQ(wall.w, 1);
  EXPECT_GT(wall.y, 0);
  EXPECT_NEAR(over.y, 0.5 + 0.5 * wall.y, 1e-4);
  EXPECT_EQ(picture.at(5, 5), Vec4(0.0F));
}

TEST(Solids, LeaveNoRimBeforeWhatIsOpaque) {
  // A large opaque dot, and before it a turned box that is seen.
  Scene scene =
      with(oneBurst(), {"emitter.speed=0", "emitter.sprite=dot", "emitter.size=5", "emitter.opacity=100"});
  scene = withInfluence(
      scene, "deflector",
      {"deflector.shape=box", "deflector.size=1.4,1,0.2", "deflector.position=0,0,3",
       "deflector.rotation=0,0,20", "deflector.render_display=visible", "deflector.surface_color=0,0,0"});
  const Picture picture = Renderer().draw({scene, *simulate(scene, 1), {}, kBeforeSolids, {90, 90}});
  int between = 0;
  for (int y = 20; y < 70; ++y)
    for (int x = 20; x < 70; ++x) {
      const Vec4& pixel = picture.at(x, y);
      EXPECT_NEAR(pixel.w, 1, 1e-4) << x << " " << y;
      between += pixel.x > 0.1F && pixel.x < 0.9F ? 1 : 0;
    }
  EXPECT_GT(between, 30);
}

}  // namespace
}  // namespace comet
