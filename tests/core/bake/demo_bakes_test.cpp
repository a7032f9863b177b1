// Every demo scene has bakes, and they bake: small, and with a few of their frames.
#include "bake/checks/bake_check.h"
#include "demos.h"
#include "scene_files.h"
#include "support/scenes.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

class DemoBakes : public testing::TestWithParam<std::string> {};

TEST_P(DemoBakes, ShowSomethingInEveryCell) {
  Scene scene = openDemo(GetParam());
  ASSERT_FALSE(scene.itemsOf(ItemFamily::Bake).empty());
  for (const Scene::ItemPtr& bake : scene.itemsOf(ItemFamily::Bake)) {
    const std::string name = bake->name + ".";
    Scene small =
        test::with(scene, {name + "cell_width=24", name + "cell_height=24", name + "supersampling=1"});
    // Up to two seconds of it: what costs time here is the simulation.
    if (!bake->chooses("loop", "exact")) {
      const int last = std::min(bake->integer("last", 0), bake->integer("first", 0) + 48);
      small = test::with(small, {name + "last=" + std::to_string(last)});
    }
    SceneRun run(small, test::roomyCache());
    const Flipbook book = bakeFlipbook(run, flipbookLayout(small, *small.findByName(bake->name)), Progress());
    EXPECT_GE(book.cells.size(), 4U);
    std::size_t seen = 0;
    for (const CellFacts& cell : book.cells) seen += cell.energy > 0 ? 1 : 0;
    EXPECT_GE(seen + 2, book.cells.size()) << bake->name;
    EXPECT_FALSE(book.layout.loop == LoopKind::Exact && !book.isExact) << book.loopProblem;
  }
}

std::vector<std::string> names() {
  std::vector<std::string> all;
  for (const Demo& demo : demos()) all.emplace_back(demo.name);
  return all;
}

INSTANTIATE_TEST_SUITE_P(All, DemoBakes, testing::ValuesIn(names()),
                         [](const auto& made) { return made.param; });

}  // namespace
}  // namespace comet
