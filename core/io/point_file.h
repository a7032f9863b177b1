// Points with named columns of numbers, as CSV or PLY.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace comet {

enum class PointFormat { Csv, Ply };

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
};

// ".csv" or ".ply".
std::string_view extensionOf(PointFormat format);

// CSV: one line of names, one line a point; whole numbers are exact up to 2^53. PLY: binary, little endian; a
// text column is written as its index, and a comment line for each text says which is which.
std::string encodePoints(const PointTable& table, PointFormat format);

}  // namespace comet
