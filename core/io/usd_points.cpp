#include "io/usd_points.h"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>

namespace comet {
namespace {

constexpr const char* kPerPoint = "interpolation = \"vertex\"";

// A sample: all values of a frame in one list; empty if the table lacks a column.
std::string listOf(const PointTable& table, const std::vector<std::string>& names) {
  std::vector<const PointColumn*> columns;
  for (const std::string& name : names) {
    const auto found = std::find_if(table.columns.begin(), table.columns.end(),
                                    [&name](const PointColumn& column) { return column.name == name; });
    if (found == table.columns.end()) return {};
    columns.push_back(&*found);
  }
  std::string text = "[";
  auto end = std::back_inserter(text);
  for (std::size_t i = 0; i < table.count; ++i) {
    if (i > 0) text += ", ";
    if (columns.size() == 3)
      fmt::format_to(end, "({:.6g}, {:.6g}, {:.6g})", columns[0]->numbers[i], columns[1]->numbers[i],
                     columns[2]->numbers[i]);
    else if (columns[0]->type == PointColumn::Type::Whole)
      fmt::format_to(end, "{}", static_cast<std::int64_t>(columns[0]->numbers[i]));
    else
      fmt::format_to(end, "{:.6g}", columns[0]->numbers[i]);
  }
  return text + "]";
}

}  // namespace

std::vector<UsdPoints::Attribute> UsdPoints::attributes() {
  return {{"int64[] ids", "", {"id"}},
          {"point3f[] points", "", {"x", "y", "z"}},
          {"vector3f[] velocities", "", {"vx", "vy", "vz"}},
          {"float[] widths", kPerPoint, {"size"}},
          {"color3f[] primvars:displayColor", kPerPoint, {"red", "green", "blue"}},
          {"float[] primvars:displayOpacity", kPerPoint, {"opacity"}}};
}

void UsdPoints::add(int frame, const PointTable& table) {
  if (isEmpty_) first_ = frame;
  isEmpty_ = false;
  last_ = frame;
  for (Attribute& attribute : attributes_)
    if (const std::string list = listOf(table, attribute.columns); !list.empty())
      attribute.samples += fmt::format("            {}: {},\n", frame, list);
}

std::string UsdPoints::text() const {
  std::string text = fmt::format(
      "#usda 1.0\n(\n    defaultPrim = \"effect\"\n    doc = \"written by Tawny Comet\"\n    endTimeCode = "
      "{}\n"
      "    metersPerUnit = 1\n    startTimeCode = {}\n    timeCodesPerSecond = {:g}\n    upAxis = "
      "\"Y\"\n)\n\n"
      "def Xform \"effect\"\n{{\n    def Points \"particles\"\n    {{\n",
      last_, first_, rate_);
  for (const Attribute& attribute : attributes_) {
    if (attribute.samples.empty()) continue;
    if (!attribute.metadata.empty())
      text += fmt::format("        {} ({})\n", attribute.declaration, attribute.metadata);
    text +=
        fmt::format("        {}.timeSamples = {{\n{}        }}\n", attribute.declaration, attribute.samples);
  }
  return text + "    }\n}\n";
}

}  // namespace comet
