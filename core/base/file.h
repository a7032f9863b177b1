// Whole files, read with a size limit and written so that no half-written file ever bears the final name.
#pragma once

#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>

namespace comet {

// A regular file that is open for reading; closed with the object.
class OpenFile {
 public:
  // Throws Error(Input): no such file, no right to read it, larger than `largest` bytes, or no regular file
  // but a folder, a pipe or a device. It never waits for anybody.
  OpenFile(const std::filesystem::path& path, std::size_t largest);
  ~OpenFile();
  OpenFile(OpenFile&& other) noexcept;
  OpenFile& operator=(OpenFile&&) = delete;

  int descriptor() const { return descriptor_; }
  std::size_t size() const { return size_; }

 private:
  int descriptor_ = -1;
  std::size_t size_ = 0;
};

// The content of `path`. Throws as OpenFile does.
std::string readFile(const std::filesystem::path& path, std::size_t largest);

// Writes beside the target, flushes to the disk, then renames; a link stays one, and a file that is replaced
// hands its mode and owner on. Throws Error(Write) and leaves the old file untouched if anything fails (no
// such folder, no permission, a write-protected file, disk full).
void writeFileAtomically(const std::filesystem::path& path, std::string_view content);

// Makes the folder and its parents. Throws Error(Write).
void makeFolder(const std::filesystem::path& folder);

}  // namespace comet
