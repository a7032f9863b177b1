#include "bake/flipbook.h"
#include "bake/particle_table.h"
#include "base/error.h"
#include "base/file.h"
#include "catalog.h"
#include "commands.h"
#include "console.h"
#include "scene/scene_file.h"
#include "scene_files.h"

#include <filesystem>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet::cli {
namespace {

nlohmann::ordered_json jsonFrom(const ParticleFrame& frame, std::size_t cacheBytes) {
  const FrameStats& stats = frame.stats;
  return {{"frame", frame.frame},
          {"living", stats.living},
          {"births", stats.births},
          {"deaths", stats.deaths},
          {"refused", stats.refused},
          {"lost", stats.lost},
          {"milliseconds", {{"births", stats.birthMilliseconds}, {"motion", stats.motionMilliseconds}}},
          {"bytes", {{"frame", frame.bytes()}, {"cache", cacheBytes}}},
          {"hash", frame.stateDigest().hex()}};
}

void printLine(const ParticleFrame& frame) {
  const FrameStats& stats = frame.stats;
  fmt::print("{:>6} {:>10} {:>8} {:>8} {:>8} {:>10.3f} {:>10.3f} {:>10} {}\n", frame.frame, stats.living,
             stats.births, stats.deaths, stats.refused, stats.birthMilliseconds, stats.motionMilliseconds,
             frame.bytes(), frame.stateDigest().hex());
}

}  // namespace

void exportData(const ExportOptions& options, Progress& progress) {
  const auto limit = options.scene.limitThreads();
  const Scene scene = options.scene.load();
  const FrameRange range = parseFrames(options.frames);
  makeFolder(options.folder);
  const PointFormat format = options.format == "ply" ? PointFormat::Ply : PointFormat::Csv;
  const std::string stem = std::filesystem::path(options.scene.path).stem().string();
  ProgressLine line("exporting", options.scene.quiet);
  SceneRun run = options.scene.run(scene);
  for (int frame = range.first; frame <= range.last; ++frame) {
    progress.stopIfCancelled();
    line.show(frame - range.first, range.count());
    const std::string name = fmt::format("{}.{:04}{}", stem, frame, extensionOf(format));
    writeFileAtomically(std::filesystem::path(options.folder) / name,
                        encodePoints(particleTable(scene, *run.frame(frame, &progress)), format));
  }
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
    fmt::print("{:>6} {:>10} {:>8} {:>8} {:>8} {:>10} {:>10} {:>10} {}\n", "frame", "living", "births",
               "deaths", "refused", "births ms", "motion ms", "bytes", "hash");
  for (int frame = range.first; frame <= range.last; ++frame) {
    const ParticleFramePtr particles = run.frame(frame, &progress);
    if (options.json)
      list.push_back(jsonFrom(*particles, cache->bytes()));
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
