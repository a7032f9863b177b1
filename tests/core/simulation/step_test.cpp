#include "simulation/step.h"

#include "support/scenes.h"

#include <set>

namespace comet {
namespace {

using test::busyScene;
using test::roomyCache;

TEST(Step, WhoLivesWasThereOrIsBornAndHasNotEnded) {
  SceneRun run(busyScene(), roomyCache());
  std::uint64_t living = run.frame(1)->report->stats.living, endedByRules = 0;
  for (int frame = 2; frame <= 24; ++frame) {
    const SceneFramePtr now = run.frame(frame);
    const FrameStats& stats = now->report->stats;
    EXPECT_EQ(stats.living, now->particles->count());
    EXPECT_EQ(stats.living, living + stats.births - stats.deaths) << "frame " << frame;
    living = stats.living;
    for (const RuleStats& rule : now->report->rules) endedByRules += rule.fired;
  }
  EXPECT_GT(endedByRules, 0U);
}

TEST(Step, TellsWhereItsTimeWent) {
  const auto start = std::chrono::steady_clock::now();
  SceneRun run(busyScene(), roomyCache());
  double all = 0;
  std::array<double, kStepStages.size()> sums{};
  for (int frame = 1; frame <= 24; ++frame) {
    const FrameStats& stats = run.frame(frame)->report->stats;
    all += stats.allMilliseconds();
    for (std::size_t stage = 0; stage < sums.size(); ++stage) sums[stage] += stats.milliseconds[stage];
  }
  for (std::size_t stage = 0; stage < sums.size(); ++stage) EXPECT_GT(sums[stage], 0) << kStepStages[stage];
  const std::chrono::duration<double, std::milli> passed = std::chrono::steady_clock::now() - start;
  EXPECT_LE(all, passed.count());
  EXPECT_EQ(std::set<std::string_view>(kStepStages.begin(), kStepStages.end()).size(), kStepStages.size());
}

}  // namespace
}  // namespace comet
