#include "render/rasteriser.h"

#include "base/parallel.h"
#include "base/random.h"
#include "base/vector_unit.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

constexpr SpriteProfile::Type kAllTypes[] = {SpriteProfile::Type::Dot, SpriteProfile::Type::SoftDisc,
                                             SpriteProfile::Type::Ring};

Picture draw(const std::vector<Sprite>& sprites, const std::vector<SpriteProfile>& profiles, int width = 200,
             int height = 150) {
  Picture picture(width, height);
  Rasteriser().draw({{sprites.data(), sprites.size()}}, {profiles, nullptr}, picture);
  return picture;
}

Sprite at(float x, float y, float radius, float depth = 1, float opacity = 1) {
  return {x, y, radius, depth, 1, 1, 1, opacity, 0};
}

double covered(const Picture& picture) {
  double sum = 0;
  for (const Vec4& pixel : picture.pixels()) sum += pixel.w;
  return sum;
}

SpriteProfile profile(SpriteProfile::Type type, Blend blend = Blend::Normal) {
  SpriteProfile result;
  result.type = type;
  result.blend = blend;
  result.innerRadius = 0.75F;
  return result;
}

TEST(Rasteriser, DiscCoversItsArea) {
  for (const float radius : {3.3F, 8.0F, 31.7F, 60.0F})
    for (const float offset : {0.0F, 0.23F, 0.5F}) {
      const double area =
          covered(draw({at(100 + offset, 75 - offset, radius)}, {profile(SpriteProfile::Type::Dot)}));
      EXPECT_NEAR(area / (kPi * radius * radius), 1, 0.01) << radius << " at " << offset;
    }
}

TEST(Rasteriser, SmallDiscCoversItsAreaOnAverage) {
  // A rim of one pixel is sampled coarsely; as the disc moves over the pixels the errors even out.
  for (const float radius : {1.0F, 1.5F, 2.0F}) {
    double area = 0;
    for (int i = 0; i < 64; ++i)
      area += covered(draw({at(100 + i % 8 / 8.0F, 75 + i / 8 / 8.0F, radius)},
                           {profile(SpriteProfile::Type::Dot)})) /
              64;
    EXPECT_NEAR(area / (kPi * radius * radius), 1, 0.01) << radius;
  }
}

TEST(Rasteriser, RingCoversItsArea) {
  const double area = covered(draw({at(100, 75, 40)}, {profile(SpriteProfile::Type::Ring)}));
  EXPECT_NEAR(area / (kPi * 1600 * (1 - 0.75 * 0.75)), 1, 0.01);
}

TEST(Rasteriser, SoftDiscCoversTheIntegralOfItsProfile) {
  // With q = (d/r)², smoothstep(1 - q) over q from 0 to 1 integrates to 1/2; a full core adds its own area.
  for (const float hardness : {0.0F, 0.5F, 0.9F}) {
    SpriteProfile soft = profile(SpriteProfile::Type::SoftDisc);
    soft.hardness = hardness;
    const double core = hardness * hardness;
    EXPECT_NEAR(covered(draw({at(100, 75, 50)}, {soft})) / (kPi * 2500), core + (1 - core) / 2, 0.005)
        << hardness;
  }
}

TEST(Rasteriser, TinySpritesKeepTheirLight) {
  Sprite tiny = at(50.3F, 60.7F, 0.2F);
  keepVisible(tiny);
  EXPECT_GE(tiny.radius, kSmallestRadius);
  EXPECT_NEAR(covered(draw({tiny}, {profile(SpriteProfile::Type::Dot)})), kPi * 0.04, 0.02);
}

TEST(Rasteriser, SpritesAcrossTilesAreWhole) {
  const double inside = covered(draw({at(32, 32, 20)}, {profile(SpriteProfile::Type::Dot)}));
  const double across = covered(draw({at(64, 64, 20)}, {profile(SpriteProfile::Type::Dot)}));
  EXPECT_NEAR(inside, across, 1e-3);
}

TEST(Rasteriser, NormalBlendFollowsDepthNotOrder) {
  Sprite nearRed = at(50, 50, 10, 1, 0.5F), farBlue = at(50, 50, 10, 9, 0.8F);
  nearRed.green = nearRed.blue = 0;
  farBlue.red = farBlue.green = 0;
  const std::vector<SpriteProfile> profiles{profile(SpriteProfile::Type::Dot)};
  const Picture one = draw({nearRed, farBlue}, profiles), other = draw({farBlue, nearRed}, profiles);
  // Over: red 0.5 in front of blue 0.8.
  const Vec4 expected(0.5F, 0, 0.8F * 0.5F, 0.5F + 0.8F * 0.5F);
  for (int i = 0; i < 4; ++i) {
    EXPECT_FLOAT_EQ(one.at(50, 50)[i], expected[i]);
    EXPECT_FLOAT_EQ(other.at(50, 50)[i], expected[i]);
  }
}

TEST(Rasteriser, NegativeDepthsSortToo) {
  Sprite nearer = at(50, 50, 10, -5), farther = at(50, 50, 10, -1);
  nearer.green = 0;
  farther.red = 0;
  const Picture picture = draw({nearer, farther}, {profile(SpriteProfile::Type::Dot)});
  EXPECT_EQ(picture.at(50, 50).x, 1);
  EXPECT_EQ(picture.at(50, 50).y, 0);
}

TEST(Rasteriser, AdditiveSumsAreExactAndCoverNothing) {
  std::vector<Sprite> sprites(1000, at(50, 50, 10, 1, 0.25F));
  for (Sprite& sprite : sprites) sprite.red = 0.5F, sprite.green = 2;
  const Picture picture = draw(sprites, {profile(SpriteProfile::Type::Dot, Blend::Additive)});
  // Powers of two add up without rounding.
  EXPECT_EQ(picture.at(50, 50), Vec4(125, 500, 250, 0));
}

