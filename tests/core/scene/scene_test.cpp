#include "scene/scene.h"

#include "base/error.h"
#include "scene/override.h"
#include "scene/scene_file.h"
#include "support/scenes.h"

#include <gmock/gmock.h>
#include <rapidcheck.h>
#include <set>

namespace comet {
namespace {

using test::starting;
using test::with;
using test::withInfluence;

TEST(Scene, EditsLeaveTheOldSceneAndShareTheRest) {
  const Scene before = starting();
  const Scene after = with(before, {"emitter.rate=7"});
  EXPECT_EQ(before.findByName("emitter")->number("rate", 1), 120);
  EXPECT_EQ(after.findByName("emitter")->number("rate", 1), 7);
  EXPECT_EQ(before.findByName("camera"), after.findByName("camera")) << "an unchanged item was copied";
  EXPECT_NE(before, after);
  EXPECT_EQ(with(after, {"emitter.rate=120"}), before);
}

TEST(Scene, IdsAreNeverShared) {
  Scene scene = starting();
  for (int i = 0; i < 5; ++i)
    scene = scene.withAdded(newItem(*catalog().find("emitter"), scene.freeName("emitter")));
  std::vector<ItemId> ids;
  for (const auto& item : scene.items()) ids.push_back(item->id);
  std::sort(ids.begin(), ids.end());
  EXPECT_EQ(std::adjacent_find(ids.begin(), ids.end()), ids.end());
  EXPECT_TRUE(scene.findByName("emitter 6"));
}

TEST(Scene, ResponsesAreFullUntilSetAndGoWithTheirItems) {
  Scene scene = withInfluence(starting(), "gravity");
  const ItemId emitter = scene.findByName("emitter")->id, gravity = scene.findByName("gravity")->id;
  EXPECT_EQ(scene.response(emitter, gravity), Response{100});
  scene = scene.withResponse(emitter, gravity, {35});
  EXPECT_EQ(scene.response(emitter, gravity), Response{35});
  EXPECT_EQ(scene.withResponse(emitter, gravity, {}).response(emitter, gravity), Response{});
  EXPECT_TRUE(scene.withoutItem(gravity).responses().empty());
  EXPECT_TRUE(scene.withoutItem(emitter).responses().empty());
}

TEST(Scene, MovingAnItemChangesOnlyTheOrder) {
  Scene scene = withInfluence(withInfluence(withInfluence(starting(), "gravity"), "wind"), "drag");
  const auto names = [](const Scene& s) {
    std::vector<std::string> list;
    for (const auto& item : s.itemsOf(ItemFamily::Influence)) list.push_back(item->name);
    return list;
  };
  const auto id = [&](const char* name) { return scene.findByName(name)->id; };
  EXPECT_THAT(names(scene.withMoved(id("gravity"), id("drag"))),
              testing::ElementsAre("wind", "drag", "gravity"));
  EXPECT_THAT(names(scene.withMoved(id("drag"), id("gravity"))),
              testing::ElementsAre("drag", "gravity", "wind"));
}

TEST(Item, ConditionsFollowTheChoices) {
  const Scene scene = starting();
  const Item& point = *scene.findByName("emitter");
  EXPECT_FALSE(point.applies(point.kind->indexOf("radius")));
  const Scene ring = with(scene, {"emitter.shape=ring"});
  EXPECT_TRUE(ring.findByName("emitter")->applies(point.kind->indexOf("radius")));
}

TEST(Override, UnderstandsEachForm) {
  const Scene scene =
      with(starting(), {"emitter.speed=4±1.5", "emitter.position=1,-2,3e1", "emitter.shape=box",
                        "emitter.lifetime=2+-0.5", "emitter.size={\"value\":3}"});
  const Item& emitter = *scene.findByName("emitter");
  EXPECT_EQ(emitter.number("speed", 1), 4);
  EXPECT_EQ(emitter.value("speed").variation, 1.5);
  EXPECT_EQ(emitter.value("lifetime").variation, 0.5);
  EXPECT_EQ(emitter.vector("position", 1), Vec3d(1, -2, 30));
  EXPECT_EQ(emitter.choice("shape"), "box");
  EXPECT_EQ(emitter.number("size", 1), 3);
  EXPECT_TRUE(emitter.value("size").overAge) << "the course over age must stay";
}

TEST(Override, SaysWhatIsWrong) {
  const auto messageFor = [](const std::string& assignment) {
    try {
      (void)withOverride(starting(), assignment);
    } catch (const Error& error) {
      EXPECT_EQ(error.kind(), ErrorKind::Usage);
      return std::string(error.what());
    }
    return std::string("no error");
  };
  EXPECT_THAT(messageFor("emitter.rate"), testing::HasSubstr("ITEM.PARAM=VALUE"));
  EXPECT_THAT(messageFor("funnel.rate=1"), testing::HasSubstr("The scene has: scene, camera, emitter"));
  EXPECT_THAT(messageFor("emitter.rat=1"), testing::HasSubstr("no parameter \"rat\""));
  EXPECT_THAT(messageFor("emitter.rate=many"), testing::HasSubstr("is not a number"));
  EXPECT_THAT(messageFor("emitter.rate=-1"), testing::HasSubstr("between 0 and"));
  EXPECT_THAT(messageFor("emitter.shape=cube"), testing::HasSubstr("point, line, ring"));
  EXPECT_THAT(messageFor("emitter.position=1,2"), testing::HasSubstr("three numbers"));
}

TEST(Names, CannotConfuseACommandLine) {
  EXPECT_EQ(problemWithName("funnel sparks"), "");
  for (const char* bad : {"", "a.b", "a=b", "a/b", " a", "a "}) EXPECT_NE(problemWithName(bad), "") << bad;
}

// After any sequence of edits a scene still is one: unique names and ids, no response of what is gone, and
// what it holds survives its file.
TEST(Scene, StaysWholeUnderAnyEdits) {
  EXPECT_TRUE(rc::check([](const std::vector<unsigned>& moves) {
    Scene scene = starting();
    for (const unsigned move : moves) {
      const auto& items = scene.items();
      const Scene::ItemPtr item = items[move / 8 % items.size()];
      const ItemFamily family = item->kind->family();
      const bool isSingle = family == ItemFamily::Settings || family == ItemFamily::Camera;
      switch (move % 8) {
        case 0:
        case 1: {
          const auto& kinds = catalog().kinds();
          const KindSpec& kind = *kinds[move / 64 % kinds.size()];
          if (kind.family() != ItemFamily::Settings && kind.family() != ItemFamily::Camera)
            scene = scene.withAdded(newItem(kind, scene.freeName(kind.id())));
          break;
        }
        case 2:
          if (!isSingle) scene = scene.withoutItem(item->id);
          break;
        case 3:
          scene = scene.withEnabled(item->id, !item->enabled);
          break;
        case 4:
          scene = scene.withName(item->id, scene.freeName("renamed"));
          break;
        case 5:
          for (const auto& emitter : scene.itemsOf(ItemFamily::Emitter))
            if (family == ItemFamily::Influence)
              scene = scene.withResponse(emitter->id, item->id, {move % 300 - 100.0});
          break;
        case 6: {
          const auto same = scene.itemsOf(family);
          scene = scene.withMoved(item->id, same[move / 64 % same.size()]->id);
          break;
        }
        default:
          break;
      }
    }
    std::set<ItemId> ids;
    std::set<std::string> names;
    for (const auto& item : scene.items()) {
      RC_ASSERT(ids.insert(item->id).second);
      RC_ASSERT(names.insert(item->name).second);
    }
    for (const auto& [key, response] : scene.responses())
      RC_ASSERT(ids.count(key.first) && ids.count(key.second));
    RC_ASSERT(sceneFromText(textFromScene(scene), catalog()) == scene);
  }));
}

TEST(Item, AVectorNamesTheComponentsThatCount) {
  const Scene scene = test::starting();
  const auto axesOf = [](const Scene& of) {
    const Item& emitter = *of.findByName("emitter");
    return emitter.axes(emitter.kind->indexOf("extent"));
  };
  EXPECT_EQ(axesOf(test::with(scene, {"emitter.shape=line"})), "x");
  EXPECT_EQ(axesOf(test::with(scene, {"emitter.shape=rectangle"})), "xz");
  EXPECT_EQ(axesOf(test::with(scene, {"emitter.shape=box"})), "xyz");
}

TEST(Item, AParameterMayApplyWhileANumberIsPositive) {
  const auto applies = [](const Scene& scene) {
    const Item& emitter = *scene.findByName("emitter");
    return emitter.applies(emitter.kind->indexOf("wander_rate"));
  };
  const Scene still = test::with(test::starting(), {"emitter.wander=0"});
  EXPECT_FALSE(applies(still));
  EXPECT_TRUE(applies(test::with(still, {"emitter.wander=0.5"})));
  EXPECT_TRUE(applies(test::with(
      still, {R"(emitter.wander={"value":0,"keys":[{"frame":1,"value":0},{"frame":9,"value":2}]})"})));
}

}  // namespace
}  // namespace comet
