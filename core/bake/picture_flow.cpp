#include "bake/picture_flow.h"

#include "bake/frame_choice.h"
#include "bake/seen.h"
#include "bake/warp.h"
#include "base/parallel.h"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace comet {
namespace {

// A finer flow than at this size of a picture's longer side would follow grain.
constexpr int kFinestSide = 128;
constexpr int kCoarsestSide = 8;
constexpr int kWarps = 4, kRounds = 40;  // of each size
// How much a flow is smoothed, in terms of the slopes of pictures whose brightest is 1.
constexpr float kSmoothness = 0.2F;
// No part is moved farther than this fraction of the longer side.
constexpr float kFarthest = 0.2F;
// A flow is used that leaves at most so much of the difference between two pictures.
constexpr double kUseful = 0.9;

// One number for each pixel; beyond the edge it is as at the edge.
class Plane {
 public:
  Plane(int width, int height)
      : width_(width), height_(height), values_(static_cast<std::size_t>(width) * height) {}

  int width() const { return width_; }
  int height() const { return height_; }
  float& at(int x, int y) { return values_[index(x, y)]; }
  float at(int x, int y) const { return values_[index(x, y)]; }
  float near(int x, int y) const {
    return values_[index(std::clamp(x, 0, width_ - 1), std::clamp(y, 0, height_ - 1))];
  }
  // Between the middles of pixels by straight lines; whole numbers are middles.
  float between(float x, float y) const {
    const float left = std::floor(x), top = std::floor(y), fx = x - left, fy = y - top;
    const int i = static_cast<int>(left), j = static_cast<int>(top);
    return (near(i, j) * (1 - fx) + near(i + 1, j) * fx) * (1 - fy) +
           (near(i, j + 1) * (1 - fx) + near(i + 1, j + 1) * fx) * fy;
  }
  float largest() const { return *std::max_element(values_.begin(), values_.end()); }

 private:
  std::size_t index(int x, int y) const { return static_cast<std::size_t>(y) * width_ + x; }

  int width_, height_;
  std::vector<float> values_;
};

template <typename Of>
void setAll(Plane& plane, const Of& of) {
  parallelFor(static_cast<std::size_t>(plane.height()), [&](std::size_t row) {
    const int y = static_cast<int>(row);
    for (int x = 0; x < plane.width(); ++x) plane.at(x, y) = of(x, y);
  });
}

struct Flow {
  Plane x, y;

