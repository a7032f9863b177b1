#include "geometry/surface_tree.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <embree3/rtcore.h>
#include <glm/geometric.hpp>
#include <limits>
#include <new>

namespace comet {
namespace {

struct ReleaseDevice {
  void operator()(RTCDevice device) const { rtcReleaseDevice(device); }
};
struct ReleaseScene {
  void operator()(RTCScene scene) const { rtcReleaseScene(scene); }
};

// What a question remembers of the answers that it met.
struct Question {
  const Mesh* mesh = nullptr;
  Vec3d place{0.0};
  double nearest = std::numeric_limits<double>::infinity();  // squared
  NearestPoint answer;
};

bool consider(RTCPointQueryFunctionArguments* arguments) {
  auto& question = *static_cast<Question*>(arguments->userPtr);
  const Mesh::Triangle& corners = question.mesh->triangles[arguments->primID];
  const auto corner = [&](std::size_t i) { return Vec3d(question.mesh->points[corners[i]]); };
  const Vec3d at = nearestOnTriangle(question.place, corner(0), corner(1), corner(2));
  const Vec3d offset = at - question.place;
  const double squared = glm::dot(offset, offset);
  const bool isNearer = squared < question.nearest ||
                        (squared == question.nearest && arguments->primID < question.answer.triangle);
  if (!isNearer) return false;
  question.nearest = squared;
  question.answer = {at, arguments->primID};
  // A little more than the distance, which single floats may have rounded down: equally near triangles are
  // still to be met.
  const auto radius = static_cast<float>(std::sqrt(squared) * (1 + 1e-6) + 1e-30);
  if (!(radius < arguments->query->radius)) return false;
  arguments->query->radius = radius;
  return true;
}

}  // namespace

Vec3d nearestOnTriangle(const Vec3d& place, const Vec3d& a, const Vec3d& b, const Vec3d& c) {
  const Vec3d ab = b - a, ac = c - a, ap = place - a;
  const double d1 = glm::dot(ab, ap), d2 = glm::dot(ac, ap);
  if (d1 <= 0 && d2 <= 0) return a;
  const Vec3d bp = place - b;
  const double d3 = glm::dot(ab, bp), d4 = glm::dot(ac, bp);
  if (d3 >= 0 && d4 <= d3) return b;
  const double vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return a + ab * (d1 / (d1 - d3));
  const Vec3d cp = place - c;
  const double d5 = glm::dot(ab, cp), d6 = glm::dot(ac, cp);
  if (d6 >= 0 && d5 <= d6) return c;
  const double vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return a + ac * (d2 / (d2 - d6));
  const double va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return b + (c - b) * ((d4 - d3) / ((d4 - d3) + (d5 - d6)));
  const double all = va + vb + vc;
  return a + ab * (vb / all) + ac * (vc / all);
}

struct SurfaceTree::Tree {
  const Mesh* mesh;
  std::unique_ptr<RTCDeviceTy, ReleaseDevice> device;
  std::unique_ptr<RTCSceneTy, ReleaseScene> scene;
};

SurfaceTree::SurfaceTree(const Mesh& mesh)
    : tree_(new Tree{&mesh, std::unique_ptr<RTCDeviceTy, ReleaseDevice>(rtcNewDevice(nullptr)), nullptr}) {
  if (!tree_->device) throw std::bad_alloc();
  tree_->scene.reset(rtcNewScene(tree_->device.get()));
  // Without this, a whole path of the tree could be left out for a rounding.
  rtcSetSceneFlags(tree_->scene.get(), RTC_SCENE_FLAG_ROBUST);
  if (!mesh.triangles.empty()) {
    RTCGeometry geometry = rtcNewGeometry(tree_->device.get(), RTC_GEOMETRY_TYPE_TRIANGLE);
    // The library's own copies: it reads a little past the end of buffers.
    auto* points = static_cast<float*>(rtcSetNewGeometryBuffer(
        geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(Vec3), mesh.points.size()));
    void* triangles = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                                              sizeof(Mesh::Triangle), mesh.triangles.size());
    if (!points || !triangles) {
      rtcReleaseGeometry(geometry);
      throw std::bad_alloc();
    }
    for (const Vec3& point : mesh.points)
      for (int axis = 0; axis < 3; ++axis) *points++ = point[axis];
    std::memcpy(triangles, mesh.triangles.data(), mesh.triangles.size() * sizeof(Mesh::Triangle));
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(tree_->scene.get(), geometry);
    rtcReleaseGeometry(geometry);
  }
  rtcCommitScene(tree_->scene.get());
}

SurfaceTree::~SurfaceTree() = default;

std::optional<NearestPoint> SurfaceTree::nearest(const Vec3d& place, double within) const {
  if (tree_->mesh->triangles.empty()) return std::nullopt;
  Question question;
  question.mesh = tree_->mesh;
  question.place = place;
  RTCPointQuery query{};
  query.x = static_cast<float>(place.x);
  query.y = static_cast<float>(place.y);
  query.z = static_cast<float>(place.z);
  query.radius = static_cast<float>(within * (1 + 1e-6));
  RTCPointQueryContext context;
  rtcInitPointQueryContext(&context);
  rtcPointQuery(tree_->scene.get(), &query, &context, consider, &question);
  if (!(question.nearest <= within * within)) return std::nullopt;
  return question.answer;
}

std::optional<SurfaceTree::Meeting> SurfaceTree::firstOn(const Vec3d& from, const Vec3d& to) const {
  const Mesh& mesh = *tree_->mesh;
  if (mesh.triangles.empty()) return std::nullopt;
  const Vec3d offset = to - from;
  RTCRayHit ray{};
  ray.ray.org_x = static_cast<float>(from.x);
  ray.ray.org_y = static_cast<float>(from.y);
  ray.ray.org_z = static_cast<float>(from.z);
  ray.ray.dir_x = static_cast<float>(offset.x);
  ray.ray.dir_y = static_cast<float>(offset.y);
  ray.ray.dir_z = static_cast<float>(offset.z);
  ray.ray.tfar = 1;
  ray.ray.mask = ~0U;
  ray.hit.geomID = RTC_INVALID_GEOMETRY_ID;
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  rtcIntersect1(tree_->scene.get(), &context, &ray);
  if (ray.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
  // Vector units differ in the distance that the library gives, and not in the triangle.
  const Mesh::Triangle& corners = mesh.triangles[ray.hit.primID];
  const Vec3d normal = mesh.areaVector(ray.hit.primID);
  const double towards = glm::dot(offset, normal);
  if (towards == 0) return std::nullopt;
  const double fraction = glm::dot(Vec3d(mesh.points[corners[0]]) - from, normal) / towards;
  return Meeting{std::clamp(fraction, 0.0, 1.0), ray.hit.primID};
}

std::size_t crossingEdges(const Mesh& mesh, const SurfaceTree& tree) {
  const auto edges = edgesOf(mesh);
  return static_cast<std::size_t>(std::count_if(edges.begin(), edges.end(), [&](const auto& edge) {
    const Vec3d from(mesh.points[edge[0]]), to(mesh.points[edge[1]]);
    // Not quite to its ends, where it meets its neighbours.
    const Vec3d inset = (to - from) * 1e-3;
    const auto meeting = tree.firstOn(from + inset, to - inset);
    if (!meeting) return false;
    const Mesh::Triangle& met = mesh.triangles[meeting->triangle];
    return std::none_of(met.begin(), met.end(),
                        [&edge](std::uint32_t corner) { return corner == edge[0] || corner == edge[1]; });
  }));
}

}  // namespace comet
