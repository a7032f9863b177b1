#include "render/mesh_samples.h"

#include <algorithm>
#include <array>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "render/mesh_samples.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// At most the samples of a pixel, so that all of them lie in the same few vectors.
using Tag = hn::CappedTag<float, MeshSamples::kCount>;
using Float = hn::Vec<Tag>;
using Mask = hn::Mask<Tag>;
using Part = MeshSamples::Part;
using Pixel = MeshSamples::Pixel;

constexpr int kPerSide = MeshSamples::kPerSide;
// Of a face in pixels, twice: less cannot meet any sample, and its slopes would be rounding.
constexpr float kSmallestArea = 1e-7F;

// Depth, red, green and blue, and where it is in a picture, if it shows one.
constexpr std::size_t kValues = 6;
constexpr std::size_t kPlainValues = 4;

template <std::size_t kCount>
using Values = std::array<float, kCount>;

// Less than half covered is a hole.
constexpr float kHole = 0.5F;

// Of a picture at a place, 0 to 1 across and down, between its four nearest texels.
inline Vec4 texelAt(const Stamp::Level& picture, float across, float down) {
  const float x = std::clamp(across, 0.0F, 1.0F) * static_cast<float>(picture.width) - 0.5F;
  const float y = std::clamp(down, 0.0F, 1.0F) * static_cast<float>(picture.height) - 0.5F;
  const float left = std::floor(x), top = std::floor(y);
  const auto near = [](float at, int size) { return std::clamp(static_cast<int>(at), 0, size - 1); };
  const int x0 = near(left, picture.width), x1 = near(left + 1, picture.width);
  const int y0 = near(top, picture.height), y1 = near(top + 1, picture.height);
  const float right = x - left, low = y - top;
  const auto at = [&](int column, int row) {
    return picture.colors[static_cast<std::ptrdiff_t>(row) * picture.rowStep + column];
  };
  const Vec4 upper = at(x0, y0) * (1 - right) + at(x1, y0) * right;
  const Vec4 lower = at(x0, y1) * (1 - right) + at(x1, y1) * right;
  return upper * (1 - low) + lower * low;
}

// A face's corners in pixels from the upper left one of the part that is drawn.
using Corners = std::array<Vec2, 3>;

inline float cross(const Vec2& a, const Vec2& b) { return a.x * b.y - a.y * b.x; }

// The line through two corners, the same for both faces that have them.
struct FaceEdge {
  // With a positive area, the face lies where cross(to - from, place - from) is more than zero.
  FaceEdge(const Vec2& from, const Vec2& to, float area) {
    const bool goesUp = to.y < from.y || (to.y == from.y && to.x < from.x);
    start = goesUp ? to : from;
    along = goesUp ? from - to : to - from;
    isTurned = goesUp != (area < 0);
  }

  // Where samples that lie so far below its start are beside it.
  Float inRow(Float y) const {
    const Tag d;
    return hn::Mul(hn::Set(d, along.x), hn::Sub(y, hn::Set(d, start.y)));
  }
  // Of such a row, which samples lie on the face's side. What lies on the line itself is the face's that has
  // it turned the other way.
  Mask isBeside(Float row, Float x, Mask turned) const {
    const Tag d;
    const Float side = hn::Sub(row, hn::Mul(hn::Set(d, along.y), hn::Sub(x, hn::Set(d, start.x))));
    return hn::Xor(hn::Ge(side, hn::Zero(d)), turned);
  }
  Mask turned() const {
    const Tag d;
    return hn::FirstN(d, isTurned ? hn::Lanes(d) : 0);
  }

  Vec2 start, along;
  bool isTurned;  // whether the face lies on the line's other side
};

// The pixels that a face may meet.
class FaceArea {
 public:
  FaceArea(const Corners& corners, float area, int width, int height)
      : edges_{FaceEdge(corners[0], corners[1], area), FaceEdge(corners[1], corners[2], area),
               FaceEdge(corners[2], corners[0], area)} {
    const float minX = std::min({corners[0].x, corners[1].x, corners[2].x}),
                maxX = std::max({corners[0].x, corners[1].x, corners[2].x}),
                minY = std::min({corners[0].y, corners[1].y, corners[2].y}),
                maxY = std::max({corners[0].y, corners[1].y, corners[2].y});
    left_ = pixel(minX, width);
    right_ = pixel(maxX + 1, width);
    top_ = pixel(minY, height);
    bottom_ = pixel(maxY + 1, height);
    if (right_ - left_ > kNarrow) slack_ = 0.01F + 1e-5F * std::max({-minX, maxX, -minY, maxY});
  }

