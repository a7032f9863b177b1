#include "bake/flipbook_texture.h"

#include "bake/checks/bake_check.h"
#include "base/error.h"
#include "base/file.h"
#include "scene/override.h"
#include "support/files.h"
#include "support/ktx2.h"
#include "support/scenes.h"

#include <cmath>
#include <functional>
#include <glm/geometric.hpp>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

using test::with;

// What a pixel of the sheet is.
using PaintSheet = std::function<Vec4(const FlipbookLayout& layout, int x, int y)>;

Scene textured(const std::string& texture, std::initializer_list<const char*> more = {}) {
  Scene scene = with(test::starting(), {"flipbook.cell_width=32", "flipbook.cell_height=32",
                                        "flipbook.padding=0", "flipbook.first=1", "flipbook.last=16",
                                        "flipbook.step=1", "flipbook.alpha=premultiplied"});
  scene = withOverride(scene, "flipbook.texture=" + texture);
  for (const char* setting : more) scene = withOverride(scene, setting);
  return scene;
}

Flipbook bookOf(const Scene& scene, const PaintSheet& paint) {
  Flipbook book;
  book.layout = flipbookLayout(scene, *scene.findByName("flipbook"));
  book.color = Picture(book.layout.width(), book.layout.height());
  for (int y = 0; y < book.color.height(); ++y)
    for (int x = 0; x < book.color.width(); ++x) book.color.at(x, y) = paint(book.layout, x, y);
  book.cells.resize(book.layout.cells.size());
  return book;
}

// Every other cell is white, the others are empty.
Vec4 checkered(const FlipbookLayout& layout, int x, int y) {
  return Vec4((x / (layout.cellWidth + 2 * layout.padding) + y / layout.rowHeight()) % 2 == 0 ? 1.0F : 0.0F);
}

// A number that seems random, 0 to 1.
float noise(int x, int y) {
  const auto mixed =
      static_cast<std::uint32_t>(x) * 2654435761U ^ static_cast<std::uint32_t>(y) * 2246822519U;
  return static_cast<float>((mixed ^ mixed >> 15U) * 2654435761U >> 8U) / static_cast<float>(1U << 24U);
}

Texture colorsOf(const Flipbook& book) {
  return textureOf(flipbookParts(book, book.layout).front(), book.layout);
}

TEST(FlipbookTexture, AtNoMipLevelCellsRunIntoEachOther) {
  struct Case {
    const char* texture;
    const char* width;
    const char* padding;
    std::size_t levels;
  };
  // Whole blocks at each level, across and down: 32 = 4 × 8; 24 + 2 × 4 = 4 × 8 across and 32 + 2 × 4 = 4 ×
  // 10 down; 36 = 4 × 9 across; 26 + 2 × 2 = 6 × 5 across and 32 + 2 × 2 = 6 × 6 down.
  for (const auto& [texture, width, padding, levels] :
       {Case{"bc", "flipbook.cell_width=32", "flipbook.padding=0", 4},
        {"bc", "flipbook.cell_width=24", "flipbook.padding=4", 2},
        {"bc", "flipbook.cell_width=36", "flipbook.padding=0", 1},
        {"astc_6x6", "flipbook.cell_width=26", "flipbook.padding=2", 1}}) {
    const Flipbook book = bookOf(textured(texture, {width, padding}), checkered);
    const Texture made = colorsOf(book);
    ASSERT_EQ(made.levels.size(), levels) << texture << " " << width;
    for (std::size_t level = 0; level < levels; ++level) {
      const int wide = made.width >> level, high = made.height >> level;
      const ByteImage image = decoded(made.levels[level], wide, high, made.format, made.encoding);
      for (int y = 0; y < high; ++y)
        for (int x = 0; x < wide; ++x) {
          const float white = checkered(book.layout, x << level, y << level).x;
          ASSERT_EQ(image.samples[4 * static_cast<std::size_t>(y * wide + x)], white > 0 ? 255 : 0)
              << texture << ", level " << level << " at " << x << ", " << y;
        }
    }
  }
}

