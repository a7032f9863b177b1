// What finished frames show on disk, found by the same keys as those in memory.
//
// A file is only believed if its content has the digest that it was written with, and its key is the one that
// is asked for; anything else in the folder is left alone. Safe to use from several processes: files are
// written under another name first.
#pragma once

#include "base/digest.h"
#include "simulation/frame/scene_frame.h"

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>

namespace comet {

class Scene;

class FrameStore {
 public:
  // The folder is made when the first frame is written.
  explicit FrameStore(std::filesystem::path folder) : folder_(std::move(folder)) {}

  const std::filesystem::path& folder() const { return folder_; }

  // As the frame of this number. Null if it is not there or cannot be believed; a file that cannot is
  // removed.
  SceneFramePtr read(const Digest& key, int number) const;
  // Whether there is a file for it, whatever it holds.
  bool contains(const Digest& key) const;
  // Throws Error(Write).
  void write(const Digest& key, const SceneFrame& frame) const;

  // Removes frames that were not used for so long, then the longest unused until the rest has no more than so
  // many bytes.
  void cleanUp(std::uintmax_t maxBytes, std::chrono::hours longestUnused) const;

 private:
  std::filesystem::path fileOf(const Digest& key) const;

  std::filesystem::path folder_;
};

// Cleans up as the scene's settings say.
void cleanUp(const FrameStore& store, const Scene& scene);

// Where the scene keeps its frames: beside its file, if it wants to keep any; otherwise null.
std::shared_ptr<const FrameStore> frameStoreOf(const Scene& scene, const std::filesystem::path& sceneFile);

}  // namespace comet
