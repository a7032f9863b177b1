#include "scene/item_reference.h"

#include "base/error.h"
#include "scene/scene_file.h"
#include "support/scenes.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

using test::starting;
using test::with;
using test::withChild;
using ::testing::HasSubstr;

// emitter → child → grandchild.
Scene family() {
  return withChild(withChild(starting(), "parent_birth", {}), "parent_birth", {}, "grandchild", "child");
}

std::string sourceOf(const Scene& scene, const char* name) {
  return std::get<ItemRef>(scene.findByName(name)->value("parent").base).name;
}

std::string problemOf(const std::function<void()>& act) {
  try {
    act();
  } catch (const Error& error) {
    return error.what();
  }
  return "";
}

TEST(ItemReference, FollowsARenamingAndEndsWithItsItem) {
  const Scene scene = family();
  const ItemId emitter = scene.findByName("emitter")->id;
  const Scene renamed = scene.withName(emitter, "pods");
  EXPECT_EQ(sourceOf(renamed, "child"), "pods");
  EXPECT_EQ(renamed.findByName("child")->reference("parent"), emitter);
  const Scene removed = scene.withoutItem(emitter);
  EXPECT_EQ(sourceOf(removed, "child"), "");
  EXPECT_EQ(sourceOf(removed, "grandchild"), "child");
  EXPECT_EQ(sourceOf(scene, "child"), "emitter") << "the scene before was changed";
}

TEST(ItemReference, SurvivesTheFileAlsoBeforeTheItemThatItNames) {
  const Scene scene = family();
  const Scene moved = scene.withMoved(scene.findByName("grandchild")->id, scene.findByName("emitter")->id);
  const Scene read = sceneFromText(textFromScene(moved), catalog());
  EXPECT_EQ(read, moved);
  EXPECT_EQ(read.findByName("grandchild")->reference("parent"), read.findByName("child")->id);
}

TEST(ItemReference, ListsWhatMayBeNamed) {
  const Scene scene = family();
  const auto namesFor = [&](const char* name) {
    const Item& item = *scene.findByName(name);
    std::vector<std::string> names;
    for (const Scene::ItemPtr& other : referable(scene, item, item.kind->indexOf("parent")))
      names.push_back(other->name);
    return names;
  };
  EXPECT_THAT(namesFor("emitter"), ::testing::IsEmpty()) << "its descendants would form a cycle";
  EXPECT_THAT(namesFor("child"), ::testing::ElementsAre("emitter"));
  EXPECT_THAT(namesFor("grandchild"), ::testing::ElementsAre("emitter", "child"));
}

TEST(ItemReference, CirclesAreRefusedWithTheReason) {
  EXPECT_THAT(problemOf([] {
                with(family(), {"emitter.birth_trigger=parent_birth", "emitter.parent=grandchild"});
              }),
              HasSubstr("form a cycle"));
  EXPECT_THAT(problemOf([] { with(family(), {"child.parent=child"}); }), HasSubstr("to itself"));
  std::string text = textFromScene(with(family(), {"emitter.birth_trigger=parent_birth"}));
  const std::string own = "\"birth_trigger\": \"parent_birth\"";
  text.replace(text.find(own), own.size(), own + R"(, "parent": "grandchild")");
  EXPECT_THAT(problemOf([&] { sceneFromText(text, catalog()); }), HasSubstr("/items/2/params/parent"));
}

TEST(ItemReference, WhatIsNotThereIsRefused) {
  EXPECT_THAT(problemOf([] { with(family(), {"child.parent=nobody"}); }), HasSubstr("\"nobody\""));
  EXPECT_THAT(problemOf([] { with(family(), {"child.parent=camera"}); }), HasSubstr("no emitter"));
  std::string text = textFromScene(family());
  const std::string named = R"("parent": "child")";
  text.replace(text.find(named), named.size(), R"("parent": "lost")");
  EXPECT_THAT(problemOf([&] { sceneFromText(text, catalog()); }), HasSubstr("/items/5/params/parent"));
}

TEST(ItemReference, AFlockThatFollowsHasNoPlaceOfItsOwnAndCannotFollowItself) {
  Scene scene = with(test::withInfluence(starting(), "flock"), {"flock.target=seek"});
  const auto hasPlace = [](const Scene& edited) {
    const Item& flock = *edited.findByName("flock");
    return flock.applies(flock.kind->indexOf("position"));
  };
  EXPECT_TRUE(hasPlace(scene));
  EXPECT_FALSE(hasPlace(with(scene, {"flock.follow=emitter"})));
  EXPECT_THAT(problemOf([&] { (void)with(scene, {"flock.follow=flock"}); }),
              HasSubstr("cannot follow itself"));
}

}  // namespace
}  // namespace comet
