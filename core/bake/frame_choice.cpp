#include "bake/frame_choice.h"

#include "bake/seen.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace comet {

double energyOf(const Picture& picture) {
  double sum = 0;
  for (const Vec4& pixel : picture.pixels()) sum += std::max(seenOf(pixel), 0.0F);
  return sum;
}

double changeBetween(const Picture& a, const Picture& b) {
  double sum = 0;
  for (std::size_t i = 0; i < a.pixels().size(); ++i) {
    const Vec4 change = a.pixels()[i] - b.pixels()[i];
    sum += std::abs(change.x) + std::abs(change.y) + std::abs(change.z) + std::abs(change.w);
  }
  return sum / (4 * static_cast<double>(std::max<std::size_t>(1, a.pixels().size())));
}

FrameRange livelyPart(const std::vector<double>& energies, double share) {
  const int last = static_cast<int>(energies.size()) - 1;
  const double most = *std::max_element(energies.begin(), energies.end());
  const auto isLively = [&](double energy) { return energy > 0 && energy >= share * most; };
  const auto first = std::find_if(energies.begin(), energies.end(), isLively);
  if (first == energies.end()) return {0, last};
  const auto end = std::find_if(energies.rbegin(), energies.rend(), isLively);
  return {static_cast<int>(first - energies.begin()), last - static_cast<int>(end - energies.rbegin())};
}

std::vector<int> evenInMotion(const std::vector<double>& changes, int count, bool isLoop) {
  const int frames = static_cast<int>(changes.size()) + (isLoop ? 0 : 1);
  const int wanted = std::min(count, frames);
  std::vector<double> until(1, 0.0);
  for (const double change : changes) until.push_back(until.back() + change);
  const double all = until.back();
  std::vector<int> picked;
  for (int i = 0; i < wanted; ++i) {
    const double share = isLoop ? static_cast<double>(i) / wanted : wanted > 1 ? i / (wanted - 1.0) : 0;
    // The nearest, but neither one that is taken nor one that later picks need.
    const int least = picked.empty() ? 0 : picked.back() + 1, most = frames - (wanted - i);
    // The last one ends it, also where nothing changes any more.
    int best = !isLoop && i > 0 && i + 1 == wanted ? most : least;
    for (int at = least; at <= most; ++at)
      if (std::abs(until[static_cast<std::size_t>(at)] - share * all) <
          std::abs(until[static_cast<std::size_t>(best)] - share * all))
        best = at;
    picked.push_back(best);
  }
  return picked;
}

}  // namespace comet