  bool empty() const { return left_ >= right_ || top_ >= bottom_; }

  // Visits the samples of all pixels, a vector's each time: (pixel's x and y, first of the samples, which of
  // them the face covers), from the left to the right; before that, each row's first ones: (x, y).
  template <typename StartRow, typename Visit>
  HWY_INLINE void forSamples(const StartRow& startRow, const Visit& visit) const {
    const Tag d;
    const Mask turned[3] = {edges_[0].turned(), edges_[1].turned(), edges_[2].turned()};
    for (std::size_t first = 0; first < MeshSamples::kCount; first += hn::Lanes(d)) {
      const Float inX = hn::LoadU(d, kPlaces.x.data() + first), inY = hn::LoadU(d, kPlaces.y.data() + first);
      for (int y = top_; y < bottom_; ++y) {
        const Float down = hn::Add(hn::Set(d, static_cast<float>(y)), inY);
        const Float rows[3] = {edges_[0].inRow(down), edges_[1].inRow(down), edges_[2].inRow(down)};
        int left = left_, right = right_;
        if (slack_ > 0) narrow(static_cast<float>(y), left, right);
        Float across = hn::Add(hn::Set(d, static_cast<float>(left)), inX);
        startRow(across, down);
        for (int x = left; x < right; ++x) {
          Mask covers = edges_[0].isBeside(rows[0], across, turned[0]);
          covers = hn::And(covers, edges_[1].isBeside(rows[1], across, turned[1]));
          covers = hn::And(covers, edges_[2].isBeside(rows[2], across, turned[2]));
          visit(x, y, first, covers);
          across = hn::Add(across, hn::Set(d, 1.0F));
        }
      }
    }
  }

 private:
  static constexpr int kNarrow = 4;

  static int pixel(float at, int count) {
    return static_cast<int>(std::clamp(at, 0.0F, static_cast<float>(count)));
  }

  // Leaves out of a row what lies beyond the edges.
  void narrow(float y, int& left, int& right) const {
    for (const FaceEdge& edge : edges_) {
      if (edge.along.y == 0) continue;
      const float slope = edge.along.x / edge.along.y, upper = edge.start.x + (y - edge.start.y) * slope;
      const auto [from, to] = std::minmax({upper, upper + slope});
      // An edge goes down, and what it is not turned for lies to its left.
      if (edge.isTurned)
        left = std::max(left, pixel(from - slack_, right));
      else
        right = std::min(right, pixel(to + slack_ + 1, right));
    }
  }

  // Of the samples in a pixel.
  struct Places {
    std::array<float, MeshSamples::kCount> x, y;
  };
  static constexpr Places kPlaces = [] {
    Places places{};
    for (std::size_t i = 0; i < MeshSamples::kCount; ++i) {
      const std::size_t row = i / kPerSide, column = i % kPerSide;
      places.x[i] = (static_cast<float>(column) + 0.5F) / kPerSide;
      places.y[i] = (static_cast<float>(row) + 0.5F) / kPerSide;
    }
    return places;
  }();

  std::array<FaceEdge, 3> edges_;
  int left_, right_, top_, bottom_;
  float slack_ = 0;  // pixels; of wide faces
};

// What a face has at its samples: values at a place, and how they change from there from pixel to pixel.
template <std::size_t kCount>
struct FaceValues {
  Vec2 place;
  Values<kCount> at, across, down;
  // Rounding must not make light of nothing less than that.
  Values<kCount> lowest;

  FaceValues(const Corners& corners, float area, const std::array<Values<kCount>, 3>& values)
      : place(corners[0]), at(values[0]) {
    const float each = 1 / area;
    const Vec2 b = (corners[1] - corners[0]) * each, c = (corners[2] - corners[0]) * each;
    for (std::size_t k = 0; k < kCount; ++k) {
      lowest[k] = std::min({values[0][k], values[1][k], values[2][k]});
      const float toB = values[1][k] - at[k], toC = values[2][k] - at[k];
      across[k] = toB * c.y - toC * b.y;
      down[k] = toC * b.x - toB * c.x;
    }
  }

  Float valueAt(std::size_t k, Float x, Float y) const {
    const Tag d;
    const Float right = hn::Mul(hn::Sub(x, hn::Set(d, place.x)), hn::Set(d, across[k]));
    const Float below = hn::Mul(hn::Sub(y, hn::Set(d, place.y)), hn::Set(d, down[k]));
    return hn::Add(hn::Set(d, at[k]), hn::Add(right, below));
  }
};

