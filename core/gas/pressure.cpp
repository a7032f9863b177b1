#include "gas/pressure.h"

#include "base/parallel.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace comet {
namespace {

PressureLevel finestLevel(const GasGrid& grid, const GasSolids& solids) {
  PressureLevel level = emptyLevel(grid.counts, {1, 1, 1});
  const std::array<std::size_t, 3> step{1, level.layout.row(), level.layout.plane()};
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    parallelFor(faces.counts[2], [&](std::size_t z) {
      for (std::size_t y = 0; y < faces.counts[1]; ++y)
        for (std::size_t x = 0; x < faces.counts[0]; ++x)
          level.open[axis][level.layout.index(x + 1, y + 1, z + 1)] = solids.open[axis][faces.index(x, y, z)];
    });
  }
  parallelFor(level.layout.counts[2], [&](std::size_t z) {
    for (std::size_t y = 0; y < level.layout.counts[1]; ++y)
      for (std::size_t x = 0; x < level.layout.counts[0]; ++x) {
        const std::size_t i = level.layout.index(x, y, z);
        const std::array<std::size_t, 3> at{x, y, z};
        std::size_t outside = 3;
        bool isOpen = true, isWithin = true;
        for (std::size_t axis = 0; axis < 3; ++axis) {
          const bool below = at[axis] == 0, above = at[axis] > grid.counts[axis];
          if (!below && !above) continue;
          isOpen = isWithin && grid.open[axis][above ? 1 : 0];
          isWithin = false;
          outside = axis;
        }
        if (!isWithin) {
          if (isOpen && outside < 3) level.cells[i] = PressureCell::Air;
          continue;
        }
        for (std::size_t axis = 0; axis < 3; ++axis)
          if (level.open[axis][i] > 0 || level.open[axis][i + step[axis]] > 0)
            level.cells[i] = PressureCell::Gas;
      }
  });
  findPlainRows(level);
  return level;
}

// The sum of products, and the largest magnitude, plane by plane in a fixed order.
double dot(const GridLayout& layout, const std::vector<float>& a, const std::vector<float>& b) {
  return parallelSum(layout.counts[2], [&](std::size_t z) {
    constexpr std::size_t kLanes = 8;
    std::array<double, kLanes> sums{};
    const std::size_t begin = z * layout.plane(), end = begin + layout.plane();
    std::size_t i = begin;
    for (; i + kLanes <= end; i += kLanes)
      for (std::size_t lane = 0; lane < kLanes; ++lane)
        sums[lane] += static_cast<double>(a[i + lane]) * static_cast<double>(b[i + lane]);
    for (; i < end; ++i) sums[0] += static_cast<double>(a[i]) * static_cast<double>(b[i]);
    return std::accumulate(sums.begin(), sums.end(), 0.0);
  });
}

double largest(const GridLayout& layout, const std::vector<float>& values) {
  std::vector<float> most(layout.counts[2]);
  parallelFor(layout.counts[2], [&](std::size_t z) {
    const std::size_t begin = z * layout.plane(), end = begin + layout.plane();
    float found = 0;
    for (std::size_t i = begin; i < end; ++i) found = std::max(found, std::abs(values[i]));
    most[z] = found;
  });
  return *std::max_element(most.begin(), most.end());
}

// a += factor * b
void addScaled(const GridLayout& layout, std::vector<float>& a, float factor, const std::vector<float>& b) {
  parallelFor(layout.counts[2], [&](std::size_t z) {
    const std::size_t begin = z * layout.plane(), end = begin + layout.plane();
    for (std::size_t i = begin; i < end; ++i) a[i] += factor * b[i];
  });
}

}  // namespace

PressureSolver::PressureSolver(const GasGrid& grid, const GasSolids& solids)
    : grid_(grid), solids_(solids), multigrid_(finestLevel(grid, solids)) {
  const std::size_t size = multigrid_.finest().layout.size();
  for (auto* values : {&pressure_, &residual_, &direction_, &product_, &conditioned_})
    values->assign(size, 0.0F);
  findClosedParts();
}

void PressureSolver::findClosedParts() {
  const PressureLevel& level = multigrid_.finest();
  const std::array<std::size_t, 3> step{1, level.layout.row(), level.layout.plane()};
  std::vector<std::uint32_t> part(level.layout.size(), 0);
  std::vector<std::size_t> open;
  std::uint32_t last = 0;
  std::vector<double> sizes;
  std::vector<bool> isClosed;
  for (std::size_t start = 0; start < part.size(); ++start) {
    if (!level.hasGas(start) || part[start] != 0) continue;
    part[start] = ++last;
    bool reachesAir = false;
    double size = 0;
    open.assign(1, start);
    while (!open.empty()) {
      const std::size_t i = open.back();
      open.pop_back();
      ++size;
      const auto visit = [&](std::size_t neighbour, float through) {
        if (through <= 0) return;
        reachesAir = reachesAir || level.cells[neighbour] == PressureCell::Air;
        if (!level.hasGas(neighbour) || part[neighbour] != 0) return;
        part[neighbour] = last;
        open.push_back(neighbour);
      };
      for (std::size_t axis = 0; axis < 3; ++axis) {
        visit(i - step[axis], level.open[axis][i]);
        visit(i + step[axis], level.open[axis][i + step[axis]]);
      }
    }
    sizes.push_back(size);
    isClosed.push_back(!reachesAir);
  }
  if (std::find(isClosed.begin(), isClosed.end(), true) == isClosed.end()) return;
  std::vector<std::uint32_t> renumbered(last + 1, 0);
  for (std::uint32_t i = 0; i < last; ++i)
    if (isClosed[i]) {
      partSize_.push_back(sizes[i]);
      renumbered[i + 1] = static_cast<std::uint32_t>(partSize_.size());
    }
  for (std::uint32_t& each : part) each = renumbered[each];
  part_ = std::move(part);
}

