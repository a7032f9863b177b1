// Checks of how one cell leads to the next.
#include "bake/cell_balance.h"
#include "bake/checks/checks.h"
#include "base/quantile.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace comet::checks {
namespace {

// The change between neighbouring cells that is usual, the seams left out.
double usualChange(const Checked& checked) {
  std::vector<double> changes;
  for (std::size_t i = 0; i < checked.book.cells.size(); ++i)
    if (!checked.layout().isLastOfVariant(i)) changes.push_back(checked.book.cells[i].change);
  return quantile(std::move(changes), 0.5);
}

// All of the scene's frames are searched; none if there are too few.
std::optional<Remedy> loopToFind(const Checked& checked) {
  FlipbookLayout wanted = checked.layout();
  const FrameRange all = frameRange(checked.scene);
  wanted.firstFrame = all.first;
  wanted.lastFrame = all.last;
  const FrameRange lengths = wanted.loopLengths();
  // Where there is nothing to choose from, nothing gets better.
  if (lengths.count() < 1 || lengths.first + wanted.framesOfOverlap(lengths.first) >= all.count())
    return std::nullopt;
  return Remedy{"Find the best loop", {{"find_loop", true}, {"frame_range", std::string("scene")}}};
}

}  // namespace

std::optional<Finding> seam(const Checked& checked) {
  constexpr double kMax = 1.6;  // times the usual change
  const FlipbookLayout& layout = checked.layout();
  const auto& cells = checked.book.cells;
  if (layout.loop == LoopKind::None || layout.cellsEach() < 3) return std::nullopt;
  // The worst one of all variants.
  std::size_t last = layout.cellsEach() - 1;
  for (std::size_t i = last; i < cells.size(); i += layout.cellsEach())
    if (cells[i].change > cells[last].change) last = i;
  Finding finding;
  finding.cells = {static_cast<int>(last), static_cast<int>(layout.following(last))};
  const double usual = usualChange(checked);
  finding.number = usual > 0 ? cells[last].change / usual : 0;
  if (layout.loop == LoopKind::Exact && !checked.book.isExact) {
    finding.text = checked.book.loopProblem;
    finding.remedy = Remedy{"Cross-fade instead", {{"loop", std::string("cross_fade")}}};
    return finding;
  }
  if (finding.number <= kMax) return std::nullopt;
  finding.text = fmt::format(
      "from the last cell to the first the picture changes {:.1f} times as much as from "
      "cell to cell",
      finding.number);
  if (layout.loop == LoopKind::CrossFade)
    finding.remedy = Remedy{"Fade over more cells",
                            {{"overlap", std::min(2.0 * layout.overlap, layout.cellsEach() - 1.0)}}};
  else
    finding.remedy = Remedy{"Cross-fade", {{"loop", std::string("cross_fade")}}};
  return finding;
}

std::optional<Finding> fade(const Checked& checked) {
  // Times the usual change: pictures that differ more are seen one through the other.
  constexpr double kMax = 5.5;
  const FlipbookLayout& layout = checked.layout();
  const auto& cells = checked.book.cells;
  if (layout.loop != LoopKind::CrossFade || layout.cellsEach() < 3) return std::nullopt;
  Finding finding;
  finding.isTrouble = false;
  const double usual = usualChange(checked);
  double sum = 0;
  for (std::size_t i = 0; i < cells.size(); ++i) {
    if (layout.cells[i].fadedFraction <= 0) continue;
    finding.cells.push_back(static_cast<int>(i));
    sum += cells[i].faded;
  }
  if (usual <= 0 || finding.cells.empty()) return std::nullopt;
  finding.number = sum / static_cast<double>(finding.cells.size()) / usual;
  if (finding.number <= kMax) return std::nullopt;
  finding.text = fmt::format(
      "pictures fade into others that differ {:.1f} times as much from them as from "
      "cell to cell",
      finding.number);
  if (!layout.findsLoop) finding.remedy = loopToFind(checked);
  return finding;
}

std::optional<Finding> motion(const Checked& checked) {
  // Of the cell's smaller side: further apart, two pictures laid over each other are seen as two, and vectors
  // tear what they move.
  constexpr double kBridged = 0.04, kBridgedByVectors = 0.2;
  const FlipbookLayout& layout = checked.layout();
  const bool hasVectors = layout.motion != MotionBits::None;
  const double max =
      (hasVectors ? kBridgedByVectors : kBridged) * std::min(layout.cellWidth, layout.cellHeight);
  Finding finding;
  for (std::size_t i = 0; i < checked.book.cells.size(); ++i) {
    if (checked.book.cells[i].motion <= max) continue;
    finding.cells.push_back(static_cast<int>(i));
    finding.number = std::max(finding.number, checked.book.cells[i].motion);
  }
  if (finding.cells.empty()) return std::nullopt;
  finding.text = fmt::format("up to {:.0f} px from a cell to the next; blending {}bridges {:.0f} px",
                             finding.number, hasVectors ? "along motion vectors " : "", max);
  if (!hasVectors)
    finding.remedy = Remedy{"Bake motion vectors", {{"motion_vectors", std::string("eight")}}};
  else if (layout.framesBy == FramesBy::Step && layout.step > 1)
    finding.remedy =
        Remedy{"Twice as many cells", {{"step", std::floor(0.5 * layout.step)}, {"rows", 2.0 * layout.rows}}};
  else
    finding.remedy = Remedy{"Twice as many cells", {{"rows", 2.0 * layout.rows}}};
  return finding;
}

std::optional<Finding> rotation(const Checked& checked) {
  const CellBalance balance = balanceOf(checked.book);
  if (balance.canRotate()) return std::nullopt;
  Finding finding;
  finding.isTrouble = false;
  finding.number = balance.isLong() ? balance.longer : 100 * balance.offCentre;
  finding.text =
      balance.isLong()
          ? fmt::format("{:.1f} times as long as wide: turned at random in the game, its direction is lost",
                        balance.longer)
          : fmt::format(
                "its middle lies {:.0f} % of the cell off: turned at random in the game, it jumps about",
                finding.number);
  return finding;
}

}  // namespace comet::checks
