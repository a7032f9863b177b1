#include "render/emitter_surface.h"

#include "base/error.h"
#include "support/scenes.h"

namespace comet {
namespace {

using test::with;

Scene lumps() {
  return with(test::oneBurst(20), {"emitter.cone=180", "emitter.size=0.6", "emitter.surface=particles",
                                   "emitter.surface_thickness=100", "emitter.surface_voxel_size=0.1"});
}

// The surface of the only emitter at a frame.
std::shared_ptr<const Mesh> surfaceOf(EmitterSurfaces& surfaces, const Scene& scene, int frame) {
  const Item& emitter = *scene.findByName("emitter");
  StampCache stamps;
  const Look look(scene, emitter, frame, stamps);
  return surfaces.of(scene, emitter, *test::simulate(scene, frame), {}, look);
}

TEST(EmitterSurfaces, AreMadeAnewOnlyIfSomethingOfThemHasChanged) {
  EmitterSurfaces surfaces;
  const auto first = surfaceOf(surfaces, lumps(), 10);
  ASSERT_FALSE(first->triangles.empty());
  EXPECT_EQ(surfaceOf(surfaces, lumps(), 10), first);
  EXPECT_EQ(surfaceOf(surfaces, with(lumps(), {"emitter.surface_color=1,0,0"}), 10), first);
  const auto later = surfaceOf(surfaces, lumps(), 11);
  EXPECT_NE(later, first);
  const auto finer = surfaceOf(surfaces, with(lumps(), {"emitter.surface_voxel_size=0.05"}), 11);
  EXPECT_GT(finer->triangles.size(), 2 * later->triangles.size());
  EXPECT_NE(surfaceOf(surfaces, with(lumps(), {"emitter.surface_smoothing=3"}), 11), later);
}

TEST(EmitterSurfaces, AreForgottenWithTheirEmitter) {
  EmitterSurfaces surfaces;
  const auto first = surfaceOf(surfaces, lumps(), 10);
  surfaces.keepOnly(lumps());
  EXPECT_EQ(surfaceOf(surfaces, lumps(), 10), first);
  surfaces.keepOnly(with(lumps(), {"emitter.surface=none"}));
  EXPECT_NE(surfaceOf(surfaces, lumps(), 10), first);
}

TEST(EmitterSurfaces, SayWhichOneTakesTooMuchMemoryAndAreThereAgainAfterwards) {
  EmitterSurfaces surfaces;
  try {
    (void)surfaceOf(surfaces, with(lumps(), {"emitter.surface_voxel_size=0.0001"}), 10);
    FAIL() << "it would take gigabytes";
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("emitter"), std::string::npos);
  }
  EXPECT_FALSE(surfaceOf(surfaces, lumps(), 10)->triangles.empty());
}

}  // namespace
}  // namespace comet
