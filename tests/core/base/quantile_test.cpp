#include "base/quantile.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

TEST(Quantile, IsTheValueThatSoManyLieBelow) {
  std::vector<int> values(101);
  for (int i = 0; i <= 100; ++i) values[static_cast<std::size_t>(i)] = i * 37 % 101;
  for (const int percent : {0, 5, 50, 95, 100}) EXPECT_EQ(quantile(values, percent / 100.0), percent);
  EXPECT_EQ(quantile(std::vector<double>{2.5}, 0.5), 2.5);
}

}  // namespace
}  // namespace comet
