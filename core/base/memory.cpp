#include "base/memory.h"

#include "base/error.h"

#include <algorithm>
#include <cstdint>
#include <fmt/format.h>
#include <fstream>
#include <limits>
#include <malloc.h>
#include <new>
#include <sys/mman.h>
#include <sys/resource.h>
#include <tbb/scalable_allocator.h>
#include <unistd.h>

namespace comet {
namespace {

constexpr std::size_t kUnlimited = std::numeric_limits<std::size_t>::max();

std::size_t lessUsed(std::size_t limit, std::size_t used) { return limit - std::min(limit, used); }

// The first number in a file that holds little else; unlimited if there is none.
std::size_t numberIn(const char* path) {
  std::size_t number = 0;
  return std::ifstream(path) >> number ? number : kUnlimited;
}

std::size_t leftOnTheMachine() {
  std::ifstream file("/proc/meminfo");
  for (std::string word; file >> word;)
    if (std::size_t kilobytes = 0; word == "MemAvailable:" && file >> kilobytes) return kilobytes << 10;
  return kUnlimited;
}

std::size_t leftOfTheGroup() {
  const std::size_t limit = numberIn("/sys/fs/cgroup/memory.max");
  const std::size_t used = numberIn("/sys/fs/cgroup/memory.current");
  return limit == kUnlimited || used == kUnlimited ? kUnlimited : lessUsed(limit, used);
}

std::size_t leftOfTheProcess() {
  rlimit limit{};
  const std::size_t pages = numberIn("/proc/self/statm");
  if (::getrlimit(RLIMIT_AS, &limit) != 0 || limit.rlim_cur == RLIM_INFINITY || pages == kUnlimited)
    return kUnlimited;
  return lessUsed(limit.rlim_cur, pages * static_cast<std::size_t>(::sysconf(_SC_PAGESIZE)));
}

void adviseLargePages(void* block, std::size_t bytes) {
  constexpr std::size_t kLarge = std::size_t{8} << 20, kPage = std::size_t{2} << 20;
  if (bytes < kLarge) return;
  const std::size_t start = (reinterpret_cast<std::uintptr_t>(block) + kPage - 1) / kPage * kPage;
  const std::size_t end = (reinterpret_cast<std::uintptr_t>(block) + bytes) / kPage * kPage;
  // Only a hint: where it is not taken, all goes on as without it.
  (void)madvise(reinterpret_cast<void*>(start), end - start, MADV_HUGEPAGE);
}

double gigabytes(std::size_t bytes) { return static_cast<double>(bytes) / (1 << 30); }

}  // namespace

void releaseUnusedMemory() {
  // It fails only where there was nothing to hand back.
  static_cast<void>(scalable_allocation_command(TBBMALLOC_CLEAN_ALL_BUFFERS, nullptr));
  ::malloc_trim(0);
}

void* takeBlock(std::size_t bytes) {
  void* block = scalable_malloc(bytes);
  if (!block) throw std::bad_alloc();
  adviseLargePages(block, bytes);
  return block;
}

void giveBackBlock(void* block) noexcept { scalable_free(block); }

std::size_t availableMemory() { return std::min({leftOnTheMachine(), leftOfTheGroup(), leftOfTheProcess()}); }

void requireMemory(std::size_t bytes, const std::string& place, const std::string& remedy) {
  const std::size_t left = availableMemory();
  if (bytes <= left) return;
  throw Error(ErrorKind::Budget, place,
              fmt::format("needs about {:.1f} GB of memory, and {:.1f} GB are free", gigabytes(bytes),
                          gigabytes(left)),
              remedy);
}

}  // namespace comet
