#include "geometry/mesh_sampler.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr std::size_t kMaxCellsAcross = 1024;

double cross(const Vec2d& a, const Vec2d& b) { return a.x * b.y - a.y * b.x; }

Vec2d flat(const Vec3& point) { return {point.x, point.z}; }

// Whether a point to the right of `a`-`b` counts as lying on its left if it lies on the line itself: the two
// triangles with an edge in common give opposite answers, so exactly one of them owns it.
bool ownsEdge(const Vec2d& a, const Vec2d& b) { return a.y < b.y || (a.y == b.y && a.x > b.x); }

bool isLeftOf(const Vec2d& point, const Vec2d& a, const Vec2d& b) {
  const double side = cross(b - a, point - a);
  return side > 0 || (side == 0 && ownsEdge(a, b));
}

}  // namespace

VerticalLines::VerticalLines(const Mesh& mesh) : mesh_(mesh), bounds_(mesh.bounds()) {
  across_ = std::clamp<std::size_t>(
      static_cast<std::size_t>(std::sqrt(static_cast<double>(mesh.triangles.size()) / 2)), 1,
      kMaxCellsAcross);
  starts_.assign(across_ * across_ + 1, 0);
  const auto forCells = [this, &mesh](std::size_t triangle, const auto& visit) {
    Vec2d min(1e300), max(-1e300);
    for (const std::uint32_t corner : mesh.triangles[triangle]) {
      min = glm::min(min, flat(mesh.points[corner]));
      max = glm::max(max, flat(mesh.points[corner]));
    }
    const std::size_t first = cellOf(min.x, min.y), last = cellOf(max.x, max.y);
    for (std::size_t z = first / across_; z <= last / across_; ++z)
      for (std::size_t x = first % across_; x <= last % across_; ++x) visit(z * across_ + x);
  };
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    forCells(t, [this](std::size_t cell) { ++starts_[cell + 1]; });
  for (std::size_t cell = 1; cell < starts_.size(); ++cell) starts_[cell] += starts_[cell - 1];
  triangles_.resize(starts_.back());
  std::vector<std::uint32_t> next(starts_.begin(), starts_.end() - 1);
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    forCells(t, [&](std::size_t cell) { triangles_[next[cell]++] = static_cast<std::uint32_t>(t); });
}

std::size_t VerticalLines::cellOf(double x, double z) const {
  const auto cell = [this](double position, double from, double length) {
    const double fraction = length > 0 ? (position - from) / length : 0;
    return static_cast<std::size_t>(
        std::clamp(fraction * static_cast<double>(across_), 0.0, static_cast<double>(across_ - 1)));
  };
  const Vec3d extent = bounds_.extent();
  return cell(z, bounds_.min.z, extent.z) * across_ + cell(x, bounds_.min.x, extent.x);
}

void VerticalLines::crossings(double x, double z, std::vector<double>& heights) const {
  heights.clear();
  const Vec2d point(x, z);
  const std::size_t cell = cellOf(x, z);
  for (std::uint32_t i = starts_[cell]; i < starts_[cell + 1]; ++i) {
    const Mesh::Triangle& corners = mesh_.triangles[triangles_[i]];
    Vec3d a(mesh_.points[corners[0]]), b(mesh_.points[corners[1]]), c(mesh_.points[corners[2]]);
    double area = cross(Vec2d(b.x - a.x, b.z - a.z), Vec2d(c.x - a.x, c.z - a.z));
    if (area == 0) continue;  // seen edge-on
    if (area < 0) {
      std::swap(b, c);
      area = -area;
    }
    const Vec2d fa(a.x, a.z), fb(b.x, b.z), fc(c.x, c.z);
    if (!isLeftOf(point, fa, fb) || !isLeftOf(point, fb, fc) || !isLeftOf(point, fc, fa)) continue;
    const double fractionB = cross(point - fa, fc - fa) / area, fractionC = cross(fb - fa, point - fa) / area;
    heights.push_back(a.y + (b.y - a.y) * fractionB + (c.y - a.y) * fractionC);
  }
  std::sort(heights.begin(), heights.end());
}

bool VerticalLines::isInside(const Vec3d& point) const {
  if (glm::any(glm::lessThan(point, bounds_.min)) || glm::any(glm::greaterThan(point, bounds_.max)))
    return false;
  thread_local std::vector<double> heights;
  crossings(point.x, point.z, heights);
  return std::count_if(heights.begin(), heights.end(), [&point](double h) { return h > point.y; }) % 2 == 1;
}

