// The gases of a shot, as pieces of what is seen between the depths of what else is drawn.
#pragma once

#include "base/progress.h"
#include "gas/advect.h"
#include "gas/gas_march.h"
#include "gas/packed_gas.h"
#include "render/camera.h"
#include "render/look.h"
#include "render/shot.h"

#include <memory>
#include <optional>
#include <vector>

namespace comet {

// How a gas of the scene looks at a frame, in a box as it was simulated.
GasLook gasLookOf(const Item& gas, double frame, const GasGrid& grid);

// What is drawn of gas: the light that it scatters, the light that it gives off by itself, or what a paint
// says. Whatever it is, gas dims what is behind it.
struct GasPass {
  bool scatters = true, glows = true;
  const SpritePaint* paint = nullptr;
};

// A place in a gas that is seen.
class GasPlace {
 public:
  // `gas` is the item's id, `fullAge` that of its look. `flow` is of another grid where the gas is seen in
  // finer voxels than it moves in.
  GasPlace(ItemId gas, const GasGrid& grid, const FlowBetweenFaces& flow, const GasState& state,
           const Vec3d& position, double fullAge = 1)
      : gas_(gas), grid_(grid), flow_(flow), state_(state), position_(position), fullAge_(fullAge) {}

  ItemId gas() const { return gas_; }
  const Vec3d& position() const { return position_; }
  // Units per second.
  Vec3d velocity() const { return flow_.at(position_); }
  double value(GasChannel GasState::*channel) const;
  // As a fraction of its full age, 0 to 1; none if it carries no ages.
  std::optional<double> age() const;
  // The direction in which the gas gets thinner, of length one; none where it is the same all around.
  Vec3d normal() const;

 private:
  ItemId gas_;
  const GasGrid& grid_;
  const FlowBetweenFaces& flow_;
  const GasState& state_;
  const Vec3d& position_;
  double fullAge_;
};

// Made once for a shot, then asked from any thread.
class GasLayer {
 public:
  // Empty.
  GasLayer();
  // All gases of the shot's frame that are on and not left out. `projector` has to outlive it.
  GasLayer(const Shot& shot, const SceneLights& lights, const Projector& projector, const Progress& progress);
  ~GasLayer();
  GasLayer(GasLayer&&) noexcept;
  GasLayer& operator=(GasLayer&&) noexcept;

  bool empty() const { return gases_.empty(); }
  // From which to which depth along the view there may be gas.
  struct Depths {
    double near = 0, far = 0;
  };
  Depths depths() const { return depths_; }

  // What is seen of it in a part of a picture, in pieces between depths: `cuts` ascend, and everything nearer
  // than the first or farther than the last belongs to the first or the last piece. `hides`, if not null, has
  // for each pixel of the part (rows of `width`) the depth of what hides the rest.
  // The pieces of a pixel lie behind each other in the result, the nearest first.
  struct Part {
    int left = 0, top = 0, width = 0, height = 0;
  };
  void pieces(const Part& part, const std::vector<double>& cuts, const GasPass& pass, const float* hides,
              std::vector<GasSlab>& result) const;

 private:
  struct Prepared;

  // What a ray needs beside its result, kept from ray to ray.
  struct RayRoom {
    std::vector<double> distances;
    std::vector<GasSlab> own;
  };

  // In pixels.
  int raySpacing(const GasPass& pass) const;
  void march(double x, double y, const std::vector<double>& cuts, const GasPass& pass, double farthest,
             RayRoom& room, GasSlab* slabs) const;
  // Rays over a part of a picture, with one more at each end; an odd number along both sides.
  struct RayField {
    RayField(int width, int height, int pixelsApart, std::size_t piecesEach)
        : spacing(pixelsApart),
          across(raysOver(width)),
          down(raysOver(height)),
          pieces(piecesEach),
          slabs(static_cast<std::size_t>(across) * static_cast<std::size_t>(down) * pieces),
          isMarched(static_cast<std::size_t>(across) * static_cast<std::size_t>(down), false) {}

    int raysOver(int pixels) const { return (pixels + 2 * spacing - 1) / (2 * spacing) * 2 + 1; }
    std::size_t index(int i, int j) const {
      return static_cast<std::size_t>(j) * static_cast<std::size_t>(across) + static_cast<std::size_t>(i);
    }
    GasSlab* at(int i, int j) { return slabs.data() + index(i, j) * pieces; }
    const GasSlab* at(int i, int j) const { return slabs.data() + index(i, j) * pieces; }
    // Whether four rays, two apart from each other, see about the same; of the first of them.
    bool isEven(int i, int j) const;
    // Mixes what has not been marched from its neighbours that have.
    void fillGaps();

    int spacing, across, down;  // in pixels, in rays
    std::size_t pieces;
    std::vector<GasSlab> slabs;
    std::vector<char> isMarched;
  };
  // Every other ray along both sides is marched, and those between where it matters.
  void marchField(const Part& part, const std::vector<double>& cuts, const GasPass& pass, RayRoom& room,
                  RayField& field) const;
  // Sets the pieces of all pixels of a part, mixed between rays.
  void mixRays(const Part& part, const std::vector<double>& cuts, const GasPass& pass, RayRoom& room,
               std::vector<GasSlab>& result) const;

  const Projector* projector_ = nullptr;
  Vec3d forward_{0, 0, -1};
  double raysApart_ = 0;                                // at most, in voxels
  std::vector<std::unique_ptr<const Prepared>> gases_;  // the farthest first
  Depths depths_;
};

}  // namespace comet
