// Surfaces that hide what lies behind them: how far the nearest one is at each pixel, its colour, and how
// much of the pixel it covers.
//
// Drawn once for a picture, before the sprites; the rasteriser then keeps sprites out of what is nearer.
#pragma once

#include "base/picture.h"
#include "geometry/mesh.h"
#include "render/camera.h"
#include "render/lights.h"

#include <memory>
#include <vector>

namespace comet {

// A mesh in the scene.
struct Solid {
  enum class Faces { Front, Back, Both };  // which are drawn, seen from the camera

  std::shared_ptr<const Mesh> mesh;
  double scale = 1;
  Mat3d turn{1.0};
  Vec3d place{0.0};
  Faces faces = Faces::Front;
  bool isVisible = false;      // else it leaves a hole: nothing is seen of it, and nothing behind it
  Vec3d color{0.5};            // linear
  std::vector<Vec3> colors{};  // of the mesh's points, in its place; may be empty
};

class SolidLayer {
 public:
  // Empty.
  SolidLayer() = default;
  // Runs on all threads; the result does not depend on their number. Surfaces that come behind the camera are
  // cut off there.
  SolidLayer(const std::vector<Solid>& solids, const SceneLights& lights, const Projector& projector,
             int width, int height);

  bool empty() const { return depths_.empty(); }
  // From the viewer along its axis, units; infinite where there is no surface.
  const float* depths(int row) const { return depths_.data() + static_cast<std::size_t>(row) * width_; }
  // Which part of a pixel has a surface, 0..1: less than 1 at the edges.
  const float* covers(int row) const { return covers_.data() + static_cast<std::size_t>(row) * width_; }
  // Of the covered part of a pixel, premultiplied; transparent where a surface leaves a hole, or none is.
  const Picture& colors() const { return colors_; }
  // How long a pixel is in the scene at a distance, units.
  double unitsPerPixel(double distance) const { return perspective_ ? distance * perPixel_ : perPixel_; }

 private:
  int width_ = 0;
  std::vector<float> depths_, covers_;
  Picture colors_;
  bool perspective_ = false;
  double perPixel_ = 0;  // at a distance of 1
};

}  // namespace comet