void PressureSolver::removeMeans(std::vector<float>& values) const {
  if (part_.empty()) return;
  const GridLayout& layout = multigrid_.finest().layout;
  std::vector<std::vector<double>> planes(layout.counts[2]);
  parallelFor(layout.counts[2], [&](std::size_t z) {
    planes[z].assign(partSize_.size() + 1, 0.0);
    const std::size_t begin = z * layout.plane(), end = begin + layout.plane();
    for (std::size_t i = begin; i < end; ++i) planes[z][part_[i]] += static_cast<double>(values[i]);
  });
  std::vector<float> mean(partSize_.size() + 1, 0.0F);
  for (std::size_t p = 0; p < partSize_.size(); ++p) {
    double sum = 0;
    for (const auto& plane : planes) sum += plane[p + 1];
    mean[p + 1] = static_cast<float>(sum / partSize_[p]);
  }
  parallelFor(layout.counts[2], [&](std::size_t z) {
    const std::size_t begin = z * layout.plane(), end = begin + layout.plane();
    for (std::size_t i = begin; i < end; ++i) values[i] -= mean[part_[i]];
  });
}

GasChannel PressureSolver::divergence(const GasVelocity& velocity) const {
  const GridLayout cells = grid_.cells();
  GasChannel result(cells.size());
  const auto perVoxel = static_cast<float>(1 / grid_.voxel);
  parallelFor(cells.counts[2], [&](std::size_t z) {
    for (std::size_t y = 0; y < cells.counts[1]; ++y)
      for (std::size_t x = 0; x < cells.counts[0]; ++x) {
        float sum = 0;
        for (std::size_t axis = 0; axis < 3; ++axis) {
          const GridLayout faces = grid_.faces(axis);
          const std::size_t below = faces.index(x, y, z);
          const std::size_t above = below + stepAlong(faces, axis);
          const auto flow = [&](std::size_t face) {
            const float open = solids_.open[axis][face];
            return open * velocity[axis][face] + (1 - open) * solids_.velocity[axis][face];
          };
          sum += flow(above) - flow(below);
        }
        result[cells.index(x, y, z)] = sum * perVoxel;
      }
  });
  return result;
}

void PressureSolver::takeGradient(GasVelocity& velocity) const {
  const PressureLevel& level = multigrid_.finest();
  const std::array<std::size_t, 3> step{1, level.layout.row(), level.layout.plane()};
  const auto length = static_cast<float>(grid_.voxel);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid_.faces(axis);
    parallelFor(faces.counts[2], [&](std::size_t z) {
      for (std::size_t y = 0; y < faces.counts[1]; ++y)
        for (std::size_t x = 0; x < faces.counts[0]; ++x) {
          const std::size_t face = faces.index(x, y, z), i = level.layout.index(x + 1, y + 1, z + 1);
          float& across = velocity[axis][face];
          if (solids_.open[axis][face] > 0)
            across -= length * (pressure_[i] - pressure_[i - step[axis]]);
          else
            across = solids_.velocity[axis][face];
        }
    });
  }
}

PressureResult PressureSolver::project(GasVelocity& velocity, const GasChannel& expansion, double tolerance,
                                       int mostRounds, const Progress& progress) {
  const PressureLevel& level = multigrid_.finest();
  const GridLayout& layout = level.layout;
  const GridLayout cells = grid_.cells();
  const GasChannel now = divergence(velocity);
  std::fill(residual_.begin(), residual_.end(), 0.0F);
  std::fill(pressure_.begin(), pressure_.end(), 0.0F);
  parallelFor(cells.counts[2], [&](std::size_t z) {
    for (std::size_t y = 0; y < cells.counts[1]; ++y)
      for (std::size_t x = 0; x < cells.counts[0]; ++x) {
        const std::size_t cell = cells.index(x, y, z), i = layout.index(x + 1, y + 1, z + 1);
        if (level.hasGas(i)) residual_[i] = (expansion.empty() ? 0 : expansion[cell]) - now[cell];
      }
  });
  removeMeans(residual_);
  PressureResult result;
  result.before = result.residual = largest(layout, residual_);
  const double wanted = tolerance * result.before;
  double energy = 0;
  while (result.residual > wanted && result.rounds < mostRounds) {
    progress.stopIfCancelled();
    multigrid_.precondition(residual_, conditioned_);
    removeMeans(conditioned_);
    const double next = dot(layout, residual_, conditioned_);
    if (result.rounds == 0) {
      direction_ = conditioned_;
    } else {
      const auto keep = static_cast<float>(next / energy);
      parallelFor(layout.counts[2], [&](std::size_t z) {
        const std::size_t begin = z * layout.plane(), end = begin + layout.plane();
        for (std::size_t i = begin; i < end; ++i) direction_[i] = conditioned_[i] + keep * direction_[i];
      });
    }
    energy = next;
    applyStencil(level, direction_, product_);
    const double bend = dot(layout, direction_, product_);
    if (!(bend > 0)) break;
    const auto far = static_cast<float>(energy / bend);
    addScaled(layout, pressure_, far, direction_);
    addScaled(layout, residual_, -far, product_);
    removeMeans(residual_);
    result.residual = largest(layout, residual_);
    ++result.rounds;
  }
  result.isReached = result.residual <= wanted;
  takeGradient(velocity);
  return result;
}

}  // namespace comet
