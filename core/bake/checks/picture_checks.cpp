// Checks of what the cells show.
#include "bake/checks/checks.h"
#include "base/color.h"
#include "base/parallel.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace comet::checks {
namespace {

constexpr float kClearlySeen = 8.0F / 255;

bool hasEightBits(PictureFormat format) {
  return format == PictureFormat::Png8 || format == PictureFormat::Tga8;
}

double fullest(const Checked& checked) {
  double max = 0;
  for (const CellFacts& cell : checked.book.cells) max = std::max(max, cell.energy);
  return max;
}

Remedy fit() { return {"Fit the view", {{"view", std::string("own")}}, true}; }

// The finish that the bake has now, as one of its own, with another exposure.
std::vector<std::pair<std::string, Value>> ownExposure(const Checked& checked, double stops) {
  const Item& finish = checked.bake.chooses("post_processing", "own") ? checked.bake : checked.scene.camera();
  std::vector<std::pair<std::string, Value>> edits{{"post_processing", std::string("own")}};
  for (const ParamSpec& spec : finishParams(Affects::Bake))
    edits.emplace_back(spec.id, finish.value(spec.id).base);
  for (auto& [param, value] : edits)
    if (param == "exposure") value = finish.number("exposure", checked.layout().firstFrame) + stops;
  return edits;
}

// Of so many that are missing.
std::optional<Finding> lossOf(std::uint64_t count, const char* what) {
  if (count == 0) return std::nullopt;
  Finding finding;
  finding.number = static_cast<double>(count);
  finding.text = fmt::format("{} {}", count, what);
  return finding;
}

}  // namespace

std::string named(const std::vector<int>& cells) {
  if (cells.size() > 4) return fmt::format("{} cells", cells.size());
  std::string text = cells.size() == 1 ? "cell " : "cells ";
  for (std::size_t i = 0; i < cells.size(); ++i)
    text += (i == 0 ? "" : i + 1 == cells.size() ? " and " : ", ") + std::to_string(cells[i] + 1);
  return text;
}

std::optional<Finding> clipped(const Checked& checked) {
  Finding finding;
  for (std::size_t i = 0; i < checked.seen().size(); ++i) {
    const Picture& cell = checked.seen()[i];
    const int right = cell.width() - 1, bottom = cell.height() - 1;
    int lit = 0;
    const auto look = [&](int x, int y) { lit += seenOf(cell.at(x, y)) > kSeen ? 1 : 0; };
    for (int x = 0; x <= right; ++x) look(x, 0), look(x, bottom);
    for (int y = 1; y < bottom; ++y) look(0, y), look(right, y);
    if (lit == 0) continue;
    finding.cells.push_back(static_cast<int>(i));
    finding.number = std::max(finding.number, 100.0 * lit / std::max(1, 2 * (right + bottom)));
  }
  if (finding.cells.empty()) return std::nullopt;
  finding.text = fmt::format("up to {:.0f} % of the edge is not empty in {}", std::ceil(finding.number),
                             named(finding.cells));
  finding.remedy = fit();
  return finding;
}

std::optional<Finding> notNumbers(const Checked& checked) {
  Finding finding;
  for (std::size_t i = 0; i < checked.book.cells.size(); ++i) {
    if (checked.book.cells[i].notNumbers == 0) continue;
    finding.cells.push_back(static_cast<int>(i));
    finding.number += static_cast<double>(checked.book.cells[i].notNumbers);
  }
  if (finding.cells.empty()) return std::nullopt;
  finding.text = fmt::format(
      "{:.0f} pixels in {} were brighter than any number and are empty now: lower Brightness "
      "or Exposure",
      finding.number, named(finding.cells));
  return finding;
}

std::optional<Finding> refusedBirths(const Checked& checked) {
  return lossOf(
      checked.book.losses.refused,
      "births were refused at a particle limit: raise Particle limit of the scene or Max particles of "
      "the emitter, or lower its births");
}

std::optional<Finding> lostParticles(const Checked& checked) {
  return lossOf(
      checked.book.losses.lost,
      "particles became infinitely fast and were removed: lower the influences on them, or raise Substeps of "
      "the scene");
}

std::optional<Finding> emptyCells(const Checked& checked) {
  constexpr double kMinFraction = 1e-3;
  Finding finding;
  const double max = fullest(checked);
  for (std::size_t i = 0; i < checked.book.cells.size(); ++i)
    if (max <= 0 || checked.book.cells[i].energy < kMinFraction * max)
      finding.cells.push_back(static_cast<int>(i));
  if (finding.cells.empty()) return std::nullopt;
  finding.number = static_cast<double>(finding.cells.size());
  finding.text =
      max <= 0 ? "nothing is seen in any cell" : fmt::format("nothing is seen in {}", named(finding.cells));
  if (max <= 0)
    finding.remedy = fit();
  else if (checked.layout().loop == LoopKind::None)
    finding.remedy = Remedy{"Trim empty ends", {{"trim", true}}};
  return finding;
}

