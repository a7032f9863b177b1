#include "bake/frame_choice.h"

#include "bake/seen.h"
#include "base/parallel.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <limits>
#include <numeric>

namespace comet {

double energyOf(const Picture& picture) {
  return parallelSum(static_cast<std::size_t>(picture.height()), [&picture](std::size_t y) {
    double sum = 0;
    const Vec4* row = picture.row(static_cast<int>(y));
    for (int x = 0; x < picture.width(); ++x) sum += std::max(seenOf(row[x]), 0.0F);
    return sum;
  });
}

double changeBetween(const PictureView& a, const PictureView& b) {
  const double sum = parallelSum(static_cast<std::size_t>(a.height), [&](std::size_t y) {
    const Vec4 *from = a.row(static_cast<int>(y)), *to = b.row(static_cast<int>(y));
    // In single floats along a row: a thousand pixels lose nothing that counts.
    Vec4 row(0.0F);
    for (int x = 0; x < a.width; ++x) row += glm::abs(to[x] - from[x]);
    return static_cast<double>(row.x + row.y + row.z + row.w);
  });
  return sum / (4 * static_cast<double>(std::max(1, a.width * a.height)));
}

FrameRange livelyPart(const std::vector<double>& energies, double fraction) {
  const int last = static_cast<int>(energies.size()) - 1;
  const double max = *std::max_element(energies.begin(), energies.end());
  const auto isLively = [&](double energy) { return energy > 0 && energy >= fraction * max; };
  const auto first = std::find_if(energies.begin(), energies.end(), isLively);
  if (first == energies.end()) return {0, last};
  const auto end = std::find_if(energies.rbegin(), energies.rend(), isLively);
  return {static_cast<int>(first - energies.begin()), last - static_cast<int>(end - energies.rbegin())};
}

LoopStretch bestLoop(int count, int shortest, int longest, const std::function<int(int length)>& overlap,
                     const std::function<double(int a, int b)>& unlike) {
  std::vector<LoopStretch> best(static_cast<std::size_t>(std::max(0, longest - shortest + 1)),
                                {{0, count - 1}, std::numeric_limits<double>::infinity()});
  parallelFor(best.size(), [&](std::size_t i) {
    const int length = longest - static_cast<int>(i), faded = overlap(length);
    std::vector<double> until(1, 0.0);  // the sums of all differences before an index
    for (int at = 0; at + length < count; ++at) until.push_back(until.back() + unlike(at, at + length));
    for (int first = faded; first + length <= count; ++first) {
      const auto begin = static_cast<std::size_t>(first - faded), end = static_cast<std::size_t>(first);
      const double mean = (until[end] - until[begin]) / faded;
      if (mean < best[i].unlike) best[i] = {{first, first + length - 1}, mean};
    }
  });
  return *std::min_element(best.begin(), best.end(),
                           [](const LoopStretch& a, const LoopStretch& b) { return a.unlike < b.unlike; });
}

std::vector<int> evenInMotion(const std::vector<double>& changes, int count, bool isLoop) {
  const int frames = static_cast<int>(changes.size()) + (isLoop ? 0 : 1);
  const int wanted = std::min(count, frames);
  std::vector<double> until(1, 0.0);
  for (const double change : changes) until.push_back(until.back() + change);
  const double all = until.back();
  std::vector<int> picked;
  for (int i = 0; i < wanted; ++i) {
    const double fraction = isLoop ? static_cast<double>(i) / wanted : wanted > 1 ? i / (wanted - 1.0) : 0;
    // The nearest, but neither one that is taken nor one that later picks need.
    const int min = picked.empty() ? 0 : picked.back() + 1, max = frames - (wanted - i);
    // The last one ends it, also where nothing changes any more.
    int best = !isLoop && i > 0 && i + 1 == wanted ? max : min;
    for (int at = min; at <= max; ++at)
      if (std::abs(until[static_cast<std::size_t>(at)] - fraction * all) <
          std::abs(until[static_cast<std::size_t>(best)] - fraction * all))
        best = at;
    picked.push_back(best);
  }
  return picked;
}

}  // namespace comet
