// The page that plays a flipbook, in a real browser.
#include "base/color.h"
#include "io/picture_file.h"
#include "support/files.h"
#include "support/read.h"

#include <cstdlib>
#include <gtest/gtest.h>

namespace comet {
namespace {

constexpr int kCell = 112, kPadding = 8, kColumns = 8;

// The name of a browser that draws without a display; empty if there is none.
std::string browser() {
  for (const char* name : {"chromium", "chromium-browser"})
    if (std::system(("command -v " + std::string(name) + " >/dev/null 2>&1").c_str()) == 0) return name;
  return {};
}

TEST(PlayerPage, ShowsTheCellThatTheSheetHolds) {
  const std::string program = browser();
  if (program.empty()) GTEST_SKIP() << "no browser here";
  const test::TemporaryFolder folder;
  const std::string scene = (folder / "scene.comet").string();
  const std::string comet = COMET_BINARY;
  ASSERT_EQ(std::system((comet + " new " + scene + " --demo funnel_steam").c_str()), 0);
  // Without light that alpha does not cover, what lies over black is what the file holds.
  ASSERT_EQ(std::system((comet + " bake " + scene + " --quiet --out " + folder.path().string() +
                         " --set 'funnel steam.web_player=true' --set 'funnel steam.motion_vectors=none'")
                            .c_str()),
            0);
  std::filesystem::rename(folder / "funnel steam.html", folder / "page.html");
  for (const int cell : {0, 9, 50}) {
    const std::string shot = (folder / "shot.png").string();
    ASSERT_EQ(
        std::system(
            (program + " --headless --no-sandbox --disable-gpu --hide-scrollbars --window-size=400,300" +
             " --virtual-time-budget=4000 --force-color-profile=srgb --screenshot=" + shot + " 'file://" +
             (folder / "page.html").string() + "#cell=" + std::to_string(cell) + "&alone' >/dev/null 2>&1")
                .c_str()),
        0);
    const Picture shown = test::readPicture(shot), sheet = test::readPicture(folder / "funnel steam.png");
    const int left = cell % kColumns * (kCell + 2 * kPadding) + kPadding;
    const int top = cell / kColumns * (kCell + 2 * kPadding) + kPadding;
    double max = 0, brightest = 0;
    for (int y = 0; y < kCell; ++y)
      for (int x = 0; x < kCell; ++x) {
        // The reader takes the file's alpha as straight, and multiplies it in.
        const Vec4& pixel = sheet.at(left + x, top + y);
        const double stored = pixel.w > 0 ? encodeSrgb(pixel.y / pixel.w) : 0;
        const double seen = encodeSrgb(shown.at(x, y).y);
        // Cover of less than half a step is no cover in the file, but its light can be seen.
        if (pixel.w > 0)
          max = std::max(max, std::abs(seen - stored));
        else
          EXPECT_LT(seen, 0.05);
        brightest = std::max(brightest, seen);
      }
    EXPECT_LT(max, 1.6 / 255) << "cell " << cell;
    EXPECT_GT(brightest, 0.3);
  }
}

}  // namespace
}  // namespace comet
