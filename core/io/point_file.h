// Points with named columns of numbers, as CSV, PLY or OpenVDB.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace comet {

enum class PointFormat { Csv, Ply, Vdb };

struct PointColumn {
  enum class Type { Float, Whole, Text };

  std::string name;
  Type type = Type::Float;
  std::vector<double> numbers;  // Float and Whole: one per point; Text: an index into `texts`
  std::vector<std::string> texts;
};

struct PointTable {
  std::size_t count = 0;
  std::vector<PointColumn> columns;

  // Null if there is none of this name.
  const PointColumn* find(std::string_view name) const;
};

// With its dot.
std::string_view extensionOf(PointFormat format);

// CSV: one line of names, one line a point; whole numbers are exact up to 2^53. PLY: binary, little endian; a
// text column is written as its index, and a comment line for each text says which is which.
// OpenVDB: a grid of points, placed by the columns x, y and z; whole numbers and texts' indices are 64-bit
// integers and floats. Throws Error(Write) if the library cannot encode them.
std::string encodePoints(const PointTable& table, PointFormat format);
// The last of these, which takes the library.
std::string encodeVdbPoints(const PointTable& table);

}  // namespace comet
