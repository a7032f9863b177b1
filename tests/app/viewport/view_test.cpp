// How the viewport looks and moves things, without a window.
#include "support/scenes.h"
#include "viewport/move_gizmo.h"
#include "viewport/view_camera.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>

namespace comet {
namespace {

const Camera kCamera{Camera::Projection::Perspective, {3, 4, 8}, {0, 1, 0}, 40, 6};

double distance(const Camera& camera) { return glm::length(camera.place - camera.aim); }

TEST(ViewCamera, OrbitKeepsAimAndDistance) {
  ViewCamera view;
  view.look(ViewKind::Free, kCamera);
  for (int i = 0; i < 40; ++i) {
    const Camera now = view.camera(test::starting(), 1);
    view.orbit({37, 21}, now);
    const Camera turned = view.camera(test::starting(), 1);
    EXPECT_NEAR(distance(turned), distance(kCamera), 1e-9);
    EXPECT_EQ(turned.aim, kCamera.aim);
  }
}

TEST(ViewCamera, OrbitBackAndForthReturns) {
  ViewCamera view;
  view.look(ViewKind::Free, kCamera);
  view.orbit({50, 30}, kCamera);
  view.orbit({-50, -30}, view.camera(test::starting(), 1));
  EXPECT_NEAR(glm::length(view.camera(test::starting(), 1).place - kCamera.place), 0, 1e-9);
}

TEST(ViewCamera, OrbitNeverTipsOver) {
  ViewCamera view;
  view.look(ViewKind::Free, kCamera);
  for (int i = 0; i < 100; ++i) view.orbit({0, 50}, view.camera(test::starting(), 1));
  EXPECT_GT(view.camera(test::starting(), 1).frame().up.y, 0);
}

TEST(ViewCamera, PanMovesThePointUnderThePointerAlong) {
  ViewCamera view;
  view.look(ViewKind::Free, kCamera);
  const auto before = Projector(kCamera, 800, 600).project(kCamera.aim);
  view.pan({30, -20}, 600, kCamera);
  const auto after = Projector(view.camera(test::starting(), 1), 800, 600).project(kCamera.aim);
  EXPECT_NEAR(after.x - before.x, 30, 1e-6);
  EXPECT_NEAR(after.y - before.y, -20, 1e-6);
}

TEST(ViewCamera, ZoomScalesThePictureAboutTheAim) {
  for (const auto projection : {Camera::Projection::Perspective, Camera::Projection::Orthographic}) {
    Camera camera = kCamera;
    camera.projection = projection;
    ViewCamera view;
    view.look(ViewKind::Free, camera);
    const double before = Projector(camera, 800, 600).project(camera.aim).pixelsPerUnit;
    view.zoom(2, camera);
    const Camera zoomed = view.camera(test::starting(), 1);
    EXPECT_NEAR(Projector(zoomed, 800, 600).project(camera.aim).pixelsPerUnit, 2 * before, 1e-6);
  }
}

TEST(ViewCamera, FrontSideAndTopKeepWhatFillsThePicture) {
  const double before = Projector(kCamera, 800, 600).project(kCamera.aim).pixelsPerUnit;
  for (const ViewKind kind : {ViewKind::Front, ViewKind::Side, ViewKind::Top}) {
    ViewCamera view;
    view.look(kind, kCamera);
    const Camera camera = view.camera(test::starting(), 1);
    EXPECT_EQ(camera.projection, Camera::Projection::Orthographic);
    EXPECT_EQ(camera.aim, kCamera.aim);
    EXPECT_NEAR(Projector(camera, 800, 600).project(camera.aim).pixelsPerUnit, before, 1e-6);
  }
}

TEST(ViewCamera, TopLooksDownWithXToTheRight) {
  ViewCamera view;
  view.look(ViewKind::Top, kCamera);
  const Camera::Frame frame = view.camera(test::starting(), 1).frame();
  EXPECT_NEAR(frame.forward.y, -1, 1e-9);
  EXPECT_NEAR(frame.right.x, 1, 1e-9);
}

TEST(MoveGizmo, EachGripIsFoundWhereItIsDrawn) {
  const Projector projector(kCamera, 800, 600);
  const Vec3d place(0.5, 1, -0.3);
  const MoveGizmo gizmo;
  const QPointF centre = gizmo.centre(projector, place);
  EXPECT_EQ(gizmo.gripAt(projector, place, centre), MoveGizmo::Grip::Plane);
  for (int axis = 0; axis < 3; ++axis)
    EXPECT_EQ(gizmo.gripAt(projector, place, gizmo.tip(projector, place, axis)),
              static_cast<MoveGizmo::Grip>(static_cast<int>(MoveGizmo::Grip::X) + axis));
  EXPECT_EQ(gizmo.gripAt(projector, place, centre + QPointF(200, 200)), MoveGizmo::Grip::None);
}

TEST(MoveGizmo, AxesMoveAlongThemselvesUnderThePointer) {
  const Projector projector(kCamera, 800, 600);
  const Vec3d place(0.5, 1, -0.3);
  for (int axis = 0; axis < 3; ++axis) {
    MoveGizmo gizmo;
    const QPointF tip = gizmo.tip(projector, place, axis);
    gizmo.start(static_cast<MoveGizmo::Grip>(static_cast<int>(MoveGizmo::Grip::X) + axis), projector, place,
                tip);
    Vec3d target = place;
    target[axis] += 1.25;
    // Drag by what the target's projection is away from the place's own: the tip slides along the axis.
    Vec3d tipInScene = place;
    const double arm = 58 / projector.project(place).pixelsPerUnit;
    tipInScene[axis] += arm + 1.25;
    const auto pixel = projector.project(tipInScene);
    EXPECT_NEAR(glm::length(gizmo.moved(projector, {pixel.x, pixel.y}) - target), 0, 1e-6) << axis;
  }
}

TEST(MoveGizmo, PlaneFollowsThePointerAtTheSameDepth) {
  const Projector projector(kCamera, 800, 600);
  const Vec3d place(0.5, 1, -0.3);
  MoveGizmo gizmo;
  const QPointF centre = gizmo.centre(projector, place);
  gizmo.start(MoveGizmo::Grip::Plane, projector, place, centre);
  const auto moved = projector.project(gizmo.moved(projector, centre + QPointF(40, -25)));
  EXPECT_NEAR(moved.x, centre.x() + 40, 1e-6);
  EXPECT_NEAR(moved.y, centre.y() - 25, 1e-6);
}

}  // namespace
}  // namespace comet