TEST(FlipbookTexture, MipLevelsAreAveragesOfLight) {
  // Stripes a pixel wide of black and white: half of the light, which is 188 of 255 in sRGB.
  const Flipbook book = bookOf(
      textured("bc"), [](const FlipbookLayout&, int x, int) { return Vec4(Vec3(x % 2 == 0 ? 1 : 0), 1); });
  const Texture texture = colorsOf(book);
  const ByteImage image =
      decoded(texture.levels[1], texture.width / 2, texture.height / 2, texture.format, texture.encoding);
  for (std::size_t i = 0; i < image.samples.size(); i += 4) ASSERT_NEAR(image.samples[i], 188, 3);
}

TEST(FlipbookTexture, StraightColoursCountAsMuchAsTheyCover) {
  // Red that covers beside green that covers a hundredth of it: what is left is red.
  const Flipbook book =
      bookOf(textured("bc", {"flipbook.alpha=straight"}), [](const FlipbookLayout&, int x, int) {
        return x % 2 == 0 ? Vec4(1, 0, 0, 1) : Vec4(0, 0.01F, 0, 0.01F);
      });
  const Texture texture = colorsOf(book);
  EXPECT_FALSE(texture.isPremultiplied);
  const ByteImage image =
      decoded(texture.levels[1], texture.width / 2, texture.height / 2, texture.format, texture.encoding);
  EXPECT_GT(image.samples[0], 240);
  EXPECT_LT(image.samples[1], 40);
  EXPECT_NEAR(image.samples[3], 0.505 * 255, 3);
}

TEST(FlipbookTexture, LossIsThatOfTheBlocks) {
  const auto lossOf = [](const std::string& texture, const PaintSheet& paint) {
    return lookOfTexture(bookOf(textured(texture), paint));
  };
  for (const std::string texture : {"bc", "astc_4x4", "astc_6x6"})
    EXPECT_EQ(lossOf(texture, checkered).all, 99);
  // Noise in the third cell alone: only that cell loses anything.
  const PaintSheet oneNoisy = [](const FlipbookLayout& layout, int x, int y) {
    const bool isNoisy = x / layout.cellWidth == 2 && y / layout.cellHeight == 0;
    return isNoisy ? Vec4(noise(x, y), noise(x + 999, y), noise(x, y + 999), 1) : Vec4(0.0F);
  };
  const TextureLook look = lossOf("bc", oneNoisy);
  EXPECT_EQ(look.worst(), 2U);
  EXPECT_EQ(look.cells[0], 99);
  EXPECT_LT(look.cells[2], 30);
  // The same squared error over sixteen cells.
  EXPECT_NEAR(look.all, look.cells[2] + 10 * std::log10(16), 1e-9);
  EXPECT_LT(lossOf("astc_6x6", oneNoisy).cells[2], lossOf("astc_4x4", oneNoisy).cells[2]);
}

TEST(FlipbookTexture, IsSeenAsTheSheetWhateverTheKindOfAlpha) {
  const PaintSheet soft = [](const FlipbookLayout&, int x, int y) {
    const auto cover = static_cast<float>(0.5 + 0.5 * std::sin(0.2 * x) * std::cos(0.15 * y));
    return Vec4(0.8F * cover, 0.5F * cover, 0.3F * cover, cover);
  };
  for (const char* alpha : {"flipbook.alpha=premultiplied", "flipbook.alpha=straight",
                            "flipbook.alpha=on_black", "flipbook.alpha=opacity"}) {
    const Flipbook book = bookOf(textured("bc", {alpha}), soft);
    const TextureLook look = lookOfTexture(book);
    ASSERT_EQ(look.picture.pixels().size(), book.color.pixels().size());
    double sum = 0;
    for (std::size_t i = 0; i < book.color.pixels().size(); ++i)
      sum += glm::length(look.picture.pixels()[i] - book.color.pixels()[i]);
    EXPECT_LT(sum / static_cast<double>(book.color.pixels().size()), 0.02) << alpha;
  }
}

