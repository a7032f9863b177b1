// Checks of the sheet.
#include "bake/checks/checks.h"
#include "bake/framing.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace comet::checks {
namespace {

// Bleed has to stay away down to this mip level.
constexpr int kMipLevels = 3;

bool isPowerOfTwo(int n) { return n > 0 && (n & (n - 1)) == 0; }

int nearestPowerOfTwo(int n) { return 1 << static_cast<int>(std::lround(std::log2(std::max(1, n)))); }

// A pixel of the sheet as it would be if the edge of one cell went on over all that is not it.
const Vec4& aloneAt(const Picture& sheet, const FlipbookLayout& layout, std::size_t cell, int x, int y) {
  const int x0 = layout.cellX(cell), y0 = layout.cellY(cell);
  const int x1 = x0 + layout.cellWidth, y1 = y0 + layout.cellHeight, pad = layout.padding;
  const bool isOwn = x >= x0 - pad && x < x1 + pad && y >= y0 - pad && y < y1 + pad;
  return isOwn ? sheet.at(x, y) : sheet.at(std::clamp(x, x0, x1 - 1), std::clamp(y, y0, y1 - 1));
}

// How much of other cells is seen at most within a cell at a mip level.
double bleedOf(const Picture& sheet, const FlipbookLayout& layout, std::size_t cell, int level) {
  const int factor = 1 << level;
  // Mip levels average blocks that begin at the sheet's corner.
  const int around = 4 * factor + (layout.cellX(cell) % factor) + (layout.cellY(cell) % factor);
  const int left = std::max(0, layout.cellX(cell) - around) / factor * factor;
  const int top = std::max(0, layout.cellY(cell) - around) / factor * factor;
  const int right = std::min(sheet.width(), layout.cellX(cell) + layout.cellWidth + around);
  const int bottom = std::min(sheet.height(), layout.cellY(cell) + layout.cellHeight + around);
  Picture part(right - left, bottom - top), alone(right - left, bottom - top);
  for (int y = top; y < bottom; ++y)
    for (int x = left; x < right; ++x) {
      part.at(x - left, y - top) = sheet.at(x, y);
      alone.at(x - left, y - top) = aloneAt(sheet, layout, cell, x, y);
    }
  const Picture among = reduced(part, factor), apart = reduced(alone, factor);
  float max = 0;
  const auto compare = [&](double x, double y) {
    const double u = (x - left) / factor, v = (y - top) / factor;
    max = std::max(max, seenOf(glm::abs(sampled(among, u, v) - sampled(apart, u, v))));
  };
  // Along the cell's edge, at twice as many places as there are texels.
  const double x0 = layout.cellX(cell), y0 = layout.cellY(cell);
  const double x1 = x0 + layout.cellWidth, y1 = y0 + layout.cellHeight;
  const double step = 0.5 * factor;
  for (int i = 0; i * step <= layout.cellWidth; ++i) compare(x0 + i * step, y0), compare(x0 + i * step, y1);
  for (int i = 0; i * step <= layout.cellHeight; ++i) compare(x0, y0 + i * step), compare(x1, y0 + i * step);
  return max;
}

}  // namespace

std::optional<Finding> notSquare(const Checked& checked) {
  const FlipbookLayout& layout = checked.layout();
  if (layout.cellWidth == layout.cellHeight) return std::nullopt;
  const double side = std::max(layout.cellWidth, layout.cellHeight);
  Finding finding;
  finding.isTrouble = false;
  finding.number = static_cast<double>(layout.cellWidth) / layout.cellHeight;
  finding.text = fmt::format("{} × {} px: a square sprite in the game stretches them", layout.cellWidth,
                             layout.cellHeight);
  finding.remedy = Remedy{"Make them square", {{"cell_width", side}, {"cell_height", side}}};
  return finding;
}

