// Work survives whatever ends the program.
#include "support/environment.h"
#include "window/driver.h"

#include <QElapsedTimer>
#include <QThread>
#include <algorithm>
#include <fstream>
#include <random>
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

// Killed at moments of chance while the hand goes on editing: what comes back is at most a second old.
TEST_F(Survival, SteadyEditingLosesAtMostASecond) {
  std::mt19937 random(static_cast<unsigned>(numberFromEnvironment("COMET_SEED", 1)));
  const std::string seed = "inspector/param.seed/value";
  QElapsedTimer clock;
  clock.start();
  struct Seen {
    qint64 time = 0;
    double value = 0;
  };
  const auto seen = [&] {
    const Json value = param("emitter", "seed");
    return Seen{clock.elapsed(), value.is_null() ? 0 : value.get<double>()};
  };
  double min = 0;
  const int kills = numberFromEnvironment("COMET_KILLS", 4);
  for (int kill = 0; kill <= kills; ++kill) {
    start();
    const bool recovers = isShown("recover");
    click(recovers ? "recover" : "start_new");
    waitFor([this] { return state()["page"] == 1; }, "the scene is shown");
    Seen now = seen();
    ASSERT_GE(now.value, min) << "kill " << kill << (recovers ? "" : ", which left no copy");
    if (kill == kills) break;
    // What was recovered can be recovered again.
    min = now.value;
    click(seed);
    const qint64 end = clock.elapsed() + std::uniform_int_distribution<qint64>(50, 3000)(random);
    std::vector<Seen> history{now};
    qint64 longest = 0;  // between two looks, as a measure of how evenly the machine runs
    while (now.time < end) {
      desktop_.press(Desktop::WheelUp);
      desktop_.release(Desktop::WheelUp);
      QThread::msleep(10);
      const qint64 before = now.time;
      now = seen();
      longest = std::max(longest, now.time - before);
      history.push_back(now);
    }
    this->end();
    for (const Seen& each : history)
      if (each.time < now.time - 1000 - longest) min = std::max(min, each.value);
    ASSERT_GT(now.value, history.front().value) << "the wheel edits nothing";
  }
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
  waitFor([this] { return state()["active"] == true; }, "the window has the keyboard");
  desktop_.key("s", {"Control_L"});
  waitFor([this] { return state()["modal"] == true; }, "it is asked again");
  chooseInMenu("Overwrite");
  EXPECT_TRUE(comesTrue([this] { return textOf("scene_name") == "reed"; }));
}

TEST_F(Survival, WhereNothingCanBeKeptItIsSaid) {
  // A file where the folder would be.
  std::ofstream(folder().filePath("Tawny Comet").toStdString()) << "in the way";
  start({"--demo", "funnel_sparks"});
  EXPECT_TRUE(comesTrue([this] { return textOf("problem").rfind("Unsaved work is not kept", 0) == 0; }))
      << textOf("problem");
}

}  // namespace
}  // namespace comet::test