std::optional<Finding> duplicates(const Checked& checked) {
  // Half a step of eight bits, over all of the cell.
  constexpr float kMinChange = 0.5F / 255;
  Finding finding;
  const std::size_t count = checked.cells.size();
  for (std::size_t i = 0; i < count; ++i) {
    if (checked.layout().isLastOfVariant(i)) continue;
    float max = 0;
    for (std::size_t p = 0; p < checked.cells[i].pixels().size(); ++p)
      max = std::max(max, seenOf(glm::abs(checked.cells[i].pixels()[p] - checked.cells[i + 1].pixels()[p])));
    if (max < kMinChange && checked.book.cells[i].energy > 0)
      finding.cells.push_back(static_cast<int>(i) + 1);
  }
  if (finding.cells.empty()) return std::nullopt;
  finding.number = static_cast<double>(finding.cells.size());
  finding.text = fmt::format("{} looks like the one before", named(finding.cells));
  finding.remedy = Remedy{"Choose frames by even motion", {{"frame_choice", std::string("motion")}}};
  return finding;
}

std::optional<Finding> dullEnds(const Checked& checked) {
  constexpr double kDull = 0.03;
  if (checked.layout().loop != LoopKind::None) return std::nullopt;
  Finding finding;
  const auto& cells = checked.book.cells;
  const double max = fullest(checked);
  const auto isDull = [&](std::size_t i) { return cells[i].energy < kDull * max; };
  const std::size_t each = checked.layout().cellsEach();
  for (std::size_t first = 0; first < cells.size(); first += each) {
    const std::size_t end = first + each;
    std::size_t begin = first;
    for (; begin < end && isDull(begin); ++begin) finding.cells.push_back(static_cast<int>(begin));
    for (std::size_t i = end; i-- > begin && isDull(i);) finding.cells.push_back(static_cast<int>(i));
  }
  if (finding.cells.empty() || finding.cells.size() == cells.size()) return std::nullopt;
  std::sort(finding.cells.begin(), finding.cells.end());
  double min = max;
  for (const int cell : finding.cells) min = std::min(min, cells[static_cast<std::size_t>(cell)].energy);
  finding.number = 100 * min / max;
  finding.text =
      fmt::format("down to {:.1f} % of the fullest cell in {}", finding.number, named(finding.cells));
  finding.remedy = Remedy{"Trim empty ends", {{"trim", true}}};
  return finding;
}

// How much of what would be seen of a cell would be brighter than white, were it exposed by a factor.
double blownFraction(const Picture& cell, float gain) {
  std::size_t seen = 0, blown = 0;
  for (const Vec4& pixel : cell.pixels()) {
    const float light = gain * brightestOf(pixel);
    if (std::max(light, pixel.w) < kClearlySeen) continue;
    ++seen;
    blown += light > 1.0F + 1e-4F ? 1 : 0;
  }
  return seen > 0 ? static_cast<double>(blown) / static_cast<double>(seen) : 0;
}

std::optional<Finding> blownOut(const Checked& checked) {
  constexpr double kMax = 0.01;      // of what is seen
  constexpr double kMended = 0.005;  // what the remedy leaves
  constexpr int kMaxTenths = 300;
  if (isFloat(checked.layout().format)) return std::nullopt;
  Finding finding;
  int tenths = 1;  // of a stop
  for (std::size_t i = 0; i < checked.cells.size(); ++i) {
    const double fraction = blownFraction(checked.cells[i], 1);
    if (fraction <= kMax) continue;
    finding.cells.push_back(static_cast<int>(i));
    finding.number = std::max(finding.number, 100 * fraction);
    // Each cell by itself, and what is still seen at that exposure: one press is enough.
    while (tenths < kMaxTenths &&
           blownFraction(checked.cells[i], static_cast<float>(std::exp2(-tenths / 10.0))) > kMended)
      ++tenths;
  }
  if (finding.cells.empty()) return std::nullopt;
  finding.text = fmt::format("up to {:.0f} % of the visible pixels are brighter than white in {}",
                             finding.number, named(finding.cells));
  const double stops = -tenths / 10.0;
  finding.remedy = Remedy{fmt::format("Expose by {:+.1f} stops", stops), ownExposure(checked, stops)};
  return finding;
}

std::optional<Finding> tooDark(const Checked& checked) {
  constexpr float kDark = 0.05F;
  float brightest = 0;
  for (const Picture& cell : checked.cells)
    for (const Vec4& pixel : cell.pixels()) brightest = std::max(brightest, brightestOf(pixel));
  const bool isShadow = checked.layout().alpha == AlphaKind::Opacity;
  if (brightest <= 0 || brightest >= kDark || isShadow) return std::nullopt;
  const double stops = std::floor(10 * std::log2(0.8F / brightest)) / 10;
  Finding finding;
  finding.number = 100 * brightest;
  finding.text = fmt::format("the brightest pixel has {:.1f} % of white", finding.number);
  finding.remedy = Remedy{fmt::format("Expose by {:+.1f} stops", stops), ownExposure(checked, stops)};
  return finding;
}

