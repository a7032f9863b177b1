// One step of a gas in a box: forces, pressure, and what it carries.
#pragma once

#include "base/curl_noise.h"
#include "base/progress.h"
#include "gas/combustion.h"
#include "gas/pressure.h"

#include <functional>

namespace comet {

// How a gas moves by itself.
struct GasMotion {
  double buoyancy = 1;                  // upward push for each unit of temperature, units/s²
  double weight = 0;                    // downward push for each unit of density, units/s²
  double vorticity = 0;                 // strength of vorticity confinement, 0 and more
  CurlNoise turbulence{.strength = 0};  // see addTurbulence
  double dissipation = 0;               // the rate at which density fades, per second
  double cooling = 0;                   // the rate at which temperature falls, per second
  Combustion combustion{};              // of gas that has fuel
  double maxVoxels = 5;                 // that gas is carried over in a half of a step at the most
  double tolerance = 1e-4;              // of the pressure, as a fraction of the largest divergence
  int maxRounds = 60;
};

struct GasStepReport {
  int halves = 0;               // that the step was split into
  int rounds = 0;               // of the pressure, in all of them
  double divergenceLeft = 0;    // largest error, per second, in the last half
  bool isReached = true;        // whether the pressure was found as exactly as wanted in every half
  double burntFuel = 0;         // in all voxels and halves
  std::size_t resetVoxels = 0;  // values that were no numbers and became 0
};

// Changes the velocity by what pushes from outside during some seconds.
using GasPush = std::function<void(GasVelocity& velocity, double seconds)>;

// Steps come in pairs of halves, between which the velocity is reflected at what has no divergence (Zehnder,
// Narain and Thomaszewski 2018): second order in time, so that swirls live on. `solver` is that of the grid
// and what is solid in it. Throws Error(Cancelled).
GasStepReport stepGas(const GasGrid& grid, PressureSolver& solver, const GasMotion& motion, double seconds,
                      const GasChannel& expansion, const GasPush& push, GasState& state,
                      const Progress& progress);

// What is carried fades, cools and grows older.
void fadeContents(const GasMotion& motion, double seconds, GasState& state);

// Pushes gas up by its temperature and down by its density (Fedkiw, Stam and Jensen 2001).
void addBuoyancy(const GasGrid& grid, const GasMotion& motion, double seconds, GasState& state);

// The largest speed, units per second.
double largestSpeed(const GasVelocity& velocity);

}  // namespace comet
