#include "gas/pressure.h"

#include "gas/row_passes.h"
#include "gas/rows.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace comet {
namespace {

// The numbers of a level without the layers of voxels before its first plane and behind its last.
class InnerBlocks {
 public:
  explicit InnerBlocks(const PressureLevel& level)
      : first_(level.layout.plane()), count_(level.layout.plane() * level.counts[2]) {}

  std::size_t blocks() const { return blockCount(count_); }
  // Calls act(begin, end) from all threads.
  template <typename Act>
  void each(const Act& act) const {
    forBlocks(count_, [&](std::size_t begin, std::size_t end) { act(first_ + begin, first_ + end); });
  }
  // Which block begins there.
  std::size_t number(std::size_t begin) const { return (begin - first_) / kNumbersABlock; }

  // The sum of products, added in a fixed order.
  double dot(const LevelNumbers& a, const LevelNumbers& b) const {
    return sumOfBlocks(count_, [&](std::size_t begin, std::size_t end) {
      return dotOf(a.data() + first_ + begin, b.data() + first_ + begin, end - begin);
    });
  }
  // The largest magnitude, of what act(begin, end) leaves in a block.
  template <typename Act>
  double largestAfter(const Act& act, const LevelNumbers& values) const {
    return largestOfBlocks(count_, [&](std::size_t begin, std::size_t end) {
      act(first_ + begin, first_ + end);
      return largestOf(values.data() + first_ + begin, end - begin);
    });
  }
  double largest(const LevelNumbers& values) const {
    return largestAfter([](std::size_t, std::size_t) {}, values);
  }

 private:
  std::size_t first_, count_;
};

// The flow out of the voxels of a row over their volume, times their edges' length. `Solid` says how fast
// what is solid moves across a face of an axis.
template <typename Solid>
void outflowOfRow(const GasGrid& grid, const PressureLevel& level, const GasVelocity& velocity, std::size_t y,
                  std::size_t z, const Solid& solid, float* result) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    const std::size_t face = faces.index(0, y, z), next = stepAlong(faces, axis);
    const float* across = velocity[axis].data() + face;
    const float* open = level.open[axis].data() + level.rowOf(y + 1, z + 1) + 1;
    const std::size_t nextOpen = stepAlong(level.layout, axis);
    for (std::size_t x = 0; x < grid.counts[0]; ++x) {
      const float above =
          open[x + nextOpen] * across[x + next] + (1 - open[x + nextOpen]) * solid(axis, face + x + next);
      const float below = open[x] * across[x] + (1 - open[x]) * solid(axis, face + x);
      result[x] = (axis > 0 ? result[x] : 0.0F) + (above - below);
    }
  }
}

void outflowOfRow(const PressureProblem& problem, const GasVelocity& velocity, std::size_t y, std::size_t z,
                  float* result) {
  const auto resting = [](std::size_t, std::size_t) { return 0.0F; };
  const auto moving = [&problem](std::size_t axis, std::size_t face) {
    return problem.solidVelocity[axis][face];
  };
  if (problem.solidVelocity[0].empty())
    outflowOfRow(problem.grid, problem.finest(), velocity, y, z, resting, result);
  else
    outflowOfRow(problem.grid, problem.finest(), velocity, y, z, moving, result);
}

}  // namespace

PressureSolver::PressureSolver(std::shared_ptr<const PressureProblem> problem)
    : problem_(std::move(problem)), multigrid_(problem_->levels) {
  for (auto* values : {&pressure_, &residual_, &direction_, &product_, &conditioned_})
    values->assign(problem_->finest().layout.size(), 0.0F);
}

void PressureSolver::removeMeans(LevelNumbers& values) const {
  const std::vector<std::uint32_t>& part = problem_->part;
  if (part.empty()) return;
  const std::vector<double>& sizes = problem_->partSize;
  const InnerBlocks blocks(problem_->finest());
  std::vector<std::vector<double>> sums(blocks.blocks());
  blocks.each([&](std::size_t begin, std::size_t end) {
    std::vector<double>& own = sums[blocks.number(begin)];
    own.assign(sizes.size() + 1, 0.0);
    for (std::size_t i = begin; i < end; ++i) own[part[i]] += static_cast<double>(values[i]);
  });
  LevelNumbers mean(sizes.size() + 1, 0.0F);
  for (std::size_t p = 0; p < sizes.size(); ++p) {
    double sum = 0;
    for (const auto& block : sums) sum += block[p + 1];
    mean[p + 1] = static_cast<float>(sum / sizes[p]);
  }
  blocks.each([&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) values[i] -= mean[part[i]];
  });
}

