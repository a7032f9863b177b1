// The choice of how the cells of a sheet follow each other, for all kinds that have sheets.
#pragma once

#include "base/cell_order.h"
#include "params/schema.h"

namespace comet {

inline ParamSpec cellOrderChoice(std::string id) {
  return choice(std::move(id), "Cell order",
                {{std::string(kCellOrderNames[0]), "Rows from the top",
                  "From left to right, then the row below."},
                 {std::string(kCellOrderNames[1]), "Rows from the bottom",
                  "From left to right, then the row above."},
                 {std::string(kCellOrderNames[2]), "Columns",
                  "From top to bottom, then the column to the right."}})
      .tip("The order of the cells on the sheet.");
}

}  // namespace comet
