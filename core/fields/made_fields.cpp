#include "fields/made_fields.h"

#include "base/color.h"
#include "base/noise.h"
#include "base/parallel.h"
#include "base/random.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr int kPiecesOfSpan = 12;

// Calls set(x, y, z) for every cell, on all threads.
template <typename Set>
void forEachCell(const FieldBox& box, const Set& set) {
  const auto rows = static_cast<std::size_t>(box.counts[1]) * static_cast<std::size_t>(box.counts[2]);
  parallelFor(rows, [&](std::size_t row) {
    const int y = static_cast<int>(row) % box.counts[1], z = static_cast<int>(row) / box.counts[1];
    for (int x = 0; x < box.counts[0]; ++x) set(x, y, z);
  });
}

void scaleTo(VectorGrid& grid, const FieldBox& box, double now, double wanted) {
  if (!(now > 0)) return;
  const auto factor = static_cast<float>(wanted / now);
  forEachCell(box, [&](int x, int y, int z) { grid.at(x, y, z) *= factor; });
}

double rootMeanSquare(const VectorGrid& grid, const FieldBox& box) {
  // Summed up by rows in their order, so that threads do not change the result.
  double sum = 0;
  for (int z = 0; z < box.counts[2]; ++z)
    for (int y = 0; y < box.counts[1]; ++y)
      for (int x = 0; x < box.counts[0]; ++x) {
        const Vec3d cell(grid.at(x, y, z));
        sum += glm::dot(cell, cell);
      }
  return std::sqrt(sum / static_cast<double>(grid.size()));
}

// The curl by central differences, over the box's sides.
VectorGrid curlOf(const VectorGrid& potential, const FieldBox& box) {
  VectorGrid curl(box.counts);
  const Vec3d cell = box.cell();
  forEachCell(box, [&](int x, int y, int z) {
    const std::array<int, 3> here{x, y, z};
    // What the potential gains along each axis, per unit.
    std::array<Vec3d, 3> change;
    for (int axis = 0; axis < 3; ++axis) {
      std::array<int, 3> before = here, after = here;
      const int count = box.counts[axis];
      before[axis] = (here[axis] + count - 1) % count;
      after[axis] = (here[axis] + 1) % count;
      change[axis] = (Vec3d(potential.at(after[0], after[1], after[2])) -
                      Vec3d(potential.at(before[0], before[1], before[2]))) /
                     (2 * cell[axis]);
    }
    curl.at(x, y, z) =
        Vec3(static_cast<float>(change[1].z - change[2].y), static_cast<float>(change[2].x - change[0].z),
             static_cast<float>(change[0].y - change[1].x));
  });
  return curl;
}

// Through the box's sides, the shortest way.
Vec3d wrapped(const Vec3d& offset, const Vec3d& size) { return offset - size * glm::round(offset / size); }

struct Whirl {
  Vec3d centre{0.0}, axis{0, 1, 0};
  double turn = 1;
};

std::vector<Whirl> scattered(const FieldBox& box, const Vortices& vortices) {
  const RandomSource random(vortices.seed);
  std::vector<Whirl> all;
  Vec3d first, second;
  perpendiculars(vortices.axis, first, second);
  for (int i = 0; i < vortices.count; ++i) {
    const auto draw = [&](Draw what) { return random.unit(static_cast<std::uint64_t>(i), what); };
    const double lean = vortices.spread * std::sqrt(draw(Draw::DirectionA));
    const double about = 2 * kPi * draw(Draw::DirectionB);
    const Vec3d fraction(draw(Draw::ShapeA), draw(Draw::ShapeB), draw(Draw::ShapeC));
    all.push_back({(fraction - 0.5) * box.size,
                   vortices.axis * std::cos(lean) +
                       (first * std::cos(about) + second * std::sin(about)) * std::sin(lean),
                   vortices.bothWays && draw(Draw::Speed) < 0.5 ? -1.0 : 1.0});
  }
  return all;
}

