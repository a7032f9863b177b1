// Each check finds the fault that a sheet was made to have, and not in its fixed twin.
#include "bake/checks/bake_check.h"

#include "bake/frame_choice.h"
#include "support/scenes.h"

#include <functional>
#include <gmock/gmock.h>

namespace comet {
namespace {

using test::with;

constexpr int kCell = 64;

// What a cell shows at a place: u and v from -1 to 1.
using Paint = std::function<Vec4(std::size_t cell, double u, double v)>;

// A soft, structured ball that swells a little from cell to cell: nothing is wrong with it.
Vec4 goodBall(std::size_t cell, double u, double v, double size = 0.7) {
  const double radius = std::hypot(u, v) / (size + 0.005 * static_cast<double>(cell));
  const double cover = std::clamp(1.6 - 1.6 * radius, 0.0, 1.0);
  const double light = cover * (0.45 + 0.4 * std::sin(34 * u + static_cast<double>(cell)) * std::sin(31 * v));
  return Vec4(Vec3(static_cast<float>(std::max(0.0, light))), static_cast<float>(cover));
}

class BakeChecks : public testing::Test {
 protected:
  Scene scene_ =
      with(test::starting(), {"flipbook.cell_width=64", "flipbook.cell_height=64", "flipbook.padding=0",
                              "flipbook.first=1", "flipbook.last=16", "flipbook.step=1"});

  Flipbook bookOf(const Scene& scene, const Paint& paint) const {
    Flipbook book;
    book.layout = flipbookLayout(scene, *scene.findByName("flipbook"));
    book.color = Picture(book.layout.width(), book.layout.height());
    const std::size_t count = book.layout.cells.size();
    for (std::size_t cell = 0; cell < count; ++cell) {
      Picture picture(book.layout.cellWidth, book.layout.cellHeight);
      for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
          picture.at(x, y) =
              paint(cell, (2.0 * x + 1) / picture.width() - 1, (2.0 * y + 1) / picture.height() - 1);
      book.color.pasteReduced(picture, 1, book.layout.cellX(cell), book.layout.cellY(cell));
      CellFacts facts;
      facts.energy = energyOf(picture);
      facts.motion = 1;
      book.cells.push_back(facts);
    }
    for (std::size_t cell = 0; cell < count; ++cell)
      book.cells[cell].change = changeBetween(cellOf(book.color, book.layout, cell),
                                              cellOf(book.color, book.layout, book.layout.following(cell)));
    return book;
  }

