// Finding a control: as often as one likes, by keyboard and by mouse, on every page.
#include "window/driver.h"

namespace comet::test {
namespace {

class Find : public WindowTest {
 protected:
  std::string focused() { return state()["focus_parent"]; }
  void begin() {
    desktop_.key("f", {"Control_L"});
    ASSERT_TRUE(comesTrue([this] { return widget("find_control")["focus"] == true; }));
  }
  void expectFocusOn(const std::string& row) {
    EXPECT_TRUE(comesTrue([&] { return focused() == row; })) << "the keyboard is on " << focused();
  }
};

TEST_F(Find, TenTimesByKeyboard) {
  startNewScene();
  for (int i = 0; i < 5; ++i) {
    begin();
    desktop_.type("lifetime");
    desktop_.key("Return");
    expectFocusOn("param.lifetime");
    EXPECT_EQ(textOf("find_control"), "") << "the field is free for the next search";
    begin();
    desktop_.type("field of view");
    desktop_.key("Return");
    EXPECT_TRUE(comesTrue([this] { return state()["selected"] == "camera"; }));
  }
}

TEST_F(Find, TenTimesByMouse) {
  startNewScene();
  for (int i = 0; i < 10; ++i) {
    const bool even = i % 2 == 0;
    click("find_control");
    const std::string wanted = even ? "size" : "cone";
    desktop_.type(QString::fromStdString(wanted));
    waitFor([&] { return isShown("found_controls") && textOf("find_control") == wanted; },
            "matches are listed");
    const QRect list = rectOf("found_controls");
    desktop_.click({list.left() + 40, list.top() + 10});
    expectFocusOn(even ? "param.size" : "param.cone");
    EXPECT_FALSE(isShown("found_controls"));
  }
}

TEST_F(Find, WhatIsTypedBeforeTheProgramAnswersIsKept) {
  startNewScene();
  const QPoint field = middleOf("find_control");
  whileItIsBusy([&] {
    desktop_.click(field);
    desktop_.type("cone");
  });
  EXPECT_TRUE(comesTrue([this] { return textOf("find_control") == "cone"; })) << textOf("find_control");
  // A click in a text that is there selects it, and typing replaces it.
  desktop_.click(middleOf("inspector/param.rate/value"));
  whileItIsBusy([&] {
    desktop_.click(field);
    desktop_.type("size");
  });
  EXPECT_TRUE(comesTrue([this] { return textOf("find_control") == "size"; })) << textOf("find_control");
}

TEST_F(Find, TheExactNameComesFirstAndTheListSaysWhenThereIsNone) {
  startNewScene();
  begin();
  desktop_.type("seed");
  desktop_.key("Return");
  // "Seed" itself, of what is selected, before any other control whose name contains it.
  expectFocusOn("param.seed");
  EXPECT_EQ(state()["selected"], "emitter");
  begin();
  desktop_.type("qqq");
  EXPECT_TRUE(comesTrue([this] { return isShown("found_controls"); }));
  desktop_.key("Return");
  EXPECT_EQ(textOf("find_control"), "qqq") << "Enter takes nothing where there is nothing";
}

TEST_F(Find, OldTextIsReplaced) {
  startNewScene();
  begin();
  desktop_.type("cone");
  desktop_.key("f", {"Control_L"});
  EXPECT_TRUE(comesTrue([this] { return widget("find_control")["selected"] == "cone"; }));
}

TEST_F(Find, AcrossPagesAndScenes) {
  startNewScene();
  desktop_.key("F6");
  waitFor([this] { return state()["page"] == 2; }, "the bake page");
  begin();
  desktop_.type("lifetime");
  desktop_.key("Return");
  EXPECT_TRUE(comesTrue([this] { return state()["page"] == 1; }));
  expectFocusOn("param.lifetime");
  desktop_.key("n", {"Control_L"});
  waitFor([this] { return state()["playing"] == true; }, "another new scene");
  begin();
  desktop_.type("padding");
  desktop_.key("Return");
  EXPECT_TRUE(comesTrue([this] { return state()["page"] == 2; }));
  expectFocusOn("param.padding");
}

TEST_F(Find, TheWordsOfTheTradeLeadToControlsAndActions) {
  startNewScene();
  begin();
  desktop_.type("prewarm");
  desktop_.key("Return");
  expectFocusOn("param.warm_up");
  EXPECT_EQ(state()["selected"], "scene");
  begin();
  desktop_.type("collider");
  desktop_.key("Return");
  EXPECT_TRUE(comesTrue([this] { return state()["selected"] == "deflector"; })) << "one is added";
  // What was mistyped is found by what was meant.
  begin();
  desktop_.type("turbulanse");
  desktop_.key("Return");
  EXPECT_TRUE(comesTrue([this] { return textOf("find_control") == "Turbulence"; })) << textOf("find_control");
  desktop_.key("Return");
  EXPECT_TRUE(comesTrue([this] { return state()["selected"] == "turbulence"; }));
}

}  // namespace
}  // namespace comet::test
