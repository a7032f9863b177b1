// Work survives whatever ends the program.
#include "window/driver.h"

#include <QThread>
#include <fstream>
#include <sstream>

namespace comet::test {
namespace {

using Survival = WindowTest;

TEST_F(Survival, WorkIsRecoveredAfterAKill) {
  startNewScene();
  typeInto("inspector/param.rate/value", "77");
  waitFor([this] { return param("emitter", "rate") == 77.0; }, "the rate is set");
  QThread::msleep(1000);
  end();
  start();
  click("recover");
  waitFor([this] { return state()["page"] == 1; }, "it is shown");
  EXPECT_EQ(param("emitter", "rate"), 77.0);
  // It is as unsaved as it was, and a click elsewhere renames nothing.
  EXPECT_NE(textOf("scene_name").find("●"), std::string::npos) << textOf("scene_name");
  click("inspector/item_name");
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  EXPECT_FALSE(item("emitter").is_null());
}

TEST_F(Survival, AStartWithTheFileOffersItToo) {
  const QString path = folder().filePath("reed.comet");
  std::ofstream(path.toStdString()) << R"({"format":"tawny-comet-scene","version":1,
      "items":[{"kind":"emitter","name":"reed","params":{"rate":5}}]})";
  start({path});
  click("play");
  typeInto("inspector/param.rate/value", "9");
  waitFor([this] { return param("reed", "rate") == 9.0; }, "the rate is set");
  QThread::msleep(1000);
  end();
  start({path});
  waitFor([this] { return state()["modal"] == true; }, "it is asked");
  chooseInMenu("Recover it");
  waitFor([this] { return param("reed", "rate") == 9.0; }, "the work is there");
  EXPECT_EQ(textOf("scene_name"), "reed ●");
}

TEST_F(Survival, WhatAnotherProgramSavedIsNotOverwrittenUnasked) {
  const QString path = folder().filePath("reed.comet");
  const std::string text = R"({"format":"tawny-comet-scene","version":1,
      "items":[{"kind":"emitter","name":"reed","params":{"rate":5}}]})";
  std::ofstream(path.toStdString()) << text;
  start({path});
  click("play");
  typeInto("inspector/param.rate/value", "9");
  std::ofstream(path.toStdString()) << text << "\n\n";
  desktop_.key("s", {"Control_L"});
  waitFor([this] { return state()["modal"] == true; }, "it is asked");
  chooseInMenu("Cancel");
  waitFor([this] { return state()["modal"] == false; }, "the question is put aside");
  std::stringstream now;
  now << std::ifstream(path.toStdString()).rdbuf();
  EXPECT_EQ(now.str(), text + "\n\n");
  // Without a window manager nobody hands the keyboard back.
  desktop_.click(placeOf({{"of", "row_head"}, {"row", 0}}));
  desktop_.key("s", {"Control_L"});
  waitFor([this] { return state()["modal"] == true; }, "it is asked again");
  chooseInMenu("Overwrite");
  EXPECT_TRUE(comesTrue([this] { return textOf("scene_name") == "reed"; }));
}

}  // namespace
}  // namespace comet::test
