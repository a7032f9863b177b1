#include "gas/row_passes.h"

#include "base/parallel.h"
#include "core/gas/gas_boxes.h"

namespace comet {
namespace {

using test::ballIn;

// A chessboard's colours in turns from a pressure of 0, and what is left.
struct Smoothed {
  LevelNumbers pressure, left;

  explicit Smoothed(const PressureLevel& level) : pressure(level.layout.size()), left(pressure) {}
  bool operator==(const Smoothed&) const = default;
};

constexpr std::size_t kPasses = 6;

void pass(const PressureLevel& level, const LevelNumbers& right, std::size_t index, std::size_t y,
          std::size_t z, Smoothed& result) {
  if (index == 0)
    smoothRowFromZero(level, y, z, right, 0, result.pressure);
  else if (index + 1 < kPasses)
    smoothRow(level, y, z, right, index % 2, result.pressure);
  else
    findResidualInRow(level, y, z, result.pressure, right, right, result.left);
}

TEST(RowPasses, DoWhatOneAfterTheOtherDoes) {
  // Along z, along y, too few layers for slabs, and flat.
  const std::array<std::array<std::size_t, 3>, 4> boxes{
      {{20, 17, 60}, {20, 90, 12}, {50, 30, 9}, {33, 400, 1}}};
  for (const auto& counts : boxes) {
    const GasGrid grid = test::openAbove(counts[0], counts[1], counts[2]);
    const Vec3d middle = 0.5 * Vec3d(counts[0], counts[1], counts[2]);
    const PressureLevel level = levelOf(grid, ballIn(grid, middle, 4.3));
    LevelNumbers right(level.layout.size(), 0.0F);
    test::fillAtRandom(right, 3);
    Smoothed expected(level);
    for (std::size_t index = 0; index < kPasses; ++index)
      for (std::size_t z = 1; z <= counts[2]; ++z)
        for (std::size_t y = 1; y <= counts[1]; ++y) pass(level, right, index, y, z, expected);
    for (const int threads : {1, 2, 0}) {
      const ThreadLimit limit(threads);
      Smoothed found(level);
      runRowPasses(level, kPasses, 0, [&](std::size_t index, std::size_t y, std::size_t z, float*) {
        pass(level, right, index, y, z, found);
      });
      EXPECT_EQ(found, expected) << counts[0] << " x " << counts[1] << " x " << counts[2];
    }
  }
}

}  // namespace
}  // namespace comet
