#include "render/finish.h"

#include "base/color.h"
#include "base/stoppable.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace comet {
namespace {

// A glow is a narrow, a middle and a wide one, which looks more like scattered light than a single Gaussian.
struct GlowPart {
  double size;  // fraction of the widest
  double weight;
};
constexpr std::array<GlowPart, 3> kGlowParts{{{0.2, 0.5}, {0.5, 0.3}, {1.0, 0.2}}};

// Wide blurs are made from smaller pictures: nothing finer than this deviation is lost by it, in pixels.
constexpr double kFinestDeviation = 4;

// Three box filters of nearly equal width have the variance of the Gaussian and nearly its shape (Wells,
// "Efficient Synthesis of Gaussian Filters by Cascaded Uniform Filters", 1986).
struct BoxWidths {
  std::array<int, 3> radii;
};

BoxWidths boxesFor(double deviation) {
  const double ideal = std::sqrt(4 * deviation * deviation + 1);
  int min = static_cast<int>(std::floor(ideal));
  if (min % 2 == 0) --min;
  const int narrow = static_cast<int>(
      std::lround((12 * deviation * deviation - 3.0 * min * min - 12.0 * min - 9) / (-4.0 * min - 4)));
  BoxWidths boxes{};
  for (int i = 0; i < 3; ++i) boxes.radii[i] = (i < narrow ? min : min + 2) / 2;
  return boxes;
}

// `line` holds `count` pixels `stride` apart.
void boxFilter(const Vec4* in, Vec4* out, int count, std::ptrdiff_t stride, int radius) {
  const float weight = 1.0F / static_cast<float>(2 * radius + 1);
  Vec4 sum(0.0F);
  for (int i = 0; i < std::min(radius, count); ++i) sum += in[i * stride];
  for (int i = 0; i < count; ++i) {
    if (i + radius < count) sum += in[(i + radius) * stride];
    out[i * stride] = sum * weight;
    if (i - radius >= 0) sum -= in[(i - radius) * stride];
  }
}

void filterAlong(const Picture& in, Picture& out, int radius, bool alongRows, const Progress& progress) {
  const auto lines = static_cast<std::size_t>(alongRows ? in.height() : in.width());
  const int length = alongRows ? in.width() : in.height();
  const std::ptrdiff_t stride = alongRows ? 1 : in.width();
  stoppableFor(lines, progress, [&](std::size_t line) {
    const std::size_t first = alongRows ? line * static_cast<std::size_t>(in.width()) : line;
    boxFilter(in.row(0) + first, out.row(0) + first, length, stride, radius);
  });
}

Picture halved(const Picture& picture) {
  if (picture.width() % 2 == 0 && picture.height() % 2 == 0) {
    Picture half = Picture::unset(picture.width() / 2, picture.height() / 2);
    half.pasteReduced(picture, 2, 0, 0);
    return half;
  }
  // What is left of an odd size is kept, as a column or row with nothing beside it.
  Picture even((picture.width() + 1) / 2 * 2, (picture.height() + 1) / 2 * 2);
  for (int y = 0; y < picture.height(); ++y) std::copy_n(picture.row(y), picture.width(), even.row(y));
  return halved(even);
}

// Adds `small`, made `factor` times as large by straight lines between its pixels, times `weight`.
void addEnlarged(const Picture& small, int factor, float weight, Picture& target, const Progress& progress) {
  stoppableFor(static_cast<std::size_t>(target.height()), progress, [&](std::size_t row) {
    const auto place = [factor](int pixel, int size, int& below, int& above) {
      const float at = (static_cast<float>(pixel) + 0.5F) / static_cast<float>(factor) - 0.5F;
      const float inside = std::clamp(at, 0.0F, static_cast<float>(size - 1));
      below = static_cast<int>(inside);
      above = std::min(below + 1, size - 1);
      return inside - static_cast<float>(below);
    };
    int y0 = 0, y1 = 0;
    const float ty = place(static_cast<int>(row), small.height(), y0, y1);
    Vec4* out = target.row(static_cast<int>(row));
    for (int x = 0; x < target.width(); ++x) {
      int x0 = 0, x1 = 0;
      const float tx = place(x, small.width(), x0, x1);
      const Vec4 upper = small.at(x0, y0) * (1 - tx) + small.at(x1, y0) * tx;
      const Vec4 lower = small.at(x0, y1) * (1 - tx) + small.at(x1, y1) * tx;
      out[x] += (upper * (1 - ty) + lower * ty) * weight;
    }
  });
}

// `small` is the light.
void addGlow(Picture small, const Finish& finish, Picture& picture, const Progress& progress) {
  int factor = 1;
  for (const GlowPart& part : kGlowParts) {
    const double deviation = part.size * finish.glowSize * picture.height();
    if (deviation < 0.3) continue;
    while (deviation / factor > 2 * kFinestDeviation && std::min(small.width(), small.height()) > 8) {
      progress.stopIfCancelled();
      small = halved(small);
      factor *= 2;
    }
    addEnlarged(blurred(small, deviation / factor, progress), factor,
                static_cast<float>(part.weight * finish.glowStrength), picture, progress);
  }
}

float gainOf(const Finish& finish) { return static_cast<float>(std::exp2(finish.exposure)); }

// The part of an exposed pixel that glows: of a colour as bright as the threshold nothing, of brighter ones
// what is above it.
Vec4 glowing(const Vec4& pixel, float threshold) {
  // The colour's own brightness decides, not how much of it there is. Light that covers nothing, of additive
  // sprites, counts as covering as much as it is bright; the more there is that covers, the less of this is
  // done.
  const float brightest = std::max({pixel.x, pixel.y, pixel.z});
  const float open = (1 - pixel.w) * (1 - pixel.w);
  const float cover = std::max(pixel.w, open * open * std::min(1.0F, brightest));
  const float own = cover > 0 ? brightest / cover : 0;
  return own > threshold ? Vec4(Vec3(pixel) * ((own - threshold) / own), 0) : Vec4(0.0F);
}

// The exposed light that glows; empty if none does.
Picture exposedGlowing(const Finish& finish, const Picture& source, const Progress& progress) {
  if (!finish.glows || finish.glowStrength <= 0 || finish.glowSize <= 0) return {};
  Picture light = Picture::unset(source.width(), source.height());
  const auto min = static_cast<float>(finish.glowThreshold);
  changeRows(source, light, progress, [gain = gainOf(finish), min](const Vec4& pixel) {
    return glowing(Vec4(Vec3(pixel) * gain, pixel.w), min);
  });
  return light;
}

// Up to the knee light stays; from there it nears 1 and never reaches it.
void rollOff(double amount, Picture& picture, const Progress& progress) {
  const auto knee = static_cast<float>(1 - amount);
  const auto room = static_cast<float>(std::max(amount, 1e-6));
  changeRows(picture, picture, progress, [knee, room](const Vec4& pixel) {
    const float brightest = std::max({pixel.x, pixel.y, pixel.z});
    if (brightest <= knee) return pixel;
    const float held = knee + room * (1 - std::exp(-(brightest - knee) / room));
    return Vec4(Vec3(pixel) * (held / brightest), pixel.w);
  });
}

}  // namespace

