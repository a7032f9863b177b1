// Options that every subcommand which reads a scene understands.
#pragma once

#include "base/error.h"
#include "base/parallel.h"
#include "cache/scene_run.h"
#include "readers/file_reader.h"
#include "scene/scene.h"

#include <memory>
#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace comet::cli {

struct SceneOptions {
  std::string path;
  std::string snapshot;  // the name of the one to work on; empty for the scene as it is
  std::vector<std::string> overrides;
  int threads = 0;
  bool quiet = false;
  bool strict = false;
  std::string vectorUnit = "best";

  FileReaderPtr files;

  void addTo(CLI::App& command, FileReaderPtr reader);
  // Reads the scene, or one of its snapshots, with its files and applies the overrides. Throws Error.
  Scene load(const Progress& progress) const;
  // Throws Error(Input) if a file of the scene could not be read; asked again when a command is done, since
  // pictures of a sequence are read as they are wanted.
  void requireFiles(const Scene& scene) const;
  // Its frames, with those that it keeps on disk.
  SceneRun run(const Scene& scene) const;
  // With those in `frames` too, which is made if there is none.
  SceneRun run(const Scene& scene, std::shared_ptr<FrameCache>& frames) const;
  // Calls what works on the scene; what is wrong with it is said with the scene's path.
  template <typename Work>
  void inScene(const Work& work) const {
    try {
      work();
    } catch (const Error& error) {
      throw named(error);
    }
  }
  // Says on the error stream what a run has lost up to a frame. Throws Error(Incomplete) where it is strict:
  // ask when all is written.
  void reportLosses(const Losses& losses) const;
  // Keeps them, and says so on the error stream where that fails: results are no worse for it.
  static void keepFrames(SceneRun& run);
  // The limits that hold while a command runs.
  std::unique_ptr<ThreadLimit> limitThreads() const;

 private:
  Error named(const Error& error) const;
  Scene chosenSnapshot(const Scene& scene) const;
};

// "A-B" or "A"; negative frames are allowed ("-3-4" is from -3 to 4). Throws Error(Usage).
FrameRange parseFrames(const std::string& text);
// "WxH". Throws Error(Usage).
void parseSize(const std::string& text, int& width, int& height);

}  // namespace comet::cli
