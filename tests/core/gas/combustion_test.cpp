#include "gas/combustion.h"

#include "core/gas/gas_boxes.h"
#include "gas/gas_step.h"

namespace comet {
namespace {

using test::closedBox;
using test::fillAtRandom;
using test::sumOf;

// Gas at rest, half of it hot enough to burn.
GasState fuelIn(const GasGrid& grid) {
  GasState state = emptyGas(grid, {.fuel = true});
  fillAtRandom(state.fuel, 7);
  for (std::size_t i = 0; i < state.fuel.size(); ++i) {
    state.fuel[i] = std::abs(state.fuel[i]);
    state.temperature[i] = i % 2 == 0 ? 400.0F : 20.0F;
  }
  return state;
}

TEST(Combustion, TurnsTheFuelThatIsLostIntoHeatAndSmoke) {
  const GasGrid grid = closedBox(12, 10, 8, 0.1);
  GasState state = fuelIn(grid);
  GasChannel expansion(grid.cells().size());
  const Combustion combustion{.ignition = 150, .rate = 3, .heat = 900, .smoke = 0.4, .expansion = 2};
  const double fuel = sumOf(state.fuel), warmth = sumOf(state.temperature);
  double burnt = 0;
  for (int i = 0; i < 5; ++i) burnt += burnFuel(combustion, 0.1, state, expansion);
  EXPECT_GT(burnt, 0.2 * fuel);
  EXPECT_NEAR(burnt, fuel - sumOf(state.fuel), 1e-5 * fuel);
  EXPECT_NEAR(sumOf(state.temperature) - warmth, 900 * burnt, 1e-4 * warmth);
  EXPECT_NEAR(sumOf(state.density), 0.4 * burnt, 1e-5 * fuel);
  EXPECT_NEAR(sumOf(expansion), 2 * burnt / 0.1, 1e-4 * burnt / 0.1);
}

TEST(Combustion, BurnsAtItsRateWhereItIsHotAndNowhereElse) {
  const GasGrid grid = closedBox(6, 6, 6);
  GasState state = fuelIn(grid);
  const GasState before = state;
  GasChannel expansion(grid.cells().size());
  const Combustion combustion{.ignition = 150, .rate = 2};
  for (int i = 0; i < 10; ++i) burnFuel(combustion, 0.05, state, expansion);
  for (std::size_t i = 0; i < state.fuel.size(); ++i) {
    const double left = i % 2 == 0 ? std::exp(-2 * 0.5) : 1;
    EXPECT_NEAR(state.fuel[i], left * static_cast<double>(before.fuel[i]), 1e-5);
  }
}

TEST(Combustion, RadiatesWithTheFourthPowerOfTheTemperature) {
  const Combustion combustion{.glowing = 1000, .radiation = 1.5};
  GasChannel once{1000, 2000, 10, -300}, often = once;
  radiateHeat(combustion, 0.4, once);
  // The same as the sum of what is lost in many short steps.
  for (int i = 0; i < 4000; ++i)
    for (float& t : often)
      if (t > 0) t -= 1e-4F * 1.5F * t * (t / 1000) * (t / 1000) * (t / 1000);
  for (std::size_t i = 0; i < once.size(); ++i)
    EXPECT_NEAR(once[i], often[i], 2e-3 * std::abs(often[i]) + 1e-6);
  EXPECT_EQ(once[3], -300) << "what is colder than the air radiates nothing";
}

// In a closed box that loses no heat, what is in the fuel comes out as heat, wherever the gas goes.
TEST(Combustion, KeepsTheHeatOfAClosedBox) {
  const GasGrid grid = closedBox(24, 24, 24, 0.1);
  GasState state = emptyGas(grid, {.fuel = true});
  for (std::size_t z = 8; z < 16; ++z)
    for (std::size_t y = 2; y < 8; ++y)
      for (std::size_t x = 8; x < 16; ++x) {
        state.fuel[grid.cells().index(x, y, z)] = 1;
        state.temperature[grid.cells().index(x, y, z)] = 300;
      }
  GasMotion motion;
  motion.buoyancy = 0.02;
  motion.combustion = {.ignition = 100, .rate = 2, .heat = 800, .smoke = 0.5};
  PressureSolver solver(grid, wallsOnly(grid));
  const double whole = sumOf(state.temperature) + 800 * sumOf(state.fuel), fuel = sumOf(state.fuel);
  double burnt = 0;
  for (int i = 0; i < 24; ++i)
    burnt += stepGas(grid, solver, motion, 1.0 / 24, {}, {}, state, Progress()).burntFuel;
  EXPECT_NEAR(sumOf(state.temperature) + 800 * sumOf(state.fuel), whole, 0.01 * whole);
  EXPECT_NEAR(burnt, fuel - sumOf(state.fuel), 0.01 * fuel);
  EXPECT_NEAR(sumOf(state.density), 0.5 * burnt, 0.01 * burnt);
  EXPECT_GT(burnt, 0.6 * fuel);
}

}  // namespace
}  // namespace comet
