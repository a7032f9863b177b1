// What happens in the window when the machine has no more to give.
#include "window/driver.h"

#include <fstream>
#include <sstream>
#include <sys/resource.h>

namespace comet::test {
namespace {

class Limits : public WindowTest {
 protected:
  // Limits what the program may take from now on, or lifts the limit.
  void limit(__rlimit_resource what, rlim_t max) {
    const rlimit limits{max, RLIM_INFINITY};
    ASSERT_EQ(::prlimit(static_cast<pid_t>(processId()), what, &limits, nullptr), 0);
  }

  rlim_t addressSpace() const {
    std::ifstream file("/proc/" + std::to_string(processId()) + "/statm");
    rlim_t pages = 0;
    file >> pages;
    return pages * 4096;
  }

  QString saved(const std::string& text) const {
    const QString path = folder().filePath("reed.comet");
    std::ofstream(path.toStdString()) << text;
    return path;
  }

  static std::string contentOf(const QString& path) {
    std::stringstream content;
    content << std::ifstream(path.toStdString()).rdbuf();
    return content.str();
  }
};

TEST_F(Limits, WhatThereIsNoMemoryForIsGivenUpAndTheRestGoesOn) {
  start({saved(R"({"format":"tawny-comet-scene","version":1,"items":[
      {"kind":"scene","name":"scene","params":{"max_particles":20000000,"frame_cache":100000}},
      {"kind":"emitter","name":"reed","params":{"rate":5,"lifetime":100}}]})")});
  click("play");
  waitFor([this] { return state()["simulated"] == true; }, "it is simulated");
  limit(RLIMIT_AS, addressSpace() + (200U << 20));
  typeInto("inspector/param.rate/value", "5000000");
  waitFor([this] { return param("reed", "rate") == 5e6; }, "it is set");
  // A hundred million particles are not there in the time; the window answers all the while.
  for (int i = 0; i < 20; ++i) {
    EXPECT_EQ(state()["simulated"], false);
    desktop_.key(i % 2 == 0 ? "Right" : "Left");
  }
  undo();
  waitFor([this] { return param("reed", "rate") == 5.0; }, "it is undone");
  waitFor([this] { return state()["simulated"] == true; }, "what fits is simulated as before");
}

TEST_F(Limits, AFullDiskLeavesTheOldFileAndTheWork) {
  const std::string text = R"({"format":"tawny-comet-scene","version":1,
      "items":[{"kind":"emitter","name":"reed","params":{"rate":5}}]})";
  const QString path = saved(text);
  start({path});
  click("play");
  typeInto("inspector/param.rate/value", "9");
  waitFor([this] { return param("reed", "rate") == 9.0; }, "it is set");
  limit(RLIMIT_FSIZE, 16);
  desktop_.key("s", {"Control_L"});
  // In full: what the bar has no room for is cut.
  const auto said = [this] { return widget("problem")["tip"].get<std::string>(); };
  waitFor([&] { return said().find("reed.comet") != std::string::npos; }, "it is said");
  EXPECT_EQ(contentOf(path), text);
  EXPECT_NE(textOf("scene_name").find("●"), std::string::npos) << "the work is unsaved still";
  limit(RLIMIT_FSIZE, RLIM_INFINITY);
  desktop_.key("s", {"Control_L"});
  waitFor([this] { return textOf("scene_name") == "reed"; }, "with room again it is saved");
  EXPECT_NE(contentOf(path).find("9"), std::string::npos);
  EXPECT_EQ(textOf("problem"), "") << "what was overcome is no longer said";
}

}  // namespace
}  // namespace comet::test
