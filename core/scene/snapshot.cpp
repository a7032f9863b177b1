#include "scene/snapshot.h"

#include "base/error.h"

#include <algorithm>
#include <fmt/format.h>

namespace comet {
namespace {

std::string freeSnapshotName(const Scene& scene, const std::string& wanted) {
  std::string name = wanted;
  for (int number = 2; findSnapshot(scene, name); ++number) name = fmt::format("{} {}", wanted, number);
  return name;
}

}  // namespace

std::string problemWithSnapshotName(std::string_view name) {
  if (name.empty()) return "must not be empty";
  if (name.size() > kMaxSnapshotName) return fmt::format("is longer than {} bytes", kMaxSnapshotName);
  return {};
}

SnapshotPtr findSnapshot(const Scene& scene, std::string_view name) {
  for (const SnapshotPtr& snapshot : scene.snapshots())
    if (snapshot->name == name) return snapshot;
  return nullptr;
}

Scene withSnapshot(const Scene& scene, const std::string& name, std::string picture) {
  std::vector<SnapshotPtr> snapshots = scene.snapshots();
  if (snapshots.size() >= kMaxSnapshots)
    throw Error(ErrorKind::Usage, "snapshots", fmt::format("a scene keeps {} at the most", kMaxSnapshots),
                "Delete one that is not needed any more");
  snapshots.push_back(std::make_shared<const Snapshot>(
      Snapshot{freeSnapshotName(scene, name), scene.withSnapshots({}), std::move(picture)}));
  return scene.withSnapshots(std::move(snapshots));
}

Scene withoutSnapshot(const Scene& scene, const SnapshotPtr& snapshot) {
  std::vector<SnapshotPtr> snapshots = scene.snapshots();
  snapshots.erase(std::remove(snapshots.begin(), snapshots.end(), snapshot), snapshots.end());
  return scene.withSnapshots(std::move(snapshots));
}

Scene withRenamedSnapshot(const Scene& scene, const SnapshotPtr& snapshot, const std::string& name) {
  Snapshot renamed = *snapshot;
  renamed.name = freeSnapshotName(withoutSnapshot(scene, snapshot), name);
  std::vector<SnapshotPtr> snapshots = scene.snapshots();
  std::replace(snapshots.begin(), snapshots.end(), snapshot,
               std::make_shared<const Snapshot>(std::move(renamed)));
  return scene.withSnapshots(std::move(snapshots));
}

Scene restored(const Scene& scene, const Snapshot& snapshot) {
  return snapshot.scene.withSnapshots(scene.snapshots());
}

}  // namespace comet
