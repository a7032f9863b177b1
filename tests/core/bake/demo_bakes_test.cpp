// Every demo scene has bakes, and they bake: small, and with a few of their frames.
#include "bake/checks/bake_check.h"
#include "base/quantile.h"
#include "demos.h"
#include "scene_files.h"
#include "simulation/gas/gas_kind.h"
#include "support/scenes.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

class DemoBakes : public testing::TestWithParam<std::string> {};

TEST_P(DemoBakes, ShowSomethingInEveryCell) {
  // Gas in the voxels of the viewport: what costs time here is the simulation.
  const Scene scene = atPreviewResolution(openDemo(GetParam()));
  ASSERT_FALSE(scene.itemsOf(ItemFamily::Bake).empty());
  for (const Scene::ItemPtr& bake : scene.itemsOf(ItemFamily::Bake)) {
    const std::string name = bake->name + ".";
    Scene small =
        test::with(scene, {name + "cell_width=24", name + "cell_height=24", name + "supersampling=1"});
    // Up to two seconds of it.
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

// The loop that is found in a fire, whose frames never come again.
TEST(DemoLoop, TheSeamOfTheFireIsAtMostTwiceItsUsualChange) {
  const Scene scene =
      test::with(atPreviewResolution(openDemo("beacon_brazier")),
                 {"beacon brazier.find_loop=true", "beacon brazier.frame_range=scene",
                  "beacon brazier.cell_width=48", "beacon brazier.cell_height=48", "beacon brazier.columns=6",
                  "beacon brazier.rows=7", "beacon brazier.supersampling=1"});
  SceneRun run(scene, test::roomyCache());
  const Scene::ItemPtr bake = scene.findByName("beacon brazier");
  const Flipbook book = bakeFlipbook(run, flipbookLayout(scene, *bake), Progress());
  ASSERT_EQ(book.cells.size(), 42U) << "all cells are filled";
  std::vector<double> changes;
  for (const CellFacts& cell : book.cells) changes.push_back(cell.change);
  const double usual = quantile(changes, 0.5);
  for (std::size_t i = 42 - 12; i < 42; ++i) EXPECT_LE(changes[i], 2 * usual) << "from cell " << i;
  EXPECT_GE(book.layout.firstFrame, 13) << "what fades in lies within the scene";
  for (const Finding& finding : checkBake(book, scene)) EXPECT_NE(finding.check, "seam") << finding.text;
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
