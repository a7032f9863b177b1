// Colour spaces. Colours are scene-linear RGB (Rec. 709 primaries) unless said otherwise, and may exceed 1.
#pragma once

#include "base/vec.h"

namespace comet {

// The sRGB transfer function (IEC 61966-2-1) and its inverse; values outside 0 to 1 continue it.
double encodeSrgb(double linear);
double decodeSrgb(double encoded);

// Relative luminance (Rec. 709).
double luminance(const Vec3d& linear);

// Hue in turns, 0 to 1; saturation 0 to 1; value from 0 up. Of the sRGB-encoded colour, since that is what
// hue and saturation are judged by. Grey has hue 0.
Vec3d hsvFromLinear(const Vec3d& linear);
Vec3d linearFromHsv(const Vec3d& hsv);

// Ottosson, "A perceptual color space for image processing", 2020.
Vec3d oklabFromLinear(const Vec3d& linear);
Vec3d linearFromOklab(const Vec3d& lab);

enum class ColorMix { Linear, Perceptual, Hsv };

// Between two colours, `t` from 0 to 1. In HSV the hue takes the shorter way; a grey takes the other's hue.
Vec3d mixColors(const Vec3d& a, const Vec3d& b, double t, ColorMix mix);

// The colour with its hue turned by `turn` (in turns), its saturation and its value multiplied. Saturation
// beyond the most is brought back.
Vec3d adjustColor(const Vec3d& linear, double turn, double saturation, double value);

}  // namespace comet
