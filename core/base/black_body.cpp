#include "base/black_body.h"

#include <array>
#include <cmath>

namespace comet {
namespace {

// The colour matching functions of the CIE 1931 observer (2°), from 380 nm on in steps of 10 nm.
constexpr double kFirst = 380, kStep = 10;
constexpr std::array<std::array<double, 3>, 40> kMatching{{
    {0.0014, 0.0000, 0.0065}, {0.0042, 0.0001, 0.0201}, {0.0143, 0.0004, 0.0679}, {0.0435, 0.0012, 0.2074},
    {0.1344, 0.0040, 0.6456}, {0.2839, 0.0116, 1.3856}, {0.3483, 0.0230, 1.7471}, {0.3362, 0.0380, 1.7721},
    {0.2908, 0.0600, 1.6692}, {0.1954, 0.0910, 1.2876}, {0.0956, 0.1390, 0.8130}, {0.0320, 0.2080, 0.4652},
    {0.0049, 0.3230, 0.2720}, {0.0093, 0.5030, 0.1582}, {0.0633, 0.7100, 0.0782}, {0.1655, 0.8620, 0.0422},
    {0.2904, 0.9540, 0.0203}, {0.4334, 0.9950, 0.0087}, {0.5945, 0.9950, 0.0039}, {0.7621, 0.9520, 0.0021},
    {0.9163, 0.8700, 0.0017}, {1.0263, 0.7570, 0.0011}, {1.0622, 0.6310, 0.0008}, {1.0026, 0.5030, 0.0003},
    {0.8544, 0.3810, 0.0002}, {0.6424, 0.2650, 0.0000}, {0.4479, 0.1750, 0.0000}, {0.2835, 0.1070, 0.0000},
    {0.1649, 0.0610, 0.0000}, {0.0874, 0.0320, 0.0000}, {0.0468, 0.0170, 0.0000}, {0.0227, 0.0082, 0.0000},
    {0.0114, 0.0041, 0.0000}, {0.0058, 0.0021, 0.0000}, {0.0029, 0.0010, 0.0000}, {0.0014, 0.0005, 0.0000},
    {0.0007, 0.0003, 0.0000}, {0.0003, 0.0001, 0.0000}, {0.0002, 0.0001, 0.0000}, {0.0001, 0.0000, 0.0000},
}};

// Planck's law, as a multiple of the light at 560 nm of a body at 6500 K.
double spectralRadiance(double nm, double kelvin) {
  constexpr double kSecondRadiationConstant = 1.438776877e7;  // nm K
  const auto of = [](double wavelength, double temperature) {
    return std::pow(wavelength / 560, -5) / std::expm1(kSecondRadiationConstant / (wavelength * temperature));
  };
  return of(nm, kelvin) / of(560, 6500);
}

}  // namespace

Vec3d blackBodyXyz(double kelvin) {
  Vec3d sum(0.0);
  for (std::size_t i = 0; i < kMatching.size(); ++i)
    sum += spectralRadiance(kFirst + kStep * static_cast<double>(i), kelvin) *
           Vec3d(kMatching[i][0], kMatching[i][1], kMatching[i][2]);
  return sum;
}

Vec3d blackBodyColor(double kelvin) {
  const Vec3d xyz = blackBodyXyz(kelvin);
  const Vec3d rgb(3.2404542 * xyz.x - 1.5371385 * xyz.y - 0.4985314 * xyz.z,
                  -0.9692660 * xyz.x + 1.8760108 * xyz.y + 0.0415560 * xyz.z,
                  0.0556434 * xyz.x - 0.2040259 * xyz.y + 1.0572252 * xyz.z);
  return glm::max(rgb, Vec3d(0.0));
}

}  // namespace comet
