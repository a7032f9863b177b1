// F1 opens the guide where it tells of what is under the pointer.
#include "window/driver.h"

namespace comet::test {
namespace {

class GuideKey : public WindowTest {
 protected:
  // The page that is open and the words that are marked there.
  void expectOpenedOn(const std::string& name, const std::string& page) {
    desktop_.move(middleOf(name));
    desktop_.key("F1");
    EXPECT_TRUE(comesTrue([&] { return isShown("guide_text") && textOf("guide_text") == page; }))
        << name << " opens " << textOf("guide_text");
    desktop_.key("Escape");
    waitFor([this] { return !isShown("guide_text"); }, "the guide is closed");
    // Without a window manager nobody hands the keyboard back.
    desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
    waitFor([this] { return state()["active"] == true; }, "the window has the keyboard");
  }
};

TEST_F(GuideKey, OpensThePageOfWhatIsUnderThePointer) {
  startNewScene();
  expectOpenedOn("inspector/param.rate/value", "birth.md: Rate");
  expectOpenedOn("timeline", "keys.md: ");
  expectOpenedOn("inspector/param.lifetime/value", "launch.md: Lifetime");
}

}  // namespace
}  // namespace comet::test
