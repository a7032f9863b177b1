#include "scene/sweep.h"

#include "base/error.h"
#include "scene/override.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <regex>

namespace comet {
namespace {

constexpr int kUsualCount = 5;

const ParamSpec& specOf(const Scene& scene, const SweepAxis& axis) {
  const KindSpec& kind = *scene.find(axis.item)->kind;
  return kind.params()[kind.indexOf(axis.param)];
}

Error usage(const std::string& text, const std::string& problem, const std::string& remedy = {}) {
  return {ErrorKind::Usage, "--vary " + text, problem, remedy};
}

std::vector<std::string> listed(const std::string& values) {
  const char separator = values.find(';') != std::string::npos ? ';' : ',';
  std::vector<std::string> parts(1);
  for (const char c : values)
    if (c == separator)
      parts.emplace_back();
    else if (c != ' ' || !parts.back().empty())
      parts.back() += c;
  return parts;
}

// The values of FROM..TO/N, or as they are listed.
std::vector<std::string> valuesOf(const std::string& text, const std::string& values) {
  static const std::regex range(R"(\s*([-+.\deE]+?)\.\.([-+.\deE]+?)(?:/(\d{1,3}))?\s*)");
  std::smatch match;
  if (!std::regex_match(values, match, range)) return listed(values);
  try {
    const int count = match[3].matched ? std::stoi(match[3]) : kUsualCount;
    std::vector<std::string> numbers;
    for (const double number :
         evenNumbers(std::stod(match[1]), std::stod(match[2]), std::min(count, kMaxSweepValues + 1)))
      numbers.push_back(fmt::format("{:g}", number));
    return numbers;
  } catch (const std::exception&) {
    throw usage(text, "is not of the form ITEM.PARAM=FROM..TO/N");
  }
}

}  // namespace

std::vector<double> evenNumbers(double from, double to, int count) {
  std::vector<double> numbers;
  const double step = count > 1 ? (to - from) / (count - 1) : 0;
  // Three digits of the step.
  const double unit = step == 0 ? 0 : std::pow(10, std::floor(std::log10(std::abs(step))) - 2);
  for (int i = 0; i < count; ++i) {
    const double number = i + 1 == count && count > 1 ? to : from + i * step;
    const bool isEnd = i == 0 || i + 1 == count;
    numbers.push_back(isEnd || unit == 0 ? number : std::round(number / unit) * unit);
  }
  return numbers;
}

SweepAxis axisOfNumbers(const Scene& scene, ItemId item, std::string_view param,
                        const std::vector<double>& numbers, int frame) {
  SweepAxis axis{item, std::string(param), {}, {}};
  const ParamSpec& spec = specOf(scene, axis);
  for (const double number : numbers) {
    axis.values.push_back(nearestValid(spec, withValueAt(scene.find(item)->value(param), number, frame)));
    axis.texts.push_back(fmt::format("{:.6g}", number));
  }
  return axis;
}

SweepAxis axisFromText(const Scene& scene, const std::string& text) {
  const auto equals = text.find('=');
  const auto dot = text.substr(0, equals).rfind('.');
  if (equals == std::string::npos || dot == std::string::npos)
    throw usage(text, "is not of the form ITEM.PARAM=VALUES");
  SweepAxis axis;
  for (const std::string& value : valuesOf(text, text.substr(equals + 1))) {
    try {
      const Scene changed = withOverride(scene, text.substr(0, equals + 1) + value);
      const Scene::ItemPtr item = changed.findByName(text.substr(0, dot));
      axis.item = item->id;
      axis.param = text.substr(dot + 1, equals - dot - 1);
      axis.values.push_back(item->value(axis.param));
      axis.texts.push_back(value);
    } catch (const Error& error) {
      throw usage(text, error.problem(), error.remedy());
    }
  }
  return axis;
}

Sweep::Sweep(Scene scene, std::vector<SweepAxis> axes) : scene_(std::move(scene)), axes_(std::move(axes)) {
  const auto name = [this](const SweepAxis& axis) { return scene_.find(axis.item)->name + "." + axis.param; };
  if (axes_.empty() || axes_.size() > 2)
    throw Error(ErrorKind::Usage, "--vary", "a sweep is of one parameter or of two");
  for (const SweepAxis& axis : axes_)
    if (axis.values.empty() || axis.values.size() > kMaxSweepValues)
      throw usage(name(axis), fmt::format("has more than {} values", kMaxSweepValues), "Give fewer");
  if (axes_.size() == 2 && name(axes_[0]) == name(axes_[1]))
    throw usage(name(axes_[0]), "is given twice", "Choose two different parameters");
  if (size() > kMaxVariants)
    throw Error(ErrorKind::Usage, "--vary",
                fmt::format("{} combinations are more than {}", size(), kMaxVariants), "Give fewer values");
}

Scene Sweep::on(Scene version, std::size_t variant) const {
  for (std::size_t a = 0; a < axes_.size(); ++a)
    version = version.withParam(axes_[a].item, axes_[a].param, axes_[a].values[indexOn(a, variant)]);
  return version;
}

std::string Sweep::label(std::size_t variant) const {
  std::string label;
  for (std::size_t a = 0; a < axes_.size(); ++a) {
    const KindSpec& kind = *scene_.find(axes_[a].item)->kind;
    label += (a > 0 ? " · " : "") + clearLabel(kind, kind.indexOf(axes_[a].param)) + " " +
             axes_[a].texts[indexOn(a, variant)];
  }
  // Two values are short enough to stand below a small picture without their units only.
  const std::string& unit = specOf(scene_, axes_.front()).unitText;
  return axes_.size() > 1 || unit.empty() ? label : label + " " + unit;
}

}  // namespace comet
