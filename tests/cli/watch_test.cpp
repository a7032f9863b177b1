// A sheet that is baked again whenever the scene is saved.
#include "base/file.h"
#include "support/child.h"
#include "support/files.h"
#include "support/read.h"

#include <chrono>
#include <functional>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <signal.h>
#include <thread>

namespace comet {
namespace {

namespace fs = std::filesystem;

class Watch : public testing::Test {
 protected:
  static int run(const std::vector<std::string>& arguments) {
    return test::exitCodeOf(test::startChild(COMET_BINARY, arguments));
  }
  std::vector<std::string> bakeTo(const char* folder) const {
    return {"bake", scene().string(), "--out", (folder_ / folder).string(), "--quiet"};
  }
  fs::path scene() const { return folder_ / "scene.comet"; }
  std::string sheetIn(const char* folder) const {
    const fs::path sheet = folder_ / folder / "flipbook.png";
    return fs::exists(sheet) ? test::bytesOf(sheet) : std::string();
  }
  void saveWithRate(double rate) const {
    auto json = nlohmann::json::parse(original_);
    for (auto& item : json["items"])
      if (item["kind"] == "emitter") item["params"]["rate"] = rate;
    writeFileAtomically(scene(), json.dump());
  }
  static testing::AssertionResult eventually(const std::function<bool()>& condition) {
    constexpr int kTries = 600;
    for (int i = 0; i < kTries; ++i) {
      if (condition()) return testing::AssertionSuccess();
      std::this_thread::sleep_for(std::chrono::milliseconds(100));
    }
    return testing::AssertionFailure() << "did not come true in time";
  }

  void SetUp() override {
    ASSERT_EQ(run({"new", scene().string()}), 0);
    original_ = test::bytesOf(scene());
  }

  test::TemporaryFolder folder_;
  std::string original_;
};

TEST_F(Watch, EverySaveIsBakedAsByItself) {
  auto arguments = bakeTo("watched");
  arguments.emplace_back("--watch");
  const pid_t watcher = test::startChild(COMET_BINARY, arguments);
  EXPECT_TRUE(eventually([&] { return !sheetIn("watched").empty(); }));
  ASSERT_EQ(run(bakeTo("once")), 0);
  EXPECT_TRUE(eventually([&] { return sheetIn("watched") == sheetIn("once"); }));

  // What is faulty is told, and what was baked stays.
  writeFileAtomically(scene(), "no scene");
  std::this_thread::sleep_for(std::chrono::milliseconds(500));
  EXPECT_EQ(sheetIn("watched"), sheetIn("once"));

  saveWithRate(300);
  const std::string before = sheetIn("once");
  ASSERT_EQ(run(bakeTo("once")), 0);
  ASSERT_NE(sheetIn("once"), before);
  EXPECT_TRUE(eventually([&] { return sheetIn("watched") == sheetIn("once"); }));

  ::kill(watcher, SIGINT);
  constexpr int kStopped = 130;
  EXPECT_EQ(test::exitCodeOf(watcher), kStopped);
}

TEST_F(Watch, WrongUseEndsIt) {
  auto arguments = bakeTo("watched");
  arguments.insert(arguments.end(), {"--watch", "--bake", "no such bake"});
  constexpr int kWrongUse = 2;
  EXPECT_EQ(run(arguments), kWrongUse);
}

}  // namespace
}  // namespace comet
