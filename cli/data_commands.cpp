#include "bake/flipbook.h"
#include "bake/line_export.h"
#include "bake/particle_table.h"
#include "base/error.h"
#include "base/file.h"
#include "catalog.h"
#include "commands.h"
#include "console.h"
#include "geometry/mesh_file.h"
#include "render/emitter_surface.h"
#include "render/trail.h"
#include "scene/scene_file.h"
#include "scene_files.h"

#include <filesystem>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace comet::cli {
namespace {

std::uint64_t hitsIn(const ParticleFrame& frame) {
  std::uint64_t hits = 0;
  for (const DeflectionStats& stats : frame.deflections) hits += stats.hits;
  return hits;
}

nlohmann::ordered_json rulesFrom(const Scene& scene, const ParticleFrame& frame) {
  auto list = nlohmann::ordered_json::array();
  for (const RuleStats& stats : frame.rules)
    if (const Scene::ItemPtr emitter = scene.find(stats.emitter))
      list.push_back({{"emitter", emitter->name}, {"rule", stats.rule + 1}, {"fired", stats.fired}});
  return list;
}

nlohmann::ordered_json deflectionsFrom(const Scene& scene, const ParticleFrame& frame) {
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const DeflectionStats& stats : frame.deflections)
    if (const Scene::ItemPtr deflector = scene.find(stats.deflector))
      list.push_back({{"deflector", deflector->name}, {"hits", stats.hits}, {"caught", stats.caught}});
  return list;
}

nlohmann::ordered_json jsonFrom(const Scene& scene, const ParticleFrame& frame, std::size_t cacheBytes) {
  const FrameStats& stats = frame.stats;
  return {{"frame", frame.frame},
          {"living", stats.living},
          {"births", stats.births},
          {"deaths", stats.deaths},
          {"refused", stats.refused},
          {"lost", stats.lost},
          {"deflections", deflectionsFrom(scene, frame)},
          {"rules", rulesFrom(scene, frame)},
          {"milliseconds", {{"births", stats.birthMilliseconds}, {"motion", stats.motionMilliseconds}}},
          {"bytes", {{"frame", frame.bytes()}, {"cache", cacheBytes}}},
          {"hash", frame.stateDigest().hex()}};
}

void printLine(const ParticleFrame& frame) {
  const FrameStats& stats = frame.stats;
  fmt::print("{:>6} {:>10} {:>8} {:>8} {:>8} {:>8} {:>10.3f} {:>10.3f} {:>10} {}\n", frame.frame,
             stats.living, stats.births, stats.deaths, stats.refused, hitsIn(frame), stats.birthMilliseconds,
             stats.motionMilliseconds, frame.bytes(), frame.stateDigest().hex());
}

// Writes what is asked for of each frame: a file each, or one for all.
class Exporter {
 public:
  Exporter(const ExportOptions& options, const Scene& scene) : options_(options), scene_(scene) {
    const std::string known = isLines() ? "csv, ply, obj, usda" : isSurface() ? "obj, ply, glb" : "csv, ply";
    if (known.find(options.format) == std::string::npos)
      throw Error(ErrorKind::Usage, "--format " + options.format, fmt::format("is not for {}", options.what),
                  "Choose one of: " + known);
  }

  void add(SceneRun& run, int frame, const Progress& progress) {
    if (isSurface()) return addSurfaces(run, frame, progress);
    if (!isLines()) {
      const ParticleFramePtr particles = run.frame(frame, &progress);
      return writePoints(
          frame, options_.what == "hits" ? hitTable(scene_, *particles) : particleTable(scene_, *particles));
    }
    const Past past = run.past(frame, pastNeeded(scene_, frame), &progress);
    CurveFrame lines =
        linesOf(scene_, *run.frame(frame, &progress), past,
                options_.what == "trails" ? LineKind::Trails : LineKind::Links, options_.points);
    if (options_.format == "usda")
      frames_.push_back(std::move(lines));
    else if (options_.format == "obj")
      write(frame, ".obj", encodeObjLines(lines));
    else
      writePoints(frame, lineTable(lines));
  }

