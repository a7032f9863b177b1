// Loops over chunks on all threads, with the same floating-point mode in each of them.
//
// What a body writes must depend only on its index; then the number of threads cannot change a result.
#pragma once

#include <atomic>
#include <cstddef>
#include <memory>
#include <numeric>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#include <thread>
#include <vector>
#include <xmmintrin.h>

namespace comet {

// Denormal numbers become zero while one of these lives: they slow some processors down a hundredfold, and
// threads that treat them differently would give different results.
class FlushDenormals {
 public:
  FlushDenormals() : saved_(_mm_getcsr()) { _mm_setcsr(saved_ | kFlushToZero | kDenormalsAreZero); }
  ~FlushDenormals() { _mm_setcsr(saved_); }
  FlushDenormals(const FlushDenormals&) = delete;
  FlushDenormals& operator=(const FlushDenormals&) = delete;

 private:
  static constexpr unsigned kFlushToZero = 0x8000, kDenormalsAreZero = 0x0040;
  unsigned saved_;
};

#if defined(__SANITIZE_THREAD__)

// The thread sanitizer cannot see how oneTBB orders its tasks. In its builds loops run on plain threads, so
// that what it reports are races between our own bodies.
template <typename Body>
void parallelFor(std::size_t count, const Body& body) {
  std::atomic<std::size_t> next{0};
  const auto work = [&] {
    const FlushDenormals mode;
    for (std::size_t i = next++; i < count; i = next++) body(i);
  };
  std::thread other(work);
  work();
  other.join();
}

template <typename Body>
void parallelForEqual(std::size_t count, const Body& body) {
  parallelFor(count, body);
}

#else

// Calls body(index) for every index of a range that oneTBB hands out.
template <typename Body>
auto overRange(const Body& body) {
  return [&body](const tbb::blocked_range<std::size_t>& range) {
    const FlushDenormals mode;
    for (std::size_t i = range.begin(); i != range.end(); ++i) body(i);
  };
}

// Calls body(index) for every index below `count`.
template <typename Body>
void parallelFor(std::size_t count, const Body& body) {
  tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, 1), overRange(body));
}

// As parallelFor, with equal shares handed out beforehand: best where every index costs the same.
template <typename Body>
void parallelForEqual(std::size_t count, const Body& body) {
  tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, 1), overRange(body), tbb::static_partitioner());
}

#endif

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
  explicit ThreadLimit(int threads) {
    if (threads > 0)
      control_ = std::make_unique<tbb::global_control>(tbb::global_control::max_allowed_parallelism, threads);
  }

 private:
  std::unique_ptr<tbb::global_control> control_;
};

}  // namespace comet
