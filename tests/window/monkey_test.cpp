// Ten thousand random clicks, drags and keys: the program must neither end nor stop answering nor keep what
// it took. The events are the same in each run, for a seed that COMET_SEED overrides.
#include "support/demo_names.h"
#include "window/driver.h"

#include <algorithm>
#include <cstdlib>
#include <ctime>
#include <random>
#include <vector>

namespace comet::test {
namespace {

// In all; each demo gets its part.
constexpr int kEvents = 10000;
// Of the window's thread's own processor time: what other programs do at the same time does not count.
constexpr double kLongestMilliseconds = 100;
// A machine that others share stands still now and then, and counts it as time of whoever ran: what takes
// long each time is the program.
constexpr int kTries = 3;

double ownMilliseconds() {
  timespec now{};
  ::clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
  return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) / 1e6;
}

// How much slower than at its best the machine is at times, as its other users leave it.
class Slowness {
 public:
  void sample() {
    const double before = ownMilliseconds();
    std::minstd_rand random;
    random.discard(200000);
    kept_ += random();
    samples_.push_back(ownMilliseconds() - before);
  }
  double ratio() {
    std::sort(samples_.begin(), samples_.end());
    return samples_[samples_.size() * 9 / 10] / samples_.front();
  }

 private:
  std::vector<double> samples_;
  std::uint64_t kept_ = 0;  // so that no compiler leaves the work out
};

// What buffers may keep once the scene is gone.
constexpr double kKeptBytes = 300e6;

class Monkey : public WindowTest, public ::testing::WithParamInterface<std::string> {
 protected:
  int between(int min, int max) { return std::uniform_int_distribution<int>(min, max)(random_); }
  bool chance(double of) { return std::uniform_real_distribution<double>(0, 1)(random_) < of; }
  QPoint anywhere() { return {between(0, 1279), between(0, 799)}; }

  void actOnce() {
    const int kind = between(0, 99);
    if (kind < 45)
      // Buttons of files are left alone: what they open is not the program's own.
      desktop_.click(anywhereButFiles(), chance(0.15) ? Desktop::Right : Desktop::Left);
    else if (kind < 60)
      drag();
    else if (kind < 70)
      wheel();
    else
      strike();
  }

  QPoint anywhereButFiles() {
    QPoint place = anywhere();
    while (place.y() < 36 && (place.x() > 1170 || (place.x() > 230 && place.x() < 300))) place = anywhere();
    return place;
  }

  void drag() {
    const QPoint from = anywhereButFiles();
    desktop_.move(from);
    desktop_.press();
    for (int i = 0; i < 4; ++i) desktop_.move(from + QPoint(between(-60, 60), between(-40, 40)));
    desktop_.release();
  }

  void wheel() {
    desktop_.move(anywhere());
    const auto offset = chance(0.5) ? Desktop::WheelUp : Desktop::WheelDown;
    desktop_.press(offset);
    desktop_.release(offset);
  }

  void strike() {
    // Escape often, since dialogs and lists hold up everything else.
    static const char* const kKeys[] = {"Escape", "Escape", "Return", "Tab", "space",  "Left", "Right",
                                        "Up",     "Down",   "Home",   "End", "Delete", "1",    "5",
                                        "0",      "minus",  "period", "F5",  "F11",    "a",    "equal"};
    if (chance(0.15))
      desktop_.key(chance(0.7) ? "z" : "f", {"Control_L"});
    else
      desktop_.key(kKeys[static_cast<std::size_t>(between(0, static_cast<int>(std::size(kKeys)) - 1))]);
  }

  // The same in each try. Returns the event that took the longest.
  Json play() {
    const char* chosen = std::getenv("COMET_SEED");
    std::seed_seq seeds{chosen ? std::atoi(chosen) : 1,
                        static_cast<int>(std::hash<std::string>()(GetParam()))};
    random_.seed(seeds);
    start({"--demo", QString::fromStdString(GetParam())});
    const double before = state()["memory"];
    const int events = kEvents / static_cast<int>(demoNames().size());
    ask({{"ask", "times"}});
    for (int i = 0; i < events; ++i) {
      if (i % 10 == 0) slowness_.sample();
      actOnce();
      // Dialogs and lists hold up everything else.
      if (i % 25 != 0) continue;
      const Json now = state();
      if (now["modal"] == true || now["popup"] != "") desktop_.key("Escape");
    }
    Json longest = ask({{"ask", "times"}});
    discardAll();
    // The pictures of the scene that is there now are kept in full, and may be.
    const auto beside = [this] {
      const Json now = state();
      return now["memory"].get<double>() - now["kept_pictures"].get<double>();
    };
    EXPECT_TRUE(comesTrue([&] { return beside() < before + kKeptBytes; }))
        << "from " << before << " to " << beside();
    return longest;
  }

  Slowness slowness_;

  // Again where a busy machine lost a key, or asked later than was waited for.
  void discardAll() {
    constexpr int kTimes = 4;
    const auto isGone = [this] {
      const Json now = state();
      return now["modal"] == false && now["can_undo"] == false;
    };
    for (int i = 0; i < kTimes; ++i) {
      desktop_.key("Escape");
      // Without a window manager nobody hands the keyboard back after a dialog.
      desktop_.click(middleOf("find_control"));
      comesTrue([this] { return state()["active"] == true; }, 1500);
      desktop_.key("Escape");
      desktop_.key("n", {"Control_L"});
      if (comesTrue([this] { return state()["modal"] == true; }, 1500)) chooseInMenu("Discard");
      if (comesTrue(isGone, 8000)) return;
    }
    FAIL() << "the scene is not gone: " << state().dump();
  }

 private:
  std::mt19937 random_;
};

TEST_P(Monkey, LeavesAProgramThatAnswersAndGivesBackWhatItTook) {
  Json longest;
  for (int i = 0; i < kTries; ++i) {
    longest = play();
    if (HasFailure() || longest["ms"] < kLongestMilliseconds * slowness_.ratio()) return;
    end();
  }
  FAIL() << "the longest event: " << longest.dump() << ", on a machine " << slowness_.ratio()
         << " times slower than at its best";
}

INSTANTIATE_TEST_SUITE_P(Demos, Monkey, ::testing::ValuesIn(demoNames()),
                         [](const auto& demo) { return demo.param; });

}  // namespace
}  // namespace comet::test