GasChannel PressureSolver::divergence(const GasVelocity& velocity) const {
  const GridLayout cells = problem_->grid.cells();
  GasChannel result(cells.size());
  const auto perVoxel = static_cast<float>(1 / problem_->grid.voxel);
  forRows(cells, [&](std::size_t y, std::size_t z) {
    float* row = result.data() + cells.index(0, y, z);
    outflowOfRow(*problem_, velocity, y, z, row);
    for (std::size_t x = 0; x < cells.counts[0]; ++x) row[x] *= perVoxel;
  });
  return result;
}

void PressureSolver::findLack(const GasVelocity& velocity, const GasChannel& expansion) {
  const PressureLevel& level = problem_->finest();
  const GridLayout cells = problem_->grid.cells();
  const auto perVoxel = static_cast<float>(1 / problem_->grid.voxel);
  forRows(cells, [&](std::size_t y, std::size_t z) {
    const std::size_t start = level.rowOf(y + 1, z + 1) + 1;
    float* lack = residual_.data() + start;
    outflowOfRow(*problem_, velocity, y, z, lack);
    const float* wanted = expansion.empty() ? nullptr : expansion.data() + cells.index(0, y, z);
    for (std::size_t x = 0; x < cells.counts[0]; ++x)
      lack[x] = level.inverse[start + x] > 0 ? (wanted ? wanted[x] : 0) - lack[x] * perVoxel : 0.0F;
  });
}

void PressureSolver::takeGradient(GasVelocity& velocity) const {
  const PressureLevel& level = problem_->finest();
  const auto length = static_cast<float>(problem_->grid.voxel);
  for (std::size_t axis = 0; axis < 3; ++axis) {
    if (problem_->grid.isStill(axis)) {
      std::fill(velocity[axis].begin(), velocity[axis].end(), 0.0F);
      continue;
    }
    const GridLayout faces = problem_->grid.faces(axis);
    const std::size_t step = stepAlong(level.layout, axis);
    const GasChannel& solid = problem_->solidVelocity[axis];
    forRows(faces, [&](std::size_t y, std::size_t z) {
      const std::size_t start = level.rowOf(y + 1, z + 1) + 1, face = faces.index(0, y, z);
      const float *p = pressure_.data() + start, *below = p - step, *open = level.open[axis].data() + start;
      float* across = velocity[axis].data() + face;
      for (std::size_t x = 0; x < faces.counts[0]; ++x) {
        const float still = solid.empty() ? 0.0F : solid[face + x];
        across[x] = open[x] > 0 ? across[x] - length * (p[x] - below[x]) : still;
      }
    });
  }
}

double PressureSolver::turnDirection(float keep) {
  const PressureLevel& level = problem_->finest();
  const std::size_t count = level.layout.row();
  std::vector<double> bends(level.counts[1] * level.counts[2]);
  runRowPasses(level, 2, 0, [&](std::size_t pass, std::size_t y, std::size_t z, float*) {
    const std::size_t start = level.rowOf(y, z);
    if (pass == 0) {
      for (std::size_t i = start; i < start + count; ++i)
        direction_[i] = conditioned_[i] + keep * direction_[i];
    } else {
      applyStencilInRow(level, y, z, direction_, product_);
      bends[(z - 1) * level.counts[1] + y - 1] =
          dotOf(direction_.data() + start, product_.data() + start, count);
    }
  });
  return std::accumulate(bends.begin(), bends.end(), 0.0);
}

double PressureSolver::goAlongDirection(float far) {
  const InnerBlocks blocks(problem_->finest());
  const double largest = blocks.largestAfter(
      [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
          pressure_[i] += far * direction_[i];
          residual_[i] -= far * product_[i];
        }
      },
      residual_);
  if (problem_->part.empty()) return largest;
  removeMeans(residual_);
  return blocks.largest(residual_);
}

PressureResult PressureSolver::project(GasVelocity& velocity, const GasChannel& expansion, double tolerance,
                                       int maxRounds, const Progress& progress) {
  const InnerBlocks blocks(problem_->finest());
  std::fill(pressure_.begin(), pressure_.end(), 0.0F);
  findLack(velocity, expansion);
  removeMeans(residual_);
  PressureResult result;
  result.before = result.residual = blocks.largest(residual_);
  const double wanted = tolerance * result.before;
  double energy = 0;
  while (result.residual > wanted && result.rounds < maxRounds) {
    progress.stopIfCancelled();
    multigrid_.precondition(residual_, conditioned_);
    removeMeans(conditioned_);
    const double next = blocks.dot(residual_, conditioned_);
    const float keep = result.rounds > 0 ? static_cast<float>(next / energy) : 0.0F;
    energy = next;
    const double bend = turnDirection(keep);
    if (!(bend > 0)) break;
    result.residual = goAlongDirection(static_cast<float>(energy / bend));
    ++result.rounds;
  }
  result.isReached = result.residual <= wanted;
  takeGradient(velocity);
  return result;
}

}  // namespace comet