// A face in the part that is drawn.
struct DrawnFace {
  const MeshFace& face;
  const Corners& corners;
  float area;
  const FaceArea& where;
};

// Visits those samples of a face that nothing nearer hides: (pixel, first of the samples, which of them, the
// values there).
template <std::size_t kCount, typename Visit>
HWY_INLINE void forNearest(const DrawnFace& drawn, const FaceValues<kCount>& values, Pixel* pixels, int width,
                           const Visit& visit) {
  const Tag d;
  Float now[kCount];
  const auto startRow = [&](Float x, Float y) {
    for (std::size_t k = 0; k < kCount; ++k) now[k] = values.valueAt(k, x, y);
  };
  drawn.where.forSamples(startRow, [&](int x, int y, std::size_t first, Mask covers) {
    Pixel& pixel = pixels[y * width + x];
    visit(pixel, first, hn::And(covers, hn::Lt(now[0], hn::LoadU(d, pixel.depth.data() + first))), now);
    for (std::size_t k = 0; k < kCount; ++k) now[k] = hn::Add(now[k], hn::Set(d, values.across[k]));
  });
}

inline void drawPlain(const DrawnFace& drawn, Pixel* pixels, int width) {
  const MeshFace& face = drawn.face;
  std::array<Values<kPlainValues>, 3> at;
  for (std::size_t i = 0; i < 3; ++i)
    at[i] = {face.at[i].z, face.light[i].x, face.light[i].y, face.light[i].z};
  const FaceValues<kPlainValues> values(drawn.corners, drawn.area, at);
  const Tag d;
  const auto lightOf = [&](const Float* now, std::size_t k) {
    return hn::Max(hn::Set(d, values.lowest[k]), now[k]);
  };
  forNearest(drawn, values, pixels, width,
             [&](Pixel& pixel, std::size_t first, Mask isNearer, const Float* now) {
               hn::BlendedStore(now[0], isNearer, d, pixel.depth.data() + first);
               hn::BlendedStore(lightOf(now, 1), isNearer, d, pixel.red.data() + first);
               hn::BlendedStore(lightOf(now, 2), isNearer, d, pixel.green.data() + first);
               hn::BlendedStore(lightOf(now, 3), isNearer, d, pixel.blue.data() + first);
             });
}

// A face that shows a picture, whose place in that follows behind its light.
inline void drawPicture(const DrawnFace& drawn, const FacePicture& picture, Pixel* pixels, int width) {
  const MeshFace& face = drawn.face;
  std::array<Values<kValues>, 3> at;
  for (std::size_t i = 0; i < 3; ++i)
    at[i] = {face.at[i].z,    face.light[i].x, face.light[i].y,
             face.light[i].z, picture.at[i].x, picture.at[i].y};
  const FaceValues<kValues> values(drawn.corners, drawn.area, at);
  // As large as the whole of it would be, in pixels.
  const float fraction = std::abs(cross(picture.at[1] - picture.at[0], picture.at[2] - picture.at[0]));
  const float side = std::sqrt(std::abs(drawn.area) / std::max(1e-9F, fraction));
  const Stamp::Level& level = picture.picture->levelFor(side, side);
  const Tag d;
  forNearest(drawn, values, pixels, width,
             [&](Pixel& pixel, std::size_t first, Mask isNearer, const Float* now) {
               if (hn::AllFalse(d, isNearer)) return;
               HWY_ALIGN std::array<float, MeshSamples::kCount> value[kValues], nearer;
               for (std::size_t k = 0; k < kValues; ++k) hn::Store(now[k], d, value[k].data());
               hn::Store(hn::IfThenElseZero(isNearer, hn::Set(d, 1.0F)), d, nearer.data());
               for (std::size_t lane = 0; lane < hn::Lanes(d); ++lane) {
                 if (nearer[lane] == 0) continue;
                 const Vec4 texel = texelAt(level, value[4][lane], value[5][lane]);
                 if (texel.w < kHole) continue;
                 const Vec3 tint = picture.tints ? Vec3(texel) / texel.w : Vec3(1.0F);
                 const std::size_t i = first + lane;
                 pixel.depth[i] = value[0][lane];
                 pixel.red[i] = std::max(values.lowest[1], value[1][lane]) * tint.x;
                 pixel.green[i] = std::max(values.lowest[2], value[2][lane]) * tint.y;
                 pixel.blue[i] = std::max(values.lowest[3], value[3][lane]) * tint.z;
               }
             });
}

