// The kernel for meshes as sprites. Included once for each vector unit, by tile.cpp.
//
// NOLINTNEXTLINE(llvm-header-guard): a header of its own for each vector unit
#if defined(COMET_MESH_KERNEL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef COMET_MESH_KERNEL_H
#undef COMET_MESH_KERNEL_H
#else
#define COMET_MESH_KERNEL_H
#endif

#include "render/mesh_samples.h"
#include "render/sprite.h"
#include "render/tile.h"
#include "render/turned_kernel.h"

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace mesh {

namespace hn = hwy::HWY_NAMESPACE;
using turned::Float;
using turned::Light;
using turned::Tag;

template <Blend kBlend>
void draw(const Sprite& sprite, const MeshFaceList& faces, const turned::Window& window, int left, int top,
          MeshSamples& samples, Tile& tile) {
  const Tag d;
  const int lanes = static_cast<int>(hn::Lanes(d)), width = window.right - window.left;
  const Float opacity = hn::Set(d, sprite.opacity);
  const Float tint[3] = {hn::Set(d, sprite.red * sprite.opacity), hn::Set(d, sprite.green * sprite.opacity),
                         hn::Set(d, sprite.blue * sprite.opacity)};
  // With room for a whole vector behind the last pixel, where nothing is covered.
  alignas(64) std::array<float, Tile::kStride> planes[4]{};
  const int rows = MeshSamples::rowsAtOnce(width);
  for (int band = window.top; band < window.bottom; band += rows) {
    const int end = std::min(window.bottom, band + rows);
    samples.draw(faces, {left + window.left, top + band, left + window.right, top + end});
    for (int y = band; y < end; ++y) {
      samples.resolve(top + y, {planes[0].data(), planes[1].data(), planes[2].data(), planes[3].data()});
      for (int x = 0; x < width; x += lanes) {
        const auto load = [&](std::size_t plane) { return hn::LoadU(d, planes[plane].data() + x); };
        const std::size_t at =
            static_cast<std::size_t>(y) * Tile::kStride + static_cast<std::size_t>(window.left + x);
        turned::blend<kBlend>({load(0), load(1), load(2), load(3)}, tint, opacity, tile, at);
      }
    }
  }
}

// `left` and `top` are the tile's in the picture.
inline void draw(const Sprite& sprite, Blend blend, const MeshFaceList& faces, const turned::Window& window,
                 int left, int top, MeshSamples& samples, Tile& tile) {
  switch (blend) {
    case Blend::Normal:
      return draw<Blend::Normal>(sprite, faces, window, left, top, samples, tile);
    case Blend::Additive:
      return draw<Blend::Additive>(sprite, faces, window, left, top, samples, tile);
    case Blend::Screen:
      return draw<Blend::Screen>(sprite, faces, window, left, top, samples, tile);
    case Blend::Multiply:
      return draw<Blend::Multiply>(sprite, faces, window, left, top, samples, tile);
  }
}

}  // namespace mesh

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#endif