  static std::optional<Finding> find(const std::string& check, const Flipbook& book, const Scene& scene) {
    for (const Finding& finding : checkBake(book, scene))
      if (finding.check == check) return finding;
    return std::nullopt;
  }
  std::optional<Finding> find(const std::string& check, const Paint& paint) const {
    return find(check, bookOf(scene_, paint), scene_);
  }
  const Paint good_ = [](std::size_t cell, double u, double v) { return goodBall(cell, u, v); };
};

TEST_F(BakeChecks, AGoodSheetPassesAll) {
  const Scene scene = with(scene_, {"flipbook.padding=0"});
  std::string found;
  for (const Finding& finding : checkBake(bookOf(scene, good_), scene))
    found += finding.check + ": " + finding.text + "\n";
  EXPECT_EQ(found, "");
}

TEST_F(BakeChecks, Clipped) {
  const auto wide = find("clipped", [](std::size_t cell, double u, double v) {
    return goodBall(cell, u, v, cell == 5 || cell == 6 ? 1.4 : 0.7);
  });
  ASSERT_TRUE(wide);
  EXPECT_THAT(wide->cells, testing::ElementsAre(5, 6));
  EXPECT_TRUE(wide->remedy->fits);
  EXPECT_FALSE(find("clipped", good_));
}

TEST_F(BakeChecks, PixelsThatWereNoNumbers) {
  Flipbook book = bookOf(scene_, good_);
  book.cells[2].notNumbers = 3;
  const auto finding = find("not_numbers", book, scene_);
  ASSERT_TRUE(finding);
  EXPECT_THAT(finding->cells, testing::ElementsAre(2));
  EXPECT_EQ(finding->number, 3);
  EXPECT_FALSE(find("not_numbers", good_));
}

TEST_F(BakeChecks, WhatTheSimulationLeftOut) {
  Flipbook book = bookOf(scene_, good_);
  book.losses.refused = 7;
  EXPECT_EQ(find("births_refused", book, scene_)->number, 7);
  EXPECT_FALSE(find("particles_lost", book, scene_));
  book.losses = {0, 5};
  EXPECT_EQ(find("particles_lost", book, scene_)->number, 5);
  EXPECT_FALSE(find("births_refused", book, scene_));
}

TEST_F(BakeChecks, EmptyCells) {
  const auto holes = find("empty", [](std::size_t cell, double u, double v) {
    return cell == 3 || cell == 15 ? Vec4(0.0F) : goodBall(cell, u, v);
  });
  ASSERT_TRUE(holes);
  EXPECT_THAT(holes->cells, testing::ElementsAre(3, 15));
  EXPECT_FALSE(find("empty", good_));
  const auto all = find("empty", [](std::size_t, double, double) { return Vec4(0.0F); });
  ASSERT_TRUE(all);
  EXPECT_EQ(all->cells.size(), 16U);
  EXPECT_TRUE(all->remedy->fits) << "the effect is somewhere else";
}

TEST_F(BakeChecks, Duplicates) {
  const auto twice = find(
      "duplicate", [](std::size_t cell, double u, double v) { return goodBall(cell == 8 ? 7 : cell, u, v); });
  ASSERT_TRUE(twice);
  EXPECT_THAT(twice->cells, testing::ElementsAre(8));
  EXPECT_FALSE(find("duplicate", good_));
}

TEST_F(BakeChecks, DullEnds) {
  const auto dull = find("dull_ends", [](std::size_t cell, double u, double v) {
    return goodBall(cell, u, v) * (cell < 2 || cell == 15 || cell == 7 ? 0.01F : 1.0F);
  });
  ASSERT_TRUE(dull);
  EXPECT_THAT(dull->cells, testing::ElementsAre(0, 1, 15)) << "the one in the middle is no end";
  EXPECT_EQ(dull->remedy->edits.front().first, "trim");
  EXPECT_FALSE(find("dull_ends", good_));
}

TEST_F(BakeChecks, BlownOutAndTheExposureThatMendsIt) {
  const auto bodies = [](std::size_t cell, double u, double v) {
    const Vec4 good = goodBall(cell, u, v);
    return Vec4(Vec3(good) * 4.0F, good.w);
  };
  // Light alone, of which less is seen when it is exposed less; one cell has a small spot that is far
  // brighter.
  const auto lights = [](std::size_t cell, double u, double v) {
    const Vec3 light = Vec3(goodBall(cell, u, v)) * 3.0F;
    const bool isSpot = cell == 5 && std::hypot(u - 0.5, v - 0.5) < 0.07;
    return Vec4(isSpot ? light * 30.0F : light, 0);
  };
  const auto expectMendedAtOnce = [this](const auto& paint) {
    const auto blown = find("blown_out", paint);
    ASSERT_TRUE(blown);
    double stops = 0;
    for (const auto& [param, value] : blown->remedy->edits)
      if (param == "exposure") stops = std::get<double>(value);
    const auto gain = static_cast<float>(std::exp2(stops));
    EXPECT_FALSE(find("blown_out", [&](std::size_t cell, double u, double v) {
      const Vec4 pixel = paint(cell, u, v);
      return Vec4(Vec3(pixel) * gain, pixel.w);
    }));
  };
  expectMendedAtOnce(bodies);
  expectMendedAtOnce(lights);
  EXPECT_FALSE(find("blown_out", good_));
  const Scene floats = with(scene_, {"flipbook.format=exr"});
  EXPECT_FALSE(find("blown_out", bookOf(floats, bodies), floats)) << "half floats hold it";
}

TEST_F(BakeChecks, TooDarkAndTheExposureThatMendsIt) {
  const Paint dark = [](std::size_t cell, double u, double v) {
    const Vec4 good = goodBall(cell, u, v);
    return Vec4(Vec3(good) * 0.02F, good.w);
  };
  const auto finding = find("too_dark", dark);
  ASSERT_TRUE(finding);
  double stops = 0;
  for (const auto& [param, value] : finding->remedy->edits)
    if (param == "exposure") stops = std::get<double>(value);
  const float gain = static_cast<float>(std::exp2(stops));
  EXPECT_FALSE(find("too_dark", [&](std::size_t cell, double u, double v) {
    const Vec4 pixel = dark(cell, u, v);
    return Vec4(Vec3(pixel) * gain, pixel.w);
  }));
}

TEST_F(BakeChecks, BandingOfWideSlopesInEightBits) {
  const Paint slope = [](std::size_t cell, double u, double v) {
    const double cover = std::hypot(u, v) < 0.9 ? 1 : 0;
    return Vec4(Vec3(static_cast<float>(cover * (0.30 + 0.004 * u + 0.01 * static_cast<double>(cell)))),
                static_cast<float>(cover));
  };
  const auto finding = find("banding", slope);
  ASSERT_TRUE(finding);
  const Scene fine = fixed(scene_, scene_.findByName("flipbook")->id, *finding->remedy);
  EXPECT_FALSE(find("banding", bookOf(fine, slope), fine));
  EXPECT_FALSE(find("banding", good_));
}

TEST_F(BakeChecks, FringeOfTheWrongKindOfAlpha) {
  const Paint light = [](std::size_t cell, double u, double v) {
    return Vec4(Vec3(goodBall(cell, u, v)), 0);
  };
  const Paint soot = [](std::size_t cell, double u, double v) {
    const Vec4 good = goodBall(cell, u, v);
    return Vec4(Vec3(good) * 0.3F, good.w);
  };
  const Scene straight = with(scene_, {"flipbook.alpha=straight"});
  const Scene black = with(scene_, {"flipbook.alpha=on_black"});
  EXPECT_TRUE(find("fringe", bookOf(straight, light), straight));
  EXPECT_FALSE(find("fringe", bookOf(straight, soot), straight));
  EXPECT_TRUE(find("fringe", bookOf(black, soot), black));
  EXPECT_FALSE(find("fringe", bookOf(black, light), black));
  EXPECT_FALSE(find("fringe", light)) << "premultiplied alpha holds both";
}

TEST_F(BakeChecks, LightWithoutAlphaInFilesOfWholeNumbers) {
  const Paint light = [](std::size_t cell, double u, double v) {
    return Vec4(Vec3(goodBall(cell, u, v)), 0);
  };
  const Paint both = [](std::size_t cell, double u, double v) {
    const Vec4 good = goodBall(cell, u, v);
    return u < 0 ? Vec4(Vec3(good), 0) : good;
  };
  const Scene scene = with(scene_, {"flipbook.alpha=premultiplied"});
  const auto finding = find("light_without_alpha", bookOf(scene, light), scene);
  ASSERT_TRUE(finding);
  EXPECT_GT(finding->number, 95);
  const Scene repaired = fixed(scene, scene.findByName("flipbook")->id, *finding->remedy);
  EXPECT_EQ(repaired.findByName("flipbook")->choice("alpha"), "on_black");
  EXPECT_FALSE(find("light_without_alpha", bookOf(repaired, light), repaired));
  // Where some of it covers, black would lose that.
  const auto mixed = find("light_without_alpha", bookOf(scene, both), scene);
  ASSERT_TRUE(mixed);
  const Scene open = fixed(scene, scene.findByName("flipbook")->id, *mixed->remedy);
  EXPECT_FALSE(find("light_without_alpha", bookOf(open, both), open));
  EXPECT_FALSE(find("light_without_alpha", good_));
}

TEST_F(BakeChecks, SeamOfALoop) {
  const Scene loop = with(scene_, {"flipbook.loop=cross_fade", "flipbook.first=30", "flipbook.last=45"});
  const Paint swelling = [](std::size_t cell, double u, double v) {
    return goodBall(0, u, v, 0.4 + 0.03 * static_cast<double>(cell));
  };
  const auto finding = find("seam", bookOf(loop, swelling), loop);
  ASSERT_TRUE(finding) << "the ball swells, and is small again";
  EXPECT_GT(finding->number, 1.6);
  EXPECT_EQ(finding->remedy->edits.front().first, "overlap");
  const Paint round = [](std::size_t cell, double u, double v) {
    const double angle = 2 * kPi * static_cast<double>(cell) / 16;
    return goodBall(0, u + 0.1 * std::cos(angle), v + 0.1 * std::sin(angle), 0.6);
  };
  EXPECT_FALSE(find("seam", bookOf(loop, round), loop));
  EXPECT_FALSE(find("seam", good_)) << "without a loop there is no seam";
}

TEST_F(BakeChecks, FadesBetweenUnlikePictures) {
  const Scene loop = with(scene_, {"flipbook.loop=cross_fade", "flipbook.first=30", "flipbook.last=45",
                                   "scene.last_frame=200", "scene.first_frame=1"});
  const Paint round = [](std::size_t cell, double u, double v) {
    const double angle = 2 * kPi * static_cast<double>(cell) / 16;
    return goodBall(0, u + 0.1 * std::cos(angle), v + 0.1 * std::sin(angle), 0.6);
  };
  Flipbook book = bookOf(loop, round);
  const double usual = book.cells.front().change;
  EXPECT_FALSE(find("fade", book, loop)) << "what is mixed is alike";
  for (std::size_t i = 12; i < 16; ++i) book.cells[i].faded = 8 * usual;
  const auto finding = find("fade", book, loop);
  ASSERT_TRUE(finding);
  EXPECT_FALSE(finding->isTrouble);
  EXPECT_NEAR(finding->number, 8, 1);
  EXPECT_THAT(finding->cells, testing::ElementsAre(12, 13, 14, 15));
  const Scene searched = fixed(loop, loop.findByName("flipbook")->id, *finding->remedy);
  const FlipbookLayout layout = flipbookLayout(searched, *searched.findByName("flipbook"));
  EXPECT_TRUE(layout.findsLoop);
  EXPECT_EQ(layout.lastFrame, 200);
  // With nothing to choose from, nothing is offered.
  const Scene brief = with(loop, {"scene.last_frame=17"});
  EXPECT_FALSE(find("fade", book, brief)->remedy);
}

TEST_F(BakeChecks, AnExactLoopThatIsNoneIsToldWithItsReason) {
  const Scene loop = with(scene_, {"scene.exact_loop=true", "scene.last_frame=16", "flipbook.loop=exact"});
  Flipbook book = bookOf(loop, good_);
  book.loopProblem = "the gulls fly on";
  EXPECT_EQ(find("seam", book, loop)->text, "the gulls fly on");
}

TEST_F(BakeChecks, MotionTooLargeForBlending) {
  Flipbook book = bookOf(scene_, good_);
  book.cells[4].motion = 9;
  const auto finding = find("motion", book, scene_);
  ASSERT_TRUE(finding);
  EXPECT_THAT(finding->cells, testing::ElementsAre(4));
  const Scene vectors = fixed(scene_, book.layout.bake, *finding->remedy);
  Flipbook mendedBook = bookOf(vectors, good_);
  mendedBook.cells[4].motion = 9;
  EXPECT_FALSE(find("motion", mendedBook, vectors));
  mendedBook.cells[4].motion = 30;
  EXPECT_TRUE(find("motion", mendedBook, vectors)) << "vectors do not bridge everything";
}

TEST_F(BakeChecks, WhatIsNotRoundShouldNotBeTurned) {
  const auto longer =
      find("rotation", [](std::size_t cell, double u, double v) { return goodBall(cell, 2.5 * u, v); });
  ASSERT_TRUE(longer);
  EXPECT_NEAR(longer->number, 2.5, 0.1);
  EXPECT_FALSE(longer->isTrouble);
  EXPECT_TRUE(
      find("rotation", [](std::size_t cell, double u, double v) { return goodBall(cell, u, v + 0.4, 0.4); }));
  EXPECT_FALSE(find("rotation", good_));
}

// Balls that move on from variant to variant.
Vec4 variantBall(std::size_t cell, double u, double v, double shift, double size) {
  const double variant = std::floor(static_cast<double>(cell) / 16);
  return goodBall(cell % 16, u + shift * variant, v, size);
}

TEST_F(BakeChecks, VariantsThatAreAlikeOrDifferTooMuch) {
  const Scene four = with(scene_, {"flipbook.variants=seeds"});
  const auto findIn = [&](const char* check, const Paint& paint) {
    return find(check, bookOf(four, paint), four);
  };
  const Paint unlike = [](std::size_t cell, double u, double v) { return variantBall(cell, u, v, 0.1, 0.6); };
  EXPECT_FALSE(findIn("variants_alike", unlike));
  EXPECT_FALSE(findIn("variants_differ", unlike));
  // The third is the first again.
  const auto alike = findIn("variants_alike", [&](std::size_t cell, double u, double v) {
    return unlike(cell / 16 == 2 ? cell - 32 : cell, u, v);
  });
  ASSERT_TRUE(alike);
  EXPECT_THAT(alike->text, testing::HasSubstr("variants 1 and 3"));
  EXPECT_EQ(alike->cells.size(), 16U);
  EXPECT_EQ(alike->cells.front(), 32);
  // The second has three quarters less light, the other way round the fourth is twice as large.
  const auto dim = findIn("variants_differ", [&](std::size_t cell, double u, double v) {
    return unlike(cell, u, v) * (cell / 16 == 1 ? 0.25F : 1.0F);
  });
  ASSERT_TRUE(dim);
  EXPECT_NEAR(dim->number, 4, 0.1);
  EXPECT_THAT(dim->text,
              testing::AllOf(testing::HasSubstr("4.0 times as bright"), testing::HasSubstr("variant 2")));
  const auto large = findIn("variants_differ", [&](std::size_t cell, double u, double v) {
    return variantBall(cell, u, v, 0, cell / 16 == 3 ? 0.6 : 0.45) * (cell / 16 == 3 ? 0.56F : 1.0F);
  });
  ASSERT_TRUE(large);
  EXPECT_THAT(large->text, testing::AllOf(testing::HasSubstr("as large"), testing::StartsWith("variant 4")));
  // Values that differ are meant to.
  const Scene values = with(scene_, {"flipbook.variants=values", "flipbook.varied=emitter.rate=10,20,40,80"});
  const auto asWanted =
      find("variants_differ",
           bookOf(values, [&](std::size_t cell, double u,
                              double v) { return unlike(cell, u, v) * (cell / 16 == 1 ? 0.25F : 1.0F); }),
           values);
  ASSERT_TRUE(asWanted);
  EXPECT_FALSE(asWanted->isTrouble);
}

TEST_F(BakeChecks, AVariantEndsAndLoopsByItself) {
  const Scene two = with(scene_, {"flipbook.variants=seeds", "flipbook.variant_count=2"});
  // The second fades out, which is no end of the first.
  const auto ends = find(
      "dull_ends",
      bookOf(two, [](std::size_t cell, double u,
                     double v) { return goodBall(cell % 16, u, v, 0.6) * (cell == 31 ? 0.001F : 1.0F); }),
      two);
  ASSERT_TRUE(ends);
  EXPECT_THAT(ends->cells, testing::ElementsAre(31));
  // Where the one ends as the other begins, nothing is twice.
  EXPECT_FALSE(find("duplicate",
                    bookOf(two, [](std::size_t cell, double u,
                                   double v) { return goodBall(cell == 16 ? 15 : cell, u, v, 0.6); }),
                    two));
  // The seam that is told is that of the second.
  const Scene loop = with(two, {"flipbook.loop=cross_fade", "flipbook.first=30", "flipbook.last=45"});
  const auto seam =
      find("seam",
           bookOf(loop,
                  [](std::size_t cell, double u, double v) {
                    const double angle = 2 * kPi * static_cast<double>(cell % 16) / 16;
                    const double swollen = cell < 16 ? 0 : 0.03 * static_cast<double>(cell - 16);
                    return goodBall(0, u + 0.1 * std::cos(angle), v + 0.1 * std::sin(angle), 0.4 + swollen);
                  }),
           loop);
  ASSERT_TRUE(seam);
  EXPECT_THAT(seam->cells, testing::ElementsAre(31, 16));
}

TEST_F(BakeChecks, CellsThatAreNotSquare) {
  const Scene wide = with(scene_, {"flipbook.cell_width=128"});
  const auto finding = find("not_square", bookOf(wide, good_), wide);
  ASSERT_TRUE(finding);
  const Scene square = fixed(wide, wide.findByName("flipbook")->id, *finding->remedy);
  EXPECT_FALSE(find("not_square", bookOf(square, good_), square));
}

TEST_F(BakeChecks, BleedAtMipLevelsAndThePaddingThatMendsIt) {
  // Bright to the very edge, every other cell.
  const Paint full = [](std::size_t cell, double, double) { return Vec4(cell % 2 == 0 ? 0.9F : 0.1F); };
  const auto finding = find("bleed", full);
  ASSERT_TRUE(finding);
  EXPECT_GT(finding->number, 10);
  const Scene padded = fixed(scene_, scene_.findByName("flipbook")->id, *finding->remedy);
  EXPECT_EQ(flipbookLayout(padded, *padded.findByName("flipbook")).width(), 4 * 64)
      << "the sheet stays as large";
  Flipbook book = bookOf(padded, full);
  // As the bake fills the padding.
  for (std::size_t cell = 0; cell < book.cells.size(); ++cell) {
    const int x = book.layout.cellX(cell), y = book.layout.cellY(cell), pad = book.layout.padding;
    for (int j = y - pad; j < y + book.layout.cellHeight + pad; ++j)
      for (int i = x - pad; i < x + book.layout.cellWidth + pad; ++i) book.color.at(i, j) = full(cell, 0, 0);
  }
  EXPECT_FALSE(find("bleed", book, padded)) << "no foreign colour at mip level 3";
  EXPECT_FALSE(find("bleed", good_));
}

TEST_F(BakeChecks, UnusedSheet) {
  const auto small =
      find("unused", [](std::size_t cell, double u, double v) { return goodBall(cell, u, v, 0.2); });
  ASSERT_TRUE(small);
  EXPECT_TRUE(small->remedy->fits);
  const Scene few = with(scene_, {"flipbook.last=4"});
  const auto rows = find("unused", bookOf(few, good_), few);
  ASSERT_TRUE(rows);
  const Scene fitting = fixed(few, few.findByName("flipbook")->id, *rows->remedy);
  EXPECT_FALSE(find("unused", bookOf(fitting, good_), fitting));
  EXPECT_FALSE(find("unused", good_));
}

TEST_F(BakeChecks, SizesThatAreNoPowersOfTwo) {
  for (const char* edit : {"flipbook.cell_width=60", "flipbook.rows=5", "flipbook.padding=3"}) {
    const Scene odd = with(scene_, {edit});
    const auto finding = find("power_of_two", bookOf(odd, good_), odd);
    ASSERT_TRUE(finding) << edit;
    const Scene even = fixed(odd, odd.findByName("flipbook")->id, *finding->remedy);
    EXPECT_FALSE(find("power_of_two", bookOf(even, good_), even)) << edit;
  }
  EXPECT_FALSE(find("power_of_two", good_));
}

TEST_F(BakeChecks, SheetsOfThreeVariantsAreNoPowerOfTwo) {
  const Scene three = with(scene_, {"flipbook.variants=seeds", "flipbook.variant_count=3"});
  const auto finding = find("power_of_two", bookOf(three, good_), three);
  ASSERT_TRUE(finding && finding->remedy);
  const Scene mended = fixed(three, three.findByName("flipbook")->id, *finding->remedy);
  EXPECT_FALSE(find("power_of_two", bookOf(mended, good_), mended));
  const Scene values = with(scene_, {"flipbook.variants=values", "flipbook.varied=emitter.rate=1,2,3"});
  const auto told = find("power_of_two", bookOf(values, good_), values);
  ASSERT_TRUE(told);
  EXPECT_FALSE(told->remedy) << "which value is to be left out is not known";
}

TEST_F(BakeChecks, VideoMemoryOverTheBudget) {
  // 256 × 256 pixels, a byte each, with a third more for mip levels.
  const double megabytes = 256 * 256 * 4.0 / 3 / (1 << 20);
  const Scene tight = with(scene_, {"flipbook.memory_budget=" + std::to_string(megabytes * 0.9)});
  const auto finding = find("memory", bookOf(tight, good_), tight);
  ASSERT_TRUE(finding);
  EXPECT_NEAR(finding->number, megabytes, 1e-9);
  const Scene smaller = fixed(tight, tight.findByName("flipbook")->id, *finding->remedy);
  EXPECT_FALSE(find("memory", bookOf(smaller, good_), smaller));
  EXPECT_FALSE(find("memory", good_));
}

TEST_F(BakeChecks, ResolutionThatNothingNeeds) {
  const auto smooth = find("resolution", [](std::size_t cell, double u, double v) {
    const double cover = std::exp(-3 * (u * u + v * v)) * (1 - 0.01 * static_cast<double>(cell));
    return Vec4(static_cast<float>(cover));
  });
  ASSERT_TRUE(smooth);
  EXPECT_LT(smooth->number, 2);
  EXPECT_FALSE(find("resolution", good_));
}

TEST_F(BakeChecks, RemediesNameParametersThatThereAre) {
  // Everything at once: whatever is found, its remedy can be applied and leaves a bake that can be laid out.
  const Scene odd = with(scene_, {"flipbook.cell_width=60", "flipbook.rows=7", "flipbook.alpha=straight",
                                  "flipbook.memory_budget=0.001"});
  const Flipbook book = bookOf(odd, [](std::size_t cell, double, double v) {
    return cell < 2 ? Vec4(0.0F) : Vec4(Vec3(3.0F), static_cast<float>(0.5 + 0.001 * v));
  });
  const std::vector<Finding> findings = checkBake(book, odd);
  EXPECT_GT(findings.size(), 6U);
  for (const Finding& finding : findings) {
    ASSERT_TRUE(finding.remedy) << finding.check;
    const Scene next = fixed(odd, book.layout.bake, *finding.remedy);
    EXPECT_NE(next, odd) << finding.check;
    EXPECT_NO_THROW(flipbookLayout(next, *next.find(book.layout.bake))) << finding.check;
  }
}

}  // namespace
}  // namespace comet
