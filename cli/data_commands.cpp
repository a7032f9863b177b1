#include "bake/data_export.h"
#include "bake/flipbook.h"
#include "base/error.h"
#include "base/file.h"
#include "catalog.h"
#include "commands.h"
#include "console.h"
#include "presets.h"
#include "render/camera.h"
#include "scene/scene_file.h"
#include "scene_files.h"
#include "sheet_scene.h"
#include "simulation/arrivals/arrival_report.h"
#include "simulation/cards/card_report.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>
#include <string>
#include <utility>
#include <vector>

namespace comet::cli {
namespace {

std::uint64_t hitsIn(const SceneFrame& frame) {
  std::uint64_t hits = 0;
  for (const DeflectionStats& stats : frame.report->deflections) hits += stats.hits;
  return hits;
}

nlohmann::ordered_json rulesFrom(const Scene& scene, const SceneFrame& frame) {
  auto list = nlohmann::ordered_json::array();
  for (const RuleStats& stats : frame.report->rules)
    if (const Scene::ItemPtr emitter = scene.find(stats.emitter))
      list.push_back({{"emitter", emitter->name}, {"rule", stats.rule + 1}, {"fired", stats.fired}});
  return list;
}

nlohmann::ordered_json deflectionsFrom(const Scene& scene, const SceneFrame& frame) {
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const DeflectionStats& stats : frame.report->deflections)
    if (const Scene::ItemPtr deflector = scene.find(stats.deflector))
      list.push_back({{"deflector", deflector->name}, {"hits", stats.hits}, {"caught", stats.caught}});
  return list;
}

nlohmann::ordered_json contactsFrom(const Scene& scene, const SceneFrame& frame) {
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const ContactStats& stats : frame.report->contacts)
    if (const Scene::ItemPtr contact = scene.find(stats.contact))
      list.push_back({{"contact", contact->name},
                      {"particles", stats.particles},
                      {"pairs", stats.pairs},
                      {"deepest_overlap", stats.deepest}});
  return list;
}

nlohmann::ordered_json arrivalsFrom(const Scene& scene, const SceneFrame& frame) {
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const ArrivalCount& count : countArrivals(scene, frame))
    if (const Scene::ItemPtr influence = scene.find(count.influence))
      list.push_back({{"influence", influence->name},
                      {"points", count.points},
                      {"arrived", count.arrived},
                      {"travelling", count.travelling},
                      {"waiting", count.waiting}});
  return list;
}

nlohmann::ordered_json cardsFrom(const Scene& scene, const SceneFrame& frame) {
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const CardCount& count : countCards(scene, frame))
    list.push_back({{"emitter", scene.find(count.emitter)->name},
                    {"cards", count.cards},
                    {"points", count.points},
                    {"largest_stretch", count.largestStretch}});
  return list;
}

nlohmann::ordered_json millisecondsFrom(const FrameStats& stats) {
  nlohmann::ordered_json stages;
  for (std::size_t stage = 0; stage < kStepStages.size(); ++stage)
    stages[std::string(kStepStages[stage])] = stats.milliseconds[stage];
  return stages;
}

nlohmann::ordered_json gasesFrom(const Scene& scene, const SceneFrame& frame) {
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const GasStats& stats : frame.report->gases)
    if (const Scene::ItemPtr gas = scene.find(stats.gas))
      list.push_back({{"gas", gas->name},
                      {"voxels", stats.voxels},
                      {"filled", stats.filled},
                      {"steps", stats.halves},
                      {"solver_rounds", stats.rounds},
                      {"divergence_left", stats.divergenceLeft},
                      {"burnt_fuel", stats.burntFuel},
                      {"reset", stats.reset},
                      {"cut_off", stats.wallsMet != 0}});
  return list;
}

// Of all that the frame shows.
std::string hashOf(const SceneFrame& frame) {
  if (frame.gases->gases.empty()) return frame.particles->digest().hex();
  return (Hasher() << frame.particles->digest() << frame.gases->digest()).digest().hex();
}

nlohmann::ordered_json jsonFrom(const Scene& scene, const SceneFrame& frame, std::size_t cacheBytes) {
  const FrameStats& stats = frame.report->stats;
  return {{"frame", frame.number},
          {"living", stats.living},
          {"births", stats.births},
          {"deaths", stats.deaths},
          {"refused", stats.refused},
          {"lost", stats.losses.lost},
          {"deflections", deflectionsFrom(scene, frame)},
          {"contacts", contactsFrom(scene, frame)},
          {"arrivals", arrivalsFrom(scene, frame)},
          {"cards", cardsFrom(scene, frame)},
          {"rules", rulesFrom(scene, frame)},
          {"gases", gasesFrom(scene, frame)},
          {"milliseconds", millisecondsFrom(stats)},
          {"bytes", {{"frame", frame.bytes()}, {"cache", cacheBytes}}},
          {"hash", hashOf(frame)}};
}

