#include "render/mesh_samples.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace comet {
namespace {

constexpr float kNothing = std::numeric_limits<float>::infinity();
// Of a face in samples, twice: less cannot meet any, and its slopes would be rounding.
constexpr float kSmallestArea = 1e-6F;

// Depth, red, green and blue, and where it is in a picture, if it shows one.
constexpr std::size_t kValues = 6;
constexpr std::size_t kPlainValues = 4;

struct SampleCorner {
  float x, y;
  std::array<float, kValues> values;
};

// Less than half covered is a hole.
constexpr float kHole = 0.5F;

// Of a picture at a place, 0 to 1 across and down, between its four nearest texels.
Vec4 texelAt(const Stamp::Level& picture, float across, float down) {
  const float x = std::clamp(across, 0.0F, 1.0F) * static_cast<float>(picture.width) - 0.5F;
  const float y = std::clamp(down, 0.0F, 1.0F) * static_cast<float>(picture.height) - 0.5F;
  const float left = std::floor(x), top = std::floor(y);
  const auto near = [](float at, int size) { return std::clamp(static_cast<int>(at), 0, size - 1); };
  const int x0 = near(left, picture.width), x1 = near(left + 1, picture.width);
  const int y0 = near(top, picture.height), y1 = near(top + 1, picture.height);
  const float right = x - left, low = y - top;
  Vec4 sum(0.0F);
  for (int plane = 0; plane < 4; ++plane) {
    const float upper = picture.at(plane, x0, y0) * (1 - right) + picture.at(plane, x1, y0) * right;
    const float lower = picture.at(plane, x0, y1) * (1 - right) + picture.at(plane, x1, y1) * right;
    sum[plane] = upper * (1 - low) + lower * low;
  }
  return sum;
}

// The first sample whose middle lies at or beyond a place.
int firstFrom(float place, int min, int max) {
  // None of them is negative, so that cutting off the fraction rounds down; a ceiling would be a call.
  const float at = std::clamp(place - 0.5F, static_cast<float>(min), static_cast<float>(max));
  const int below = static_cast<int>(at);
  return below + (static_cast<float>(below) < at ? 1 : 0);
}

// An edge from its upper to its lower corner, so that both faces that share it find the same places on it.
struct SampleEdge {
  SampleEdge(const SampleCorner& upper, const SampleCorner& lower)
      : top(upper.y), x(upper.x), slope((lower.x - upper.x) / (lower.y - upper.y)) {}

  // Where it crosses a row between its corners.
  float at(float y) const { return x + (y - top) * slope; }

  float top, x, slope;
};

std::array<const SampleCorner*, 3> sortedByHeight(const std::array<SampleCorner, 3>& corners) {
  std::array<const SampleCorner*, 3> sorted{&corners[0], &corners[1], &corners[2]};
  const auto order = [&](std::size_t upper, std::size_t lower) {
    if (sorted[lower]->y < sorted[upper]->y) std::swap(sorted[upper], sorted[lower]);
  };
  order(0, 1);
  order(1, 2);
  order(0, 1);
  return sorted;
}

}  // namespace

void MeshSamples::draw(const MeshFaceList& faces, const Part& part) {
  part_ = part;
  width_ = (part.right - part.left) * kPerSide;
  height_ = (part.bottom - part.top) * kPerSide;
  const std::size_t samples = static_cast<std::size_t>(width_) * static_cast<std::size_t>(height_);
  if (depth_.size() < samples)
    for (std::vector<float>* plane : {&depth_, &red_, &green_, &blue_}) plane->resize(samples);
  std::fill_n(depth_.begin(), samples, kNothing);
  for (std::vector<float>* plane : {&red_, &green_, &blue_}) std::fill_n(plane->begin(), samples, 0.0F);
  for (std::size_t i = 0; i < faces.count; ++i) {
    const bool shows = faces.pictures && faces.pictures[i].picture;
    drawFace(faces.faces[i], shows ? &faces.pictures[i] : nullptr);
  }
}

