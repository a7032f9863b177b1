#include "scene/snapshot.h"

#include "base/error.h"
#include "scene/scene_change.h"
#include "scene/scene_file.h"
#include "scene_files.h"
#include "support/scenes.h"

#include <functional>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using nlohmann::json;
using testing::HasSubstr;

TEST(Snapshot, BringsBackTheSceneAndStaysItself) {
  const Scene before = test::with(test::busyScene(), {"scene.seed=3"});
  const Scene kept = withSnapshot(before, "calm", "a picture");
  ASSERT_EQ(kept.snapshots().size(), 1U);
  EXPECT_EQ(kept.snapshots().front()->scene, before);
  EXPECT_FALSE(changeBetween(before, kept).any()) << "nothing of it is simulated or drawn anew";
  const Scene edited = kept.withoutItem(kept.itemsOf(ItemFamily::Emitter).front()->id);
  const Scene back = restored(edited, *findSnapshot(edited, "calm"));
  EXPECT_EQ(back.withSnapshots({}), before);
  EXPECT_EQ(back.snapshots(), kept.snapshots());
  EXPECT_EQ(withoutSnapshot(back, back.snapshots().front()), before);
}

// Or a scene would grow with the square of its snapshots.
TEST(Snapshot, HoldsNoneOfTheOthers) {
  const Scene two = withSnapshot(withSnapshot(test::starting(), "a", {}), "b", {});
  EXPECT_TRUE(two.snapshots()[1]->scene.snapshots().empty());
}

TEST(Snapshot, NamesAreTheirOwn) {
  Scene scene = withSnapshot(withSnapshot(test::starting(), "Snapshot", {}), "Snapshot", {});
  EXPECT_EQ(scene.snapshots()[1]->name, "Snapshot 2");
  scene = withRenamedSnapshot(scene, scene.snapshots()[1], "Snapshot");
  EXPECT_EQ(scene.snapshots()[1]->name, "Snapshot 2");
  scene = withRenamedSnapshot(scene, scene.snapshots()[1], "gale");
  EXPECT_EQ(findSnapshot(scene, "gale"), scene.snapshots()[1]);
  EXPECT_EQ(findSnapshot(scene, "Snapshot 2"), nullptr);
}

TEST(Snapshot, ThereAreNotMoreThanMayBe) {
  Scene scene = test::starting();
  for (std::size_t i = 0; i < kMaxSnapshots; ++i) scene = withSnapshot(scene, "s", {});
  EXPECT_THROW(static_cast<void>(withSnapshot(scene, "s", {})), Error);
}

TEST(Snapshot, IsInTheSceneFileWithAllThatItHolds) {
  Scene scene =
      withSnapshot(test::with(test::busyScene(), {"scene.seed=3"}), "calm", std::string("\0\xFFpng", 5));
  scene = test::with(withSnapshot(scene, "gale", {}), {"scene.seed=4"});
  const std::string text = textFromScene(scene);
  const Scene read = sceneFromText(text, catalog());
  EXPECT_EQ(read, scene);
  EXPECT_EQ(read.snapshots()[0]->picture, scene.snapshots()[0]->picture);
  EXPECT_NE(read.snapshots()[0]->scene, read.withSnapshots({}));
  EXPECT_EQ(textFromScene(read), text);
}

// What a later version may add to a snapshot is not lost.
TEST(Snapshot, UnknownFieldsAreKept) {
  json file = json::parse(textFromScene(withSnapshot(test::starting(), "calm", {})));
  file["snapshots"][0]["weather"] = "mist";
  file["sky"] = "grey";
  const json again = json::parse(textFromScene(sceneFromText(file.dump(), catalog())));
  EXPECT_EQ(again["snapshots"][0]["weather"], "mist");
  EXPECT_EQ(again["sky"], "grey");
  EXPECT_FALSE(again.contains("weather"));
}

std::string messageFor(const std::function<void(json& snapshots)>& change) {
  json file = json::parse(textFromScene(withSnapshot(withSnapshot(test::busyScene(), "a", "x"), "b", {})));
  change(file["snapshots"]);
  try {
    static_cast<void>(sceneFromText(file.dump(), catalog()));
  } catch (const Error& error) {
    return error.what();
  }
  return "no error";
}

TEST(Snapshot, FaultsOfAFileAreNamedByTheirPlace) {
  EXPECT_EQ(messageFor([](json&) {}), "no error");
  EXPECT_THAT(messageFor([](json& list) { list = 3; }), HasSubstr("/snapshots: must be a list"));
  EXPECT_THAT(messageFor([](json& list) { list[1] = 3; }), HasSubstr("/snapshots/1: must be an object"));
  EXPECT_THAT(messageFor([](json& list) { list[1].erase("name"); }), HasSubstr("/snapshots/1"));
  EXPECT_THAT(messageFor([](json& list) { list[1]["name"] = "a"; }),
              HasSubstr("/snapshots/1/name: \"a\" is the name of two snapshots"));
  EXPECT_THAT(messageFor([](json& list) { list[1]["name"] = ""; }), HasSubstr("/snapshots/1/name"));
  EXPECT_THAT(messageFor([](json& list) { list[0]["picture"] = "%%%"; }),
              HasSubstr("/snapshots/0/picture: is not base64"));
  EXPECT_THAT(messageFor([](json& list) { list[1]["items"][0]["kind"] = "marble"; }),
              HasSubstr("/snapshots/1/items/0/kind: \"marble\" is not known"));
  EXPECT_THAT(messageFor([](json& list) { list[1]["responses"]["nobody"] = json::object(); }),
              HasSubstr("/snapshots/1/responses/nobody"));
}

TEST(Snapshot, FilesAreReadOnceForAll) {
  const Scene scene = withSnapshot(openDemo("lantern_moths").withSnapshots({}), "calm", {});
  const Scene read = withFilesRead(sceneFromText(textFromScene(scene), catalog()), {}, nullptr);
  const auto contentOf = [](const Scene& of) {
    return std::get<FileRef>(of.camera().value("backdrop").base).content;
  };
  ASSERT_NE(contentOf(read), nullptr);
  EXPECT_EQ(contentOf(read.snapshots().front()->scene), contentOf(read));
  EXPECT_TRUE(missingFiles(read.snapshots().front()->scene).empty());
}

}  // namespace
}  // namespace comet
