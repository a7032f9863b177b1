#include "render/view_shape.h"

#include "simulation/emission/shape_path.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>
#include <rapidcheck.h>

namespace comet {
namespace {

using test::starting;
using test::with;

const Item& emitterIn(const Scene& scene) { return *scene.findByName("emitter"); }

Item filling(const Scene& scene, const Camera& camera, double aspect) {
  return emitterIn(withShapeFilling(scene, emitterIn(scene).id, camera, aspect, 1));
}

Item facing(const Scene& scene, const Camera& camera) {
  return emitterIn(withShapeFacing(scene, emitterIn(scene).id, camera));
}

Camera anyCamera() {
  const auto number = [](int most) { return *rc::gen::inRange(-most, most + 1) / 10.0; };
  Camera camera;
  camera.projection = *rc::gen::element(Camera::Projection::Perspective, Camera::Projection::Orthographic);
  camera.place = {number(100), number(100), number(100)};
  camera.aim = {number(100), number(100), number(100)};
  camera.fieldOfView = *rc::gen::inRange(5, 120);
  camera.height = *rc::gen::inRange(1, 40);
  RC_PRE(glm::length(camera.place - camera.aim) > 0.1);
  return camera;
}

TEST(ViewShape, FillsThePictureToItsCorners) {
  EXPECT_TRUE(rc::check([] {
    const Camera camera = anyCamera();
    const double aspect = *rc::gen::inRange(5, 30) / 10.0;
    const Item emitter = filling(starting(), camera, aspect);
    const ShapePath::Placement pose = keyedPose(emitter, 1);
    const Vec3d half = 0.5 * emitter.vector("extent", 1);
    constexpr int kHeight = 1000;
    const double width = kHeight * aspect;
    const Projector projector(camera, static_cast<int>(width), kHeight);
    for (const double x : {-1.0, 1.0})
      for (const double z : {-1.0, 1.0}) {
        const Projector::Point corner = projector.project(pose.toScene({x * half.x, 0, z * half.z}));
        RC_ASSERT(std::abs(corner.x - 0.5 * (1 + x) * width) < 0.5);
        RC_ASSERT(std::abs(corner.y - 0.5 * (1 + z) * kHeight) < 0.5);
      }
  }));
}

TEST(ViewShape, StaysAtItsDistanceUnlessThatIsBehindTheViewer) {
  Camera camera;
  camera.place = {0, 2, 10};
  camera.aim = {0, 2, 4};
  const auto placeOf = [&camera](const char* position) {
    return filling(with(starting(), {std::string("emitter.position=") + position}), camera, 1.5)
        .vector("position", 1);
  };
  EXPECT_LT(glm::length(placeOf("3,0,-2") - Vec3d(0, 2, -2)), 1e-9);
  EXPECT_LT(glm::length(placeOf("3,0,12") - Vec3d(0, 2, 4)), 1e-9);
}

TEST(ViewShape, FacesTheViewer) {
  Camera front;
  front.place = {0, 0, 10};
  front.aim = {0, 0, 0};
  Scene scene = with(starting(), {"emitter.shape=disc"});
  EXPECT_LT(glm::length(facing(scene, front).vector("rotation", 1) - Vec3d(90, 0, 0)), 1e-9);
  scene = with(scene, {"emitter.shape=picture", "emitter.rotation=10,20,30"});
  EXPECT_LT(glm::length(facing(scene, front).vector("rotation", 1)), 1e-9) << "pictures stand upright";
  // From any side, also from straight above.
  EXPECT_TRUE(rc::check([] {
    const Camera camera = anyCamera();
    const Item emitter = facing(with(starting(), {"emitter.shape=ring"}), camera);
    const Mat3d rotation = rotationFromDegrees(emitter.vector("rotation", 1));
    RC_ASSERT(glm::length(rotation[1] + camera.frame().forward) < 1e-6);
    RC_ASSERT(glm::length(rotation[0] - camera.frame().right) < 1e-6);
  }));
}

}  // namespace
}  // namespace comet
