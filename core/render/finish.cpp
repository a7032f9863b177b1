#include "render/finish.h"

#include "base/color.h"
#include "base/stoppable.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace comet {
namespace {

// A glow is a narrow, a middle and a wide one, which looks more like scattered light than a single Gaussian.
struct GlowPart {
  double size;  // fraction of the widest
  double weight;
};
constexpr std::array<GlowPart, 3> kGlowParts{{{0.2, 0.5}, {0.5, 0.3}, {1.0, 0.2}}};

// Wide blurs are made from smaller pictures: nothing finer than this deviation is lost by it, in pixels.
constexpr double kFinestDeviation = 2.5;
// By which variance making a picture smaller and larger again smooths it, squared pixels of the smaller one:
// a box and a triangle, or several triangles.
constexpr double kSmoothed = 0.3;
// Less is not seen, pixels.
constexpr double kLeastDeviation = 0.3;

// A box filter whose outermost pixels count in part, so that its variance can be any. Several of them have
// nearly a Gaussian's shape (Gwosdek, Grewenig, Bruhn and Weickert, "Theoretical foundations of Gaussian
// convolution by extended box filtering", 2011).
constexpr int kBoxes = 3;
struct ExtendedBox {
  int radius = 0;    // of the pixels that count whole
  float share = 0;   // of the next one on each side
  float weight = 1;  // of a whole one