// How bright each cell of the picture is, row by row from the bottom.
std::vector<double> heightsOf(const Picture& picture, int width, int height) {
  std::vector<double> sums(static_cast<std::size_t>(width) * static_cast<std::size_t>(height), 0.0);
  std::vector<int> counts(sums.size(), 0);
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x) {
      const auto column = static_cast<std::size_t>(static_cast<std::int64_t>(x) * width / picture.width());
      const auto row = static_cast<std::size_t>(static_cast<std::int64_t>(picture.height() - 1 - y) * height /
                                                picture.height());
      const std::size_t cell = row * static_cast<std::size_t>(width) + column;
      sums[cell] += luminance(Vec3d(Vec3(picture.at(x, y))));
      ++counts[cell];
    }
  for (std::size_t i = 0; i < sums.size(); ++i)
    if (counts[i] > 0) sums[i] /= counts[i];
  return sums;
}

// Weighs the neighbours along one direction of a plane with a Gaussian; what lies beyond counts as the edge.
std::vector<double> blurred(const std::vector<double>& heights, int width, int height, bool alongX,
                            double cells) {
  const int reach = static_cast<int>(std::ceil(3 * cells));
  std::vector<double> result(heights.size());
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      double sum = 0, weights = 0;
      for (int step = -reach; step <= reach; ++step) {
        const int fromX = alongX ? std::clamp(x + step, 0, width - 1) : x;
        const int fromY = alongX ? y : std::clamp(y + step, 0, height - 1);
        const double weight = std::exp(-0.5 * step * step / (cells * cells));
        sum += weight * heights[static_cast<std::size_t>(fromY) * static_cast<std::size_t>(width) +
                                static_cast<std::size_t>(fromX)];
        weights += weight;
      }
      result[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)] =
          sum / weights;
    }
  return result;
}

}  // namespace

FieldBox FieldBox::withCells(const Vec3d& size, int along) {
  FieldBox box;
  box.size = glm::max(size, Vec3d(1e-9));
  const double longest = std::max({box.size.x, box.size.y, box.size.z});
  for (int axis = 0; axis < 3; ++axis)
    box.counts[axis] = std::max(1, static_cast<int>(std::lround(along * box.size[axis] / longest)));
  return box;
}

Vec3d FieldBox::cell() const { return size / Vec3d(counts[0], counts[1], counts[2]); }

Vec3d FieldBox::middleOf(int x, int y, int z) const { return (Vec3d(x, y, z) + 0.5) * cell() - 0.5 * size; }

VectorGrid curlNoiseField(const FieldBox& box, double scale, int octaves, std::uint64_t seed) {
  VectorGrid potential(box.counts);
  const Vec3d counts(box.counts[0], box.counts[1], box.counts[2]);
  forEachCell(box, [&](int x, int y, int z) {
    Vec3d sum(0.0);
    double size = 1;
    for (int octave = 0; octave < octaves; ++octave, size *= 0.5) {
      const Vec3d periods = glm::max(Vec3d(1.0), glm::round(box.size / (scale * size)));
      const Vec3d place = (Vec3d(x, y, z) + 0.5) / counts * periods;
      // A potential changes as fast as it is finely grained: its size counts twice.
      for (int axis = 0; axis < 3; ++axis)
        sum[axis] += size * size * repeatingNoise(place, periods, combineKeys(seed, 3 * octave + axis));
    }
    potential.at(x, y, z) = Vec3(sum);
  });
  VectorGrid field = curlOf(potential, box);
  scaleTo(field, box, rootMeanSquare(field, box), 1);
  return field;
}