void MeshSamples::drawFace(const MeshFace& face, const FacePicture* picture) {
  std::array<SampleCorner, 3> corners;
  for (std::size_t i = 0; i < 3; ++i)
    corners[i] = {(face.at[i].x - static_cast<float>(part_.left)) * kPerSide,
                  (face.at[i].y - static_cast<float>(part_.top)) * kPerSide,
                  {face.at[i].z, face.light[i].x, face.light[i].y, face.light[i].z,
                   picture ? picture->at[i].x : 0.0F, picture ? picture->at[i].y : 0.0F}};
  const auto byHeight = sortedByHeight(corners);
  const SampleCorner &top = *byHeight[0], &middle = *byHeight[1], &bottom = *byHeight[2];
  const int first = firstFrom(top.y, 0, height_), end = firstFrom(bottom.y, 0, height_);
  if (first >= end) return;
  const SampleCorner& a = corners[0];
  const float bx = corners[1].x - a.x, by = corners[1].y - a.y, cx = corners[2].x - a.x,
              cy = corners[2].y - a.y;
  const float area = bx * cy - by * cx;
  if (!(std::abs(area) > kSmallestArea)) return;
  const std::size_t used = picture ? kValues : kPlainValues;
  std::array<float, kValues> across, down, values, lowest;
  for (std::size_t k = 0; k < used; ++k) {
    // Rounding must not make light of nothing less than that.
    lowest[k] = std::min({a.values[k], corners[1].values[k], corners[2].values[k]});
    const float b = corners[1].values[k] - a.values[k], c = corners[2].values[k] - a.values[k];
    across[k] = (b * cy - c * by) / area;
    down[k] = (c * bx - b * cx) / area;
  }
  const Stamp::Level* level = nullptr;
  if (picture) {
    // As large as the whole of it would be, in pixels.
    const Vec2 b = picture->at[1] - picture->at[0], c = picture->at[2] - picture->at[0];
    const float part = std::max(1e-9F, std::abs(b.x * c.y - b.y * c.x));
    const float pixels = std::sqrt(std::abs(area) / part) / kPerSide;
    level = &picture->picture->levelFor(pixels, pixels);
  }
  // The long edge lies on one side of all rows; on the other one are the two short ones, one below the other.
  const SampleEdge whole(top, bottom), upper(top, middle), lower(middle, bottom);
  for (int row = first; row < end; ++row) {
    const float y = static_cast<float>(row) + 0.5F;
    const float one = whole.at(y), other = y < middle.y ? upper.at(y) : lower.at(y);
    const int from = firstFrom(std::min(one, other), 0, width_),
              to = firstFrom(std::max(one, other), 0, width_);
    if (from >= to) continue;
    for (std::size_t k = 0; k < used; ++k) values[k] = a.values[k] + (y - a.y) * down[k];
    if (level)
      drawPictureSpan(static_cast<std::size_t>(row), from, to, a.x, values.data(), across.data(),
                      lowest.data(), {*level, picture->tints});
    else
      drawSpan(static_cast<std::size_t>(row), from, to, a.x, values.data(), across.data(), lowest.data());
  }
}

// Samples `from` to `to` of a row; the values are those at `x`, change by their slopes from sample to sample,
// and are nowhere less than the lowest.
void MeshSamples::drawSpan(std::size_t row, int from, int to, float x, const float* values,
                           const float* slopes, const float* lowest) {
  const std::size_t start = row * static_cast<std::size_t>(width_);
  float *depth = depth_.data() + start, *red = red_.data() + start, *green = green_.data() + start,
        *blue = blue_.data() + start;
  for (int i = from; i < to; ++i) {
    const float away = static_cast<float>(i) + 0.5F - x;
    const float z = values[0] + away * slopes[0];
    const bool isNearer = z < depth[i];
    depth[i] = isNearer ? z : depth[i];
    red[i] = isNearer ? std::max(lowest[1], values[1] + away * slopes[1]) : red[i];
    green[i] = isNearer ? std::max(lowest[2], values[2] + away * slopes[2]) : green[i];
    blue[i] = isNearer ? std::max(lowest[3], values[3] + away * slopes[3]) : blue[i];
  }
}

void MeshSamples::drawPictureSpan(std::size_t row, int from, int to, float x, const float* values,
                                  const float* slopes, const float* lowest, const ShownLevel& shown) {
  const std::size_t start = row * static_cast<std::size_t>(width_);
  for (int i = from; i < to; ++i) {
    const std::size_t at = start + static_cast<std::size_t>(i);
    const float away = static_cast<float>(i) + 0.5F - x;
    const auto value = [&](std::size_t k) { return values[k] + away * slopes[k]; };
    if (value(0) >= depth_[at]) continue;
    const Vec4 texel = texelAt(shown.level, value(4), value(5));
    if (texel.w < kHole) continue;
    const Vec3 tint = shown.tints ? Vec3(texel) / texel.w : Vec3(1.0F);
    depth_[at] = value(0);
    red_[at] = std::max(lowest[1], value(1)) * tint.x;
    green_[at] = std::max(lowest[2], value(2)) * tint.y;
    blue_[at] = std::max(lowest[3], value(3)) * tint.z;
  }
}

void MeshSamples::resolve(int y, const Row& row) const {
  constexpr float kFraction = 1.0F / (kPerSide * kPerSide);
  const std::size_t first =
      static_cast<std::size_t>(y - part_.top) * kPerSide * static_cast<std::size_t>(width_);
  for (int x = 0; x < part_.right - part_.left; ++x) {
    float red = 0, green = 0, blue = 0, covered = 0;
    for (std::size_t j = 0; j < kPerSide; ++j)
      for (std::size_t i = 0; i < kPerSide; ++i) {
        const std::size_t at =
            first + j * static_cast<std::size_t>(width_) + static_cast<std::size_t>(x) * kPerSide + i;
        red += red_[at];
        green += green_[at];
        blue += blue_[at];
        covered += depth_[at] < kNothing ? 1.0F : 0.0F;
      }
    row.red[x] = red * kFraction;
    row.green[x] = green * kFraction;
    row.blue[x] = blue * kFraction;
    row.cover[x] = covered * kFraction;
  }
}

}  // namespace comet
