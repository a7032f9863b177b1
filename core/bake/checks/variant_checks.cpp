// Checks of how the variants of a sheet compare: a game picks one at random, again and again.
#include "bake/checks/checks.h"
#include "bake/frame_choice.h"
#include "bake/framing.h"

#include <algorithm>
#include <fmt/format.h>

namespace comet::checks {
namespace {

// What is seen of a variant in all of its cells together.
struct Seen {
  double light = 0;  // see energyOf
  double size = 0;   // of the longer side of a box around what is seen in a cell, on average
};

std::vector<Seen> seenOfVariants(const Checked& checked) {
  std::vector<Seen> all(checked.layout().variants.size());
  const double each = static_cast<double>(checked.layout().cellsEach());
  for (std::size_t i = 0; i < checked.seen().size(); ++i) {
    Seen& seen = all[checked.layout().cells[i].variant];
    seen.light += checked.book.cells[i].energy / each;
    const SeenBox box = seenBox(checked.seen()[i]);
    if (!box.empty()) seen.size += std::max(box.right - box.left, box.bottom - box.top) / each;
  }
  return all;
}

// By how much two variants differ, on average over their cells: 0 if they are the same, 1 if nowhere both
// show something.
double differenceOf(const Checked& checked, std::size_t a, std::size_t b) {
  const std::size_t each = checked.layout().cellsEach();
  double change = 0, most = 0;
  for (std::size_t i = 0; i < each; ++i) {
    const Picture &one = checked.seen()[a * each + i], &other = checked.seen()[b * each + i];
    const Picture nothing(one.width(), one.height());
    change += changeBetween(one, other);
    most += changeBetween(one, nothing) + changeBetween(other, nothing);
  }
  return most > 0 ? change / most : 0;
}

std::vector<int> cellsOf(const Checked& checked, std::size_t variant) {
  std::vector<int> cells;
  for (std::size_t i = 0; i < checked.layout().cells.size(); ++i)
    if (checked.layout().cells[i].variant == variant) cells.push_back(static_cast<int>(i));
  return cells;
}

}  // namespace

std::optional<Finding> variantsAlike(const Checked& checked) {
  constexpr double kMin = 0.05;
  const std::size_t count = checked.layout().variants.size();
  double least = kMin;
  std::size_t first = 0, second = 0;
  for (std::size_t a = 0; a < count; ++a)
    for (std::size_t b = a + 1; b < count; ++b)
      if (const double difference = differenceOf(checked, a, b); difference < least) {
        least = difference;
        first = a;
        second = b;
      }
  if (second == 0) return std::nullopt;
  Finding finding;
  finding.number = 100 * least;
  finding.cells = cellsOf(checked, second);
  finding.text =
      fmt::format("variants {} and {} differ by {:.1f} % of what is seen: the effect repeats itself",
                  first + 1, second + 1, finding.number);
  return finding;
}

std::optional<Finding> variantsDiffer(const Checked& checked) {
  constexpr double kMaxLight = 1.5, kMaxSize = 1.25;  // times as much
  if (checked.layout().variants.size() < 2) return std::nullopt;
  const std::vector<Seen> all = seenOfVariants(checked);
  const auto compare = [&](double Seen::*measure, double max, const char* what) -> std::optional<Finding> {
    const auto [least, most] = std::minmax_element(
        all.begin(), all.end(), [&](const Seen& a, const Seen& b) { return a.*measure < b.*measure; });
    if (!((*most).*measure > max * (*least).*measure)) return std::nullopt;
    Finding finding;
    // Of values that differ it is what was asked for.
    finding.isTrouble = checked.bake.chooses("variants", "seeds");
    finding.cells = cellsOf(checked, static_cast<std::size_t>(most - all.begin()));
    const auto nameOf = [&](auto which) { return which - all.begin() + 1; };
    if (!((*least).*measure > 0)) {
      finding.cells = cellsOf(checked, static_cast<std::size_t>(least - all.begin()));
      finding.text = fmt::format("nothing is seen of variant {}", nameOf(least));
      return finding;
    }
    finding.number = (*most).*measure / (*least).*measure;
    finding.text = fmt::format(
        "variant {} is {:.1f} times as {} as variant {}: picked at random, they do not pass "
        "for the same effect",
        nameOf(most), finding.number, what, nameOf(least));
    return finding;
  };
  const std::optional<Finding> light = compare(&Seen::light, kMaxLight, "bright");
  return light ? light : compare(&Seen::size, kMaxSize, "large");
}

}  // namespace comet::checks
