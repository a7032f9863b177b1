// Snapshots: a scene as it once was, kept with it, to compare with and to go back to.
#pragma once

#include "scene/scene.h"

#include <string>
#include <string_view>

namespace comet {

struct Snapshot {
  std::string name;     // of its own among the scene's
  Scene scene;          // without snapshots
  std::string picture;  // a PNG file's bytes, to know it by; empty for none

  bool operator==(const Snapshot&) const = default;
};

constexpr std::size_t kMaxSnapshots = 64;
constexpr std::size_t kMaxSnapshotName = 64;          // bytes
constexpr std::size_t kMaxSnapshotPicture = 1 << 20;  // bytes

// What is wrong with a name; empty if it is good.
std::string problemWithSnapshotName(std::string_view name);

// Null if there is none of this name.
SnapshotPtr findSnapshot(const Scene& scene, std::string_view name);

// Keeps the scene as it is. Takes the name, or the first of "name 2", "name 3" … that is free. Throws
// Error(Usage) if there are as many as there may be.
Scene withSnapshot(const Scene& scene, const std::string& name, std::string picture);
Scene withoutSnapshot(const Scene& scene, const SnapshotPtr& snapshot);
// As withSnapshot, a name that is taken is made another one.
Scene withRenamedSnapshot(const Scene& scene, const SnapshotPtr& snapshot, const std::string& name);

// As the scene was then; all snapshots stay.
Scene restored(const Scene& scene, const Snapshot& snapshot);

}  // namespace comet
