#include "io/usd_points.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

PointTable table(std::vector<double> x) {
  PointTable made;
  made.count = x.size();
  const std::vector<double> zeros(x.size(), 0.0);
  std::vector<double> ids;
  for (std::size_t i = 0; i < x.size(); ++i) ids.push_back(1099511627776.0 + static_cast<double>(i));
  made.columns = {{"id", PointColumn::Type::Whole, ids, {}},
                  {"x", PointColumn::Type::Float, x, {}},
                  {"y", PointColumn::Type::Float, zeros, {}},
                  {"z", PointColumn::Type::Float, zeros, {}}};
  return made;
}

TEST(UsdPoints, HasASampleForEachFrame) {
  UsdPoints points(24);
  points.add(7, table({1, 2.5}));
  points.add(8, table({}));
  points.add(9, table({-3}));
  const std::string text = points.text();
  EXPECT_THAT(text, testing::StartsWith("#usda 1.0\n"));
  EXPECT_THAT(text, testing::HasSubstr("startTimeCode = 7\n    timeCodesPerSecond = 24\n"));
  EXPECT_THAT(text, testing::HasSubstr("endTimeCode = 9\n"));
  EXPECT_THAT(text, testing::HasSubstr("            7: [(1, 0, 0), (2.5, 0, 0)],\n            8: [],\n"
                                       "            9: [(-3, 0, 0)],\n"));
  EXPECT_THAT(text, testing::HasSubstr("7: [1099511627776, 1099511627777],"))
      << "identities to the last digit";
  EXPECT_THAT(text, testing::Not(testing::HasSubstr("velocities"))) << "no column, no attribute";
}

}  // namespace
}  // namespace comet
