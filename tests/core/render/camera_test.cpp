#include "render/camera.h"

#include "support/scenes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

TEST(Projector, AimIsTheMiddleOfThePicture) {
  const Camera camera{Camera::Projection::Perspective, {3, 4, 5}, {-1, 2, 0}, 50, 6};
  const auto point = Projector(camera, 640, 480).project(camera.aim);
  EXPECT_NEAR(point.x, 320, 1e-9);
  EXPECT_NEAR(point.y, 240, 1e-9);
  EXPECT_NEAR(point.depth, glm::length(camera.aim - camera.place), 1e-9);
}

TEST(Projector, FieldOfViewReachesTheTopEdge) {
  const Camera camera{Camera::Projection::Perspective, {0, 0, 10}, {0, 0, 0}, 60, 6};
  const auto top = Projector(camera, 640, 480).project({0, 10 * std::tan(radians(30)), 0});
  EXPECT_NEAR(top.y, 0, 1e-9);
}

TEST(Projector, OrthographicSizeDoesNotDependOnDepth) {
  const Camera camera{Camera::Projection::Orthographic, {0, 0, 10}, {0, 0, 0}, 60, 6};
  const Projector projector(camera, 300, 600);
  EXPECT_NEAR(projector.project({1, 3, 0}).y, 0, 1e-9);
  EXPECT_NEAR(projector.project({1, 3, -50}).y, 0, 1e-9);
  EXPECT_NEAR(projector.project({1, 0, 0}).x, 250, 1e-9);
}

TEST(Projector, RayGoesBackThroughTheProjectedPoint) {
  for (const auto projection : {Camera::Projection::Perspective, Camera::Projection::Orthographic}) {
    const Projector projector({projection, {3, 4, 5}, {-1, 2, 0}, 50, 6}, 640, 480);
    const Vec3d point(0.3, 1.7, -0.4);
    const auto projected = projector.project(point);
    Vec3d origin, direction;
    projector.ray(projected.x, projected.y, origin, direction);
    EXPECT_NEAR(glm::length(glm::cross(point - origin, direction)), 0, 1e-9);
    EXPECT_GT(glm::dot(point - origin, direction), 0);
  }
}

TEST(Projector, BehindAPerspectiveCameraNothingIsVisible) {
  const Projector projector({Camera::Projection::Perspective, {0, 0, 0}, {0, 0, -1}, 50, 6}, 640, 480);
  EXPECT_FALSE(projector.visible(projector.project({0, 0, 1})));
  EXPECT_TRUE(projector.visible(projector.project({0, 0, -1})));
}

TEST(Camera, StraightDownStillHasAFrame) {
  const Camera camera{Camera::Projection::Perspective, {0, 5, 0}, {0, 0, 0}, 50, 6};
  const auto frame = camera.frame();
  EXPECT_NEAR(glm::length(frame.right), 1, 1e-12);
  EXPECT_NEAR(glm::length(frame.up), 1, 1e-12);
  EXPECT_NEAR(glm::dot(frame.up, frame.forward), 0, 1e-12);
}

TEST(Camera, ItemHoldsWhatWasSet) {
  const Camera camera{Camera::Projection::Orthographic, {1, 2, 3}, {4, 5, 6}, 33, 7};
  const Camera read = cameraOf(withCamera(test::starting(), camera), 10);
  EXPECT_EQ(read.place, camera.place);
  EXPECT_EQ(read.aim, camera.aim);
  EXPECT_EQ(read.height, 7);
  EXPECT_EQ(read.projection, Camera::Projection::Orthographic);
}

}  // namespace
}  // namespace comet
