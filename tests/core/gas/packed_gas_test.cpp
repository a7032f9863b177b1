// What is kept of a gas between steps: as exact as half floats are, and no more than it needs.
#include "gas/packed_gas.h"

#include "core/gas/gas_boxes.h"

#include <rapidcheck.h>

namespace comet {
namespace {

using test::openAbove;

GasState filledState(const GasGrid& grid) {
  GasState state = emptyGas(grid);
  state.velocity = test::randomVelocity(grid);
  test::fillAtRandom(state.temperature, 7);
  for (float& value : state.temperature) value *= 500;
  // Gas in a corner only.
  for (std::size_t z = 0; z < grid.counts[2] / 2; ++z)
    for (std::size_t y = 0; y < grid.counts[1] / 2; ++y)
      for (std::size_t x = 0; x < grid.counts[0] / 2; ++x)
        state.density[grid.cells().index(x, y, z)] = 0.1F + 0.01F * static_cast<float>(x);
  return state;
}

void expectClose(const GasChannel& found, const GasChannel& wanted) {
  ASSERT_EQ(found.size(), wanted.size());
  // 11 bits of a half float, and nothing below its smallest normal number.
  for (std::size_t i = 0; i < found.size(); ++i)
    ASSERT_NEAR(found[i], wanted[i], std::max(6.2e-5F, std::abs(wanted[i]) / 2048)) << i;
}

TEST(PackedGas, KeepsWhatHalfFloatsCanSay) {
  const GasGrid grid = openAbove(19, 23, 17, 0.1);
  const GasState state = filledState(grid);
  const GasState again = PackedGas(grid, state).unpacked();
  expectClose(again.density, state.density);
  expectClose(again.temperature, state.temperature);
  for (std::size_t axis = 0; axis < 3; ++axis) expectClose(again.velocity[axis], state.velocity[axis]);
  // A second time nothing changes any more: a run that is resumed does the same.
  const GasState twice = PackedGas(grid, again).unpacked();
  EXPECT_EQ(twice.density, again.density);
  EXPECT_EQ(twice.velocity, again.velocity);
}

TEST(PackedGas, TakesAtMostTwelveBytesAFilledVoxel) {
  const GasGrid grid = openAbove(64, 64, 64);
  GasState state = filledState(grid);
  for (float& value : state.density) value = 1;
  EXPECT_LE(PackedGas(grid, state).bytes(), 12 * grid.cells().size());
  EXPECT_LT(PackedGas(grid, emptyGas(grid)).bytes(), grid.cells().size() / 2)
      << "air at rest is next to nothing";
}

TEST(PackedGas, CountsWhatIsFilled) {
  const GasGrid grid = openAbove(64, 16, 16);
  const PackedGas gas(grid, filledState(grid));
  EXPECT_GE(gas.filled(), 32U * 8 * 8);
  EXPECT_LE(gas.filled(), 64U * 8 * 8);
}

TEST(PackedGas, GoesThroughBytesUnchanged) {
  const GasGrid grid = openAbove(19, 23, 17, 0.1);
  const PackedGas gas(grid, filledState(grid));
  std::string bytes;
  gas.put(bytes);
  ByteReader reader(bytes);
  const PackedGas again = PackedGas::take(reader);
  EXPECT_EQ(reader.left(), 0U);
  EXPECT_EQ(again.grid(), grid);
  Hasher one, other;
  gas.describe(one);
  again.describe(other);
  EXPECT_EQ(one.digest(), other.digest());
}

TEST(PackedGas, DamagedBytesAreRefused) {
  const GasGrid grid = openAbove(9, 5, 7);
  std::string bytes;
  PackedGas(grid, filledState(grid)).put(bytes);
  EXPECT_TRUE(rc::check([&] {
    std::string damaged = bytes;
    const auto at = *rc::gen::inRange<std::size_t>(0, damaged.size());
    damaged[at] = static_cast<char>(damaged[at] ^ static_cast<char>(*rc::gen::inRange(1, 256)));
    if (*rc::gen::arbitrary<bool>()) damaged.resize(*rc::gen::inRange<std::size_t>(0, damaged.size()));
    ByteReader reader(damaged);
    // Either it is refused, or what is read has the size that it says.
    try {
      const PackedGas read = PackedGas::take(reader);
      RC_ASSERT(read.density().size() == read.grid().cells().size());
    } catch (const DamagedBytes&) {
    }
  }));
}

TEST(PackedGas, ColorsAndAgesAreKeptWhereThereAreAny) {
  const GasGrid grid = openAbove(5, 4, 3);
  GasState state = emptyGas(grid, {.color = true, .age = true, .fuel = true});
  state.color[1][7] = 0.5F;
  state.age[8] = 0.25F;
  state.fuel[9] = 2;
  std::string bytes;
  PackedGas(grid, state).put(bytes);
  ByteReader reader(bytes);
  const GasState again = PackedGas::take(reader).unpacked();
  ASSERT_TRUE(again.hasColor());
  EXPECT_EQ(again.color, state.color);
  EXPECT_EQ(again.age, state.age);
  EXPECT_EQ(again.fuel, state.fuel);
  EXPECT_EQ(reader.left(), 0U);
  const GasState plain = PackedGas(grid, emptyGas(grid)).unpacked();
  EXPECT_FALSE(plain.hasColor());
  EXPECT_FALSE(plain.hasAge());
  EXPECT_FALSE(plain.hasFuel());
}

TEST(PackedGas, HugeNumbersStayFinite) {
  const GasGrid grid = openAbove(4, 4, 4);
  GasState state = emptyGas(grid);
  state.density[3] = 1e30F;
  state.temperature[5] = -1e30F;
  const GasState again = PackedGas(grid, state).unpacked();
  EXPECT_EQ(again.density[3], 65504);
  EXPECT_EQ(again.temperature[5], -65504);
}

}  // namespace
}  // namespace comet
