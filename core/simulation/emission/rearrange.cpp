#include "simulation/emission/rearrange.h"

#include "geometry/mesh_content.h"
#include "simulation/emission/shape_path.h"

#include <algorithm>

namespace comet {
namespace {

ParamValue& valueOf(Item& item, std::string_view param) { return item.values[item.kind->indexOf(param)]; }

void setConstant(Item& item, std::string_view param, const Vec3d& value) {
  ParamValue& changed = valueOf(item, param);
  changed.keys.clear();
  changed.base = value;
}

// Without its wandering, which is about the place.
Box boxInScene(const Item& emitter, const Mesh& mesh, double frame) {
  const ShapePath::Placement pose = keyedPose(emitter, frame);
  Box box{Vec3d(1e300), Vec3d(-1e300)};
  for (const Vec3& point : mesh.points) {
    const Vec3d at = pose.toScene(Vec3d(point));
    box.min = glm::min(box.min, at);
    box.max = glm::max(box.max, at);
  }
  return box;
}

}  // namespace

Item shiftedInTime(const Item& item, double frames, const FrameRange& range) {
  Item shifted = item;
  for (std::size_t i = 0; i < shifted.values.size(); ++i) {
    ParamValue& value = shifted.values[i];
    for (Key& key : value.keys) key.frame += frames;
    if (auto* bursts = std::get_if<BurstList>(&value.base))
      for (Burst& burst : *bursts) burst.frame += frames;
    if (shifted.kind->params()[i].isFrame) value.base = std::get<double>(value.base) + frames;
    value = nearestValid(shifted.kind->params()[i], value);
  }
  if (item.kind->find("emits") && item.chooses("emits", "always") && frames > 0) {
    valueOf(shifted, "emits").base = std::string("frame_range");
    valueOf(shifted, "emits_from").base = range.first + frames;
    valueOf(shifted, "emits_until").base = static_cast<double>(range.last);
  }
  return shifted;
}

Item shiftedInSpace(const Item& item, const Vec3d& offset) {
  Item shifted = item;
  for (const char* param : {"position", "bounds_position", "reach_position"}) {
    if (!item.kind->find(param)) continue;
    ParamValue& value = valueOf(shifted, param);
    value.base = std::get<Vec3d>(value.base) + offset;
    for (Key& key : value.keys) key.value = std::get<Vec3d>(key.value) + offset;
  }
  return shifted;
}

Item withMeshFitted(const Item& emitter, double longestSide, const Vec3d& centre) {
  const auto mesh = emitter.content<MeshContent>("mesh");
  if (!mesh) return emitter;
  Item fitted = emitter;
  setConstant(fitted, "scale", Vec3d(1.0));
  const Vec3d extent = boxInScene(fitted, mesh->mesh(), 0).extent();
  const double longest = std::max({extent.x, extent.y, extent.z});
  if (longest > 0) setConstant(fitted, "scale", Vec3d(longestSide / longest));
  setConstant(fitted, "position", Vec3d(0.0));
  setConstant(fitted, "position", centre - boxInScene(fitted, mesh->mesh(), 0).centre());
  return fitted;
}

Item withMeshOnGround(const Item& emitter) {
  const auto mesh = emitter.content<MeshContent>("mesh");
  if (!mesh) return emitter;
  const double bottom = boxInScene(emitter, mesh->mesh(), 0).min.y;
  Item stood = emitter;
  ParamValue& place = valueOf(stood, "position");
  place.base = std::get<Vec3d>(place.base) - Vec3d(0, bottom, 0);
  for (Key& key : place.keys) key.value = std::get<Vec3d>(key.value) - Vec3d(0, bottom, 0);
  return stood;
}

Vec3d meshExtent(const Item& emitter, double frame) {
  const auto mesh = emitter.content<MeshContent>("mesh");
  return mesh ? boxInScene(emitter, mesh->mesh(), frame).extent() : Vec3d(0.0);
}

}  // namespace comet
