#include "render/stamp.h"

#include "base/random.h"
#include "base/vector_unit.h"
#include "render/rasteriser.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <gtest/gtest.h>

namespace comet {
namespace {

constexpr int kSide = 16;
constexpr int kPictureSide = 96;

// Any values between 0 and 1, but nothing outside a circle of this radius, where 1 is the middle of an edge.
std::vector<float> planesOf(int planes, float radius, int side = kSide) {
  const RandomSource random(7);
  std::vector<float> samples;
  for (int i = 0; i < planes * side * side; ++i) {
    const float x = 2 * (static_cast<float>(i % side) + 0.5F) / static_cast<float>(side) - 1,
                y = 2 * (static_cast<float>(i / side % side) + 0.5F) / static_cast<float>(side) - 1;
    const auto value = static_cast<float>(random.unit(static_cast<std::uint64_t>(i), Draw::Size));
    samples.push_back(std::hypot(x, y) < radius ? value : 0.0F);
  }
  return samples;
}

std::shared_ptr<const Picture> pictureOf(const std::vector<float>& samples, int side = kSide) {
  Picture picture(side, side);
  for (int y = 0; y < side; ++y)
    for (int x = 0; x < side; ++x)
      for (int p = 0; p < 4; ++p) picture.at(x, y)[p] = samples[(p * side + y) * side + x];
  return std::make_shared<const Picture>(picture);
}

StampSet setOf(Stamp stamp) {
  StampSet set;
  set.push_back(std::move(stamp));
  return set;
}

// In the middle of the picture, turned by an angle.
Picture drawn(StampSet set, float wide, float high, float degrees, float mix = 0) {
  const auto angle = static_cast<float>(radians(degrees));
  const float cosine = std::cos(angle), sine = std::sin(angle);
  SpriteTurn turn{};
  turn.uAcross = 2 * cosine / wide;
  turn.uDown = 2 * sine / wide;
  turn.vAcross = -2 * sine / high;
  turn.vDown = 2 * cosine / high;
  turn.reachX = turn.reachY = std::max(wide, high);
  turn.pixelsWide = wide;
  turn.pixelsHigh = high;
  turn.nextStamp = static_cast<std::uint16_t>(set.size() - 1);
  turn.mix = mix;
  SpriteProfile profile;
  profile.type = SpriteProfile::Type::Stamp;
  profile.turned = true;
  profile.stamps = std::make_shared<const StampSet>(std::move(set));
  const Sprite sprite{kPictureSide / 2.0F, kPictureSide / 2.0F, wide, 1, 1, 1, 1, 1, 0};
  Picture picture(kPictureSide, kPictureSide);
  Rasteriser().draw({{&sprite, 1}}, {{profile}, &turn}, picture);
  return picture;
}

// The plane mixed between its texels, at a place from -1 to 1.
double mixedAt(const std::vector<float>& samples, int plane, double u, double v) {
  const auto clamped = [](double place) {
    return std::clamp((place + 1) / 2 * kSide - 0.5, 0.0, kSide - 1.0);
  };
  const double x = clamped(u), y = clamped(v);
  const int x0 = static_cast<int>(x), y0 = static_cast<int>(y);
  const auto at = [&](int column, int row) {
    return static_cast<double>(
        samples[(plane * kSide + std::min(row, kSide - 1)) * kSide + std::min(column, kSide - 1)]);
  };
  return std::lerp(std::lerp(at(x0, y0), at(x0 + 1, y0), x - x0),
                   std::lerp(at(x0, y0 + 1), at(x0 + 1, y0 + 1), x - x0), y - y0);
}

// Compares a stamp, turned and 1.25 and 1.9 pixels to a texel, with its planes mixed plainly: `planes` names
// those that are seen as red, green, blue and alpha.
void expectMixed(StampSet set, const std::vector<float>& samples, std::array<int, 4> planes) {
  constexpr float kWide = 1.25F * kSide, kHigh = 1.9F * kSide, kDegrees = 33;
  const Picture picture = drawn(std::move(set), kWide, kHigh, kDegrees);
  const double cosine = std::cos(radians(kDegrees)), sine = std::sin(radians(kDegrees));
  double sum = 0;
  for (int y = 0; y < kPictureSide; ++y)
    for (int x = 0; x < kPictureSide; ++x) {
      const double dx = x + 0.5 - kPictureSide / 2.0, dy = y + 0.5 - kPictureSide / 2.0;
      const double u = 2 * (cosine * dx + sine * dy) / kWide, v = 2 * (cosine * dy - sine * dx) / kHigh;
      const auto edge = [](double place, double pixels) {
        return std::clamp((1 - std::abs(place)) * pixels / 2 + 0.5, 0.0, 1.0);
      };
      const double within = edge(u, kWide) * edge(v, kHigh);
      for (int i = 0; i < 4; ++i)
        ASSERT_NEAR(picture.at(x, y)[i], within * mixedAt(samples, planes[i], u, v), 3e-5)
            << x << ' ' << y << ' ' << i;
      sum += static_cast<double>(picture.at(x, y).w);
    }
  EXPECT_GT(sum, 50);
}

constexpr float kEverywhere = 9, kRound = 0.8F;

TEST(Stamp, MixesItsTexelsWhateverItIsMadeOf) {
  for (const float radius : {kEverywhere, kRound}) {
    const std::vector<float> one = planesOf(1, radius), two = planesOf(2, radius), four = planesOf(4, radius);
    expectMixed(setOf({Stamp::Kind::Coverage, kSide, kSide, one}), one, {0, 0, 0, 0});
    expectMixed(setOf({Stamp::Kind::Grey, kSide, kSide, two}), two, {0, 0, 0, 1});
    expectMixed(setOf({pictureOf(four), 0, 0, kSide, kSide}), four, {0, 1, 2, 3});
  }
}

TEST(Stamp, ASmallOneShowsItsAverage) {
  const std::vector<float> samples = planesOf(4, kEverywhere, 4 * kSide);
  const auto shown = [&](Stamp stamp) {
    // A level's texels then lie on pixels.
    const Picture picture = drawn(setOf(std::move(stamp)), kSide, kSide, 0);
    return picture.at(kPictureSide / 2 + 3, kPictureSide / 2 - 2);
  };
  const auto average = [&](int plane) {
    double sum = 0;
    for (int y = 0; y < 4; ++y)
      for (int x = 0; x < 4; ++x)
        sum += static_cast<double>(
            samples[(plane * 4 * kSide + 4 * (kSide / 2 - 2) + y) * 4 * kSide + 4 * (kSide / 2 + 3) + x]);
    return sum / 16;
  };
  const std::size_t plane = 16 * kSide * kSide;
  const Vec4 grey = shown({Stamp::Kind::Grey, 4 * kSide, 4 * kSide,
                           std::vector<float>(samples.begin(), samples.begin() + 2 * plane)});
  EXPECT_NEAR(grey.x, average(0), 2e-5);
  EXPECT_NEAR(grey.w, average(1), 2e-5);
  const Vec4 color = shown({pictureOf(samples, 4 * kSide), 0, 0, 4 * kSide, 4 * kSide});
  for (int i = 0; i < 4; ++i) EXPECT_NEAR(color[i], average(i), 2e-5);
}

TEST(Stamp, VectorUnitDoesNotMatter) {
  const auto expectSame = [](const std::function<StampSet()>& make) {
    const Picture best = drawn(make(), 41.3F, 27.9F, -71, 0.4F);
    EXPECT_GT(best.at(kPictureSide / 2, kPictureSide / 2).w, 0);
    useBaselineVectorUnit();
    const Picture baseline = drawn(make(), 41.3F, 27.9F, -71, 0.4F);
    useBestVectorUnit();
    EXPECT_EQ(best, baseline);
  };
  expectSame([] { return puffStamps(2, 0.7); });
  expectSame([] { return streakStamps(); });
  expectSame([] { return pictureStamps(pictureOf(planesOf(4, kEverywhere)), {}, {}); });
}

TEST(Stamp, CoverageIsOfEveryKind) {
  const std::vector<float> four = planesOf(4, kEverywhere);
  const StampSet colors = setOf({pictureOf(four), 0, 0, kSide, kSide}), covers = coverageOf(colors);
  const StampSet again = coverageOf(covers);
  for (int y = 0; y < kSide; ++y)
    for (int x = 0; x < kSide; ++x) {
      EXPECT_EQ(colors.front().coverage(x, y), four[(3 * kSide + y) * kSide + x]);
      EXPECT_NEAR(covers.front().coverage(x, y), colors.front().coverage(x, y), 1e-5);
      EXPECT_EQ(again.front().coverage(x, y), covers.front().coverage(x, y));
    }
}

}  // namespace
}  // namespace comet
