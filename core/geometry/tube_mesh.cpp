#include "geometry/tube_mesh.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <optional>

namespace comet {
namespace {

// Steps of a rounded end from its rim to its tip: of a quarter of a circle.
constexpr int kEndSteps = 2;

std::vector<TubePoint> withoutRepeats(std::span<const TubePoint> line) {
  std::vector<TubePoint> points;
  for (const TubePoint& point : line)
    if (points.empty() || glm::length(point.at - points.back().at) > 1e-9 * (1 + point.radius))
      points.push_back(point);
  return points;
}

Vec3d reflected(const Vec3d& v, const Vec3d& across) {
  const double square = glm::dot(across, across);
  return square > 0 ? v - across * (2 * glm::dot(across, v) / square) : v;
}

// Where a tube is cut across.
struct Section {
  Vec3d at, along, side;  // `along` and `side` of length one, at right angles
};

std::vector<Section> sectionsOf(const std::vector<TubePoint>& points) {
  std::vector<Section> sections(points.size());
  for (std::size_t i = 0; i < points.size(); ++i) {
    const Vec3d& before = points[i > 0 ? i - 1 : i].at;
    const Vec3d& after = points[std::min(i + 1, points.size() - 1)].at;
    // Where it turns right back, as it came.
    sections[i].at = points[i].at;
    sections[i].along = unitOr(after - before, i > 0 ? sections[i - 1].along : Vec3d(0, 1, 0));
  }
  Vec3d second;
  perpendiculars(sections.front().along, sections.front().side, second);
  for (std::size_t i = 1; i < sections.size(); ++i) {
    const Vec3d way = sections[i].at - sections[i - 1].at;
    const Vec3d along = reflected(sections[i - 1].along, way), side = reflected(sections[i - 1].side, way);
    const Vec3d turned = reflected(side, sections[i].along - along);
    // Rounding would add up.
    sections[i].side =
        unitOr(turned - sections[i].along * glm::dot(turned, sections[i].along), sections[i - 1].side);
  }
  return sections;
}

class Builder {
 public:
  Builder(int sides, TubeMesh& tubes) : sides_(static_cast<std::uint32_t>(sides)), tubes_(tubes) {}

  // `slope`: how fast the tube gets thicker along itself.
  void addRing(const Section& section, double radius, double slope, const Vec3& color) {
    const Vec3d other = glm::cross(section.along, section.side);
    const std::uint32_t first = size();
    for (std::uint32_t i = 0; i < sides_; ++i) {
      const double angle = 2 * kPi * i / sides_;
      const Vec3d outward = section.side * std::cos(angle) + other * std::sin(angle);
      add(section.at + outward * radius, outward - section.along * slope, color);
    }
    if (last_) joinRings(*last_, first);
    last_ = first;
  }

  // The tip before the first ring, or behind the last one.
  void addFirstTip(const Vec3d& at, const Vec3d& normal, const Vec3& color) {
    firstTip_ = size();
    add(at, normal, color);
  }
  void closeFirst(std::uint32_t ring) { fan(firstTip_, ring, true); }
  void addLastTip(const Vec3d& at, const Vec3d& normal, const Vec3& color) {
    const std::uint32_t tip = size();
    add(at, normal, color);
    fan(tip, *last_, false);
  }
  std::uint32_t size() const { return static_cast<std::uint32_t>(tubes_.mesh.points.size()); }

 private:
  void add(const Vec3d& at, const Vec3d& normal, const Vec3& color) {
    tubes_.mesh.points.emplace_back(at);
    tubes_.mesh.normals.emplace_back(unitOr(normal, Vec3d(0, 1, 0)));
    tubes_.colors.push_back(color);
  }
  void joinRings(std::uint32_t before, std::uint32_t after) {
    for (std::uint32_t i = 0; i < sides_; ++i) {
      const std::uint32_t next = (i + 1) % sides_;
      tubes_.mesh.triangles.push_back({before + i, before + next, after + next});
      tubes_.mesh.triangles.push_back({before + i, after + next, after + i});
    }
  }
  void fan(std::uint32_t tip, std::uint32_t ring, bool isFirst) {
    for (std::uint32_t i = 0; i < sides_; ++i) {
      const std::uint32_t here = ring + i, next = ring + (i + 1) % sides_;
      if (isFirst)
        tubes_.mesh.triangles.push_back({tip, next, here});
      else
        tubes_.mesh.triangles.push_back({tip, here, next});
    }
  }

  std::uint32_t sides_;
  TubeMesh& tubes_;
  std::uint32_t firstTip_ = 0;
  std::optional<std::uint32_t> last_;
};

}  // namespace

void TubeMesh::append(const TubeMesh& other) {
  const auto first = static_cast<std::uint32_t>(mesh.points.size());
  mesh.points.insert(mesh.points.end(), other.mesh.points.begin(), other.mesh.points.end());
  mesh.normals.insert(mesh.normals.end(), other.mesh.normals.begin(), other.mesh.normals.end());
  colors.insert(colors.end(), other.colors.begin(), other.colors.end());
  for (const Mesh::Triangle& triangle : other.mesh.triangles)
    mesh.triangles.push_back({first + triangle[0], first + triangle[1], first + triangle[2]});
}

void addTube(std::span<const TubePoint> line, int sides, TubeMesh& tubes) {
  const std::vector<TubePoint> points = withoutRepeats(line);
  if (points.size() < 2) return;
  const std::vector<Section> sections = sectionsOf(points);
  const auto slopeAt = [&](std::size_t i) {
    const TubePoint &before = points[i > 0 ? i - 1 : i], &after = points[std::min(i + 1, points.size() - 1)];
    const double way = glm::length(after.at - before.at);
    return way > 0 ? (after.radius - before.radius) / way : 0;
  };
  Builder builder(sides, tubes);
  // A rounded end: rings that get smaller, as far out from its section as `way` says, -1 or 1.
  const auto addEnd = [&](std::size_t i, double way, int step) {
    const double angle = 0.5 * kPi * step / kEndSteps, radius = points[i].radius;
    Section ring = sections[i];
    ring.at += ring.along * (way * radius * std::sin(angle));
    builder.addRing(ring, radius * std::cos(angle), -way * std::tan(angle), points[i].color);
  };
  const std::size_t last = points.size() - 1;
  const Section &begin = sections.front(), &end = sections.back();
  builder.addFirstTip(begin.at - begin.along * points.front().radius, -begin.along, points.front().color);
  const std::uint32_t firstRing = builder.size();
  for (int step = kEndSteps - 1; step > 0; --step) addEnd(0, -1, step);
  for (std::size_t i = 0; i <= last; ++i)
    builder.addRing(sections[i], points[i].radius, slopeAt(i), points[i].color);
  for (int step = 1; step < kEndSteps; ++step) addEnd(last, 1, step);
  builder.closeFirst(firstRing);
  builder.addLastTip(end.at + end.along * points.back().radius, end.along, points.back().color);
}

}  // namespace comet
