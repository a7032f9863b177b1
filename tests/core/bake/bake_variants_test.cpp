#include "bake/bake_variants.h"

#include "bake/bake_sheet.h"
#include "bake/flipbook_file.h"
#include "bake/framing.h"
#include "base/error.h"
#include "base/file.h"
#include "support/files.h"
#include "support/scenes.h"

#include <gmock/gmock.h>
#include <nlohmann/json.hpp>
#include <set>

namespace comet {
namespace {

using test::starting;
using test::with;

// Two rows of three small cells.
Scene smallScene() {
  return with(starting(), {"flipbook.cell_width=40", "flipbook.cell_height=32", "flipbook.columns=3",
                           "flipbook.rows=2", "flipbook.first=8", "flipbook.step=4", "flipbook.last=28",
                           "emitter.size=0.6", "emitter.cone=40"});
}

const Item& bakeIn(const Scene& scene) { return *scene.findByName("flipbook"); }

Flipbook baked(const Scene& scene) {
  SceneRun run(scene, test::roomyCache());
  return bakeFlipbook(run, flipbookLayout(scene, bakeIn(scene)), Progress());
}

std::vector<Picture> cellsOf(const Flipbook& book, std::size_t first, std::size_t count) {
  std::vector<Picture> cells;
  for (std::size_t i = first; i < first + count; ++i) cells.push_back(cellOf(book.color, book.layout, i));
  return cells;
}

TEST(BakeVariants, EachIsWhatItsSeedsBakeAlone) {
  const Scene scene = smallScene();
  const Flipbook all = baked(with(scene, {"flipbook.variants=seeds", "flipbook.variant_count=3"}));
  ASSERT_EQ(all.layout.cells.size(), 18U);
  EXPECT_EQ(all.layout.height(), 3 * 2 * 32);
  for (int variant = 0; variant < 3; ++variant) {
    const Flipbook alone = baked(withSeedsRaised(scene, variant));
    EXPECT_TRUE(cellsOf(all, static_cast<std::size_t>(6 * variant), 6) == cellsOf(alone, 0, 6)) << variant;
  }
  EXPECT_FALSE(cellsOf(all, 0, 6) == cellsOf(all, 6, 6)) << "the seeds differ";
}

TEST(BakeVariants, EachIsWhatItsValueBakesAlone) {
  const Scene scene = smallScene();
  const Flipbook all = baked(with(scene, {"flipbook.variants=values", "flipbook.varied=emitter.speed=1, 3"}));
  EXPECT_THAT(all.layout.variants, testing::ElementsAre("Speed 1 units/s", "Speed 3 units/s"));
  EXPECT_TRUE(cellsOf(all, 0, 6) == cellsOf(baked(with(scene, {"emitter.speed=1"})), 0, 6));
  EXPECT_TRUE(cellsOf(all, 6, 6) == cellsOf(baked(with(scene, {"emitter.speed=3"})), 0, 6));
  // What a cell changes by is told within its variant.
  EXPECT_DOUBLE_EQ(all.cells[11].change, baked(with(scene, {"emitter.speed=3"})).cells[5].change);
}

TEST(BakeVariants, EverySeedIsRaisedAndWithItEveryKey) {
  Scene scene = test::withInfluence(smallScene(), "turbulence", {"turbulence.seed=7"});
  ParamValue keyed;
  keyed.base = 2.0;
  keyed.keys = {{1, 2.0}, {10, 5.0}};
  scene = scene.withParam(scene.findByName("emitter")->id, "seed", keyed);
  const Scene raised = withSeedsRaised(scene, 3);
  EXPECT_EQ(raised.settings().number("seed", 1), scene.settings().number("seed", 1) + 3);
  EXPECT_EQ(raised.findByName("turbulence")->number("seed", 1), 10);
  EXPECT_EQ(raised.findByName("emitter")->number("seed", 1), 5);
  EXPECT_EQ(raised.findByName("emitter")->number("seed", 10), 8);
  EXPECT_TRUE(withSeedsRaised(scene, 0) == scene);
}

// In any order of cells, no two cells share a place, and a variant's follow each other.
TEST(BakeVariants, HaveAPlaceForEachCell) {
  for (const char* order : {"rows_from_top_left", "rows_from_bottom_left", "columns_from_top_left"}) {
    const Scene scene = with(smallScene(), {"flipbook.variants=seeds", "flipbook.last=24",
                                            std::string("flipbook.order=") + order});
    const FlipbookLayout layout = flipbookLayout(scene, bakeIn(scene));
    ASSERT_EQ(layout.cellsEach(), 5U);
    std::set<std::pair<int, int>> places;
    for (std::size_t i = 0; i < layout.cells.size(); ++i) {
      EXPECT_EQ(layout.cells[i].variant, i / 5);
      places.insert({layout.columnOf(i), layout.rowOf(i)});
      EXPECT_LT(layout.columnOf(i), 3) << order;
      EXPECT_LT(layout.rowOf(i), 8) << order;
      // As a game counts: so many places for each.
      const CellPlace place = cellPlace(static_cast<int>(i / 5 * 6 + i % 5), 3, 8, layout.order);
      EXPECT_EQ(std::pair(layout.columnOf(i), layout.rowOf(i)), std::pair(place.column, place.row));
    }
    EXPECT_EQ(places.size(), 20U) << order;
    EXPECT_EQ(layout.following(4), 0U);
    EXPECT_EQ(layout.following(7), 8U);
    EXPECT_EQ(layout.following(9), 5U);
  }
}

TEST(BakeVariants, ShareTheFramesThatAnyOfThemNeeds) {
  // A burst that lives shortly, or long.
  const Scene scene =
      with(test::oneBurst(60), {"emitter.speed=1", "emitter.size=0.5", "emitter.lifetime=0.5",
                                "flipbook.frame_choice=time", "flipbook.frame_range=scene",
                                "flipbook.trim=true", "flipbook.cell_width=24", "flipbook.cell_height=24"});
  const int shortEnd = baked(scene).layout.lastFrame;
  const int longEnd = baked(with(scene, {"emitter.lifetime=2"})).layout.lastFrame;
  ASSERT_LT(shortEnd + 10, longEnd);
  const Flipbook both =
      baked(with(scene, {"flipbook.variants=values", "flipbook.varied=emitter.lifetime=0.5,2"}));
  EXPECT_EQ(both.layout.lastFrame, longEnd);
  for (std::size_t i = 0; i < both.layout.cellsEach(); ++i)
    EXPECT_EQ(both.layout.cells[i].frame, both.layout.cells[i + both.layout.cellsEach()].frame);
}

TEST(BakeVariants, AreAllWithinTheFittedView) {
  Scene scene = with(smallScene(), {"flipbook.view=own", "flipbook.variants=values",
                                    "flipbook.varied=emitter.position=0,0,0;6,2,0", "emitter.lifetime=1"});
  SceneRun run(scene, test::roomyCache());
  const auto view = fittedView(run, flipbookLayout(scene, bakeIn(scene)), Progress());
  ASSERT_TRUE(view);
  const Flipbook book = baked(withFittedView(scene, bakeIn(scene).id, *view));
  for (const Picture& cell : cellsOf(book, 0, book.layout.cells.size())) {
    EXPECT_FALSE(seenBox(cell).empty());
    EXPECT_FALSE(seenBox(cell).touchesEdge());
  }
}

TEST(BakeVariants, AreDescribedForAGame) {
  const test::TemporaryFolder folder;
  const Flipbook book = baked(with(
      smallScene(), {"flipbook.variants=seeds", "flipbook.variant_count=2", "flipbook.image_sequence=true"}));
  const auto written = writeFlipbook(book, folder.path());
  const auto description = nlohmann::json::parse(readFile(written.back(), 1 << 20));
  EXPECT_EQ(description["rows"], 4);
  ASSERT_EQ(description["variants"].size(), 2U);
  EXPECT_EQ(description["variants"][1]["first_cell"], 6);
  EXPECT_EQ(description["variants"][1]["cells"], 6);
  EXPECT_EQ(description["variants"][1]["label"], "Seed +1");
  const auto& cell = description["cells"][6];
  EXPECT_EQ(cell["frame"], 8);
  EXPECT_EQ(cell["y"], 2 * 32);
  EXPECT_TRUE(std::filesystem::exists(folder.path() / "flipbook.02.0006.png"));
  EXPECT_FALSE(nlohmann::json::parse(describeFlipbook(baked(smallScene()), baked(smallScene()).layout))
                   .contains("variants"));
}

TEST(BakeVariants, ValuesThatCannotBeTakenAreRefusedWithTheirPlace) {
  const auto problemOf = [](const char* varied) -> std::string {
    const Scene scene =
        with(smallScene(), {"flipbook.variants=values", std::string("flipbook.varied=") + varied});
    try {
      (void)flipbookLayout(scene, bakeIn(scene));
    } catch (const Error& error) {
      EXPECT_EQ(error.kind(), ErrorKind::Input);
      EXPECT_THAT(error.place(), testing::HasSubstr("flipbook"));
      EXPECT_FALSE(error.remedy().empty());
      return error.what();
    }
    return "";
  };
  EXPECT_THAT(problemOf(""), testing::HasSubstr("ITEM.PARAMETER="));
  EXPECT_THAT(problemOf("drops.rate=3,4"), testing::HasSubstr("no item \"drops\""));
  EXPECT_THAT(problemOf("emitter.pace=3,4"), testing::HasSubstr("no parameter \"pace\""));
  EXPECT_THAT(problemOf("emitter.rate=3,x"), testing::HasSubstr("\"x\""));
  EXPECT_THAT(problemOf("emitter.rate=1..40/40"), testing::HasSubstr("more than 16"));
}

TEST(BakeVariants, AreSuggestedAsTheyCanBeBaked) {
  const Scene scene = with(smallScene(), {"emitter.rate=50", "emitter.speed=0"});
  const auto suggested = suggestedVariedValues(scene);
  EXPECT_THAT(suggested, testing::Contains("emitter.rate=25, 50, 100"));
  EXPECT_THAT(suggested, testing::Not(testing::Contains(testing::HasSubstr("speed"))));
  for (const std::string& values : suggested) {
    const Scene varied = with(scene, {"flipbook.variants=values", "flipbook.varied=" + values});
    EXPECT_EQ(bakeVariants(varied, bakeIn(varied)).size(), 3U) << values;
  }
}

TEST(BakeVariants, AreMadeOfValuesThatWereTried) {
  const Scene scene = with(smallScene(), {"emitter.speed=2±0.5"});
  const ItemId emitter = scene.findByName("emitter")->id;
  const Scene varied = withVariedBake(scene, axisOfNumbers(scene, emitter, "speed", {1, 2.5, 4}, 1));
  const auto variants = bakeVariants(varied, bakeIn(varied));
  ASSERT_EQ(variants.size(), 3U);
  const ParamValue& value = variants[1].scene.findByName("emitter")->value("speed");
  EXPECT_EQ(value.numberAt(1), 2.5);
  EXPECT_EQ(value.variation, 0.5);
}

}  // namespace
}  // namespace comet
