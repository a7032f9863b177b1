#include "bake/warp.h"

#include "bake/bake_sheet.h"
#include "bake/frame_choice.h"
#include "bake/game_preview.h"
#include "support/scenes.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

using test::with;

Picture spot(int size, double x, double y) {
  Picture picture(size, size);
  for (int j = 0; j < size; ++j)
    for (int i = 0; i < size; ++i) {
      const double d = (i - x) * (i - x) + (j - y) * (j - y);
      picture.at(i, j) = Vec4(static_cast<float>(std::exp(-d / 18)));
    }
  return picture;
}

Picture everywhere(int size, float x, float y) {
  Picture motion(size, size);
  for (int j = 0; j < size; ++j)
    for (int i = 0; i < size; ++i) motion.at(i, j) = Vec4(x, y, 0, 1);
  return motion;
}

TEST(Warp, AWholeTranslationIsExact) {
  const Picture moved = warped(spot(32, 12, 10), everywhere(32, 5, -3), 1);
  const Picture expected = spot(32, 17, 7);
  for (int y = 4; y < 28; ++y)
    for (int x = 6; x < 28; ++x) EXPECT_EQ(moved.at(x, y), expected.at(x, y)) << x << ", " << y;
}

// As a game blends along motion, half-way between two cells.
TEST(Warp, HalfwayBothCellsMeet) {
  Flipbook book;
  book.layout.columns = 2;
  book.layout.cellWidth = book.layout.cellHeight = 32;
  book.layout.cells = {{1, 2}, {2, 3}};
  book.color = Picture(64, 32);
  book.color.pasteReduced(spot(32, 12, 16), 1, 0, 0);
  book.color.pasteReduced(spot(32, 18, 16), 1, 32, 0);
  const auto halfway = [&book](CellBlend blend) {
    return GamePreview(std::make_shared<const Flipbook>(book))
        .cellAt(0, 0.5 / book.layout.framesPerSecond, blend);
  };
  const double crossed = changeBetween(halfway(CellBlend::Mixed), spot(32, 15, 16));
  book.data[DataLayer::Motion].values = everywhere(64, 6, 0);
  const double moved = changeBetween(halfway(CellBlend::AlongMotion), spot(32, 15, 16));
  EXPECT_LT(moved, 1e-3);
  EXPECT_GT(crossed, 10 * moved);
}

// Baked motion vectors, by what they are for: they bring a cell nearer to the next one.
class MotionVectors : public testing::Test {
 protected:
  static Flipbook bake(const Scene& scene) {
    SceneRun run(scene, test::roomyCache());
    return bakeFlipbook(run, flipbookLayout(scene, *scene.findByName("flipbook")), Progress());
  }
  static Scene seenFromTheFront(const Scene& scene) {
    return with(scene, {"flipbook.view=own", "flipbook.position=0,2,10", "flipbook.aim=0,2,0",
                        "flipbook.height=8", "flipbook.cell_width=64", "flipbook.cell_height=64",
                        "flipbook.columns=2", "flipbook.rows=2", "flipbook.first=4", "flipbook.step=2",
                        "flipbook.last=10", "flipbook.motion_vectors=sixteen"});
  }
  static Picture cell(const Picture& sheet, const Flipbook& book, std::size_t i) {
    return cellOf(sheet, book.layout, i);
  }
};

TEST_F(MotionVectors, OfWhatMovesEvenlyAreExact) {
  // Straight up at 3 units/s for two frames, in 8 pixels a unit.
  const Scene scene =
      seenFromTheFront(with(test::oneBurst(), {"emitter.size=1", "emitter.position=0,0.5,0"}));
  const Flipbook book = bake(scene);
  const double expected = 3.0 * 2 / 24 * 8;
  const Picture motion = cell(book.data.at(DataLayer::Motion).values, book, 1);
  for (const Vec4& value : motion.pixels()) {
    EXPECT_NEAR(value.x, 0, 1e-3);
    EXPECT_NEAR(value.y, -expected, 1e-3) << "also where there is nothing to see";
  }
  EXPECT_NEAR(book.cells[1].motion, expected, 1e-3);
  EXPECT_LT(*book.cells[1].changeAlongMotion, 0.1 * book.cells[1].change);
  EXPECT_NEAR(book.data.at(DataLayer::Motion).to, expected, 1e-3);
  // The soft disc is smooth, so that straight lines between pixels cost next to nothing.
  const Picture warpedCell = warped(cell(book.color, book, 1), motion, 1);
  EXPECT_LT(changeBetween(warpedCell, cell(book.color, book, 2)),
            0.1 * changeBetween(cell(book.color, book, 1), cell(book.color, book, 2)));
}

// A ball of forty puffs that flies up and swells: each moves its own way.
TEST_F(MotionVectors, HalveTheDifferenceOfASwellingBall) {
  for (const char* blend : {"normal", "additive"}) {
    const Scene scene =
        seenFromTheFront(with(test::oneBurst(40), {std::string("emitter.blend=") + blend, "emitter.size=0.8",
                                                   "emitter.position=0,0.5,0", "emitter.cone=25",
                                                   "emitter.speed=4±1", "emitter.opacity=40"}));
    const Flipbook book = bake(scene);
    double before = 0, after = 0;
    for (std::size_t i = 0; i + 1 < book.cells.size(); ++i) {
      const Picture from = cell(book.color, book, i), to = cell(book.color, book, i + 1);
      before += changeBetween(from, to);
      after += changeBetween(warped(from, cell(book.data.at(DataLayer::Motion).values, book, i), 1), to);
    }
    EXPECT_GT(before, 0);
    EXPECT_LT(after, 0.5 * before) << blend;
  }
}

TEST_F(MotionVectors, OfParticlesThatEndGoOnAlongTheirWay) {
  const Scene scene = seenFromTheFront(
      with(test::oneBurst(), {"emitter.size=1", "emitter.position=0,0.5,0", "emitter.lifetime=0.31",
                              "flipbook.first=8", "flipbook.last=8"}));
  const Flipbook book = bake(scene);
  EXPECT_NEAR(cell(book.data.at(DataLayer::Motion).values, book, 0).at(32, 32).y, -3.0 * 2 / 24 * 8, 1e-3);
}

TEST_F(MotionVectors, AreHiddenByWhatLiesBefore) {
  // One particle stands still before another one that rises.
  Scene scene =
      with(test::oneBurst(), {"emitter.size=1", "emitter.position=0,1.5,0", "emitter.hardness=100"});
  Item still = *scene.findByName("emitter");
  still.name = "still";
  scene =
      with(scene.withDuplicate(still.id, still), {"still.speed=0", "still.position=0,2,1", "still.size=6"});
  const Flipbook book = bake(seenFromTheFront(scene));
  EXPECT_NEAR(cell(book.data.at(DataLayer::Motion).values, book, 0).at(32, 32).y, 0, 1e-3);
}

}  // namespace
}  // namespace comet