TEST(FlipbookTexture, TheBakeCheckFindsItsFaults) {
  const auto find = [](const std::string& check, const Scene& scene, const PaintSheet& paint) {
    Flipbook book = bookOf(scene, paint);
    if (book.layout.texture) book.texture = lookOfTexture(book);
    std::optional<Finding> found;
    for (const Finding& finding : checkBake(book, scene))
      if (finding.check == check) found = finding;
    return found;
  };
  const PaintSheet noisy = [](const FlipbookLayout&, int x, int y) { return Vec4(Vec3(noise(x, y)), 1); };
  const Scene astc = textured("astc_6x6", {"flipbook.cell_width=48", "flipbook.cell_height=48"});
  const auto loss = find("compression", astc, noisy);
  ASSERT_TRUE(loss);
  EXPECT_EQ(loss->cells.size(), 16U);
  const Scene mended = fixed(astc, astc.findByName("flipbook")->id, *loss->remedy);
  EXPECT_EQ(mended.findByName("flipbook")->choice("texture"), "astc_4x4");
  EXPECT_FALSE(find("compression", astc, checkered));
  EXPECT_FALSE(find("compression", textured("none"), noisy));

  const Scene odd = textured("bc", {"flipbook.cell_width=30", "flipbook.padding=2"});
  const auto shared = find("blocks", odd, checkered);
  ASSERT_TRUE(shared);
  const Scene whole = fixed(odd, odd.findByName("flipbook")->id, *shared->remedy);
  EXPECT_FALSE(find("blocks", whole, checkered));
  EXPECT_EQ(whole.findByName("flipbook")->number("cell_width", 1), 32);
}

TEST(FlipbookTexture, EverySheetIsWrittenAsDescribed) {
  const Scene scene = textured("bc", {"flipbook.motion_vectors=eight", "flipbook.depth_sheet=true",
                                      "flipbook.six_way_lighting=true", "flipbook.separate_glow=true"});
  SceneRun run(scene, test::roomyCache());
  const Flipbook book = bakeFlipbook(run, flipbookLayout(scene, *scene.findByName("flipbook")), {});
  ASSERT_TRUE(book.texture);
  EXPECT_GT(book.texture->all, 30);
  const test::TemporaryFolder folder;
  writeFlipbook(book, folder.path());
  const auto description = nlohmann::json::parse(test::bytesOf(folder / "flipbook.json"));
  const auto formatOf = [&](const nlohmann::json& layer, const char* compression) {
    EXPECT_EQ(layer["texture"]["compression"], compression);
    const test::Ktx2 file = test::readKtx2(test::bytesOf(folder / std::string(layer["texture"]["file"])));
    EXPECT_EQ(file.levels.size(), layer["texture"]["levels"]);
    EXPECT_EQ(file.width, description["width"]);
    EXPECT_EQ(file.height, description["height"]);
    return file.format;
  };
  EXPECT_EQ(formatOf(description, "bc3"), 138U);
  const auto& layers = description["layers"];
  EXPECT_EQ(formatOf(layers["motion"], "bc5"), 141U);
  EXPECT_EQ(formatOf(layers["depth"], "bc4"), 139U);
  EXPECT_EQ(formatOf(layers["light_a"], "bc3"), 137U);
  EXPECT_EQ(formatOf(layers["glow"], "bc1"), 132U);
}

TEST(FlipbookTexture, PagesHaveOneEach) {
  const Scene scene = textured("bc", {"flipbook.max_sheet_size=64", "flipbook.columns=2", "flipbook.rows=8"});
  const Flipbook book = bookOf(scene, checkered);
  ASSERT_GT(book.layout.sheets(), 1);
  const test::TemporaryFolder folder;
  writeFlipbook(book, folder.path());
  const auto description = nlohmann::json::parse(test::bytesOf(folder / "flipbook.json"));
  ASSERT_EQ(description["texture"]["files"].size(), static_cast<std::size_t>(book.layout.sheets()));
  for (const std::string file : description["texture"]["files"])
    EXPECT_EQ(test::readKtx2(test::bytesOf(folder / file)).height, 64U);
  EXPECT_EQ(lookOfTexture(book).cells.size(), 16U);
}

TEST(FlipbookTexture, FloatsHaveNone) {
  const Scene scene = textured("bc", {"flipbook.format=exr"});
  EXPECT_FALSE(flipbookLayout(scene, *scene.findByName("flipbook")).texture);
}

}  // namespace
}  // namespace comet
