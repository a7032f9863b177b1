#include "base/color.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace comet {
namespace {

template <typename Function>
Vec3d each(const Vec3d& v, const Function& function) {
  return {function(v.x), function(v.y), function(v.z)};
}

Vec3d mixHsv(Vec3d a, Vec3d b, double t) {
  if (a.y <= 0) a.x = b.x;
  if (b.y <= 0) b.x = a.x;
  double difference = b.x - a.x;
  difference -= std::round(difference);
  Vec3d mixed = glm::mix(a, b, t);
  mixed.x = a.x + difference * t;
  mixed.x -= std::floor(mixed.x);
  return mixed;
}

}  // namespace

double encodeSrgb(double linear) {
  return linear <= 0.0031308 ? 12.92 * linear : 1.055 * std::pow(linear, 1.0 / 2.4) - 0.055;
}

double decodeSrgb(double encoded) {
  return encoded <= 0.04045 ? encoded / 12.92 : std::pow((encoded + 0.055) / 1.055, 2.4);
}

double luminance(const Vec3d& linear) { return glm::dot(linear, Vec3d(0.2126, 0.7152, 0.0722)); }

Vec3d hsvFromLinear(const Vec3d& linear) {
  const Vec3d c = each(linear, encodeSrgb);
  const double max = std::max({c.x, c.y, c.z}), min = std::min({c.x, c.y, c.z}), range = max - min;
  if (max <= 0 || range <= 0) return {0, 0, std::max(0.0, max)};
  double sixths = 0;
  if (max == c.x)
    sixths = (c.y - c.z) / range;
  else if (max == c.y)
    sixths = 2 + (c.z - c.x) / range;
  else
    sixths = 4 + (c.x - c.y) / range;
  const double hue = sixths / 6;
  return {hue - std::floor(hue), range / max, max};
}

Vec3d linearFromHsv(const Vec3d& hsv) {
  const auto channel = [&hsv](double offset) {
    const double k = std::fmod(offset + hsv.x * 6, 6.0);
    return hsv.z - hsv.z * hsv.y * std::clamp(std::min(k, 4 - k), 0.0, 1.0);
  };
  return each({channel(5), channel(3), channel(1)}, decodeSrgb);
}

Vec3d oklabFromLinear(const Vec3d& c) {
  const Vec3d lms(0.4122214708 * c.x + 0.5363325363 * c.y + 0.0514459929 * c.z,
                  0.2119034982 * c.x + 0.6806995451 * c.y + 0.1073969566 * c.z,
                  0.0883024619 * c.x + 0.2817188376 * c.y + 0.6299787005 * c.z);
  const Vec3d r = each(lms, [](double v) { return std::cbrt(v); });
  return {0.2104542553 * r.x + 0.7936177850 * r.y - 0.0040720468 * r.z,
          1.9779984951 * r.x - 2.4285922050 * r.y + 0.4505937099 * r.z,
          0.0259040371 * r.x + 0.7827717662 * r.y - 0.8086757660 * r.z};
}

Vec3d linearFromOklab(const Vec3d& lab) {
  const Vec3d r(lab.x + 0.3963377774 * lab.y + 0.2158037573 * lab.z,
                lab.x - 0.1055613458 * lab.y - 0.0638541728 * lab.z,
                lab.x - 0.0894841775 * lab.y - 1.2914855480 * lab.z);
  const Vec3d lms = r * r * r;
  return {4.0767416621 * lms.x - 3.3077115913 * lms.y + 0.2309699292 * lms.z,
          -1.2684380046 * lms.x + 2.6097574011 * lms.y - 0.3413193965 * lms.z,
          -0.0041960863 * lms.x - 0.7034186147 * lms.y + 1.7076147010 * lms.z};
}

Vec3d mixColors(const Vec3d& a, const Vec3d& b, double t, ColorMix mix) {
  switch (mix) {
    case ColorMix::Linear:
      break;
    case ColorMix::Perceptual:
      // Between two colours of the screen the way may leave what a screen can show.
      return glm::max(linearFromOklab(glm::mix(oklabFromLinear(a), oklabFromLinear(b), t)), Vec3d(0.0));
    case ColorMix::Hsv:
      return linearFromHsv(mixHsv(hsvFromLinear(a), hsvFromLinear(b), t));
  }
  return a + (b - a) * t;
}

Vec3d adjustColor(const Vec3d& linear, double turn, double saturation, double value) {
  Vec3d hsv = hsvFromLinear(linear);
  hsv.x += turn;
  hsv.x -= std::floor(hsv.x);
  hsv.y = std::clamp(hsv.y * saturation, 0.0, 1.0);
  // The value is light, so that half of it is half as bright.
  return linearFromHsv(hsv) * std::max(0.0, value);
}

}  // namespace comet
