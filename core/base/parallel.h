// Loops over chunks on all threads, with the same floating-point mode in each of them.
//
// What a body writes must depend only on its index; then the number of threads cannot change a result.
#pragma once

#include <cstddef>
#include <functional>
#include <memory>
#include <numeric>
#include <vector>

namespace comet {

// How the indices of a loop come to the threads.
enum class Shares {
  OnDemand,  // one after the other, to who is free
  Equal      // as many to each, beforehand: best where every index costs the same
};

// Calls body(begin, end) for ranges that together are all indices below `count`, each once. Denormal numbers
// are zero meanwhile: they slow some processors down a hundredfold, and threads that treat them differently
// would give different results. What a body throws is thrown here, and indices that were not begun are left
// out.
void runRanges(std::size_t count, Shares shares,
               const std::function<void(std::size_t begin, std::size_t end)>& body);

// How many threads loops have, at least one. Not for what changes a result.
std::size_t threadCount();

// Calls body(index) for every index below `count`.
template <typename Body>
void parallelFor(std::size_t count, const Body& body, Shares shares = Shares::OnDemand) {
  runRanges(count, shares, [&body](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i != end; ++i) body(i);
  });
}

template <typename Body>
void parallelForEqual(std::size_t count, const Body& body) {
  parallelFor(count, body, Shares::Equal);
}

// The sum of of(index) for every index below `count`: added in their order, so that the number of threads
// changes no bit of it.
template <typename Of>
auto parallelSum(std::size_t count, const Of& of) {
  std::vector<decltype(of(std::size_t{0}))> parts(count);
  parallelFor(count, [&](std::size_t i) { parts[i] = of(i); });
  return std::accumulate(parts.begin(), parts.end(), decltype(of(std::size_t{0})){});
}

// Limits all loops of the process to `threads` while it lives; zero means no limit.
class ThreadLimit {
 public:
  explicit ThreadLimit(int threads);
  ~ThreadLimit();
  ThreadLimit(const ThreadLimit&) = delete;
  ThreadLimit& operator=(const ThreadLimit&) = delete;

 private:
  struct Control;
  std::unique_ptr<Control> control_;
};

}  // namespace comet
