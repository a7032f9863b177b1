#include "geometry/round_surface.h"

#include "base/error.h"
#include "base/stoppable.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <mutex>
#include <openvdb/openvdb.h>
#include <openvdb/tools/Dense.h>
#include <openvdb/tools/VolumeToMesh.h>

namespace comet {
namespace {

constexpr double kBand = 3;  // voxels beside the surface in which distances are told

double radiusOf(double radius, double voxel) { return std::max(radius, voxel); }

// Whole pieces, or no more of them than a thread of the smallest radius.
enum class Part { Whole, Core };

// Where the grid lies.
struct Layout {
  Layout(const std::vector<RoundPiece>& pieces, double voxelSize) : voxel(voxelSize) {
    Vec3d max(-1e300);
    min = Vec3d(1e300);
    for (const RoundPiece& piece : pieces)
      for (const auto& [end, radius] :
           {std::pair{piece.from, piece.fromRadius}, std::pair{piece.to, piece.toRadius}}) {
        const Vec3d reach(radiusOf(radius, voxel) + (kBand + 1) * voxel);
        min = glm::min(min, end - reach);
        max = glm::max(max, end + reach);
      }
    for (int axis = 0; axis < 3; ++axis) cells[axis] = std::ceil((max[axis] - min[axis]) / voxel) + 1;
  }
  double bytes() const { return cells.x * cells.y * cells.z * static_cast<double>(sizeof(float)); }

  double voxel;
  Vec3d min{0.0}, cells{0.0};
};

// Distances in voxels, between -kBand and kBand; z runs fastest, as OpenVDB's dense grids do.
class Distances {
 public:
  explicit Distances(const Layout& layout)
      : layout_(layout),
        nx_(static_cast<int>(layout.cells.x)),
        ny_(static_cast<int>(layout.cells.y)),
        nz_(static_cast<int>(layout.cells.z)),
        values_(static_cast<std::size_t>(nx_) * ny_ * nz_, static_cast<float>(kBand)) {}

  void add(const std::vector<RoundPiece>& pieces, Part part, const Progress& progress) {
    // Slabs across x, so that no two tasks write the same cell.
    constexpr int kSlab = 8;
    stoppableFor(static_cast<std::size_t>((nx_ + kSlab - 1) / kSlab), progress, [&](std::size_t slab) {
      const int first = static_cast<int>(slab) * kSlab, last = std::min(nx_, first + kSlab) - 1;
      for (const RoundPiece& piece : pieces) add(piece, part, first, last);
    });
  }

  // The mean of a cell and its neighbours with weights 1, 2, 1 along each axis.
  void smooth(const Progress& progress) {
    std::vector<float> next(values_.size());
    const auto alongRows = [&](const auto& neighbours) {
      stoppableFor(static_cast<std::size_t>(nx_), progress, [&](std::size_t x) {
        for (int y = 0; y < ny_; ++y) {
          const auto [before, after] = neighbours(static_cast<int>(x), y);
          smoothRow(before, row(static_cast<int>(x), y), after, &next[indexOf(static_cast<int>(x), y, 0)]);
        }
      });
      values_.swap(next);
    };
    alongRows([this](int x, int y) {
      return std::pair(row(std::max(0, x - 1), y), row(std::min(nx_ - 1, x + 1), y));
    });
    alongRows([this](int x, int y) {
      return std::pair(row(x, std::max(0, y - 1)), row(x, std::min(ny_ - 1, y + 1)));
    });
    // Along a row itself; the ends are their own neighbours.
    stoppableFor(static_cast<std::size_t>(nx_), progress, [&](std::size_t x) {
      for (int y = 0; y < ny_; ++y) {
        const float* in = row(static_cast<int>(x), y);
        float* out = &next[indexOf(static_cast<int>(x), y, 0)];
        out[0] = smoothed(in[0], in[0], in[std::min(1, nz_ - 1)]);
        for (int z = 1; z + 1 < nz_; ++z) out[z] = smoothed(in[z - 1], in[z], in[z + 1]);
        out[nz_ - 1] = smoothed(in[std::max(0, nz_ - 2)], in[nz_ - 1], in[nz_ - 1]);
      }
    });
    values_.swap(next);
  }

  openvdb::FloatGrid::Ptr grid(const Progress& progress) {
    // Whole leaves of the tree.
    constexpr int kSlab = 8 * openvdb::FloatTree::LeafNodeType::DIM;
    auto grid = openvdb::FloatGrid::create(static_cast<float>(kBand));
    for (int first = 0; first < nx_; first += kSlab) {
      progress.stopIfCancelled();
      const openvdb::CoordBBox slab({first, 0, 0}, {std::min(nx_, first + kSlab) - 1, ny_ - 1, nz_ - 1});
      openvdb::tools::Dense<float> dense(slab, &values_[indexOf(first, 0, 0)]);
      openvdb::tools::copyFromDense(dense, *grid, 0.0F);
    }
    return grid;
  }

 private:
  std::size_t indexOf(int x, int y, int z) const { return (static_cast<std::size_t>(x) * ny_ + y) * nz_ + z; }
  const float* row(int x, int y) const { return &values_[indexOf(x, y, 0)]; }