void DrawFaces(const MeshFaceList& faces, const Part& part, Pixel* pixels) {
  const int width = part.right - part.left, height = part.bottom - part.top;
  const Vec2 origin(static_cast<float>(part.left), static_cast<float>(part.top));
  for (std::size_t i = 0; i < faces.count; ++i) {
    const MeshFace& face = faces.faces[i];
    const Corners corners{Vec2(face.at[0]) - origin, Vec2(face.at[1]) - origin, Vec2(face.at[2]) - origin};
    const float area = cross(corners[1] - corners[0], corners[2] - corners[0]);
    const FaceArea where(corners, area, width, height);
    if (where.empty() || !(std::abs(area) > kSmallestArea)) continue;
    const DrawnFace drawn{face, corners, area, where};
    if (faces.pictures && faces.pictures[i].picture)
      drawPicture(drawn, faces.pictures[i], pixels, width);
    else
      drawPlain(drawn, pixels, width);
  }
}

// Sums of a plane's samples of a pixel that are covered; always in the same order, so that the vector's
// length does not matter.
class CoveredSamples {
 public:
  explicit CoveredSamples(const Pixel& pixel) : depth_(pixel.depth.data()) {}

  float count() const {
    return sum([](std::size_t) { return hn::Set(Columns(), 1.0F); });
  }
  float sumOf(const std::array<float, MeshSamples::kCount>& plane) const {
    return sum([&plane](std::size_t i) { return hn::LoadU(Columns(), plane.data() + i); });
  }

 private:
  using Columns = hn::CappedTag<float, kPerSide>;

  template <typename Of>
  HWY_INLINE float sum(const Of& of) const {
    const Columns d;
    HWY_ALIGN std::array<float, kPerSide> columns;
    for (std::size_t column = 0; column < kPerSide; column += hn::Lanes(d)) {
      const auto covered = [&](std::size_t row) {
        const std::size_t i = row * kPerSide + column;
        const auto isCovered = hn::Lt(hn::LoadU(d, depth_ + i), hn::Set(d, MeshSamples::kNothing));
        return hn::IfThenElseZero(isCovered, of(i));
      };
      hn::Store(hn::Add(hn::Add(covered(0), covered(1)), hn::Add(covered(2), covered(3))), d,
                columns.data() + column);
    }
    return (columns[0] + columns[1]) + (columns[2] + columns[3]);
  }

  const float* depth_;
};

void Resolve(const Pixel* pixels, std::size_t count, const MeshSamples::Row& row) {
  constexpr float kFraction = 1.0F / MeshSamples::kCount;
  for (std::size_t x = 0; x < count; ++x) {
    const Pixel& pixel = pixels[x];
    const CoveredSamples samples(pixel);
    row.cover[x] = kFraction * samples.count();
    const bool isEmpty = row.cover[x] == 0;
    row.red[x] = isEmpty ? 0 : kFraction * samples.sumOf(pixel.red);
    row.green[x] = isEmpty ? 0 : kFraction * samples.sumOf(pixel.green);
    row.blue[x] = isEmpty ? 0 : kFraction * samples.sumOf(pixel.blue);
  }
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(DrawFaces);
HWY_EXPORT(Resolve);

namespace {

// So many stay in a second-level cache of moderate size.
constexpr int kPixelsAtOnce = 1 << 10;

}  // namespace

int MeshSamples::rowsAtOnce(int width) { return std::max(1, kPixelsAtOnce / std::max(1, width)); }

void MeshSamples::draw(const MeshFaceList& faces, const Part& part) {
  part_ = part;
  const auto pixels =
      static_cast<std::size_t>(part.right - part.left) * static_cast<std::size_t>(part.bottom - part.top);
  if (pixels_.size() < pixels) pixels_.resize(pixels);
  for (std::size_t i = 0; i < pixels; ++i) pixels_[i].depth.fill(kNothing);
  HWY_DYNAMIC_DISPATCH(DrawFaces)(faces, part, pixels_.data());
}

void MeshSamples::resolve(int y, const Row& row) const {
  const auto width = static_cast<std::size_t>(part_.right - part_.left);
  HWY_DYNAMIC_DISPATCH(Resolve)(pixels_.data() + static_cast<std::size_t>(y - part_.top) * width, width, row);
}

}  // namespace comet
#endif
