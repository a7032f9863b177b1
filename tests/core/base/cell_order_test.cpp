#include "base/cell_order.h"

#include <gtest/gtest.h>
#include <set>
#include <utility>

namespace comet {
namespace {

TEST(CellOrder, SaysWhereEachCellIs) {
  const auto at = [](int cell, CellOrder order) {
    const CellPlace place = cellPlace(cell, 4, 3, order);
    return std::pair(place.column, place.row);
  };
  EXPECT_EQ(at(5, CellOrder::RowsFromTop), std::pair(1, 1));
  EXPECT_EQ(at(1, CellOrder::RowsFromBottom), std::pair(1, 2));
  EXPECT_EQ(at(11, CellOrder::RowsFromBottom), std::pair(3, 0));
  EXPECT_EQ(at(4, CellOrder::ColumnsFromTop), std::pair(1, 1));
  for (const CellOrder order :
       {CellOrder::RowsFromTop, CellOrder::RowsFromBottom, CellOrder::ColumnsFromTop}) {
    std::set<std::pair<int, int>> places;
    for (int cell = 0; cell < 12; ++cell) places.insert(at(cell, order));
    EXPECT_EQ(places.size(), 12U);
  }
}

}  // namespace
}  // namespace comet
