#include "render/effect_box.h"

#include "support/scenes.h"

namespace comet {
namespace {

TEST(EffectBox, HoldsAllParticlesWithTheirSizes) {
  const Scene scene = test::with(test::oneBurst(50), {"emitter.shape=box", "emitter.extent=4,2,1",
                                                      "emitter.speed=0", "emitter.size=0.5"});
  const SceneFramePtr frame = test::simulate(scene, 3);
  const auto box = effectBox(scene, *frame);
  ASSERT_TRUE(box);
  const ParticleStore& particles = test::onlyGroup(frame);
  for (int axis = 0; axis < 3; ++axis) {
    double least = 1e9, most = -1e9;
    for (std::size_t i = 0; i < particles.size(); ++i) {
      least = std::min(least, particles.position(i)[axis]);
      most = std::max(most, particles.position(i)[axis]);
    }
    EXPECT_NEAR(box->min[axis], least - 0.25, 1e-6);
    EXPECT_NEAR(box->max[axis], most + 0.25, 1e-6);
  }
}

TEST(EffectBox, LeavesStraysOut) {
  // One in two hundred flies far away.
  const Scene scene =
      test::with(test::oneBurst(400),
                 {R"(emitter.speed={"value":1,"formula":"rand(id)>0.995?900:1"})", "emitter.size=0"});
  const SceneFramePtr frame = test::simulate(scene, 25);
  const auto box = effectBox(scene, *frame);
  ASSERT_TRUE(box);
  EXPECT_LT(box->max.y, 20);
}

TEST(EffectBox, IsOfOneItemIfItIsNamed) {
  const Scene scene = test::with(test::gasScene(), {"gas.position=5,1,0", "gas.size=2,4,6"});
  const SceneFramePtr frame = test::simulate(scene, 1);
  const auto gas = effectBox(scene, *frame, scene.findByName("gas")->id);
  ASSERT_TRUE(gas);
  EXPECT_EQ(gas->min, Vec3d(4, -1, -3));
  EXPECT_EQ(gas->max, Vec3d(6, 3, 3));
  EXPECT_FALSE(effectBox(scene, *frame, scene.findByName("emitter")->id)) << "it has no particles";
  EXPECT_FALSE(effectBox(test::oneBurst(0), *test::simulate(test::oneBurst(0), 1)));
}

TEST(FittedCamera, ShowsTheBoxInPicturesOfAnyShape) {
  EXPECT_TRUE(rc::check([] {
    const auto number = [](int from, int to) { return 0.1 * *rc::gen::inRange(10 * from, 10 * to); };
    const Vec3d min(number(-50, 50), number(-50, 50), number(-50, 50));
    const Box box{min, min + Vec3d(number(0, 20) + 0.1, number(0, 20), number(0, 20))};
    Camera camera;
    camera.place = {number(-20, 20) + 0.03, number(-20, 20), number(-20, 20)};
    camera.aim = {number(-5, 5), number(-5, 5), number(-5, 5) + 0.01};
    camera.fieldOfView = number(10, 90);
    camera.projection =
        *rc::gen::arbitrary<bool>() ? Camera::Projection::Perspective : Camera::Projection::Orthographic;
    const int width = *rc::gen::inRange(100, 2000), height = *rc::gen::inRange(100, 2000);
    const Camera fitted = fittedTo(box, camera, static_cast<double>(width) / height);
    RC_ASSERT(glm::length(fitted.frame().forward - camera.frame().forward) < 1e-6);
    const Projector projector(fitted, width, height);
    double reach = 0;  // how near to an edge it comes, 1 at the edge
    for (int corner = 0; corner < 8; ++corner) {
      const auto point =
          projector.project({corner & 1 ? box.max.x : box.min.x, corner & 2 ? box.max.y : box.min.y,
                             corner & 4 ? box.max.z : box.min.z});
      RC_ASSERT(projector.visible(point));
      reach = std::max({reach, std::abs(2 * point.x / width - 1), std::abs(2 * point.y / height - 1)});
    }
    RC_ASSERT(reach < 1.0);
    RC_ASSERT(reach > 0.85);
  }));
}

}  // namespace
}  // namespace comet
