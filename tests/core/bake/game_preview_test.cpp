#include "bake/game_preview.h"

#include "support/scenes.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

using test::with;

// Four cells, each of one colour and half as covering.
Flipbook plainBook(std::initializer_list<std::string> edits = {}) {
  const Scene scene = with(
      with(test::starting(), {"flipbook.cell_width=16", "flipbook.cell_height=16", "flipbook.columns=2",
                              "flipbook.rows=2", "flipbook.first=1", "flipbook.step=1", "flipbook.last=4"}),
      edits);
  Flipbook book;
  book.layout = flipbookLayout(scene, *scene.findByName("flipbook"));
  book.color = Picture(book.layout.width(), book.layout.height());
  for (std::size_t cell = 0; cell < 4; ++cell)
    for (int y = 0; y < 16; ++y)
      for (int x = 0; x < 16; ++x)
        book.color.at(book.layout.cellX(cell) + x, book.layout.cellY(cell) + y) =
            Vec4(0.1F * static_cast<float>(cell), 0, 0, 0.5F);
  book.cells.resize(4);
  return book;
}

// A single sprite at a time, upright and in the middle.
GameSprites single() {
  GameSprites sprites;
  sprites.birthRate = 1;
  sprites.lifetime = 1;
  sprites.lifeVariation = sprites.sizeVariation = sprites.rotation = sprites.spread = 0;
  sprites.drift = Vec2d(0.0);
  sprites.size = 0.5;
  sprites.blend = CellBlend::None;
  return sprites;
}

TEST(GamePreview, ASpritePlaysAllCellsOverItsLife) {
  const GamePreview preview(std::make_shared<const Flipbook>(plainBook()));
  const Picture ground(40, 40);
  for (int cell = 0; cell < 4; ++cell) {
    const Picture shown = preview.draw(single(), 5 + (cell + 0.5) / 4, ground);
    EXPECT_NEAR(shown.at(20, 24).x, 0.1 * cell, 1e-6);
    EXPECT_NEAR(shown.at(20, 24).w, 0.5, 1e-6);
    EXPECT_EQ(shown.at(2, 2).w, 0) << "outside of it";
  }
}

TEST(GamePreview, BlendsToTheNextCell) {
  const GamePreview preview(std::make_shared<const Flipbook>(plainBook()));
  GameSprites sprites = single();
  sprites.blend = CellBlend::Mixed;
  EXPECT_NEAR(preview.draw(sprites, 5 + 0.375, Picture(40, 40)).at(20, 24).x, 0.15, 1e-6);
}

TEST(GamePreview, LaysOverTheGroundAsTheAlphaKindSays) {
  Picture ground(40, 40);
  for (int y = 0; y < 40; ++y)
    for (int x = 0; x < 40; ++x) ground.at(x, y) = Vec4(0.4F, 0.4F, 0.4F, 1);
  const auto middle = [&](const char* alpha) {
    return GamePreview(std::make_shared<const Flipbook>(plainBook({std::string("flipbook.alpha=") + alpha})))
        .draw(single(), 5.9, ground)
        .at(20, 24);
  };
  EXPECT_NEAR(middle("premultiplied").x, 0.3 + 0.5 * 0.4, 1e-5);
  EXPECT_NEAR(middle("straight").x, 0.3 + 0.5 * 0.4, 1e-5);
  EXPECT_NEAR(middle("on_black").x, 0.3 + 0.4, 1e-5);
}

TEST(GamePreview, AddsTheFireThatIsApart) {
  Flipbook book = plainBook();
  book.fire = Picture(book.layout.width(), book.layout.height());
  for (int y = 0; y < book.fire.height(); ++y)
    for (int x = 0; x < book.fire.width(); ++x) book.fire.at(x, y) = Vec4(0, 0.7F, 0, 0);
  const Picture shown =
      GamePreview(std::make_shared<const Flipbook>(book)).draw(single(), 5.9, Picture(40, 40));
  EXPECT_NEAR(shown.at(20, 24).x, 0.3, 1e-5);
  EXPECT_NEAR(shown.at(20, 24).y, 0.7, 1e-5);
  EXPECT_NEAR(shown.at(20, 24).w, 0.5, 1e-5) << "it covers nothing";
}

TEST(GamePreview, CountsHowOftenPixelsAreDrawn) {
  const GamePreview preview(std::make_shared<const Flipbook>(plainBook()));
  GameSprites sprites = single();
  sprites.birthRate = 3;  // three live at a time
  const Picture counts = preview.overdraw(sprites, 10.1, 40, 40);
  EXPECT_EQ(counts.at(20, 24).x, 3);
  EXPECT_EQ(counts.at(2, 2).x, 0);
  double sum = 0;
  for (const Vec4& count : counts.pixels()) sum += count.x;
  EXPECT_NEAR(sum, 3 * 20 * 20, 3 * 41) << "a sprite is half of the picture's height a side";
}

TEST(GamePreview, TheSameTimeIsTheSamePicture) {
  const GamePreview preview(std::make_shared<const Flipbook>(plainBook()));
  GameSprites sprites;
  sprites.rotation = 180;
  sprites.flicker = 0.5;
  const Picture ground = groundPicture(Ground::Busy, 60, 40);
  EXPECT_TRUE(preview.draw(sprites, 7.3, ground) == preview.draw(sprites, 7.3, ground));
  EXPECT_FALSE(preview.draw(sprites, 7.3, ground) == preview.draw(sprites, 7.4, ground));
}

TEST(GamePreview, ACellAloneIsTheSheetsCell) {
  const Flipbook book = plainBook();
  const GamePreview preview(std::make_shared<const Flipbook>(book));
  const Picture cell = preview.cellAt(2.0 / book.layout.framesPerSecond + 1e-9, CellBlend::None);
  EXPECT_TRUE(cell == cellOf(book.color, book.layout, 2));
}

}  // namespace
}  // namespace comet
