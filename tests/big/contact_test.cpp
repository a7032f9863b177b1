// Many particles that touch, for long.
#include "support/meshes.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>

namespace comet {
namespace {

// A hold that rocks for 1 000 frames, a closed mesh, which 50 000 grains fill more than half.
Scene rockingHold() {
  Scene scene = test::with(test::oneBurst(50000),
                           {"scene.last_frame=1000", "emitter.shape=box", "emitter.extent=5.5,2.5,3.5",
                            "emitter.speed=0", "emitter.size=0.1", "emitter.lifetime_mode=endless"});
  scene = test::withInfluence(scene, "gravity");
  scene = test::withInfluence(scene, "contact", {"contact.contact_steps=8"});
  scene = test::withInfluence(scene, "deflector",
                              {"deflector.shape=mesh", "deflector.inside_out=true", "deflector.bounce=0",
                               "deflector.particle_radius=100",
                               R"(deflector.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"smooth"},
          {"frame":250,"value":[0,0,14],"to_next":"smooth"},{"frame":500,"value":[0,0,-14],"to_next":"smooth"},
          {"frame":750,"value":[9,0,8],"to_next":"smooth"},{"frame":1000,"value":[0,0,0]}]})"});
  ParamValue mesh;
  mesh.base = FileRef{"made by the test", std::make_shared<const MeshContent>(test::boxMesh({6, 3, 4})), {}};
  return scene.withParam(scene.findByName("deflector")->id, "mesh", mesh);
}

TEST(Contact, NothingEscapesFromAMeshThatRocks) {
  const Scene scene = rockingHold();
  const Item& hold = *scene.findByName("deflector");
  SceneRun run(scene, std::make_shared<FrameCache>(std::size_t{1} << 28));
  for (int frame = 1; frame <= 1000; ++frame) {
    const SceneFramePtr now = run.frame(frame);
    ASSERT_EQ(now->report->stats.living, 50000U) << frame;
    ASSERT_EQ(now->report->stats.losses.lost, 0U) << frame;
    if (frame % 50 != 0) continue;
    const Mat3d toHold = glm::transpose(rotationFromDegrees(hold.vector("rotation", frame)));
    const ParticleStore& grains = test::onlyGroup(now);
    double worst = -1;
    for (std::size_t i = 0; i < grains.size(); ++i) {
      const Vec3d beyond = glm::abs(toHold * grains.position(i)) - Vec3d(3, 1.5, 2);
      worst = std::max({worst, beyond.x, beyond.y, beyond.z});
    }
    // Their rims, which a distance field may let in by a part of a cell.
    EXPECT_LT(worst, -0.04) << frame;
    ASSERT_EQ(now->report->contacts.size(), 1U);
    EXPECT_GT(now->report->contacts[0].pairs, 50000U);
  }
}

}  // namespace
}  // namespace comet