VectorGrid vortexField(const FieldBox& box, const Vortices& vortices) {
  const std::vector<Whirl> all = scattered(box, vortices);
  VectorGrid field(box.counts);
  forEachCell(box, [&](int x, int y, int z) {
    Vec3d sum(0.0);
    for (const Whirl& whirl : all) {
      const Vec3d offset = wrapped(box.middleOf(x, y, z) - whirl.centre, box.size) / vortices.radius;
      // Of length one at a distance of one radius across the axis, where it is greatest.
      sum += glm::cross(whirl.axis, offset) * (whirl.turn * std::exp(0.5 * (1 - glm::dot(offset, offset))));
    }
    field.at(x, y, z) = Vec3(sum);
  });
  return field;
}

VectorGrid strokeField(const FieldBox& box, const StrokeList& strokes, double width) {
  VectorGrid field(box.counts);
  std::vector<double> weights(field.size(), 0.0), strongest(field.size(), 0.0);
  const Vec3d cell = box.cell();
  const auto cellsWithin = [&](double place, int axis) {
    const double at = (place + 0.5 * box.size[axis]) / cell[axis] - 0.5, reach = width / cell[axis];
    return std::array<int, 2>{
        std::max(0, static_cast<int>(std::ceil(std::max(-1.0, at - reach)))),
        std::min(box.counts[axis] - 1, static_cast<int>(std::floor(std::min(1e6, at + reach))))};
  };
  for (const Stroke& stroke : strokes)
    for (const StrokeSpot& spot : smoothed(stroke, kPiecesOfSpan)) {
      const auto x = cellsWithin(spot.at.x, 0), y = cellsWithin(spot.at.y, 1), z = cellsWithin(spot.at.z, 2);
      for (int k = z[0]; k <= z[1]; ++k)
        for (int j = y[0]; j <= y[1]; ++j)
          for (int i = x[0]; i <= x[1]; ++i) {
            const Vec3d away = (box.middleOf(i, j, k) - spot.at) / width;
            const double near = 1 - glm::dot(away, away);
            if (near <= 0) continue;
            const std::size_t index = (static_cast<std::size_t>(k) * static_cast<std::size_t>(box.counts[1]) +
                                       static_cast<std::size_t>(j)) *
                                          static_cast<std::size_t>(box.counts[0]) +
                                      static_cast<std::size_t>(i);
            field.at(i, j, k) += Vec3(spot.direction * (near * near));
            weights[index] += near * near;
            strongest[index] = std::max(strongest[index], near * near);
          }
    }
  std::size_t index = 0;
  for (int z = 0; z < box.counts[2]; ++z)
    for (int y = 0; y < box.counts[1]; ++y)
      for (int x = 0; x < box.counts[0]; ++x, ++index)
        if (weights[index] > 0) field.at(x, y, z) *= static_cast<float>(strongest[index] / weights[index]);
  return field;
}

VectorGrid slopeField(const FieldBox& box, const Picture& picture, SlopeDirection direction, double blur) {
  const int width = box.counts[0], height = box.counts[1];
  std::vector<double> heights = heightsOf(picture, width, height);
  if (blur > 0) {
    heights = blurred(heights, width, height, true, blur);
    heights = blurred(heights, width, height, false, blur);
  }
  VectorGrid field({width, height, 1});
  const Vec3d cell = box.cell();
  const auto at = [&](int x, int y) {
    return heights[static_cast<std::size_t>(std::clamp(y, 0, height - 1)) * static_cast<std::size_t>(width) +
                   static_cast<std::size_t>(std::clamp(x, 0, width - 1))];
  };
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      const Vec2d down(-(at(x + 1, y) - at(x - 1, y)) / (2 * cell.x),
                       -(at(x, y + 1) - at(x, y - 1)) / (2 * cell.y));
      const Vec2d pushed = direction == SlopeDirection::Down ? down : Vec2d(-down.y, down.x);
      field.at(x, y, 0) = Vec3(static_cast<float>(pushed.x), static_cast<float>(pushed.y), 0.0F);
    }
  FieldBox flat = box;
  flat.counts[2] = 1;
  scaleTo(field, flat, field.longest(), 1);
  return field;
}

}  // namespace comet
