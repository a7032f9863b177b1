// Divergence-free noise: the curl of three gradient-noise potentials.
//
// Method: Bridson, Hourihan & Nordenstam, "Curl-Noise for Procedural Fluid Flow", 2007, with the derivatives
// of the potentials in closed form. The pattern changes over time by turning the gradients at the lattice
// points (after Perlin & Neyret, "Flow Noise", 2001); it is periodic: after one turn it is the same again.
// Results are bit-identical on all vector units. Safe to call from any thread.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>

namespace comet {

struct CurlNoise {
  float scale = 1;         // size of the largest swirls, in scene units
  int octaves = 1;         // each half the size and strength of the one before
  float strength = 1;      // root mean square length of the first octave's vectors
  double turns = 0;        // position in the pattern's period
  std::uint32_t seed = 0;  // selects a pattern
};

// Adds the noise at `count` positions to `result`. All six arrays must be aligned to 64 bytes and readable,
// and `result` writable, up to the next multiple of 16 elements.
void addCurlNoise(const CurlNoise& noise, std::size_t count, const std::array<const float*, 3>& position,
                  const std::array<float*, 3>& result);

}  // namespace comet
