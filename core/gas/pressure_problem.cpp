#include "gas/pressure_problem.h"

#include <algorithm>
#include <numeric>

namespace comet {
namespace {

// Neighbouring voxels of a row with gas, through whose faces it can flow.
struct CellRun {
  std::uint32_t begin = 0, end = 0;  // places in the row
};

// The parts of a box between which no gas can flow, found from runs instead of voxels, of which there are
// few.
class ClosedParts {
 public:
  explicit ClosedParts(const PressureLevel& level) : level_(level) {
    const std::size_t rows = level.layout.counts[1] * level.layout.counts[2];
    std::vector<std::vector<CellRun>> found(rows);
    forRows(level, [&](std::size_t y, std::size_t z) { found[rowNumber(y, z)] = runsOf(y, z); });
    first_.assign(rows + 1, 0);
    for (std::size_t row = 0; row < rows; ++row) {
      first_[row + 1] = first_[row] + static_cast<std::uint32_t>(found[row].size());
      runs_.insert(runs_.end(), found[row].begin(), found[row].end());
    }
    root_.resize(runs_.size());
    std::iota(root_.begin(), root_.end(), 0U);
    reachesAir_.assign(runs_.size(), false);
    for (std::size_t z = 1; z <= level.counts[2]; ++z)
      for (std::size_t y = 1; y <= level.counts[1]; ++y) connect(y, z);
  }

  // Leaves everything empty if all parts reach open air.
  void addTo(PressureProblem& problem) {
    std::vector<std::uint32_t> numbers(runs_.size(), 0);
    for (std::uint32_t run = 0; run < runs_.size(); ++run) {
      const std::uint32_t root = rootOf(run);
      if (reachesAir_[root]) continue;
      if (numbers[root] == 0) {
        problem.partSize.push_back(0);
        numbers[root] = static_cast<std::uint32_t>(problem.partSize.size());
      }
      numbers[run] = numbers[root];
      problem.partSize[numbers[root] - 1] += runs_[run].end - runs_[run].begin;
    }
    if (problem.partSize.empty()) return;
    problem.part.assign(level_.layout.size(), 0);
    for (std::size_t z = 1; z <= level_.counts[2]; ++z)
      for (std::size_t y = 1; y <= level_.counts[1]; ++y)
        for (std::uint32_t run = first_[rowNumber(y, z)]; run < first_[rowNumber(y, z) + 1]; ++run) {
          std::uint32_t* row = problem.part.data() + level_.rowOf(y, z);
          std::fill(row + runs_[run].begin, row + runs_[run].end, numbers[run]);
        }
  }

 private:
  std::size_t rowNumber(std::size_t y, std::size_t z) const { return z * level_.layout.counts[1] + y; }

  std::vector<CellRun> runsOf(std::size_t y, std::size_t z) const {
    const auto end = static_cast<std::uint32_t>(level_.counts[0] + 1);
    if (level_.plain(y, z)) return {{1, end}};
    std::vector<CellRun> runs;
    const std::size_t start = level_.rowOf(y, z);
    bool isIn = false;
    for (std::uint32_t x = 1; x < end; ++x) {
      const bool hasGas = level_.hasGas(start + x);
      if (hasGas && !(isIn && level_.open[0][start + x] > 0)) runs.push_back({x, x});
      if (hasGas) runs.back().end = x + 1;
      isIn = hasGas;
    }
    return runs;
  }

  std::uint32_t rootOf(std::uint32_t run) {
    while (root_[run] != run) run = root_[run] = root_[root_[run]];
    return run;
  }
  void join(std::uint32_t a, std::uint32_t b) {
    a = rootOf(a);
    b = rootOf(b);
    const bool reaches = reachesAir_[a] || reachesAir_[b];
    root_[std::max(a, b)] = std::min(a, b);
    reachesAir_[std::min(a, b)] = reaches;
  }

  void connect(std::size_t y, std::size_t z) {
    const std::size_t start = level_.rowOf(y, z), up = level_.layout.row(), ahead = level_.layout.plane();
    for (std::uint32_t run = first_[rowNumber(y, z)]; run < first_[rowNumber(y, z) + 1]; ++run) {
      const auto [begin, end] = runs_[run];
      const auto isAir = [&](std::size_t voxel, std::size_t axis, std::size_t face) {
        return level_.cells[voxel] == PressureCell::Air && level_.open[axis][face] > 0;
      };
      bool meetsAir = isAir(start + begin - 1, 0, start + begin) || isAir(start + end, 0, start + end);
      const std::size_t last = start + end;
      if (y == 1)
        for (std::size_t i = start + begin; i < last; ++i) meetsAir = meetsAir || isAir(i - up, 1, i);
      if (y == level_.counts[1])
        for (std::size_t i = start + begin; i < last; ++i) meetsAir = meetsAir || isAir(i + up, 1, i + up);
      if (z == 1)
        for (std::size_t i = start + begin; i < last; ++i) meetsAir = meetsAir || isAir(i - ahead, 2, i);
      if (z == level_.counts[2])
        for (std::size_t i = start + begin; i < last; ++i)
          meetsAir = meetsAir || isAir(i + ahead, 2, i + ahead);
      const std::uint32_t root = rootOf(run);
      reachesAir_[root] = reachesAir_[root] || meetsAir;
      if (y > 1) joinWith(run, start, 1, rowNumber(y - 1, z));
      if (z > 1) joinWith(run, start, 2, rowNumber(y, z - 1));
    }
  }

  // With the runs of a row beside it to which an open face leads.
  void joinWith(std::uint32_t run, std::size_t start, std::size_t axis, std::size_t row) {
    for (std::uint32_t other = first_[row]; other < first_[row + 1]; ++other) {
      const std::uint32_t begin = std::max(runs_[run].begin, runs_[other].begin),
                          end = std::min(runs_[run].end, runs_[other].end);
      for (std::uint32_t x = begin; x < end; ++x)
        if (level_.open[axis][start + x] > 0) {
          join(run, other);
          break;
        }
    }
  }

  const PressureLevel& level_;
  std::vector<CellRun> runs_;         // row by row
  std::vector<std::uint32_t> first_;  // the first run of each row
  std::vector<std::uint32_t> root_;   // a run of the same part with a lower number, or the run itself
  std::vector<bool> reachesAir_;      // of those that are their own root
};

bool rests(const GasVelocity& velocity) {
  return std::all_of(velocity.begin(), velocity.end(), [](const GasChannel& across) {
    return std::all_of(across.begin(), across.end(), [](float speed) { return speed == 0; });
  });
}

}  // namespace

std::shared_ptr<const PressureProblem> pressureProblem(const GasGrid& grid, GasSolids solids,
                                                       const Progress& progress) {
  auto problem = std::make_shared<PressureProblem>();
  problem->grid = grid;
  progress.stopIfCancelled();
  problem->levels =
      std::make_shared<const std::vector<MultigridLevel>>(multigridLevels(levelOf(grid, solids)));
  progress.stopIfCancelled();
  if (!rests(solids.velocity)) problem->solidVelocity = std::move(solids.velocity);
  ClosedParts(problem->finest()).addTo(*problem);
  return problem;
}

}  // namespace comet
