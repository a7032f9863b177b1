#include "simulation/deflectors/deflector_notes.h"

#include "base/pose.h"
#include "simulation/deflectors/deflector_shape.h"
#include "simulation/emission/size.h"

#include <fmt/format.h>

namespace comet {
namespace {

std::string problemWithMesh(const MeshReport& report, const Item& deflector, double scale, double frame) {
  if (report.isClosed()) return {};
  const bool wantsInside = deflector.flag("inside_out", frame);
  const Pose pose{deflector.vector("position", frame),
                  rotationFromDegrees(deflector.vector("rotation", frame))};
  const Vec3d open = pose.toScene(report.openAt * scale);
  const std::string what = report.crowdedEdges > 0
                               ? fmt::format("{} edges join more than two faces", report.crowdedEdges)
                               : fmt::format("{} edges are open, one at {:.3g}, {:.3g}, {:.3g}",
                                             report.openEdges, open.x, open.y, open.z);
  return what + (wantsInside ? ": it cannot hold anything in and is hit from both sides. Close it for that"
                             : ": it has no inside and is hit from both sides");
}

// The emitters whose particles are smaller than a cell of the field, so that they would see its corners.
std::string smallerThanCells(const Scene& scene, const Item& deflector, double cell, double frame) {
  const double fraction = deflector.number("particle_radius", frame) / 100;
  std::string names;
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter)) {
    const Response response = scene.response(emitter->id, deflector.id);
    const bool meets = response.acts();
    const double radius = 0.5 * fraction * BirthSize(*emitter, frame).mean();
    if (meets && radius > 0 && radius < cell) names += (names.empty() ? "" : ", ") + emitter->name;
  }
  return names;
}

std::string howItIsMet(const Scene& scene, const Item& deflector, const DeflectorShape& shape, double frame) {
  if (!shape.isMetByField())
    return deflector.chooses("collision_test", "distance_field")
               ? "collides by rays, since only a closed mesh has a distance field"
               : "collides by rays";
  const Mesh& mesh = shape.mesh()->mesh();
  const Vec3d extent = mesh.bounds().extent();
  const double cell = std::max({extent.x, extent.y, extent.z}) * shape.meshScale() / shape.fieldCells();
  const double megabytes =
      static_cast<double>(DistanceField::bytesFor(mesh, shape.fieldCells())) / (1024.0 * 1024.0);
  std::string text =
      fmt::format("collides by a signed distance field: cells of {:.3g} units, {:.1f} MB", cell, megabytes);
  if (const std::string small = smallerThanCells(scene, deflector, cell, frame); !small.empty())
    text += fmt::format("; particles of {} are smaller than that: take more cells, or rays", small);
  return text;
}

}  // namespace

std::vector<std::string> notesOnDeflector(const Scene& scene, const Item& deflector, double frame) {
  const DeflectorShape shape(deflector, frame);
  if (shape.type() != DeflectorShape::Type::Mesh) return {};
  if (!shape.mesh()) return {"nothing is met: choose a file"};
  const MeshContent& mesh = *shape.mesh();
  const MeshReport& report = mesh.report();
  if (report.triangles == 0) {
    const bool isCutOut = deflector.chooses("shape", "cut_out");
    return {isCutOut ? "nothing is met: no part of the picture is so opaque"
                     : "nothing is met: it has no faces"};
  }
  std::vector<std::string> notes{howItIsMet(scene, deflector, shape, frame)};
  // A relief is a sheet by nature.
  if (!deflector.chooses("shape", "heightmap"))
    if (const std::string problem = problemWithMesh(report, deflector, shape.meshScale(), frame);
        !problem.empty())
      notes.push_back(problem);
  if (report.degenerate > 0)
    notes.push_back(fmt::format("{} faces without area are left out", report.degenerate));
  if (const std::size_t crossings = report.isClosed() ? mesh.selfCrossings() : 0; crossings > 0)
    notes.push_back(
        fmt::format("it crosses itself at {} edges: where it overlaps itself counts as outside", crossings));
  return notes;
}

}  // namespace comet