std::optional<Finding> banding(const Checked& checked) {
  // Steps of eight bits that are so much wider than a pixel are seen as bands.
  constexpr double kWideBand = 8, kMax = 0.25;
  if (!hasEightBits(checked.layout().format)) return std::nullopt;
  const bool isLinear = checked.layout().encoding == PictureEncoding::Linear;
  const auto stored = [isLinear](float value) {
    return 255 * (isLinear ? static_cast<double>(value) : encodeSrgb(value));
  };
  Finding finding;
  for (std::size_t i = 0; i < checked.cells.size(); ++i) {
    const Picture& cell = checked.cells[i];
    std::vector<std::pair<std::size_t, std::size_t>> rows(static_cast<std::size_t>(cell.height()));
    parallelFor(rows.size(), [&](std::size_t y) {
      const Vec4* row = cell.row(static_cast<int>(y));
      for (int x = 0; x + 1 < cell.width(); ++x) {
        if (seenOf(row[x]) < kClearlySeen || seenOf(row[x + 1]) < kClearlySeen) continue;
        ++rows[y].first;
        const double step = std::abs(stored(row[x].y) - stored(row[x + 1].y));
        rows[y].second += step > 1e-3 && step < 1 / kWideBand ? 1 : 0;
      }
    });
    std::size_t seen = 0, wide = 0;
    for (const auto& [all, slow] : rows) seen += all, wide += slow;
    const double fraction = seen > 0 ? static_cast<double>(wide) / static_cast<double>(seen) : 0;
    if (fraction <= kMax) continue;
    finding.cells.push_back(static_cast<int>(i));
    finding.number = std::max(finding.number, 100 * fraction);
  }
  if (finding.cells.empty()) return std::nullopt;
  finding.text = fmt::format("8 bits are too coarse for up to {:.0f} % of the visible pixels in {}",
                             finding.number, named(finding.cells));
  finding.remedy = Remedy{"Export 16 bit", {{"format", std::string("png16")}}};
  return finding;
}

std::optional<Finding> fringe(const Checked& checked) {
  constexpr double kMax = 0.05;
  const AlphaKind alpha = checked.layout().alpha;
  if (alpha != AlphaKind::Straight && alpha != AlphaKind::OnBlack) return std::nullopt;
  // Straight alpha cannot hold light that covers nothing, black cannot hold cover.
  double lost = 0, all = 0;
  for (const Picture& cell : checked.cells)
    for (const Vec4& pixel : cell.pixels()) {
      const float brightest = brightestOf(pixel);
      all += seenOf(pixel);
      lost += alpha == AlphaKind::Straight ? std::max(0.0F, brightest - pixel.w)
                                           : std::max(0.0F, pixel.w - brightest);
    }
  if (all <= 0 || lost <= kMax * all) return std::nullopt;
  Finding finding;
  finding.number = 100 * lost / all;
  finding.text =
      alpha == AlphaKind::Straight
          ? fmt::format("{:.0f} % is light that covers nothing, which straight alpha makes a dark rim of",
                        finding.number)
          : fmt::format("{:.0f} % is cover, which is lost on black", finding.number);
  finding.remedy = Remedy{"Export premultiplied alpha", {{"alpha", std::string("premultiplied")}}};
  return finding;
}

// Readers that take alpha as the formats of whole numbers define it multiply colours by it: light whose alpha
// is zero becomes black.
std::optional<Finding> lightWithoutAlpha(const Checked& checked) {
  constexpr double kMax = 0.05;
  if (checked.layout().alpha != AlphaKind::Premultiplied || isFloat(checked.layout().format))
    return std::nullopt;
  double lost = 0, all = 0, covered = 0;
  for (const Picture& cell : checked.cells)
    for (const Vec4& pixel : cell.pixels()) {
      all += brightestOf(pixel);
      covered += pixel.w;
      lost += std::max(0.0F, brightestOf(pixel) - pixel.w);
    }
  if (all <= 0 || lost <= kMax * all) return std::nullopt;
  Finding finding;
  finding.number = 100 * lost / all;
  finding.text = fmt::format(
      "{:.0f} % is light that covers nothing: most readers of such files show it black", finding.number);
  const bool onlyLight = covered <= kMax * all;
  finding.remedy = onlyLight ? Remedy{"Export on black", {{"alpha", std::string("on_black")}}}
                             : Remedy{"Export OpenEXR", {{"format", std::string("exr")}}};
  return finding;
}

}  // namespace comet::checks
