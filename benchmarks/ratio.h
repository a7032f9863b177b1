// Hot paths measured against the machine's own limit in the same process.
#pragma once

#include <algorithm>
#include <benchmark/benchmark.h>
#include <chrono>
#include <limits>

namespace comet::benchmarks {

template <typename Work>
double secondsFor(const Work& work) {
  const auto start = std::chrono::steady_clock::now();
  work();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

// The best time of each, taken in turns so that a slow moment of the machine meets both, as a ratio.
template <typename Path, typename Limit>
double bestRatio(const Path& path, const Limit& limit, int rounds = 15) {
  double bestPath = std::numeric_limits<double>::max(), bestLimit = bestPath;
  for (int i = 0; i < rounds; ++i) {
    bestLimit = std::min(bestLimit, secondsFor(limit));
    bestPath = std::min(bestPath, secondsFor(path));
  }
  return bestPath / bestLimit;
}

// As above, where the path is what `whole` does beyond `rest`.
template <typename Whole, typename Rest, typename Limit>
double bestRatioBeyond(const Whole& whole, const Rest& rest, const Limit& limit, int rounds = 15) {
  double bestWhole = std::numeric_limits<double>::max(), bestRest = bestWhole, bestLimit = bestWhole;
  for (int i = 0; i < rounds; ++i) {
    bestLimit = std::min(bestLimit, secondsFor(limit));
    bestWhole = std::min(bestWhole, secondsFor(whole));
    bestRest = std::min(bestRest, secondsFor(rest));
  }
  return (bestWhole - bestRest) / bestLimit;
}

// What the table of benchmarks shows.
inline void report(benchmark::State& state, double ratio, double target) {
  state.counters["ratio"] = ratio;
  state.counters["target"] = target;
}

}  // namespace comet::benchmarks