  static float smoothed(float before, float here, float after) {
    return 0.25F * (before + after) + 0.5F * here;
  }
  void smoothRow(const float* before, const float* here, const float* after, float* out) const {
    for (int z = 0; z < nz_; ++z) out[z] = smoothed(before[z], here[z], after[z]);
  }

  void add(const RoundPiece& piece, Part part, int firstX, int lastX) {
    const bool isWhole = part == Part::Whole;
    const double fromRadius = isWhole ? radiusOf(piece.fromRadius, layout_.voxel) / layout_.voxel : 1;
    const double toRadius = isWhole ? radiusOf(piece.toRadius, layout_.voxel) / layout_.voxel : 1;
    const Vec3d from = (piece.from - layout_.min) / layout_.voxel;
    const Vec3d to = (piece.to - layout_.min) / layout_.voxel;
    const Vec3d reach(std::max(fromRadius, toRadius) + kBand);
    const Vec3d min = glm::min(from, to) - reach, max = glm::max(from, to) + reach;
    const int x0 = std::max(firstX, static_cast<int>(std::ceil(min.x)));
    const int x1 = std::min(lastX, static_cast<int>(std::floor(max.x)));
    const Vec3d along = to - from;
    const double squared = glm::dot(along, along);
    for (int x = x0; x <= x1; ++x)
      for (int y = std::max(0, static_cast<int>(std::ceil(min.y)));
           y <= std::min(ny_ - 1, static_cast<int>(std::floor(max.y))); ++y)
        for (int z = std::max(0, static_cast<int>(std::ceil(min.z)));
             z <= std::min(nz_ - 1, static_cast<int>(std::floor(max.z))); ++z) {
          const Vec3d offset = Vec3d(x, y, z) - from;
          const double fraction = squared > 0 ? std::clamp(glm::dot(offset, along) / squared, 0.0, 1.0) : 0;
          const double radius = fromRadius + (toRadius - fromRadius) * fraction;
          const auto distance = static_cast<float>(glm::length(offset - along * fraction) - radius);
          float& value = values_[indexOf(x, y, z)];
          value = std::min(value, std::max(distance, static_cast<float>(-kBand)));
        }
  }

  const Layout& layout_;
  int nx_, ny_, nz_;
  std::vector<float> values_;
};

// Normals as the triangles around each point say, by their areas.
void setNormals(Mesh& mesh) {
  std::vector<Vec3d> sums(mesh.points.size(), Vec3d(0.0));
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    for (const std::uint32_t corner : mesh.triangles[t]) sums[corner] += mesh.areaVector(t);
  for (const Vec3d& sum : sums) mesh.normals.emplace_back(Vec3(unitOr(sum, Vec3d(0, 1, 0))));
}

Mesh meshOf(const openvdb::FloatGrid& grid, const Layout& layout) {
  std::vector<openvdb::Vec3s> points;
  std::vector<openvdb::Vec4I> quads;
  openvdb::tools::volumeToMesh(grid, points, quads, 0.0);
  Mesh mesh;
  for (const openvdb::Vec3s& point : points)
    mesh.points.emplace_back(Vec3(layout.min + Vec3d(point.x(), point.y(), point.z()) * layout.voxel));
  for (const openvdb::Vec4I& quad : quads) {
    mesh.triangles.push_back({quad[0], quad[1], quad[2]});
    mesh.triangles.push_back({quad[0], quad[2], quad[3]});
  }
  // Counter-clockwise seen from outside, whichever way the library winds them.
  if (volumeOf(mesh) < 0)
    for (Mesh::Triangle& triangle : mesh.triangles) std::swap(triangle[1], triangle[2]);
  mesh.parts.assign(mesh.triangles.size(), 0);
  mesh.partNames.emplace_back();
  setNormals(mesh);
  return mesh;
}

}  // namespace

double surfaceBytes(const std::vector<RoundPiece>& pieces, double voxel) {
  return pieces.empty() ? 0 : Layout(pieces, voxel).bytes();
}

Mesh roundSurface(const std::vector<RoundPiece>& pieces, double voxel, int smoothing, std::size_t maxBytes,
                  const Progress& progress) {
  if (pieces.empty()) return {};
  const Layout layout(pieces, voxel);
  // Smoothing needs a second grid.
  const double bytes = layout.bytes() * (smoothing > 0 ? 2 : 1), max = static_cast<double>(maxBytes);
  if (bytes > max) {
    constexpr double kGiB = 1024.0 * 1024 * 1024;
    throw Error(ErrorKind::Budget, "",
                fmt::format("the surface would need {:.3g} GiB for voxels of {:g} units, and {:.3g} GiB are "
                            "allowed",
                            bytes / kGiB, voxel, max / kGiB),
                fmt::format("Raise the voxel size to {:.2g} units, or the scene's memory for frames",
                            1.05 * voxel * std::cbrt(bytes / max)));
  }
  static std::once_flag once;
  std::call_once(once, [] { openvdb::initialize(); });
  Distances distances(layout);
  distances.add(pieces, Part::Whole, progress);
  for (int i = 0; i < smoothing; ++i) distances.smooth(progress);
  // Smoothing would take thin threads apart.
  if (smoothing > 0) distances.add(pieces, Part::Core, progress);
  return meshOf(*distances.grid(progress), layout);
}

}  // namespace comet