TEST(Rasteriser, AdditiveBehindACoveringSpriteIsHidden) {
  const std::vector<SpriteProfile> profiles{profile(SpriteProfile::Type::Dot),
                                            profile(SpriteProfile::Type::Dot, Blend::Additive)};
  Sprite wall = at(50, 50, 10, 1), light = at(50, 50, 10, 5);
  wall.red = wall.green = wall.blue = 0;
  light.profile = 1;
  EXPECT_EQ(draw({light, wall}, profiles).at(50, 50), Vec4(0, 0, 0, 1));
  light.depth = 0.5F;
  EXPECT_EQ(draw({light, wall}, profiles).at(50, 50), Vec4(1, 1, 1, 1));
}

TEST(Rasteriser, OutsideSpritesAndEmptyPicturesDoNoHarm) {
  EXPECT_EQ(
      covered(draw({at(-500, 20, 3), at(5000, 20, 3), at(10, -900, 3)}, {profile(SpriteProfile::Type::Dot)})),
      0);
  Picture empty;
  Rasteriser().draw({}, {{}, nullptr}, empty);
  EXPECT_TRUE(empty.empty());
}

std::vector<Sprite> crowd() {
  const RandomSource random(3);
  std::vector<Sprite> sprites;
  for (std::uint64_t i = 0; i < 3000; ++i) {
    const auto unit = [&](Draw draw) { return static_cast<float>(random.unit(i, draw)); };
    sprites.push_back({unit(Draw::ShapeA) * 220 - 10, unit(Draw::ShapeB) * 170 - 10,
                       1 + unit(Draw::Size) * 12, std::floor(unit(Draw::Speed) * 50), unit(Draw::ShapeC),
                       unit(Draw::DirectionA), unit(Draw::DirectionB), unit(Draw::Opacity),
                       static_cast<std::uint32_t>(i % 3)});
  }
  return sprites;
}

TEST(Rasteriser, ThreadsAndVectorUnitDoNotMatter) {
  std::vector<SpriteProfile> profiles;
  for (const auto type : kAllTypes)
    profiles.push_back(profile(type, type == SpriteProfile::Type::Ring ? Blend::Additive : Blend::Normal));
  const Picture best = draw(crowd(), profiles);
  ASSERT_GT(covered(best), 1000);
  useBaselineVectorUnit();
  const Picture baseline = draw(crowd(), profiles);
  useBestVectorUnit();
  EXPECT_EQ(best, baseline);
  const ThreadLimit one(1);
  EXPECT_EQ(draw(crowd(), profiles), best);
}

// Against a picture made without tiles, sorting keys or vectors.
TEST(Rasteriser, AgreesWithThePlainMethod) {
  const std::vector<SpriteProfile> profiles(3, profile(SpriteProfile::Type::Dot));
  std::vector<Sprite> sprites = crowd();
  const Picture picture = draw(sprites, profiles);
  std::stable_sort(sprites.begin(), sprites.end(),
                   [](const Sprite& a, const Sprite& b) { return a.depth > b.depth; });
  double worst = 0;
  for (int y = 0; y < picture.height(); y += 3)
    for (int x = 0; x < picture.width(); x += 3) {
      glm::dvec4 sum(0.0);
      for (const Sprite& s : sprites) {
        const double dx = x + 0.5 - s.x, dy = y + 0.5 - s.y, r = s.radius;
        const double cover = std::clamp(0.5 + (r * r - dx * dx - dy * dy) / (2 * r), 0.0, 1.0) * s.opacity;
        sum = sum * (1 - cover) + glm::dvec4(s.red, s.green, s.blue, 1) * cover;
      }
      for (int i = 0; i < 4; ++i) worst = std::max(worst, std::abs(sum[i] - picture.at(x, y)[i]));
    }
  EXPECT_LT(worst, 1e-4);
}

// A picture shifted by whole pixels is the same picture, whatever tiles its sprites then lie in.
TEST(Rasteriser, WholePixelsOfShiftDoNotMatter) {
  std::vector<Sprite> sprites;
  for (Sprite sprite : crowd()) {
    // Positions in eighths of a pixel, so that a shift rounds nothing.
    sprite.x = std::round(sprite.x * 8) / 8;
    sprite.y = std::round(sprite.y * 8) / 8;
    sprites.push_back(sprite);
  }
  const std::vector<SpriteProfile> profiles(3, profile(SpriteProfile::Type::SoftDisc));
  const Picture before = draw(sprites, profiles, 300, 260);
  for (Sprite& sprite : sprites) sprite.x += 37, sprite.y += 51;
  const Picture after = draw(sprites, profiles, 300, 260);
  for (int y = 0; y < 200; ++y)
    for (int x = 0; x < 250; ++x) ASSERT_EQ(after.at(x + 37, y + 51), before.at(x, y)) << x << ", " << y;
}

// Sprites that cover never make a picture brighter than the brightest of them, nor more than opaque.
TEST(Rasteriser, CoveringSpritesStayBetweenTheirColours) {
  const Picture picture =
      draw(crowd(), std::vector<SpriteProfile>(3, profile(SpriteProfile::Type::SoftDisc)));
  for (const Vec4& pixel : picture.pixels())
    for (int i = 0; i < 4; ++i) {
      ASSERT_GE(pixel[i], 0);
      ASSERT_LE(pixel[i], 1.0001F);
      ASSERT_LE(pixel[i], pixel.w + 1e-5F) << "light without cover";
    }
}

}  // namespace
}  // namespace comet
