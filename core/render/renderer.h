// The one renderer: a particle frame, seen by a camera, as a picture. The viewport shows the very pixels that
// are baked.
#pragma once

#include "base/picture.h"
#include "particles/particle_frame.h"
#include "render/camera.h"
#include "render/rasteriser.h"

namespace comet {

struct PictureSize {
  int width = 0;
  int height = 0;
};

// Keeps its buffers between pictures; belongs to one thread at a time, and uses all.
class Renderer {
 public:
  // Draws every emitter of `scene` that is on. The picture is transparent where nothing is.
  Picture draw(const Scene& scene, const ParticleFrame& frame, const Camera& camera, PictureSize size);

  // As above, drawn `factor` times as large each way and averaged.
  Picture drawSupersampled(const Scene& scene, const ParticleFrame& frame, const Camera& camera,
                           PictureSize size, int factor);
  // The same, put into a larger picture with its top left corner at (x, y).
  void drawSupersampledInto(Picture& target, int x, int y, const Scene& scene, const ParticleFrame& frame,
                            const Camera& camera, PictureSize size, int factor);

 private:
  Rasteriser rasteriser_;
  std::vector<Sprite> sprites_;
};

}  // namespace comet
