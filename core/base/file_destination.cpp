#include "base/file_destination.h"

#include "base/error.h"
#include "base/file.h"

#include <cerrno>
#include <cstring>
#include <limits>
#include <unistd.h>
#include <utility>

namespace comet {
namespace {

std::filesystem::path endOfLinks(const std::filesystem::path& path) {
  std::error_code problem;
  if (!std::filesystem::is_symlink(path, problem)) return path;
  const std::filesystem::path end = std::filesystem::weakly_canonical(path, problem);
  return problem ? path : end;
}

}  // namespace

FileDestination::FileDestination(std::filesystem::path path)
    : path_(std::move(path)), final_(endOfLinks(path_)) {
  replaces_ = ::stat(final_.c_str(), &before_) == 0;
  constexpr mode_t kAnyWrites = S_IWUSR | S_IWGRP | S_IWOTH;
  if (replaces_ && S_ISREG(before_.st_mode) && (before_.st_mode & kAnyWrites) == 0)
    throw Error(ErrorKind::Write, path_.string(), "is write-protected",
                "Choose another name, or make the file writable");
}

void FileDestination::handOn(int descriptor) const {
  if (!replaces_) return;
  static_cast<void>(!::fchown(descriptor, before_.st_uid, before_.st_gid));
  static_cast<void>(!::fchmod(descriptor, before_.st_mode & 07777));
}

void FileDestination::flush(int descriptor) const {
  // Some disks report that they are full only here. Devices and pipes cannot be flushed, which is no fault.
  if (::fsync(descriptor) != 0 && errno != EINVAL) fail("could not be stored");
}

void FileDestination::take(const std::filesystem::path& from) const {
  if (::rename(from.c_str(), final_.c_str()) == 0) return;
  // A link may lead to another disk.
  if (errno != EXDEV) fail("could not be given its final name");
  writeFileAtomically(final_, readFile(from, std::numeric_limits<std::size_t>::max()));
  ::unlink(from.c_str());
}

void FileDestination::fail(const std::string& problem) const {
  throw Error(ErrorKind::Write, path_.string(), problem + " (" + std::strerror(errno) + ")",
              "Choose another folder or free some space");
}

}  // namespace comet
