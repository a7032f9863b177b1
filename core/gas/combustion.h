// Fuel that burns where gas is hot: it becomes heat and smoke, and swells (after Nguyen, Fedkiw and Jensen
// 2002, without a front that is followed by itself).
#pragma once

#include "gas/gas_grid.h"

namespace comet {

struct Combustion {
  double ignition = 150;  // the temperature above the air's from which fuel burns, kelvin
  double rate = 5;        // how fast burning fuel is used up, per second
  double heat = 1800;     // kelvin for each unit of fuel
  double smoke = 0.4;     // density for each unit of fuel
  double expansion = 0;   // volumes of gas for each unit of fuel
  double glowing = 1500;  // a temperature above the air's, kelvin, 1 and more, ...
  double radiation = 0;   // ... and how fast gas that is so hot cools by what it radiates, per second
};

// Burns fuel for some seconds; nothing happens in gas without fuel. `expansion` gets how fast voxels swell by
// it, per second. Gives the fuel that was burnt, in all voxels.
double burnFuel(const Combustion& combustion, double seconds, GasState& state, GasChannel& expansion);

// Cools what is hotter than the air by what it radiates, which grows with the fourth power of its
// temperature: exact for any number of seconds.
void radiateHeat(const Combustion& combustion, double seconds, GasChannel& temperature);

}  // namespace comet
