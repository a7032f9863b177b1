#include "options.h"

#include "base/error.h"
#include "base/vector_unit.h"
#include "catalog.h"
#include "scene/override.h"
#include "scene/scene_file.h"
#include "scene/snapshot.h"
#include "scene_files.h"

#include <CLI/CLI.hpp>
#include <cctype>
#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <regex>
#include <string>
#include <utility>
#include <vector>

namespace comet::cli {

void SceneOptions::addTo(CLI::App& command, FileReaderPtr reader) {
  files = std::move(reader);
  command.add_option("SCENE", path, "the scene file")->required();
  command.add_option("--set", overrides, "ITEM.PARAM=VALUE: change a parameter for this run")
      ->expected(1)
      ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll);
  command.add_option("--snapshot", snapshot, "NAME: one of the scene's snapshots in place of the scene");
  command.add_option("--threads", threads, "how many threads to use; 0 for all")->check(CLI::Range(0, 1024));
  command.add_flag("--quiet", quiet, "no progress and no notes");
  command.add_flag("--strict", strict, "exit with 6 if births were refused or particles were lost");
  command
      .add_option("--vector-unit", vectorUnit, "limit the processor's vector instructions: best or baseline")
      ->check(CLI::IsMember({"best", "baseline"}));
}

Scene SceneOptions::load(const Progress& progress) const {
  Scene scene = readScene(path, catalog());
  if (!snapshot.empty()) scene = chosenSnapshot(scene);
  for (const std::string& assignment : overrides) scene = withOverride(scene, assignment);
  scene = withFilesRead(scene, std::filesystem::path(path).parent_path(), files, progress);
  requireFiles(scene);
  return scene;
}

Scene SceneOptions::chosenSnapshot(const Scene& scene) const {
  if (const SnapshotPtr found = findSnapshot(scene, snapshot)) return found->scene;
  std::vector<std::string> names;
  for (const SnapshotPtr& other : scene.snapshots()) names.push_back(other->name);
  throw Error(ErrorKind::Usage, "--snapshot " + snapshot, "there is no snapshot of this name",
              names.empty() ? "The scene has none" : fmt::format("There are: {}", fmt::join(names, ", ")));
}

// A picture that is not there would be missing from every result without a word.
void SceneOptions::requireFiles(const Scene& scene) const {
  if (const auto missing = missingFiles(scene); !missing.empty())
    throw Error(ErrorKind::Input, path, missing.front().message,
                "Put the file there, or name another with --set ITEM.PARAM=PATH");
}

Error SceneOptions::named(const Error& error) const {
  const bool isOfScene = error.kind() == ErrorKind::Input || error.kind() == ErrorKind::Budget;
  const bool isNamed = error.place().rfind(path, 0) == 0 || error.place().rfind("--", 0) == 0;
  return isOfScene && !isNamed ? error.within(path) : error;
}

SceneRun SceneOptions::run(const Scene& scene) const {
  std::shared_ptr<FrameCache> frames;
  return run(scene, frames);
}

SceneRun SceneOptions::run(const Scene& scene, std::shared_ptr<FrameCache>& frames) const {
  if (!frames) frames = std::make_shared<FrameCache>(0);
  frames->setBudget(memoryBudget(scene));
  frames->setStore(frameStoreOf(scene, path));
  return {scene, frames};
}

void SceneOptions::reportLosses(const Losses& losses) const {
  if (!losses.any()) return;
  std::vector<std::string> found, remedies;
  if (losses.refused > 0) {
    found.push_back(fmt::format("{} births were refused", losses.refused));
    remedies.emplace_back("raise the particle limit or lower the births");
  }
  if (losses.lost > 0) {
    found.push_back(fmt::format("{} particles were lost", losses.lost));
    remedies.emplace_back("raise Substeps or lower what drives the particles");
  }
  std::string remedy = fmt::format("{}", fmt::join(remedies, "; "));
  remedy.front() = static_cast<char>(std::toupper(remedy.front()));
  const Error error(ErrorKind::Incomplete, path, fmt::format("{}", fmt::join(found, " and ")), remedy);
  if (strict) throw error;
  fmt::print(stderr, "comet: warning: {}\n", error.what());
}

void SceneOptions::keepFrames(SceneRun& run) {
  if (const std::string problem = run.keepOnDisk(); !problem.empty())
    fmt::print(stderr, "comet: frames are not kept: {}\n", problem);
}

std::unique_ptr<ThreadLimit> SceneOptions::limitThreads() const {
  if (vectorUnit == "baseline") useBaselineVectorUnit();
  return std::make_unique<ThreadLimit>(threads);
}

FrameRange parseFrames(const std::string& text) {
  static const std::regex pattern(R"((-?\d{1,7})(?:-(-?\d{1,7}))?)");
  std::smatch match;
  if (!std::regex_match(text, match, pattern))
    throw Error(ErrorKind::Usage, "--frames " + text, "is not of the form A-B");
  FrameRange range;
  range.first = std::stoi(match[1]);
  range.last = match[2].matched ? std::stoi(match[2]) : range.first;
  if (range.last < range.first) throw Error(ErrorKind::Usage, "--frames " + text, "ends before it begins");
  return range;
}

void parseSize(const std::string& text, int& width, int& height) {
  static const std::regex pattern(R"((\d{1,5})[xX](\d{1,5}))");
  std::smatch match;
  if (!std::regex_match(text, match, pattern))
    throw Error(ErrorKind::Usage, "--size " + text, "is not of the form WxH");
  width = std::stoi(match[1]);
  height = std::stoi(match[2]);
  constexpr int kLargest = 16384;
  if (width < 1 || height < 1 || width > kLargest || height > kLargest)
    throw Error(ErrorKind::Usage, "--size " + text, "must lie between 1x1 and 16384x16384");
}

}  // namespace comet::cli