std::vector<ParamSpec> finishParams(Affects affected) {
  std::vector<ParamSpec> params{
      number("exposure", "Exposure", 0)
          .in("Post-processing")
          .unit("stops")
          .range(-20, 20)
          .usual(-4, 4)
          .keyed()
          .tip("Brightens or darkens the picture; one stop more is twice as bright."),
      flag("glow", "Glow", false)
          .in("Post-processing")
          .keyed()
          .tip("Spreads bright light over its surroundings."),
      number("glow_threshold", "Glow threshold", 0.8)
          .in("Post-processing")
          .range(0, 1000)
          .usual(0, 2)
          .keyed()
          .when("glow", {"true"})
          .tip("Only colours brighter than this glow; at 0 everything does."),
      number("glow_size", "Glow size", 5)
          .in("Post-processing")
          .unit("%")
          .range(0, 100)
          .usual(0, 20)
          .keyed()
          .when("glow", {"true"})
          .tip("How far the glow reaches, in percent of the picture's height."),
      number("glow_strength", "Glow strength", 60)
          .in("Post-processing")
          .unit("%")
          .range(0, 10000)
          .usual(0, 200)
          .keyed()
          .when("glow", {"true"})
          .tip("The brightness of the glow compared with the light that causes it."),
      number("roll_off", "Highlight roll-off", 0)
          .in("Post-processing")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("Compresses bright light on its way to white, so that it keeps its colour."),
      number("shutter", "Shutter angle", 0)
          .in("Post-processing")
          .unit("°")
          .range(0, 720)
          .usual(0, 360)
          .keyed()
          .tip("Adds motion blur: 360° keeps the shutter open for the whole frame, 180° for half of it, as "
               "in film."),
      integer("shutter_samples", "Blur samples", 8)
          .in("Post-processing")
          .range(1, 128)
          .usual(1, 32)
          .tip("The number of moments that motion blur averages; more is smoother and takes longer."),
  };
  for (ParamSpec& spec : params) spec.affects(affected);
  return params;
}

Finish finishOf(const Item& item, double frame) {
  Finish finish;
  finish.exposure = item.number("exposure", frame);
  finish.glows = item.flag("glow", frame);
  finish.glowThreshold = item.number("glow_threshold", frame);
  finish.glowSize = item.number("glow_size", frame) / 100.0;
  finish.glowStrength = item.number("glow_strength", frame) / 100.0;
  finish.rollOff = item.number("roll_off", frame) / 100.0;
  finish.shutter = item.number("shutter", frame) / 360.0;
  finish.shutterSamples = item.integer("shutter_samples", frame);
  return finish;
}

Picture blurred(const Picture& picture, double deviation, const Progress& progress) {
  Picture result = Picture::unset(picture.width(), picture.height());
  changeRows(picture, result, progress, [](const Vec4& pixel) { return pixel; });
  Picture other = Picture::unset(picture.width(), picture.height());
  for (const int radius : boxesFor(deviation).radii) {
    if (radius < 1) continue;
    filterAlong(result, other, radius, true, progress);
    filterAlong(other, result, radius, false, progress);
  }
  return result;
}

Picture glowOf(const Finish& finish, const Picture& glowSource, const Progress& progress) {
  Picture glow(glowSource.width(), glowSource.height());
  if (Picture light = exposedGlowing(finish, glowSource, progress); !light.empty())
    addGlow(std::move(light), finish, glow, progress);
  return glow;
}

void applyFinish(const Finish& finish, const Picture& glowSource, Picture& picture,
                 const Progress& progress) {
  if (picture.empty()) return;
  // Before the picture changes, which may be its own source.
  Picture light = exposedGlowing(finish, glowSource, progress);
  if (const float gain = gainOf(finish); gain != 1)
    changeRows(picture, picture, progress,
               [gain](const Vec4& pixel) { return Vec4(Vec3(pixel) * gain, pixel.w); });
  if (!light.empty()) addGlow(std::move(light), finish, picture, progress);
  if (finish.rollOff > 0) rollOff(finish.rollOff, picture, progress);
}

}  // namespace comet