MeshSampler::MeshSampler(const Mesh& mesh, const MeshRegion& region, bool isClosed)
    : mesh_(mesh), place_(region.place), bounds_(mesh.bounds()) {
  const auto isWanted = [&](std::size_t t) { return region.part.empty() || mesh.isIn(t, region.part); };
  switch (region.place) {
    case MeshPlace::Inside:
      if (isClosed) lines_ = std::make_unique<const VerticalLines>(mesh);
      break;
    case MeshPlace::Surface:
    case MeshPlace::Facing:
      for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
        if (!isWanted(t)) continue;
        const bool faces = region.place == MeshPlace::Surface ||
                           glm::dot(mesh.faceNormal(t), region.facing) >= std::cos(region.facingAngle);
        if (faces) addElement(static_cast<std::uint32_t>(t), 0.5 * glm::length(mesh.areaVector(t)));
      }
      break;
    case MeshPlace::Vertices:
    case MeshPlace::Edges: {
      std::vector<char> inPart(mesh.points.size(), region.part.empty() ? 1 : 0);
      for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
        if (isWanted(t))
          for (const std::uint32_t corner : mesh.triangles[t]) inPart[corner] = 1;
      if (region.place == MeshPlace::Vertices) {
        for (std::uint32_t i = 0; i < mesh.points.size(); ++i)
          if (inPart[i]) addElement(i, 1);
        break;
      }
      edges_ = edgesOf(mesh);
      for (std::uint32_t i = 0; i < edges_.size(); ++i)
        if (inPart[edges_[i][0]] && inPart[edges_[i][1]])
          addElement(i, glm::length(Vec3d(mesh.points[edges_[i][0]]) - Vec3d(mesh.points[edges_[i][1]])));
      break;
    }
  }
}

void MeshSampler::addElement(std::uint32_t element, double weight) {
  if (!(weight > 0)) return;
  elements_.push_back(element);
  cumulative_.push_back((cumulative_.empty() ? 0.0 : cumulative_.back()) + weight);
}

SurfacePoint MeshSampler::pickOnSurface(const Vec3d& numbers) const {
  if (cumulative_.empty()) return {};
  const double target = numbers.x * cumulative_.back();
  const auto chosen = std::upper_bound(cumulative_.begin(), cumulative_.end(), target);
  const std::size_t index = std::min<std::size_t>(chosen - cumulative_.begin(), cumulative_.size() - 1);
  const std::uint32_t element = elements_[index];
  if (place_ == MeshPlace::Vertices) return {Vec3d(mesh_.points[element]), Vec3d(mesh_.normals[element])};
  if (place_ == MeshPlace::Edges) {
    const auto [a, b] = edges_[element];
    const Vec3d normal = glm::mix(Vec3d(mesh_.normals[a]), Vec3d(mesh_.normals[b]), numbers.y);
    return {glm::mix(Vec3d(mesh_.points[a]), Vec3d(mesh_.points[b]), numbers.y),
            unitOr(normal, Vec3d(0, 1, 0))};
  }
  // Osada et al., "Shape Distributions", 2002: uniform over a triangle.
  const Mesh::Triangle& corners = mesh_.triangles[element];
  const double root = std::sqrt(numbers.y);
  const Vec3d a(mesh_.points[corners[0]]), b(mesh_.points[corners[1]]), c(mesh_.points[corners[2]]);
  return {a * (1 - root) + b * (root * (1 - numbers.z)) + c * (root * numbers.z), mesh_.faceNormal(element)};
}

// A line through the box is kept as often as the part of it that is inside is long, which makes the points
// uniform over the volume.
bool MeshSampler::pickInside(const Vec3d& numbers, SurfacePoint& point) const {
  const Vec3d extent = bounds_.extent();
  const double x = bounds_.min.x + numbers.x * extent.x, z = bounds_.min.z + numbers.z * extent.z;
  double left = numbers.y * extent.y;
  thread_local std::vector<double> heights;
  lines_->crossings(x, z, heights);
  for (std::size_t i = 0; i + 1 < heights.size(); i += 2) {
    const double length = heights[i + 1] - heights[i];
    if (left < length) {
      point.at = Vec3d(x, heights[i] + left, z);
      point.normal = unitOr(point.at - bounds_.centre(), Vec3d(0, 1, 0));
      return true;
    }
    left -= length;
  }
  return false;
}

}  // namespace comet