std::optional<Finding> bleed(const Checked& checked) {
  constexpr double kMax = 2.0 / 255;
  const FlipbookLayout& layout = checked.layout();
  for (int level = 1; level <= kMipLevels; ++level) {
    if (std::min(layout.cellWidth, layout.cellHeight) >> level < 2) break;
    Finding finding;
    for (std::size_t i = 0; i < checked.cells.size(); ++i) {
      const double max = bleedOf(checked.book.color, layout, i, level);
      if (max <= kMax) continue;
      finding.cells.push_back(static_cast<int>(i));
      finding.number = std::max(finding.number, 100 * max);
    }
    if (finding.cells.empty()) continue;
    finding.text = fmt::format("at mip level {} neighbours show up to {:.0f} % in {}", level,
                               std::ceil(finding.number), named(finding.cells));
    const double padding = 1 << kMipLevels;
    // The sheet stays as large.
    const double shrink = 2 * (padding - layout.padding);
    finding.remedy =
        Remedy{fmt::format("Pad by {} px", 1 << kMipLevels), {{"padding", padding}, {"edge_bleed", true}}};
    if (shrink > 0 && std::min(layout.cellWidth, layout.cellHeight) > 2 * shrink) {
      finding.remedy->edits.emplace_back("cell_width", layout.cellWidth - shrink);
      finding.remedy->edits.emplace_back("cell_height", layout.cellHeight - shrink);
    }
    return finding;
  }
  return std::nullopt;
}

std::optional<Finding> unused(const Checked& checked) {
  constexpr double kMax = 0.5;
  const FlipbookLayout& layout = checked.layout();
  SeenBox box;
  for (const Picture& cell : checked.cells) box.add(seenBox(cell));
  if (box.empty()) return std::nullopt;
  // A square view can leave the shorter side of a long effect free, which nothing fixes.
  const double longer = std::max(box.right - box.left, box.bottom - box.top);
  const double cells = static_cast<double>(layout.cellsEach()) / layout.room();
  const double used = cells * longer * longer;
  if (1 - used <= kMax) return std::nullopt;
  Finding finding;
  finding.number = 100 * (1 - used);
  finding.text = fmt::format("{:.0f} % of the sheet is empty in all cells", finding.number);
  if (longer * longer < cells)
    finding.remedy = Remedy{"Fit the view", {{"view", std::string("own")}}, true};
  else
    finding.remedy = Remedy{"Use only the rows needed",
                            {{"rows", std::ceil(static_cast<double>(layout.cellsEach()) / layout.columns)}}};
  return finding;
}

std::optional<Finding> notPowerOfTwo(const Checked& checked) {
  const FlipbookLayout& layout = checked.layout();
  const int sheetHeight = layout.sheets() > 1 ? layout.sheetHeight() : layout.height();
  if (isPowerOfTwo(layout.width()) && isPowerOfTwo(sheetHeight)) return std::nullopt;
  Finding finding;
  finding.number = layout.width();
  finding.text = fmt::format("the sheet is {} × {} px: many engines scale it, or make no mip levels",
                             layout.width(), sheetHeight);
  const int frame = 2 * layout.padding;
  const int width = nearestPowerOfTwo(layout.cellWidth + frame),
            height = nearestPowerOfTwo(layout.cellHeight + frame);
  const auto enough = [](int count) { return std::exp2(std::ceil(std::log2(count))); };
  const double columns = enough(layout.columns);
  const double rows = enough(static_cast<int>(
      std::ceil(std::max<double>(static_cast<double>(layout.cellsEach()), layout.room()) / columns)));
  const int variants = static_cast<int>(layout.variants.size());
  const bool areSeeds = checked.bake.chooses("variants", "seeds");
  if (width <= frame || height <= frame) return finding;
  if (!isPowerOfTwo(variants) && !areSeeds) {
    finding.text += ". Take 2, 4, 8 or 16 values";
    return finding;
  }
  finding.remedy =
      Remedy{fmt::format("{:.0f} × {:.0f} cells of {} × {} px", columns, rows, width - frame, height - frame),
             {{"columns", columns},
              {"rows", rows},
              {"cell_width", static_cast<double>(width - frame)},
              {"cell_height", static_cast<double>(height - frame)}}};
  if (areSeeds) finding.remedy->edits.emplace_back("variant_count", enough(variants));
  return finding;
}

