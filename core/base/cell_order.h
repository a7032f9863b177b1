// How the cells of a sheet follow each other.
#pragma once

#include <array>
#include <string_view>

namespace comet {

enum class CellOrder { RowsFromTop, RowsFromBottom, ColumnsFromTop };

// As in scene files and descriptions, in the order of the enumeration.
constexpr std::array<std::string_view, 3> kCellOrderNames{"rows_from_top_left", "rows_from_bottom_left",
                                                          "columns_from_top_left"};

struct CellPlace {
  int column, row;  // from the left and from the top
};
constexpr CellPlace cellPlace(int cell, int columns, int rows, CellOrder order) {
  if (order == CellOrder::ColumnsFromTop) return {cell / rows % columns, cell % rows};
  const int row = cell / columns;
  return {cell % columns, order == CellOrder::RowsFromBottom ? rows - 1 - row : row};
}

}  // namespace comet
