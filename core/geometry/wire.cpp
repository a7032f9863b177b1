#include "geometry/wire.h"

#include <cmath>
#include <memory>

namespace comet {
namespace {

constexpr int kCirclePieces = 48;

Vec3d onCircle(double radius, int first, int second, int piece) {
  const double angle = 2 * kPi * piece / kCirclePieces;
  Vec3d point(0.0);
  point[first] = radius * std::cos(angle);
  point[second] = radius * std::sin(angle);
  return point;
}

}  // namespace

std::vector<Vec3d> circleLine(double radius, int first, int second) {
  std::vector<Vec3d> points;
  for (int i = 0; i <= kCirclePieces; ++i) points.push_back(onCircle(radius, first, second, i));
  return points;
}

Wire sphereWire(double radius) {
  return {circleLine(radius, 0, 1), circleLine(radius, 0, 2), circleLine(radius, 1, 2)};
}

Wire boxWire(const Vec3d& size) {
  Wire edges;
  for (int corner = 0; corner < 8; ++corner)
    for (int axis = 0; axis < 3; ++axis) {
      if ((corner >> axis) & 1) continue;
      const auto at = [&size](int c) {
        return Vec3d(c & 1 ? 0.5 : -0.5, c & 2 ? 0.5 : -0.5, c & 4 ? 0.5 : -0.5) * size;
      };
      edges.push_back({at(corner), at(corner | (1 << axis))});
    }
  return edges;
}

Wire cylinderWire(const Vec3d& half) {
  Wire wire;
  for (const double side : {-1.0, 1.0}) {
    std::vector<Vec3d> rim = circleLine(half.x, 0, 2);
    for (Vec3d& point : rim) point.y = side * half.y;
    wire.push_back(std::move(rim));
    wire.push_back({{side * half.x, -half.y, 0}, {side * half.x, half.y, 0}});
    wire.push_back({{0, -half.y, side * half.z}, {0, half.y, side * half.z}});
  }
  return wire;
}

Wire capsuleWire(const Vec3d& half) {
  Wire wire = cylinderWire(half);
  for (const double side : {-1.0, 1.0})
    for (const int across : {0, 2}) {
      std::vector<Vec3d> arch;
      for (int i = 0; i <= kCirclePieces / 2; ++i)
        arch.push_back(Vec3d(1, side, 1) * onCircle(half.x, across, 1, i) + Vec3d(0, side * half.y, 0));
      wire.push_back(std::move(arch));
    }
  return wire;
}

Wire planeWire() {
  constexpr double kHalf = 5, kTick = 0.5;
  Wire wire = boxWire({2 * kHalf, 0, 2 * kHalf});
  for (const double step : {-0.5, 0.0, 0.5}) {
    wire.push_back({{-kHalf, 0, step * kHalf}, {kHalf, 0, step * kHalf}});
    wire.push_back({{step * kHalf, 0, -kHalf}, {step * kHalf, 0, kHalf}});
  }
  wire.push_back({{0, 0, 0}, {0, kTick, 0}});
  return wire;
}

Wire meshWire(const MeshContent& content) {
  constexpr std::size_t kMaxEdges = 4000;
  return *content.derived<Wire>((Hasher() << "wire").digest(), [&content] {
    const auto made = std::make_shared<Wire>();
    const Mesh& mesh = content.mesh();
    const auto add = [&](std::uint32_t from, std::uint32_t to) {
      made->push_back({Vec3d(mesh.points[from]), Vec3d(mesh.points[to])});
    };
    const std::size_t step = 3 * mesh.triangles.size() / kMaxEdges;
    if (step <= 1)
      for (const auto& edge : edgesOf(mesh)) add(edge[0], edge[1]);
    else
      for (std::size_t t = 0; t < mesh.triangles.size(); t += step)
        for (std::size_t i = 0; i < 3; ++i) add(mesh.triangles[t][i], mesh.triangles[t][(i + 1) % 3]);
    return std::shared_ptr<const Wire>(made);
  });
}

}  // namespace comet
