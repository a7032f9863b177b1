// The scene: an immutable value with structural sharing.
//
// An edit makes a new scene that shares all unchanged items with the old one; undo keeps the old one, and a
// background run holds the one it started from. Copying is cheap. Scenes may be read from any thread.
//
//   Scene edited = scene.withParam(emitter.id, "rate", ParamValue{240.0});
#pragma once

#include "scene/item.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace comet {

// How much an influence acts on an emitter's particles.
struct Response {
  std::optional<double> percent;   // nothing for not at all
  std::optional<Curve> overAge{};  // multiplies it over the fraction of life
  std::string formula{};           // computes the percent for each particle; empty for none

  // Whether it is more than nothing: a formula may make something of 0, but not of no response at all.
  bool acts() const { return percent && (*percent != 0 || !formula.empty()); }

  // The same course at another strength.
  Response at(std::optional<double> newPercent) const { return {newPercent, overAge, formula}; }

  bool operator==(const Response&) const = default;
};

constexpr double kFullResponse = 100.0;
constexpr double kLargestResponse = 1000.0;  // either way

struct Snapshot;  // the scene as it once was; see snapshot.h
using SnapshotPtr = std::shared_ptr<const Snapshot>;

class Scene {
 public:
  using ItemPtr = std::shared_ptr<const Item>;
  using ResponseKey = std::pair<ItemId, ItemId>;  // emitter, influence

  Scene() : responses_(std::make_shared<const std::map<ResponseKey, Response>>()) {}

  const std::vector<ItemPtr>& items() const { return items_; }
  std::vector<ItemPtr> itemsOf(ItemFamily family) const;
  // Null if there is none.
  ItemPtr find(ItemId id) const;
  ItemPtr findByName(std::string_view name) const;
  // The one item of a family that each scene has: settings, camera. A scene without it is a fault of ours.
  const Item& theOnly(ItemFamily family) const;
  const Item& settings() const { return theOnly(ItemFamily::Settings); }
  const Item& camera() const { return theOnly(ItemFamily::Camera); }

  // 100 % unless something else was set.
  Response response(ItemId emitter, ItemId influence) const;
  const std::map<ResponseKey, Response>& responses() const { return *responses_; }

  // `wanted`, or the first of "wanted 2", "wanted 3" … that no item bears yet.
  std::string freeName(const std::string& wanted) const;

  // Adds at the end. An item without id gets the next free one; the name must be free.
  Scene withAdded(Item item) const;
  // Adds `copy`, a version of an item, with an id and a name of its own and the original's responses.
  Scene withDuplicate(ItemId original, Item copy) const;
  Scene withReplaced(Item item) const;
  Scene withoutItem(ItemId id) const;
  // Moves an item to the place that `target` has now; both must be of the same family.
  Scene withMoved(ItemId id, ItemId target) const;
  Scene withParam(ItemId id, std::string_view param, ParamValue value) const;
  Scene withName(ItemId id, const std::string& name) const;
  Scene withEnabled(ItemId id, bool enabled) const;
  Scene withResponse(ItemId emitter, ItemId influence, const Response& response) const;

  // Earlier states that are kept with the scene, in the order in which they were kept.
  const std::vector<SnapshotPtr>& snapshots() const { return snapshots_; }
  Scene withSnapshots(std::vector<SnapshotPtr> snapshots) const;

  // Fields of the file that this version does not know. May be null.
  const std::shared_ptr<const nlohmann::json>& unknownFields() const { return unknownFields_; }
  Scene withUnknownFields(std::shared_ptr<const nlohmann::json> fields) const;

  bool operator==(const Scene& other) const;

 private:
  std::size_t indexOf(ItemId id) const;
  // After a change: tells all items the clock of the settings, and brings their references up to date.
  void settle();
  void setClocks();
  void setReferences();
  template <typename Change>
  Scene changed(ItemId id, const Change& change) const;

  std::vector<ItemPtr> items_;
  std::shared_ptr<const std::map<ResponseKey, Response>> responses_;
  std::vector<SnapshotPtr> snapshots_;
  std::shared_ptr<const nlohmann::json> unknownFields_;
};

// First and last frame, both included.
struct FrameRange {
  int first = 1;
  int last = 1;

  int count() const { return last - first + 1; }
  bool contains(int frame) const { return frame >= first && frame <= last; }
  bool operator==(const FrameRange&) const = default;
};

FrameRange frameRange(const Scene& scene);
// What is played of it: all, or a part.
FrameRange playedRange(const Scene& scene);
double frameRate(const Scene& scene);

}  // namespace comet
