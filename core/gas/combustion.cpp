#include "gas/combustion.h"

#include "gas/rows.h"

#include <cmath>

namespace comet {

double burnFuel(const Combustion& combustion, double seconds, GasState& state, GasChannel& expansion) {
  if (!state.hasFuel() || seconds <= 0) return 0;
  const auto ignition = static_cast<float>(combustion.ignition);
  const auto burning = static_cast<float>(-std::expm1(-combustion.rate * seconds));
  const auto heat = static_cast<float>(combustion.heat), smoke = static_cast<float>(combustion.smoke);
  const auto swelling = static_cast<float>(combustion.expansion / seconds);
  return sumOfBlocks(state.fuel.size(), [&](std::size_t begin, std::size_t end) {
    double sum = 0;
    for (std::size_t i = begin; i < end; ++i) {
      if (!(state.fuel[i] > 0) || state.temperature[i] < ignition) continue;
      const float burnt = state.fuel[i] * burning;
      state.fuel[i] -= burnt;
      state.temperature[i] += heat * burnt;
      state.density[i] += smoke * burnt;
      expansion[i] += swelling * burnt;
      sum += static_cast<double>(burnt);
    }
    return sum;
  });
}

void radiateHeat(const Combustion& combustion, double seconds, GasChannel& temperature) {
  if (combustion.radiation <= 0 || seconds <= 0) return;
  // dT/dt = -r T (T / G)³, so that 1/T³ grows by 3 r / G³ each second.
  const auto passed = static_cast<float>(3 * combustion.radiation * seconds);
  const auto perGlowing = static_cast<float>(1 / combustion.glowing);
  forBlocks(temperature.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i < end; ++i) {
      if (!(temperature[i] > 0)) continue;
      const float hot = temperature[i] * perGlowing;
      temperature[i] /= std::cbrt(1 + passed * hot * hot * hot);
    }
  });
}

}  // namespace comet
