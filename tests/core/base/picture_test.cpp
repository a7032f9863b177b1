#include "base/picture.h"

#include "base/digest.h"
#include "base/gradient.h"
#include "base/progress.h"
#include "base/vec.h"
#include "render/view_transform.h"

#include <glm/geometric.hpp>
#include <set>

namespace comet {
namespace {

Picture numbered(int width, int height) {
  Picture picture(width, height);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      picture.at(x, y) = Vec4(static_cast<float>(x), static_cast<float>(y), 0, 1);
  return picture;
}

TEST(Picture, StartsTransparent) {
  const Picture picture(7, 3);
  EXPECT_EQ(picture.pixels().size(), 21U);
  for (const Vec4& pixel : picture.pixels()) EXPECT_EQ(pixel, Vec4(0.0F));
}

TEST(Picture, PastesAtItsPlace) {
  Picture sheet(10, 10);
  sheet.pasteReduced(numbered(3, 2), 1, 4, 5);
  EXPECT_EQ(sheet.at(6, 6), Vec4(2, 1, 0, 1));
  EXPECT_EQ(sheet.at(3, 5), Vec4(0.0F));
  EXPECT_EQ(sheet.at(7, 5), Vec4(0.0F));
  EXPECT_EQ(sheet.at(4, 7), Vec4(0.0F));
}

TEST(Picture, AveragesBlocks) {
  Picture small(2, 2);
  small.pasteReduced(numbered(6, 6), 3, 0, 0);
  EXPECT_EQ(small.at(0, 0), Vec4(1, 1, 0, 1));
  EXPECT_EQ(small.at(1, 0), Vec4(4, 1, 0, 1));
  EXPECT_EQ(small.at(0, 1), Vec4(1, 4, 0, 1));
}

TEST(Picture, LeavesOutWhatNoBlockHolds) {
  Picture picture(5, 3);
  for (int y = 0; y < 3; ++y)
    for (int x = 0; x < 5; ++x) picture.row(y)[x] = Vec4(x < 4 && y < 2 ? static_cast<float>(x / 2) : 100.0F);
  const Picture small = reduced(picture, 2);
  ASSERT_EQ(small.width(), 2);
  ASSERT_EQ(small.height(), 1);
  EXPECT_EQ(small.at(0, 0), Vec4(0.0F));
  EXPECT_EQ(small.at(1, 0), Vec4(1.0F));
}

TEST(ViewTransform, PutsThePictureOverTheGroundInLinearLight) {
  Picture picture(3, 1);
  picture.at(1, 0) = Vec4(0.5F, 0.5F, 0.5F, 1);        // covers
  picture.at(2, 0) = Vec4(0.25F, 0.25F, 0.25F, 0.5F);  // half of mid grey over half of the ground
  const auto pixels = screenPixels(picture, Vec3(0.2F));
  const auto level = [](double linear) {
    const auto value = static_cast<std::uint32_t>(std::lround(encodeSrgb(linear) * 255));
    return 0xFF000000U | value << 16 | value << 8 | value;
  };
  EXPECT_EQ(pixels[0], level(0.2));
  EXPECT_EQ(pixels[1], level(0.5));
  EXPECT_EQ(pixels[2], level(0.25 + 0.5 * 0.2));
}

TEST(ViewTransform, ClipsWhatIsTooBright) {
  Picture picture(1, 1);
  picture.at(0, 0) = Vec4(50, -1, 1, 1);
  EXPECT_EQ(screenPixels(picture, Vec3(0.0F))[0], 0xFFFF00FFU);
}

TEST(ViewTransform, EveryLevelOfTheScreenIsReached) {
  Picture picture(4096, 1);
  for (int x = 0; x < 4096; ++x) {
    const auto linear = static_cast<float>(decodeSrgb(x / 4095.0));
    picture.at(x, 0) = Vec4(linear, linear, linear, 1);
  }
  std::set<std::uint32_t> levels;
  for (const std::uint32_t pixel : screenPixels(picture, Vec3(0.0F))) levels.insert(pixel & 0xFFU);
  EXPECT_EQ(levels.size(), 256U);
}

TEST(ViewTransform, CheckerAlternates) {
  const auto pixels = screenPixelsOverChecker(Picture(4, 4), Vec3(1.0F), Vec3(0.0F), 2);
  EXPECT_EQ(pixels[0], 0xFFFFFFFFU);
  EXPECT_EQ(pixels[2], 0xFF000000U);
  EXPECT_EQ(pixels[2 * 4], 0xFF000000U);
  EXPECT_EQ(pixels[2 * 4 + 2], 0xFFFFFFFFU);
}

TEST(Digest, DependsOnEveryByteAndOnTheirGrouping) {
  const auto of = [](auto... parts) {
    Hasher hasher;
    (void)(hasher << ... << parts);
    return hasher.digest();
  };
  EXPECT_EQ(of(1, 2.0, std::string_view("ab")), of(1, 2.0, std::string_view("ab")));
  EXPECT_NE(of(1), of(2));
  EXPECT_NE(of(1), of(1.0));
  EXPECT_NE(of(std::string_view("ab"), std::string_view("c")),
            of(std::string_view("a"), std::string_view("bc")));
  EXPECT_EQ(of(1).hex().size(), 32U);
}

TEST(Vectors, PerpendicularsMakeARightHandedFrame) {
  for (const Vec3d& raw :
       {Vec3d(1, 0, 0), Vec3d(0, 1, 0), Vec3d(0, 0, 1), Vec3d(0, 0, -1), Vec3d(-3, 2, 0.5)}) {
    const Vec3d axis = glm::normalize(raw);
    Vec3d first, second;
    perpendiculars(axis, first, second);
    EXPECT_NEAR(glm::length(first), 1, 1e-12);
    EXPECT_NEAR(glm::dot(first, axis), 0, 1e-12);
    EXPECT_NEAR(glm::length(glm::cross(axis, first) - second), 0, 1e-12);
  }
}

TEST(Vectors, RotationTurnsAboutXThenYThenZ) {
  EXPECT_NEAR(glm::length(rotationFromDegrees({90, 0, 0}) * Vec3d(0, 1, 0) - Vec3d(0, 0, 1)), 0, 1e-12);
  EXPECT_NEAR(glm::length(rotationFromDegrees({0, 90, 0}) * Vec3d(0, 0, 1) - Vec3d(1, 0, 0)), 0, 1e-12);
  EXPECT_NEAR(glm::length(rotationFromDegrees({0, 0, 90}) * Vec3d(1, 0, 0) - Vec3d(0, 1, 0)), 0, 1e-12);
  EXPECT_NEAR(glm::length(rotationFromDegrees({90, 0, 90}) * Vec3d(0, 1, 0) - Vec3d(0, 0, 1)), 0, 1e-12);
}

TEST(Vectors, WhatHasNoLengthGetsTheFallback) {
  EXPECT_EQ(unitOr(Vec3d(0.0), Vec3d(0, 1, 0)), Vec3d(0, 1, 0));
  EXPECT_EQ(unitOr(Vec3d(0, 0, 5), Vec3d(0, 1, 0)), Vec3d(0, 0, 1));
}

TEST(Progress, ReportsUntilItIsCancelled) {
  std::vector<int> steps;
  Progress progress([&](int done, int) { steps.push_back(done); });
  progress.step(0, 3);
  progress.step(1, 3);
  progress.cancel();
  EXPECT_THROW(progress.step(2, 3), Error);
  EXPECT_EQ(steps, (std::vector<int>{0, 1}));
}

TEST(Error, NamesPlaceProblemAndRemedy) {
  const Error inner(ErrorKind::Input, "/items/0", "is wrong", "Mend it");
  EXPECT_STREQ(inner.within("a.comet").what(), "a.comet: /items/0: is wrong. Mend it");
  EXPECT_EQ(inner.within("a.comet").kind(), ErrorKind::Input);
}

}  // namespace
}  // namespace comet
