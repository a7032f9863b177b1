#include "base/enlarged.h"

namespace comet {
namespace {

Picture enlarged(const Picture& picture, int width, int height) {
  const EnlargedRows rows(picture, width, height);
  Picture result = Picture::unset(width, height);
  std::vector<Vec4> line;
  for (int y = 0; y < height; ++y) rows.row(y, line, result.row(y));
  return result;
}

TEST(Enlarged, KeepsWhatIsTheSameAllOver) {
  const Vec4 pixel(0.25F, 0.5F, 2, 0.75F);
  const Picture plain = changed(Picture(7, 5), [&](const Vec4&) { return pixel; });
  const Picture large = enlarged(plain, 24, 19);
  for (const Vec4& found : large.pixels())
    for (int c = 0; c < 4; ++c) ASSERT_NEAR(found[c], pixel[c], 1e-5);
}

TEST(Enlarged, ContinuesWhatRisesEvenly) {
  Picture slope(12, 9);
  const auto value = [](double x, double y) { return 0.1 + 0.05 * x + 0.03 * y; };
  for (int y = 0; y < slope.height(); ++y)
    for (int x = 0; x < slope.width(); ++x)
      slope.at(x, y) = Vec4(static_cast<float>(value(x + 0.5, y + 0.5)));
  constexpr int kTimes = 4;
  const Picture large = enlarged(slope, kTimes * slope.width(), kTimes * slope.height());
  // Two pixels from the edge on, where all that a pixel is made of lies within.
  for (int y = 2 * kTimes; y < large.height() - 2 * kTimes; ++y)
    for (int x = 2 * kTimes; x < large.width() - 2 * kTimes; ++x)
      ASSERT_NEAR(large.at(x, y).x, value((x + 0.5) / kTimes, (y + 0.5) / kTimes), 1e-5);
}

TEST(Enlarged, ShowsNoBlocks) {
  Picture edge(8, 4);
  for (int y = 0; y < edge.height(); ++y)
    for (int x = 4; x < edge.width(); ++x) edge.at(x, y) = Vec4(1.0F);
  const Picture large = enlarged(edge, 64, 32);
  // How much the slope changes from pixel to pixel: straight lines between the middles of pixels would bend
  // by the whole slope, an eighth, at once; this filter bends by its second derivative, at most 4, of an
  // eighth squared.
  float sharpest = 0;
  for (int x = 1; x + 1 < large.width(); ++x)
    sharpest =
        std::max(sharpest, std::abs(large.at(x + 1, 16).x - 2 * large.at(x, 16).x + large.at(x - 1, 16).x));
  EXPECT_LT(sharpest, 4.0 / 64);
  EXPECT_GT(sharpest, 1.0 / 64);
}

}  // namespace
}  // namespace comet
