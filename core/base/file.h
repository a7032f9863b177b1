// Whole files, read with a size limit and written so that no half-written file ever bears the final name.
#pragma once

#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>

namespace comet {

// The content of `path`. Throws Error(Input) if it cannot be read or is larger than `largest` bytes.
std::string readFile(const std::filesystem::path& path, std::size_t largest);

// Throws what readFile throws, without reading: for libraries that open files themselves.
void requireReadable(const std::filesystem::path& path, std::size_t largest);

// Writes beside the target, flushes to the disk, then renames. Throws Error(Write) and leaves the old file
// untouched if anything fails (no such folder, no permission, disk full).
void writeFileAtomically(const std::filesystem::path& path, std::string_view content);

// Makes the folder and its parents. Throws Error(Write).
void makeFolder(const std::filesystem::path& folder);

}  // namespace comet
