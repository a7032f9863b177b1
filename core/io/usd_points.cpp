#include "io/usd_points.h"

#include "io/usd_text.h"

#include <fmt/format.h>
#include <iterator>

namespace comet {
namespace {

// A sample: all values of a frame in one list; empty if the table lacks a column.
std::string listOf(const PointTable& table, const std::vector<std::string>& names) {
  std::vector<const PointColumn*> columns;
  for (const std::string& name : names) {
    columns.push_back(table.find(name));
    if (!columns.back()) return {};
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
          {"float[] widths", kUsdPerVertex, {"size"}},
          {"color3f[] primvars:displayColor", kUsdPerVertex, {"red", "green", "blue"}},
          {"float[] primvars:displayOpacity", kUsdPerVertex, {"opacity"}}};
}

void UsdPoints::add(int frame, const PointTable& table) {
  if (isEmpty_) first_ = frame;
  isEmpty_ = false;
  last_ = frame;
  for (Attribute& attribute : attributes_)
    if (const std::string list = listOf(table, attribute.columns); !list.empty())
      attribute.samples += usdSample(frame, list);
}

std::string UsdPoints::text() const {
  std::string body;
  for (const Attribute& attribute : attributes_)
    if (!attribute.samples.empty())
      body += usdAttribute(attribute.declaration, attribute.samples, attribute.metadata);
  return usdFile("Points \"particles\"", body, first_, last_, rate_);
}

}  // namespace comet