  // Of each emitter that has one, a file.
  void addSurfaces(SceneRun& run, int frame, const Progress& progress) const {
    const MeshFormat format = options_.format == "obj"   ? MeshFormat::Obj
                              : options_.format == "ply" ? MeshFormat::Ply
                                                         : MeshFormat::Glb;
    const Past past = run.past(frame, pastNeeded(scene_, frame), &progress);
    const ParticleFramePtr particles = run.frame(frame, &progress);
    StampCache stamps;
    for (const Scene::ItemPtr& emitter : scene_.itemsOf(ItemFamily::Emitter)) {
      if (!emitter->enabled || !hasSurface(*emitter)) continue;
      const Look look(scene_, *emitter, frame, stamps);
      const Mesh mesh = emitterSurface(scene_, *emitter, *particles, past, look);
      const std::string name =
          fmt::format("{}.{}.{:04}{}", stem(), emitter->name, frame, extensionOf(format));
      writeFileAtomically(folder() / name, meshBytes(mesh, format));
    }
  }

  void finish() const {
    if (options_.format == "usda")
      writeFileAtomically(folder() / (stem() + ".usda"), encodeUsdCurves(frames_, frameRate(scene_)));
  }

 private:
  bool isSurface() const { return options_.what == "surface"; }
  bool isLines() const { return options_.what == "trails" || options_.what == "links"; }
  std::filesystem::path folder() const { return options_.folder; }
  std::string stem() const {
    const std::string scene = std::filesystem::path(options_.scene.path).stem().string();
    return options_.what == "particles" ? scene : scene + "." + options_.what;
  }
  void write(int frame, std::string_view extension, const std::string& bytes) const {
    writeFileAtomically(folder() / fmt::format("{}.{:04}{}", stem(), frame, extension), bytes);
  }
  void writePoints(int frame, const PointTable& table) const {
    const PointFormat format = options_.format == "ply" ? PointFormat::Ply : PointFormat::Csv;
    write(frame, extensionOf(format), encodePoints(table, format));
  }

  const ExportOptions& options_;
  const Scene& scene_;
  std::vector<CurveFrame> frames_;
};

}  // namespace

void exportData(const ExportOptions& options, Progress& progress) {
  const auto limit = options.scene.limitThreads();
  const Scene scene = options.scene.load();
  const FrameRange range = parseFrames(options.frames);
  makeFolder(options.folder);
  ProgressLine line("exporting", options.scene.quiet);
  SceneRun run = options.scene.run(scene);
  Exporter exporter(options, scene);
  for (int frame = range.first; frame <= range.last; ++frame) {
    progress.stopIfCancelled();
    line.show(frame - range.first, range.count());
    exporter.add(run, frame, progress);
  }
  exporter.finish();
  line.show(range.count(), range.count());
  SceneOptions::keepFrames(run);
}

void stats(const StatsOptions& options, Progress& progress) {
  const auto limit = options.scene.limitThreads();
  const Scene scene = options.scene.load();
  const FrameRange range = parseFrames(options.frames);
  const auto cache = std::make_shared<FrameCache>(memoryBudget(scene));
  // Nothing from the disk: it is the run that is measured.
  SceneRun run(scene, cache);
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  if (!options.json)
    fmt::print("{:>6} {:>10} {:>8} {:>8} {:>8} {:>8} {:>10} {:>10} {:>10} {}\n", "frame", "living", "births",
               "deaths", "refused", "hits", "births ms", "motion ms", "bytes", "hash");
  for (int frame = range.first; frame <= range.last; ++frame) {
    const ParticleFramePtr particles = run.frame(frame, &progress);
    if (options.json)
      list.push_back(jsonFrom(scene, *particles, cache->bytes()));
    else
      printLine(*particles);
  }
  if (options.json) fmt::print("{}\n", list.dump(2));
}

void validate(const SceneOptions& options) {
  const Scene scene = options.load();
  for (const Scene::ItemPtr& bake : scene.itemsOf(ItemFamily::Bake)) {
    try {
      (void)flipbookLayout(scene, *bake);
    } catch (const Error& error) {
      throw error.within(options.path);
    }
  }
  if (!options.quiet) fmt::print("{}: valid, {} items\n", options.path, scene.items().size());
}

void newScene(const NewOptions& options) {
  if (options.demo.empty()) {
    writeScene(options.path, startingScene());
    return;
  }
  writeScene(options.path, openDemo(options.demo));
}

}  // namespace comet::cli