  Flow(int width, int height) : x(width, height), y(width, height) {}
};

// Another size of it, each pixel the mean of those that it stands for.
Plane resized(const Plane& from, int width, int height) {
  const float perX = static_cast<float>(from.width()) / width,
              perY = static_cast<float>(from.height()) / height;
  const int samplesX = std::max(1, static_cast<int>(std::ceil(perX)));
  const int samplesY = std::max(1, static_cast<int>(std::ceil(perY)));
  Plane result(width, height);
  setAll(result, [&](int x, int y) {
    float sum = 0;
    for (int j = 0; j < samplesY; ++j)
      for (int i = 0; i < samplesX; ++i)
        sum += from.between((x + (i + 0.5F) / samplesX) * perX - 0.5F,
                            (y + (j + 0.5F) / samplesY) * perY - 0.5F);
    return sum / static_cast<float>(samplesX * samplesY);
  });
  return result;
}

Flow resized(const Flow& from, int width, int height) {
  Flow result(width, height);
  const float timesX = static_cast<float>(width) / from.x.width();
  const float timesY = static_cast<float>(height) / from.x.height();
  result.x = resized(from.x, width, height);
  result.y = resized(from.y, width, height);
  setAll(result.x, [&](int x, int y) { return result.x.at(x, y) * timesX; });
  setAll(result.y, [&](int x, int y) { return result.y.at(x, y) * timesY; });
  return result;
}

// What is seen, with the brightest of both as 1.
std::pair<Plane, Plane> seenPlanes(const Picture& from, const Picture& to) {
  Plane a(from.width(), from.height()), b = a;
  setAll(a, [&](int x, int y) { return std::max(0.0F, seenOf(from.at(x, y))); });
  setAll(b, [&](int x, int y) { return std::max(0.0F, seenOf(to.at(x, y))); });
  const float most = std::max({a.largest(), b.largest(), 1e-6F});
  setAll(a, [&](int x, int y) { return a.at(x, y) / most; });
  setAll(b, [&](int x, int y) { return b.at(x, y) / most; });
  return {std::move(a), std::move(b)};
}

float meanAround(const Plane& plane, int x, int y) {
  return (plane.near(x - 1, y) + plane.near(x + 1, y) + plane.near(x, y - 1) + plane.near(x, y + 1)) / 6 +
         (plane.near(x - 1, y - 1) + plane.near(x + 1, y - 1) + plane.near(x - 1, y + 1) +
          plane.near(x + 1, y + 1)) /
             12;
}

// One linearisation about the flow so far, solved by Jacobi's method.
void refine(const Plane& from, const Plane& to, Flow& flow) {
  const int width = from.width(), height = from.height();
  Plane there(width, height), slopeX = there, slopeY = there, change = there;
  setAll(there, [&](int x, int y) {
    return to.between(static_cast<float>(x) + flow.x.at(x, y), static_cast<float>(y) + flow.y.at(x, y));
  });
  const auto slope = [](const Plane& plane, int x, int y, int dx, int dy) {
    return 0.5F * (plane.near(x + dx, y + dy) - plane.near(x - dx, y - dy));
  };
  setAll(slopeX, [&](int x, int y) { return 0.5F * (slope(from, x, y, 1, 0) + slope(there, x, y, 1, 0)); });
  setAll(slopeY, [&](int x, int y) { return 0.5F * (slope(from, x, y, 0, 1) + slope(there, x, y, 0, 1)); });
  setAll(change, [&](int x, int y) { return there.at(x, y) - from.at(x, y); });
  const Flow before = flow;
  const float farthest = kFarthest * static_cast<float>(std::max(width, height));
  Flow next = flow;
  for (int round = 0; round < kRounds; ++round) {
    parallelFor(static_cast<std::size_t>(height), [&](std::size_t row) {
      const int y = static_cast<int>(row);
      for (int x = 0; x < width; ++x) {
        const float meanX = meanAround(flow.x, x, y), meanY = meanAround(flow.y, x, y);
        const float sx = slopeX.at(x, y), sy = slopeY.at(x, y);
        const float left =
            sx * (meanX - before.x.at(x, y)) + sy * (meanY - before.y.at(x, y)) + change.at(x, y);
        const float step = left / (kSmoothness * kSmoothness + sx * sx + sy * sy);
        next.x.at(x, y) = std::clamp(meanX - sx * step, -farthest, farthest);
        next.y.at(x, y) = std::clamp(meanY - sy * step, -farthest, farthest);
      }
    });
    std::swap(flow, next);
  }
}

Picture mixed(Picture from, const Picture& to, double fraction) {
  const auto weight = static_cast<float>(fraction);
  parallelFor(static_cast<std::size_t>(from.height()), [&](std::size_t y) {
    Vec4* out = from.row(static_cast<int>(y));
    const Vec4* in = to.row(static_cast<int>(y));
    for (int x = 0; x < from.width(); ++x) out[x] = out[x] * (1 - weight) + in[x] * weight;
  });
  return from;
}

}  // namespace

Picture flowBetween(const Picture& from, const Picture& to) {
  const auto [a, b] = seenPlanes(from, to);
  const int longer = std::max(from.width(), from.height());
  const auto sideAt = [longer](int side, int of) {
    return std::max(1, static_cast<int>(std::lround(static_cast<double>(of) * side / longer)));
  };
  const int finest = std::min(longer, kFinestSide);
  std::vector<int> sides{finest};
  while (sides.back() / 2 >= kCoarsestSide) sides.push_back(sides.back() / 2);
  Flow flow(1, 1);
  for (auto side = sides.rbegin(); side != sides.rend(); ++side) {
    const int width = sideAt(*side, from.width()), height = sideAt(*side, from.height());
    const Plane smallA = resized(a, width, height), smallB = resized(b, width, height);
    flow = resized(flow, width, height);
    for (int warp = 0; warp < kWarps; ++warp) refine(smallA, smallB, flow);
  }
  flow = resized(flow, from.width(), from.height());
  Picture result = Picture::unset(from.width(), from.height());
  for (int y = 0; y < result.height(); ++y)
    for (int x = 0; x < result.width(); ++x) result.at(x, y) = Vec4(flow.x.at(x, y), flow.y.at(x, y), 0, 0);
  // Both ways, since anything can be moved out of sight to be like nothing.
  const double apart = kUseful * changeBetween(from, to);
  const bool isUseful = changeBetween(warped(from, result, 1), to) <= apart &&
                        changeBetween(warped(to, result, -1), from) <= apart;
  return isUseful ? result : Picture(from.width(), from.height());
}

Picture morphed(const Picture& from, const Picture& to, const Picture& flow, double fraction) {
  return mixed(warped(from, flow, fraction), warped(to, flow, fraction - 1), fraction);
}

}  // namespace comet
