// When a file becomes another one.
#pragma once

#include "base/progress.h"

#include <filesystem>
#include <string>

namespace comet::cli {

class FileChange {
 public:
  // Of the file as it is now; there need be none.
  explicit FileChange(std::filesystem::path path);

  // Returns once the file has been written since this was made, and is there. Throws Error(Cancelled).
  void wait(const Progress& progress) const;

 private:
  // Which file it is, when it was written and how long it is; empty if there is none.
  std::string stamp() const;

  std::filesystem::path path_;
  std::string before_;
};

}  // namespace comet::cli
