#include "bake/game_preview.h"

#include "support/scenes.h"

#include <cmath>
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
  sprites.rise = 0;
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

// The middle of what a single sprite covers, in pixels.
Vec2d middleOf(const GamePreview& preview, const GameSprites& sprites, double seconds) {
  const Picture counts = preview.overdraw(sprites, seconds, 200, 200);
  Vec2d sum(0.0);
  double weight = 0;
  for (int y = 0; y < 200; ++y)
    for (int x = 0; x < 200; ++x) {
      const auto count = static_cast<double>(counts.at(x, y).x);
      sum += count * Vec2d(x + 0.5, y + 0.5);
      weight += count;
    }
  return sum / weight;
}

TEST(GamePreview, SpritesRiseGoApartAndAreSlowedDown) {
  const GamePreview preview(std::make_shared<const Flipbook>(plainBook()));
  GameSprites sprites = single();
  sprites.size = 0.05;
  sprites.cone = 0;
  sprites.rise = 0.4;
  EXPECT_NEAR(middleOf(preview, sprites, 5.75).y, 200 * (0.6 - 0.4 * 0.75), 0.6);
  EXPECT_NEAR(middleOf(preview, sprites, 5.75).x, 100, 0.6);
  sprites.drag = 3;
  EXPECT_NEAR(middleOf(preview, sprites, 5.75).y, 200 * (0.6 - 0.4 * (1 - std::exp(-2.25)) / 3), 0.6);
  sprites.cone = 40;
  double widest = 0;
  for (int i = 0; i < 40; ++i) {
    const Vec2d way = middleOf(preview, sprites, i + 0.75) - Vec2d(100, 120);
    widest = std::max(widest, std::atan2(std::abs(way.x), -way.y));
  }
  EXPECT_LE(widest, radians(42));
  EXPECT_GT(widest, radians(30));
}

TEST(GamePreview, SpritesGrowAndStayWhereAMovingEmitterGaveThemBirth) {
  const GamePreview preview(std::make_shared<const Flipbook>(plainBook()));
  GameSprites sprites = single();
  sprites.sizeAtBirth = 0.5;
  const auto area = [&](double age) {
    const Picture counts = preview.overdraw(sprites, 5 + age, 200, 200);
    double sum = 0;
    for (const Vec4& count : counts.pixels()) sum += count.x;
    return sum;
  };
  EXPECT_NEAR(area(0.001), 50 * 50, 210);
  EXPECT_NEAR(area(0.5), 75 * 75, 310);
  sprites.sizeAtBirth = 1;
  sprites.size = 0.05;
  sprites.sway = 0.3;
  // After a quarter of its round the emitter is farthest to the right.
  EXPECT_NEAR(middleOf(preview, sprites, 5.01).x, 100 + 0.3 * 200, 0.6);
  EXPECT_NEAR(middleOf(preview, sprites, 5.8).x, 100 + 0.3 * 200, 0.6);
}

TEST(GamePreview, LightsTheGroundUnderTheEmitterInItsOwnColour) {
  Flipbook book = plainBook();
  book.fire = Picture(book.layout.width(), book.layout.height());
  book.fire.at(20, 20) = Vec4(0.8F, 0.4F, 0, 0);
  const GamePreview preview(std::make_shared<const Flipbook>(book));
  EXPECT_TRUE(preview.shines());
  EXPECT_FALSE(GamePreview(std::make_shared<const Flipbook>(plainBook())).shines());
  Picture ground(200, 200);
  for (int y = 0; y < 200; ++y)
    for (int x = 0; x < 200; ++x) ground.at(x, y) = Vec4(0.2F, 0.2F, 0.2F, 1);
  GameSprites sprites = single();
  sprites.size = 0.01;
  sprites.groundLight = 3;
  const Picture lit = preview.draw(sprites, 5.5, ground);
  const auto added = [&](int x, int y) { return Vec3(lit.at(x, y)) - Vec3(0.2F); };
  EXPECT_EQ(added(30, 90), Vec3(0.0F)) << "above the floor";
  EXPECT_GT(added(100, 174).x, 0.01);
  EXPECT_NEAR(added(100, 174).y / added(100, 174).x, 0.5, 1e-3);
  EXPECT_NEAR(added(100, 174).z, 0, 1e-6);
  EXPECT_NEAR(added(60, 174).x, added(139, 174).x, 1e-5) << "to both sides alike";
  EXPECT_GT(added(100, 174).x, 2 * added(40, 174).x);
  // As the emitter goes aside, so does the light.
  sprites.sway = 0.3;
  const Picture aside = preview.draw(sprites, 5, ground);
  EXPECT_GT(aside.at(160, 174).x, lit.at(160, 174).x);
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
  const Picture cell = preview.cellAt(0, 2.0 / book.layout.framesPerSecond + 1e-9, CellBlend::None);
  EXPECT_TRUE(cell == cellOf(book.color, book.layout, 2));
}

}  // namespace
}  // namespace comet