void printLine(const SceneFrame& frame) {
  const FrameStats& stats = frame.report->stats;
  fmt::print("{:>6} {:>10} {:>8} {:>8} {:>8} {:>8} {:>10.3f} {:>10} {}\n", frame.number, stats.living,
             stats.births, stats.deaths, stats.refused, hitsIn(frame), stats.allMilliseconds(), frame.bytes(),
             hashOf(frame));
}

}  // namespace

void exportData(const ExportOptions& options, Progress& progress) {
  const auto limit = options.scene.limitThreads();
  const Scene scene = options.scene.load(progress);
  DataExport wanted;
  wanted.kind = static_cast<DataKind>(std::find(kDataKinds.begin(), kDataKinds.end(), options.what) -
                                      kDataKinds.begin());
  wanted.format = options.format;
  wanted.frames = parseFrames(options.frames);
  wanted.points = options.points;
  wanted.folder = options.folder;
  wanted.stem = std::filesystem::path(options.scene.path).stem().string();
  ProgressLine line("exporting", options.scene.quiet);
  SceneRun run = options.scene.run(scene);
  const Progress steps(progress, [&line](int done, int total) { line.show(done, total); });
  comet::exportData(run, wanted, steps);
  options.scene.requireFiles(scene);
  SceneOptions::keepFrames(run);
  options.scene.reportLosses(run.lossesUntil(wanted.frames.last));
}

void stats(const StatsOptions& options, Progress& progress) {
  const auto limit = options.scene.limitThreads();
  const Scene scene = options.scene.load(progress);
  const FrameRange range = parseFrames(options.frames);
  const auto cache = std::make_shared<FrameCache>(memoryBudget(scene));
  // Nothing from the disk: it is the run that is measured.
  SceneRun run(scene, cache);
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  if (!options.json)
    fmt::print("{:>6} {:>10} {:>8} {:>8} {:>8} {:>8} {:>10} {:>10} {}\n", "frame", "living", "births",
               "deaths", "refused", "hits", "ms", "bytes", "hash");
  for (int frame = range.first; frame <= range.last; ++frame) {
    const SceneFramePtr particles = run.frame(frame, progress);
    if (options.json)
      list.push_back(jsonFrom(scene, *particles, cache->bytes()));
    else
      printLine(*particles);
  }
  options.scene.requireFiles(scene);
  if (options.json) fmt::print("{}\n", list.dump(2));
  options.scene.reportLosses(run.lossesUntil(range.last));
}

void validate(const SceneOptions& options, const Progress& progress) {
  const Scene scene = options.load(progress);
  readWholeSequences(scene, progress);
  options.requireFiles(scene);
  for (const Scene::ItemPtr& bake : scene.itemsOf(ItemFamily::Bake)) (void)layoutOf(scene, *bake);
  // A start state, say, is only looked into when its frame is planned.
  (void)options.run(scene).key(frameRange(scene).first);
  if (!options.quiet) fmt::print("{}: valid, {} items\n", options.path, scene.items().size());
}

namespace {

Preset presetNamed(const std::string& name, const FileReaderPtr& files, const Progress& progress) {
  if (const Preset* found = findBuiltInPreset(name)) return *found;
  if (std::filesystem::exists(name)) return openPreset(name, files, progress);
  std::vector<std::string> names;
  for (const Preset& preset : builtInPresets()) names.push_back(preset.name);
  throw Error(ErrorKind::Usage, "--preset " + name, "is neither a preset nor a file",
              fmt::format("There are: {}", fmt::join(names, ", ")));
}

// Seen as the first of them.
Scene sceneOfPresets(const NewOptions& options, const Progress& progress) {
  const Scene whole = startingScene();
  Scene scene = whole;
  for (const Scene::ItemPtr& item : whole.items())
    if (canBeOff(item->kind->family())) scene = scene.withoutItem(item->id);
  bool isFirst = true;
  for (const std::string& name : options.presets) {
    const Preset preset = presetNamed(name, options.files, progress);
    if (std::exchange(isFirst, false))
      scene = withCamera(scene, cameraOf(preset.scene, frameRange(preset.scene).first));
    scene = withPreset(scene, preset).scene;
  }
  return scene;
}

}  // namespace

void newScene(const NewOptions& options, Progress& progress) {
  if (!options.force && std::filesystem::exists(options.path))
    throw Error(ErrorKind::Write, options.path, "is there already", "Choose another name, or add --force");
  const Scene scene = !options.sheet.empty()     ? sceneOfSheet(options.sheet, options.files, progress)
                      : !options.demo.empty()    ? openDemo(options.demo)
                      : !options.presets.empty() ? sceneOfPresets(options, progress)
                                                 : startingScene();
  writeScene(options.path, scene);
}

}  // namespace comet::cli
