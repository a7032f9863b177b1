#include "bake/fill_outward.h"

#include "base/random.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

// A soft red disc in the middle of nothing.
Picture disc(int size) {
  Picture picture(size, size);
  for (int y = 0; y < size; ++y)
    for (int x = 0; x < size; ++x) {
      const double distance = std::hypot(x + 0.5 - 0.5 * size, y + 0.5 - 0.5 * size) / (0.3 * size);
      const auto alpha = static_cast<float>(std::clamp(1.5 - distance, 0.0, 1.0));
      picture.at(x, y) = Vec4(0.8F * alpha, 0.2F * alpha, 0, alpha);
    }
  return picture;
}

TEST(FillOutward, KnownPixelsStayAndOthersTakeTheirNeighbours) {
  Picture values(16, 4);
  values.at(2, 1) = Vec4(1, 0, 0, 1);
  values.at(13, 1) = Vec4(0, 1, 0, 1);
  const Picture filled = filledOutward(values);
  EXPECT_EQ(filled.at(2, 1), values.at(2, 1));
  EXPECT_EQ(filled.at(13, 1), values.at(13, 1));
  EXPECT_GT(filled.at(0, 3).x, 0.9F) << "next to the red one";
  EXPECT_GT(filled.at(15, 3).y, 0.9F) << "next to the green one";
  for (const Vec4& pixel : filled.pixels()) EXPECT_NEAR(pixel.x + pixel.y, 1, 1e-5) << "a mean of both";
}

TEST(FillOutward, NothingKnownStaysAsItIs) {
  const Picture empty(5, 3);
  EXPECT_EQ(filledOutward(empty), empty);
}

TEST(StraightAlpha, ColoursGoOnBeyondTheEdge) {
  const Picture straight = withStraightAlpha(disc(32));
  for (const Vec4& pixel : straight.pixels()) {
    EXPECT_NEAR(pixel.x, 0.8, 1e-3);
    EXPECT_NEAR(pixel.y, 0.2, 1e-3);
  }
  EXPECT_EQ(straight.at(0, 0).w, 0) << "alpha is what it was";
}

TEST(StraightAlpha, ThereAndBackIsLosslessWithinAStep) {
  const RandomSource random(3);
  Picture picture(64, 8);
  for (int y = 0; y < 8; ++y)
    for (int x = 0; x < 64; ++x) {
      const auto draw = [&](int i) {
        return static_cast<float>(random.unit(static_cast<std::uint64_t>(y * 64 + x), static_cast<Draw>(i)));
      };
      const float alpha = draw(0) * draw(1);
      picture.at(x, y) = Vec4(alpha * draw(2), alpha * draw(3), alpha * draw(4), alpha);
    }
  const Picture straight = withStraightAlpha(picture);
  for (int y = 0; y < 8; ++y)
    for (int x = 0; x < 64; ++x)
      for (int c = 0; c < 3; ++c)
        EXPECT_NEAR(straight.at(x, y)[c] * straight.at(x, y).w, picture.at(x, y)[c], 0.5 / 65535);
}

TEST(EdgeBleed, ThePaddingGoesOnWithTheEdge) {
  Picture sheet(8, 8);
  for (int y = 2; y < 6; ++y)
    for (int x = 2; x < 6; ++x) sheet.at(x, y) = Vec4(static_cast<float>(x), static_cast<float>(y), 0, 1);
  bleedEdge(sheet, 2, 2, 4, 4, 2);
  EXPECT_EQ(sheet.at(0, 0), Vec4(2, 2, 0, 1));
  EXPECT_EQ(sheet.at(7, 3), Vec4(5, 3, 0, 1));
  EXPECT_EQ(sheet.at(4, 7), Vec4(4, 5, 0, 1));
  EXPECT_EQ(sheet.at(3, 3), Vec4(3, 3, 0, 1));
}

}  // namespace
}  // namespace comet
