#include "simulation/arrivals/shape_points.h"

#include "geometry/even_choice.h"
#include "simulation/emission/birth_points.h"
#include "simulation/emission/emission.h"

#include <algorithm>
#include <utility>

namespace comet {
namespace {

using Points = std::vector<ShapePoint>;

// As births on the shape would have them, by their numbers.
Points pointsByNumbers(const Shape& shape, const BirthPoints& points, const RandomSource& random) {
  Points made;
  made.reserve(points.count());
  for (std::uint64_t i = 0; i < points.count(); ++i)
    made.push_back(pointOn(shape, points.numbers(random, i),
                           [&](std::uint32_t counter) { return points.moreNumbers(random, i, counter); }));
  return made;
}

Points chosenEvenly(const Points& candidates, std::size_t count, const Progress& progress) {
  std::vector<Vec3d> positions(candidates.size());
  std::transform(candidates.begin(), candidates.end(), positions.begin(),
                 [](const ShapePoint& point) { return point.at; });
  Points chosen;
  for (const std::size_t i : chooseEvenly(positions, count, progress)) chosen.push_back(candidates[i]);
  return chosen;
}

// Every vertex once.
Points verticesOf(const Shape& shape) {
  Points points;
  const auto none = [](std::uint32_t) { return Vec3d(0.0); };
  const auto count = static_cast<double>(shape.meshSampler->elements());
  for (double i = 0; i < count; ++i) points.push_back(pointOn(shape, {(i + 0.5) / count, 0, 0}, none));
  return points;
}

Points pointsOf(const Shape& shape, std::size_t count, bool isEven, const RandomSource& random,
                const Progress& progress) {
  if (!shape.givesBirths()) return {};
  if (shape.type == ShapeType::Point) return {ShapePoint{}};
  if (shape.type == ShapeType::Mesh && shape.region.place == MeshPlace::Vertices)
    return chosenEvenly(verticesOf(shape), count, progress);
  // What has no numbers that lie evenly is thinned out.
  const bool isThinned = isEven && (shape.type == ShapeType::Mesh || shape.type == ShapeType::Picture);
  if (!isThinned) return pointsByNumbers(shape, BirthPoints(count, isEven), random);
  return chosenEvenly(pointsByNumbers(shape, BirthPoints(kCandidatesEach * count, false), random), count,
                      progress);
}

// A shape of size one, and what it is to be scaled by: so that its points stay the same ones, and are kept
// once, while it grows.
struct ScaledShape {
  Shape unit;
  Vec3d scale{1.0};
};

ScaledShape scaledShapeOf(const Item& influence, double frame) {
  ScaledShape scaled{shapeOf(influence, frame)};
  Shape& unit = scaled.unit;
  switch (unit.type) {
    case ShapeType::Line:
    case ShapeType::Rectangle:
    case ShapeType::Box:
      // Points on a box's faces lie as these are large.
      if (unit.type == ShapeType::Box && unit.surfaceOnly) break;
      scaled.scale = std::exchange(unit.extent, Vec3d(1.0));
      break;
    case ShapeType::Ring:
    case ShapeType::Disc:
    case ShapeType::Sphere:
      scaled.scale = Vec3d(std::exchange(unit.radius, 1.0));
      break;
    case ShapeType::Picture:
      scaled.scale = Vec3d(std::exchange(unit.pictureWidth, 1.0));
      break;
    case ShapeType::Point:
    case ShapeType::Mesh:
      break;
  }
  return scaled;
}

}  // namespace

ShapePoints::ShapePoints(const Item& influence, const FrameTime& time, const Progress& progress) {
  const std::uint64_t key = mixBits(influence.id);
  const bool isEven = influence.chooses("point_spread", "even");
  Hasher all;
  const auto pointsAt = [&](double frame) {
    const auto [unit, scale] = scaledShapeOf(influence, frame);
    const auto count = static_cast<std::size_t>(influence.integer("points", frame));
    Hasher hasher;
    hasher << "arrival points" << count << isEven;
    unit.describe(hasher);
    all << hasher.digest() << scale;
    const Shape& shape = unit;
    return Scaled{influence.kept->get<Points>(hasher.digest(),
                                              [&] {
                                                return std::make_shared<const Points>(pointsOf(
                                                    shape, count, isEven, RandomSource(key), progress));
                                              }),
                  scale};
  };
  last_ = pointsAt(time.frame);
  first_ = time.length > 0 ? pointsAt(time.frame - 1) : last_;
  key_ = all.digest();
  path_ = shapePath(influence, time, influence.clock.rate, wanderKey(key));
}

void ShapePoints::describe(Hasher& hasher) const {
  hasher << key_;
  path_.describe(hasher);
}

}  // namespace comet
