#include "bake/data_export.h"

#include "bake/card_export.h"
#include "bake/line_export.h"
#include "bake/particle_table.h"
#include "base/error.h"
#include "base/file.h"
#include "base/file_set.h"
#include "geometry/mesh_file.h"
#include "io/usd_points.h"
#include "io/volume_file.h"
#include "render/emitter_surface.h"
#include "render/trail.h"

#include <algorithm>
#include <fmt/format.h>

namespace comet {
namespace {

class Exporter {
 public:
  Exporter(SceneRun& run, const DataExport& wanted, const Progress& progress)
      : run_(run),
        scene_(run.scene()),
        wanted_(wanted),
        progress_(progress),
        points_(frameRate(scene_)),
        files_(wanted.folder) {}

  void add(int frame) {
    switch (wanted_.kind) {
      case DataKind::Particles: {
        const PointTable table = particleTable(scene_, *particlesAt(frame));
        return wanted_.format == "usda" ? points_.add(frame, table) : writePoints(frame, table);
      }
      case DataKind::Hits:
        return writePoints(frame, hitTable(scene_, *particlesAt(frame)));
      case DataKind::Trails:
        return addLines(frame, LineKind::Trails);
      case DataKind::Links:
        return addLines(frame, LineKind::Links);
      case DataKind::Surfaces:
        return addSurfaces(frame);
      case DataKind::Gases:
        return addGases(frame);
      case DataKind::Cards:
        return addCards(frame);
    }
  }

  std::vector<std::filesystem::path> finish() {
    if (wanted_.format == "usda")
      write(stem() + ".usda", wanted_.kind == DataKind::Particles ? points_.text()
                              : wanted_.kind == DataKind::Cards
                                  ? encodeUsdMeshes(cards_, frameRate(scene_))
                                  : encodeUsdCurves(frames_, frameRate(scene_)));
    return files_.keep();
  }

 private:
  SceneFramePtr particlesAt(int frame) { return run_.frame(frame, progress_); }
  Past pastAt(int frame) { return run_.past(frame, pastNeeded(scene_, frame), progress_); }

  void addLines(int frame, LineKind kind) {
    const Past past = pastAt(frame);
    CurveFrame lines = linesOf(scene_, *particlesAt(frame), past, kind, wanted_.points);
    if (wanted_.format == "usda")
      frames_.push_back(std::move(lines));
    else if (wanted_.format == "obj")
      write(nameAt(frame, ".obj"), encodeObjLines(lines));
    else
      writePoints(frame, lineTable(lines));
  }

  // Of each emitter that has one, a file.
  void addSurfaces(int frame) {
    const Past past = pastAt(frame);
    const SceneFramePtr particles = particlesAt(frame);
    StampCache stamps;
    for (const Scene::ItemPtr& emitter : scene_.itemsOf(ItemFamily::Emitter)) {
      if (!emitter->enabled || !hasSurface(*emitter)) continue;
      const Look look(scene_, *emitter, frame, stamps);
      const auto mesh = EmitterSurfaces().of(scene_, *emitter, *particles, past, look);
      writeMesh(*emitter, frame, *mesh);
    }
  }

  // The same of cards; or all of them in one, for the one of all frames.
  void addCards(int frame) {
    const SceneFramePtr particles = particlesAt(frame);
    if (wanted_.format == "usda") {
      cards_.push_back(cardsOf(scene_, *particles));
      return;
    }
    for (const Scene::ItemPtr& emitter : scene_.itemsOf(ItemFamily::Emitter))
      if (const Mesh mesh = meshOf(cardsOf(scene_, *emitter, *particles)); !mesh.triangles.empty())
        writeMesh(*emitter, frame, mesh);
  }

  // Of each gas, a file.
  void addGases(int frame) {
    const SceneFramePtr now = run_.frame(frame, progress_);
    for (const HeldGas& held : now->gases->gases)
      if (const Scene::ItemPtr gas = scene_.find(held.gas))
        write(fmt::format("{}.{}.{:04}.vdb", stem(), gas->name, frame), encodeGas(*held.content));
  }

  std::string stem() const {
    if (wanted_.kind == DataKind::Particles) return wanted_.stem;
    return fmt::format("{}.{}", wanted_.stem, kDataKinds[static_cast<std::size_t>(wanted_.kind)]);
  }
  std::string nameAt(int frame, std::string_view extension) const {
    return fmt::format("{}.{:04}{}", stem(), frame, extension);
  }
  void write(const std::string& name, const std::string& bytes) {
    files_.write([&] { writeFileAtomically(files_.add(name), bytes); });
  }
  void writeMesh(const Item& emitter, int frame, const Mesh& mesh) {
    const MeshFormat format = wanted_.format == "obj"   ? MeshFormat::Obj
                              : wanted_.format == "ply" ? MeshFormat::Ply
                                                        : MeshFormat::Glb;
    write(fmt::format("{}.{}.{:04}{}", stem(), emitter.name, frame, extensionOf(format)),
          meshBytes(mesh, format));
  }
  void writePoints(int frame, const PointTable& table) {
    const PointFormat format = wanted_.format == "ply"   ? PointFormat::Ply
                               : wanted_.format == "vdb" ? PointFormat::Vdb
                                                         : PointFormat::Csv;
    write(nameAt(frame, extensionOf(format)), encodePoints(table, format));
  }

  SceneRun& run_;
  const Scene& scene_;
  const DataExport& wanted_;
  const Progress& progress_;
  UsdPoints points_;
  std::vector<CurveFrame> frames_;
  std::vector<MeshFrame> cards_;
  FileSet files_;
};

}  // namespace

std::vector<std::string> formatsOf(DataKind kind) {
  switch (kind) {
    case DataKind::Particles:
      return {"csv", "ply", "vdb", "usda"};
    case DataKind::Hits:
      return {"csv", "ply", "vdb"};
    case DataKind::Trails:
    case DataKind::Links:
      return {"csv", "ply", "obj", "usda"};
    case DataKind::Surfaces:
      return {"obj", "ply", "glb"};
    case DataKind::Gases:
      return {"vdb"};
    case DataKind::Cards:
      return {"obj", "ply", "glb", "usda"};
  }
  return {};
}

std::vector<std::filesystem::path> exportData(SceneRun& run, const DataExport& wanted,
                                              const Progress& progress) {
  const std::vector<std::string> formats = formatsOf(wanted.kind);
  if (std::find(formats.begin(), formats.end(), wanted.format) == formats.end()) {
    std::string known;
    for (const std::string& format : formats) known += (known.empty() ? "" : ", ") + format;
    throw Error(ErrorKind::Usage, "format " + wanted.format,
                fmt::format("is not for {}", kDataKinds[static_cast<std::size_t>(wanted.kind)]),
                "Choose one of: " + known);
  }
  makeFolder(wanted.folder);
  Exporter exporter(run, wanted, progress);
  for (int frame = wanted.frames.first; frame <= wanted.frames.last; ++frame) {
    progress.step(frame - wanted.frames.first, wanted.frames.count());
    exporter.add(frame);
  }
  progress.step(wanted.frames.count(), wanted.frames.count());
  return exporter.finish();
}

}  // namespace comet