std::optional<Finding> memory(const Checked& checked) {
  const FlipbookLayout& layout = checked.layout();
  const double budget = checked.bake.number("memory_budget", layout.firstFrame);
  const double megabytes = videoMemory(layout).compressed / (1 << 20);
  if (megabytes <= budget) return std::nullopt;
  Finding finding;
  finding.number = megabytes;
  finding.text =
      fmt::format("{:.1f} MB with block compression exceed the budget of {:g} MB", megabytes, budget);
  finding.remedy = Remedy{"Halve the cells",
                          {{"cell_width", std::max(1.0, std::floor(0.5 * layout.cellWidth))},
                           {"cell_height", std::max(1.0, std::floor(0.5 * layout.cellHeight))}}};
  return finding;
}

std::optional<Finding> resolution(const Checked& checked) {
  // Root mean square of what is lost at half the size, as a fraction of what is seen.
  constexpr double kDetail = 0.02;
  const FlipbookLayout& layout = checked.layout();
  if (std::min(layout.cellWidth, layout.cellHeight) < 32) return std::nullopt;
  double lost = 0, all = 0;
  for (const Picture& cell : checked.cells) {
    const Picture half = reduced(cell, 2);
    for (int y = 0; y < cell.height(); ++y)
      for (int x = 0; x < cell.width(); ++x) {
        const Vec4 &own = cell.at(x, y), change = own - sampled(half, (x + 0.5) / 2, (y + 0.5) / 2);
        lost += glm::dot(change, change);
        all += glm::dot(own, own);
      }
  }
  if (all <= 0 || lost >= kDetail * kDetail * all) return std::nullopt;
  Finding finding;
  finding.number = 100 * std::sqrt(lost / all);
  finding.text = fmt::format("at half the size only {:.1f} % would be lost", finding.number);
  finding.remedy = Remedy{"Halve the cells",
                          {{"cell_width", std::floor(0.5 * layout.cellWidth)},
                           {"cell_height", std::floor(0.5 * layout.cellHeight)}}};
  return finding;
}

std::optional<Finding> blocks(const Checked& checked) {
  const FlipbookLayout& layout = checked.layout();
  if (!checked.book.texture) return std::nullopt;
  const int side = traitsOf(checked.book.texture->format).side;
  const int frame = 2 * layout.padding;
  const auto over = [&](int cell) { return (cell + frame) % side; };
  if (over(layout.cellWidth) == 0 && over(layout.cellHeight) == 0) return std::nullopt;
  const auto whole = [&](int cell) {
    return static_cast<double>(over(cell) == 0 ? cell : cell + side - over(cell));
  };
  Finding finding;
  finding.number = side;
  finding.text = fmt::format(
      "cells of {} × {} px with their padding are no multiple of {}: blocks of the texture hold parts of two "
      "cells, and it has no mip levels",
      layout.cellWidth + frame, layout.cellHeight + frame, side);
  finding.remedy =
      Remedy{fmt::format("Cells of {:.0f} × {:.0f} px", whole(layout.cellWidth), whole(layout.cellHeight)),
             {{"cell_width", whole(layout.cellWidth)}, {"cell_height", whole(layout.cellHeight)}}};
  return finding;
}

std::optional<Finding> compression(const Checked& checked) {
  // Decibels of peak signal to noise: below, blocks are seen at full size.
  constexpr double kMin = 32;
  if (!checked.book.texture) return std::nullopt;
  const TextureLook& texture = *checked.book.texture;
  Finding finding;
  for (std::size_t i = 0; i < texture.cells.size(); ++i)
    if (texture.cells[i] < kMin) finding.cells.push_back(static_cast<int>(i));
  if (finding.cells.empty()) return std::nullopt;
  finding.number = texture.cells[texture.worst()];
  finding.text = fmt::format("{:.1f} dB at worst in {} ({:.1f} dB on average): blocks are seen",
                             finding.number, named(finding.cells), texture.all);
  if (texture.format == BlockFormat::Astc6)
    finding.remedy = Remedy{"Blocks of 4 × 4", {{"texture", std::string("astc_4x4")}}};
  return finding;
}

}  // namespace comet::checks
