// Where a file is written to, and what it replaces there.
#pragma once

#include <filesystem>
#include <string>
#include <sys/stat.h>

namespace comet {

// What a link leads to is replaced, not the link, and a file that is replaced hands its mode and owner on.
class FileDestination {
 public:
  // Throws Error(Write) if there is a write-protected file.
  explicit FileDestination(std::filesystem::path path);

  // At the end of links.
  const std::filesystem::path& final() const { return final_; }
  // Gives an open file the mode and owner of the one that it will replace, as far as that is ours to say.
  void handOn(int descriptor) const;
  // Waits until an open file is on the disk. Throws Error(Write).
  void flush(int descriptor) const;
  // Gives a file the final name. Throws Error(Write); then the old file is untouched.
  void take(const std::filesystem::path& from) const;
  // Throws Error(Write) with the problem and what the system says of it.
  [[noreturn]] void fail(const std::string& problem) const;

 private:
  std::filesystem::path path_, final_;
  bool replaces_ = false;
  struct stat before_ {};
};

}  // namespace comet
