#include "base/progress.h"

#include <gtest/gtest.h>
#include <vector>

namespace comet {
namespace {

TEST(Progress, ReportsAndStops) {
  std::vector<int> steps;
  Progress progress([&steps](int done, int) { steps.push_back(done); });
  progress.step(1, 3);
  progress.cancel();
  try {
    progress.step(2, 3);
    FAIL() << "went on";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Cancelled);
  }
  EXPECT_EQ(steps, std::vector<int>{1});
}

TEST(Progress, StopsWithTheOneAroundIt) {
  Progress outer;
  int reports = 0;
  const Progress inner(outer, [&reports](int, int) { ++reports; });
  inner.step(0, 2);
  outer.cancel();
  EXPECT_TRUE(inner.cancelled());
  EXPECT_THROW(inner.step(1, 2), Error);
  EXPECT_EQ(reports, 1);
}

}  // namespace
}  // namespace comet
