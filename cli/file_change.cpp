#include "file_change.h"

#include <chrono>
#include <fmt/format.h>
#include <sys/stat.h>
#include <thread>
#include <utility>

namespace comet::cli {

FileChange::FileChange(std::filesystem::path path) : path_(std::move(path)), before_(stamp()) {}

void FileChange::wait(const Progress& progress) const {
  // Polled: shared folders tell nobody what other machines write.
  constexpr std::chrono::milliseconds kBetween(200);
  for (std::string now = stamp(); now.empty() || now == before_; now = stamp()) {
    progress.stopIfCancelled();
    std::this_thread::sleep_for(kBetween);
  }
}

std::string FileChange::stamp() const {
  struct stat file {};
  if (::stat(path_.c_str(), &file) != 0) return {};
  return fmt::format("{} {} {} {}", file.st_ino, file.st_mtim.tv_sec, file.st_mtim.tv_nsec, file.st_size);
}

}  // namespace comet::cli