  // One of `kBoxes` that together have this deviation, in pixels.
  explicit ExtendedBox(double deviation) {
    const double variance = deviation * deviation / kBoxes;
    radius = static_cast<int>(std::floor(0.5 * std::sqrt(12 * variance + 1) - 0.5));
    const double next = radius + 1, whole = 2 * radius + 1;
    const double outer = whole * (radius * next - 3 * variance) / (6 * (variance - next * next));
    share = static_cast<float>(outer);
    weight = static_cast<float>(1 / (whole + 2 * outer));
  }
};

// Columns that are filtered together, since their pixels lie side by side in memory.
constexpr int kColumnsTogether = 8;

// Filters lines of `count` pixels, `step` apart from pixel to pixel, that lie side by side.
template <int kLines>
void boxFilter(const Vec4* in, Vec4* out, int count, std::ptrdiff_t step, const ExtendedBox& box) {
  std::array<Vec4, kLines> sum{};
  const auto forLines = [](const auto& change) {
    for (int line = 0; line < kLines; ++line) change(line);
  };
  const int radius = box.radius;
  const float outer = box.share * box.weight;
  for (int i = 0; i < std::min(radius, count); ++i)
    forLines([&](int line) { sum[line] += in[i * step + line]; });
  for (int i = 0; i < count; ++i) {
    if (i + radius < count) forLines([&](int line) { sum[line] += in[(i + radius) * step + line]; });
    forLines([&](int line) { out[i * step + line] = sum[line] * box.weight; });
    for (const int next : {i - radius - 1, i + radius + 1})
      if (next >= 0 && next < count)
        forLines([&](int line) { out[i * step + line] += in[next * step + line] * outer; });
    if (i - radius >= 0) forLines([&](int line) { sum[line] -= in[(i - radius) * step + line]; });
  }
}

void filterRows(const Picture& in, Picture& out, const ExtendedBox& box, const Progress& progress) {
  stoppableFor(static_cast<std::size_t>(in.height()), progress, [&](std::size_t row) {
    const int y = static_cast<int>(row);
    boxFilter<1>(in.row(y), out.row(y), in.width(), 1, box);
  });
}

void filterColumns(const Picture& in, Picture& out, const ExtendedBox& box, const Progress& progress) {
  const int blocks = (in.width() + kColumnsTogether - 1) / kColumnsTogether;
  stoppableFor(static_cast<std::size_t>(blocks), progress, [&](std::size_t block) {
    const int first = static_cast<int>(block) * kColumnsTogether;
    const Vec4* from = in.row(0) + first;
    Vec4* to = out.row(0) + first;
    if (first + kColumnsTogether <= in.width())
      return boxFilter<kColumnsTogether>(from, to, in.height(), in.width(), box);
    for (int column = 0; first + column < in.width(); ++column)
      boxFilter<1>(from + column, to + column, in.height(), in.width(), box);
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

// Between which two of so many pixels a place lies, and how far from the first to the second.
struct Between {
  int below = 0, above = 0;
  float fraction = 0;

  // Of a pixel of a picture that is `factor` times as large.
  Between(int pixel, int factor, int size) {
    const float at = (static_cast<float>(pixel) + 0.5F) / static_cast<float>(factor) - 0.5F;
    const float inside = std::clamp(at, 0.0F, static_cast<float>(size - 1));
    below = static_cast<int>(inside);
    above = std::min(below + 1, size - 1);
    fraction = inside - static_cast<float>(below);
  }
};

// Adds `small`, made `factor` times as large by straight lines between its pixels, times `weight`.
void addEnlarged(const Picture& small, int factor, float weight, Picture& target, const Progress& progress) {
  std::vector<Between> columns;
  columns.reserve(static_cast<std::size_t>(target.width()));
  for (int x = 0; x < target.width(); ++x) columns.emplace_back(x, factor, small.width());
  stoppableFor(static_cast<std::size_t>(target.height()), progress, [&](std::size_t row) {
    const Between rows(static_cast<int>(row), factor, small.height());
    const Vec4 *upper = small.row(rows.below), *lower = small.row(rows.above);
    thread_local std::vector<Vec4> between;
    between.resize(static_cast<std::size_t>(small.width()));
    const float above = rows.fraction * weight, below = weight - above;
    for (std::size_t x = 0; x < between.size(); ++x) between[x] = upper[x] * below + lower[x] * above;
    Vec4* out = target.row(static_cast<int>(row));
    for (std::size_t x = 0; x < columns.size(); ++x) {
      const Between& column = columns[x];
      const Vec4 &left = between[static_cast<std::size_t>(column.below)],
                 &right = between[static_cast<std::size_t>(column.above)];
      out[x] += left + (right - left) * column.fraction;
    }
  });
}

// Light that glows, so many times smaller than the picture each way.
struct GlowingLight {
  Picture picture;  // empty if there is none
  int factor = 1;
};

double deviationOf(const GlowPart& part, const Finish& finish, int height) {
  return part.size * finish.glowSize * height;
}

// Whether a blur of this deviation, in pixels of the picture, is made from a smaller one.
bool isMadeSmaller(double deviation, const Picture& picture) {
  return deviation > 2 * kFinestDeviation && std::min(picture.width(), picture.height()) > 8;
}

// Wide parts are added to narrower ones while they are small, so that only one has to
// be made as large as the picture.
void addGlow(GlowingLight light, const Finish& finish, Picture& picture, const Progress& progress) {
  struct Level {
    Picture light;
    int factor;
    double weight;
  };
  std::vector<Level> levels;
  auto& [small, factor] = light;
  for (const GlowPart& part : kGlowParts) {
    const double deviation = deviationOf(part, finish, picture.height());
    if (deviation < kLeastDeviation) continue;
    while (isMadeSmaller(deviation / factor, small)) {
      progress.stopIfCancelled();
      small = halved(small);
      factor *= 2;
    }
    const double wanted = std::pow(deviation / factor, 2) - (factor > 1 ? kSmoothed : 0);
    levels.push_back(
        {blurred(small, std::sqrt(wanted), progress), factor, part.weight * finish.glowStrength});
  }
  for (std::size_t i = levels.size(); i-- > 0;) {
    const Level& wide = levels[i];
    if (i == 0)
      return addEnlarged(wide.light, wide.factor, static_cast<float>(wide.weight), picture, progress);
    Level& narrow = levels[i - 1];
    addEnlarged(wide.light, wide.factor / narrow.factor, static_cast<float>(wide.weight / narrow.weight),
                narrow.light, progress);
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

// The exposed light that glows.
GlowingLight exposedGlowing(const Finish& finish, const Picture& source, const Progress& progress) {
  if (!finish.glows || finish.glowStrength <= 0 || finish.glowSize <= 0) return {};
  const auto glowingAt = [gain = gainOf(finish), min = static_cast<float>(finish.glowThreshold)](
                             const Vec4& pixel) { return glowing(Vec4(Vec3(pixel) * gain, pixel.w), min); };
  double narrowest = 0;
  for (std::size_t i = 0; i < kGlowParts.size() && narrowest < kLeastDeviation; ++i)
    narrowest = deviationOf(kGlowParts[i], finish, source.height());
  if (!isMadeSmaller(narrowest, source)) {
    Picture light = Picture::unset(source.width(), source.height());
    changeRows(source, light, progress, glowingAt);
    return {std::move(light), 1};
  }
  // Half as large at once, which saves writing the whole. Beyond an odd size there is nothing.
  Picture light = Picture::unset((source.width() + 1) / 2, (source.height() + 1) / 2);
  stoppableFor(static_cast<std::size_t>(light.height()), progress, [&](std::size_t row) {
    const int y = static_cast<int>(row);
    const Vec4* upper = source.row(2 * y);
    const Vec4* lower = 2 * y + 1 < source.height() ? source.row(2 * y + 1) : nullptr;
    Vec4* out = light.row(y);
    for (int x = 0; x < light.width(); ++x) {
      const int left = 2 * x, count = std::min(2, source.width() - left);
      Vec4 sum(0.0F);
      for (int i = 0; i < count; ++i) {
        sum += glowingAt(upper[left + i]);
        if (lower) sum += glowingAt(lower[left + i]);
      }
      out[x] = sum * 0.25F;
    }
  });
  return {std::move(light), 2};
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
  Picture result = Picture::unset(picture.width(), picture.height()), other = result;
  const ExtendedBox box(deviation);
  for (int i = 0; i < kBoxes; ++i) {
    filterRows(i == 0 ? picture : result, other, box, progress);
    filterColumns(other, result, box, progress);
  }
  return result;
}

Picture glowOf(const Finish& finish, const Picture& glowSource, const Progress& progress) {
  Picture glow(glowSource.width(), glowSource.height());
  if (GlowingLight light = exposedGlowing(finish, glowSource, progress); !light.picture.empty())
    addGlow(std::move(light), finish, glow, progress);
  return glow;
}

void applyFinish(const Finish& finish, const Picture& glowSource, Picture& picture,
                 const Progress& progress) {
  if (picture.empty()) return;
  // Before the picture changes, which may be its own source.
  GlowingLight light = exposedGlowing(finish, glowSource, progress);
  if (const float gain = gainOf(finish); gain != 1)
    changeRows(picture, picture, progress,
               [gain](const Vec4& pixel) { return Vec4(Vec3(pixel) * gain, pixel.w); });
  if (!light.picture.empty()) addGlow(std::move(light), finish, picture, progress);
  if (finish.rollOff > 0) rollOff(finish.rollOff, picture, progress);
}

}  // namespace comet
