#include "base/parallel.h"

#include <algorithm>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>
#include <xmmintrin.h>

#if defined(__SANITIZE_THREAD__)
#include <atomic>
#include <thread>
#endif

namespace comet {
namespace {

// While one of these lives, in its thread.
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

}  // namespace

#if defined(__SANITIZE_THREAD__)

std::size_t threadCount() { return 2; }

// The thread sanitizer cannot see how oneTBB orders its tasks. In its builds loops run on plain threads, so
// that what it reports are races between our own bodies.
void runRanges(std::size_t count, Shares, const std::function<void(std::size_t, std::size_t)>& body) {
  std::atomic<std::size_t> next{0};
  const auto work = [&] {
    const FlushDenormals mode;
    for (std::size_t i = next++; i < count; i = next++) body(i, i + 1);
  };
  std::thread other(work);
  work();
  other.join();
}

#else

std::size_t threadCount() {
  const std::size_t allowed = tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism);
  const auto here = static_cast<std::size_t>(std::max(1, tbb::this_task_arena::max_concurrency()));
  return std::clamp<std::size_t>(allowed, 1, here);
}

void runRanges(std::size_t count, Shares shares, const std::function<void(std::size_t, std::size_t)>& body) {
  using Range = tbb::blocked_range<std::size_t>;
  const auto run = [&body](const Range& range) {
    const FlushDenormals mode;
    body(range.begin(), range.end());
  };
  if (shares == Shares::Equal)
    tbb::parallel_for(Range(0, count, 1), run, tbb::static_partitioner());
  else
    tbb::parallel_for(Range(0, count, 1), run);
}

#endif

struct ThreadLimit::Control {
  tbb::global_control threads;
};

ThreadLimit::ThreadLimit(int threads) {
  if (threads > 0)
    control_.reset(
        new Control{{tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(threads)}});
}

ThreadLimit::~ThreadLimit() = default;

}  // namespace comet
