#include "render/mesh_model.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <meshoptimizer.h>

namespace comet {
namespace {

using Level = MeshModel::Level;

// Sizes for which there are levels, pixels.
constexpr std::array kSizes{512.0, 360.0, 256.0, 180.0, 128.0, 90.0, 64.0, 45.0, 32.0,
                            23.0,  16.0,  11.0,  8.0,   5.7,   4.0,  2.8,  2.0,  1.0};
// A level that has more faces than this fraction of the one before is not worth being changed to.
constexpr double kWorthwhile = 0.8;

Level wholeOf(const Mesh& mesh) {
  const Box box = mesh.bounds();
  const Vec3d extent = box.extent();
  const double longest = std::max({extent.x, extent.y, extent.z, 1e-12});
  Level level;
  for (std::size_t i = 0; i < mesh.points.size(); ++i)
    level.points.push_back({(Vec3d(mesh.points[i]) - box.centre()) / longest, Vec3d(mesh.normals[i])});
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    if (glm::length(mesh.areaVector(t)) > 0) level.faces.push_back({mesh.triangles[t], mesh.faceNormal(t)});
  return level;
}

// The faces with the corners of `corners`, three by three, and the points that they need.
Level levelOf(const Level& base, const std::vector<std::uint32_t>& corners) {
  constexpr std::uint32_t kUnused = ~0U;
  std::vector<std::uint32_t> renumbered(base.points.size(), kUnused);
  Level level;
  for (std::size_t first = 0; first < corners.size(); first += 3) {
    MeshModel::Face face;
    for (std::size_t i = 0; i < 3; ++i) {
      std::uint32_t& number = renumbered[corners[first + i]];
      if (number == kUnused) {
        number = static_cast<std::uint32_t>(level.points.size());
        level.points.push_back(base.points[corners[first + i]]);
      }
      face.points[i] = number;
    }
    const Vec3d& a = level.points[face.points[0]].at;
    const Vec3d across = glm::cross(level.points[face.points[1]].at - a, level.points[face.points[2]].at - a);
    if (!(glm::length(across) > 0)) continue;
    face.normal = glm::normalize(across);
    level.faces.push_back(face);
  }
  return level;
}

// How much of it there is.
struct Bulk {
  double volume = 0, surface = 0;

  explicit Bulk(const Level& level) {
    for (const MeshModel::Face& face : level.faces) {
      const Vec3d &a = level.points[face.points[0]].at, &b = level.points[face.points[1]].at,
                  &c = level.points[face.points[2]].at;
      volume += glm::dot(a, glm::cross(b, c)) / 6;
      surface += glm::length(glm::cross(b - a, c - a)) / 2;
    }
  }

  // Whether there is something within, rather than a sheet: at least a tenth of what a ball has.
  bool isSolid() const { return 36 * kPi * volume * volume > 0.01 * surface * surface * surface; }
};

// What is left of round things lies inside them: brought to the same volume, they give as much light.
void bringToVolume(const Bulk& whole, Level& level) {
  const Bulk now(level);
  if (!whole.isSolid() || !now.isSolid()) return;
  const double scale = std::cbrt(whole.volume / now.volume);
  for (MeshModel::Point& point : level.points) point.at *= scale;
}

// By edge collapse, measured by quadrics (Garland and Heckbert, 1997), for when it is so many pixels large;
// to no fewer faces than `fewest`.
Level simplified(const Level& base, std::size_t fewest, double pixels) {
  std::vector<std::uint32_t> corners, fewer;
  std::vector<Vec3> points;
  for (const MeshModel::Face& face : base.faces)
    corners.insert(corners.end(), face.points.begin(), face.points.end());
  for (const MeshModel::Point& point : base.points) points.emplace_back(point.at);
  fewer.resize(corners.size());
  const double tolerance = MeshModel::kTolerance / pixels - base.error;
  float error = 0;
  fewer.resize(meshopt_simplify(fewer.data(), corners.data(), corners.size(), &points.front().x,
                                points.size(), sizeof(Vec3), 3 * fewest, static_cast<float>(tolerance), 0,
                                &error));
  Level level = levelOf(base, fewer);
  level.error = base.error + static_cast<double>(error);
  level.upTo = pixels;
  return level;
}

}  // namespace

MeshModel::MeshModel(const MeshContent& content) : isClosed_(content.report().isClosed()) {
  levels_.push_back(wholeOf(content.mesh()));
  if (levels_.front().faces.empty()) return;
  const Bulk whole(levels_.front());
  for (const double pixels : kSizes) {
    const auto worth = kWorthwhile * static_cast<double>(levels_.back().faces.size());
    const double fewest = whole.surface * pixels * pixels / kFaceArea;
    if (fewest > worth) continue;
    Level level = simplified(levels_.back(), static_cast<std::size_t>(fewest), pixels);
    // What is gone altogether would be missed.
    if (level.faces.empty()) return;
    if (static_cast<double>(level.faces.size()) > worth) continue;
    bringToVolume(whole, level);
    levels_.push_back(std::move(level));
  }
}

const MeshModel::Level& MeshModel::levelFor(double pixels) const {
  const auto isGoodEnough = [pixels](const Level& level) { return pixels <= level.upTo; };
  return *std::find_if(levels_.rbegin(), levels_.rend(), isGoodEnough);
}

std::shared_ptr<const MeshModel> modelOf(const MeshContent& content) {
  return content.derived<MeshModel>((Hasher() << "model").digest(),
                                    [&content] { return std::make_shared<const MeshModel>(content); });
}

}  // namespace comet
