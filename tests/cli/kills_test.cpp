// Whenever the program is killed: what is on the disk is whole, old or new.
//
// COMET_SEED chooses other moments, and COMET_KILLS how many of each.
#include "base/file.h"
#include "support/child.h"
#include "support/environment.h"
#include "support/files.h"
#include "support/read.h"

#include <chrono>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>
#include <set>
#include <signal.h>
#include <thread>

namespace comet {
namespace {

namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

using test::numberFromEnvironment;

class Kills : public testing::Test {
 protected:
  void SetUp() override { ASSERT_EQ(run({"new", scene(), "--demo", "paddle_spray"}), 0); }
  std::string scene() const { return (folder_ / "scene.comet").string(); }
  fs::path out() const { return folder_ / "out"; }

  std::vector<std::string> exportOf(const std::string& frames,
                                    const std::vector<std::string>& further) const {
    std::vector<std::string> arguments{"export",   scene(), "--what", "particles",    "--format", "csv",
                                       "--frames", frames,  "--out",  out().string(), "--quiet"};
    arguments.insert(arguments.end(), further.begin(), further.end());
    return arguments;
  }

  static pid_t start(const std::vector<std::string>& arguments) {
    return test::startChild(COMET_BINARY, arguments);
  }
  static int run(const std::vector<std::string>& arguments) { return test::exitCodeOf(start(arguments)); }

  // Runs the command again and again, each time as one of two, and kills it somewhere within the time that it
  // took when it was left alone.
  template <typename Arguments, typename Check>
  void killOften(const Arguments& arguments, const Check& check) {
    const auto begin = Clock::now();
    ASSERT_EQ(run(arguments(0)), 0);
    const auto whole = Clock::now() - begin;
    check();
    std::mt19937 random(static_cast<unsigned>(numberFromEnvironment("COMET_SEED", 3)));
    const int kills = numberFromEnvironment("COMET_KILLS", 8);
    for (int i = 0; i < kills && !HasFailure(); ++i) {
      const pid_t child = start(arguments(1 + i % 2));
      std::this_thread::sleep_for(whole * std::uniform_real_distribution<double>(0, 1.1)(random));
      ::kill(child, SIGKILL);
      test::exitCodeOf(child);
      check();
    }
  }

  test::TemporaryFolder folder_;
};

TEST_F(Kills, LeaveASceneFileWhole) {
  const std::string file = (folder_ / "saved.comet").string();
  killOften(
      [&](int which) {
        return std::vector<std::string>{"new", file, "--force", "--demo",
                                        which % 2 == 0 ? "reed_fluff" : "paddle_spray"};
      },
      [&] { EXPECT_NO_THROW((void)nlohmann::json::parse(test::bytesOf(file))["format"]); });
}

TEST_F(Kills, LeaveAFlipbookOldOrNewOrWithoutItsDescription) {
  int whole = 0;
  killOften(
      [&](int which) {
        const std::string side = which % 2 == 0 ? "16" : "24";
        return std::vector<std::string>{"bake",
                                        scene(),
                                        "--out",
                                        out().string(),
                                        "--quiet",
                                        "--set",
                                        "paddle spray.cell_width=" + side,
                                        "--set",
                                        "paddle spray.cell_height=" + side,
                                        "--set",
                                        "paddle spray.image_sequence=true"};
      },
      [&] {
        const fs::path description = out() / "paddle spray.json";
        if (!fs::exists(description)) return;
        ++whole;
        const auto book = nlohmann::json::parse(test::bytesOf(description));
        EXPECT_EQ(test::readPicture(out() / std::string(book["image"])).width(), book["width"]);
        for (const auto& entry : fs::directory_iterator(out()))
          if (entry.path().stem().extension() == ".0001") {
            EXPECT_EQ(test::readPicture(entry.path()).width(), book["cell"]["width"]) << entry.path();
          }
      });
  EXPECT_GT(whole, 1);
  ASSERT_EQ(run({"bake", scene(), "--out", out().string(), "--quiet"}), 0);
  for (const auto& entry : fs::directory_iterator(out()))
    EXPECT_EQ(entry.path().string().find(".partial"), std::string::npos) << "is cleaned up the next time";
}

TEST_F(Kills, LeaveAnExportOldOrNew) {
  std::set<std::vector<std::uintmax_t>> known;
  killOften(
      [&](int which) {
        return exportOf("5-20", {"--set", which % 2 == 0 ? "drops.rate=300" : "drops.rate=900"});
      },
      [&] {
        // Each of the two has its own number of particles in each frame.
        if (!fs::exists(out() / "scene.0020.csv")) return;
        std::vector<std::uintmax_t> sizes;
        for (int frame = 5; frame <= 20; ++frame)
          sizes.push_back(fs::file_size(out() / fmt::format("scene.{:04}.csv", frame)));
        known.insert(sizes);
        EXPECT_LE(known.size(), 2U) << "a mixture of the two";
      });
}

TEST_F(Kills, LeaveFramesOnDiskThatAreWhole) {
  const auto particles = [&](const std::vector<std::string>& further) {
    EXPECT_EQ(run(exportOf("20", further)), 0);
    return test::bytesOf(out() / "scene.0020.csv");
  };
  const std::vector<std::string> kept{"--set", "scene.disk_cache=true"};
  const std::string right = particles({});
  killOften([&](int which) { return exportOf(which % 2 == 0 ? "1-20" : "10-25", kept); },
            [&] { EXPECT_EQ(particles(kept), right); });
}

}  // namespace
}  // namespace comet
