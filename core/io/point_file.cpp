#include "io/point_file.h"

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <fmt/format.h>
#include <iterator>

namespace comet {
namespace {

std::string quoted(const std::string& text) {
  if (text.find_first_of(",\"\n") == std::string::npos) return text;
  std::string result = "\"";
  for (const char c : text) result += c == '"' ? std::string("\"\"") : std::string(1, c);
  return result + "\"";
}

std::string csv(const PointTable& table) {
  std::string out;
  for (std::size_t c = 0; c < table.columns.size(); ++c) {
    if (c > 0) out += ',';
    out += quoted(table.columns[c].name);
  }
  out += '\n';
  auto end = std::back_inserter(out);
  for (std::size_t i = 0; i < table.count; ++i) {
    for (std::size_t c = 0; c < table.columns.size(); ++c) {
      const PointColumn& column = table.columns[c];
      if (c > 0) out += ',';
      const double number = column.numbers[i];
      switch (column.type) {
        case PointColumn::Type::Float:
          // Nine digits bring a float back exactly.
          fmt::format_to(end, "{:.9g}", number);
          break;
        case PointColumn::Type::Whole:
          fmt::format_to(end, "{}", static_cast<std::uint64_t>(number));
          break;
        case PointColumn::Type::Text:
          out += quoted(column.texts[static_cast<std::size_t>(number)]);
          break;
      }
    }
    out += '\n';
  }
  return out;
}

std::string_view plyType(PointColumn::Type type) {
  switch (type) {
    case PointColumn::Type::Float:
      return "float";
    case PointColumn::Type::Whole:
      return "double";
    case PointColumn::Type::Text:
      return "int";
  }
  return "float";
}

template <typename Stored>
void append(std::string& out, double number) {
  const auto stored = static_cast<Stored>(number);
  char bytes[sizeof stored];
  std::memcpy(bytes, &stored, sizeof stored);
  out.append(bytes, sizeof stored);
}

std::string ply(const PointTable& table) {
  std::string out = "ply\nformat binary_little_endian 1.0\ncomment written by Tawny Comet\n";
  for (const PointColumn& column : table.columns)
    for (std::size_t i = 0; i < column.texts.size(); ++i)
      out += fmt::format("comment {} {} is {}\n", column.name, i, column.texts[i]);
  out += fmt::format("element vertex {}\n", table.count);
  for (const PointColumn& column : table.columns)
    out += fmt::format("property {} {}\n", plyType(column.type), column.name);
  out += "end_header\n";
  for (std::size_t i = 0; i < table.count; ++i) {
    for (const PointColumn& column : table.columns) {
      switch (column.type) {
        case PointColumn::Type::Float:
          append<float>(out, column.numbers[i]);
          break;
        case PointColumn::Type::Whole:
          append<double>(out, column.numbers[i]);
          break;
        case PointColumn::Type::Text:
          append<std::int32_t>(out, column.numbers[i]);
          break;
      }
    }
  }
  return out;
}

}  // namespace

const PointColumn* PointTable::find(std::string_view name) const {
  const auto found = std::find_if(columns.begin(), columns.end(),
                                  [name](const PointColumn& column) { return column.name == name; });
  return found == columns.end() ? nullptr : &*found;
}

std::string_view extensionOf(PointFormat format) {
  switch (format) {
    case PointFormat::Csv:
      return ".csv";
    case PointFormat::Ply:
      return ".ply";
    case PointFormat::Vdb:
      return ".vdb";
  }
  return "";
}

std::string encodePoints(const PointTable& table, PointFormat format) {
  switch (format) {
    case PointFormat::Csv:
      return csv(table);
    case PointFormat::Ply:
      return ply(table);
    case PointFormat::Vdb:
      return encodeVdbPoints(table);
  }
  return {};
}

}  // namespace comet
