#include "base/file.h"

#include "base/error.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <fstream>
#include <system_error>
#include <unistd.h>

namespace comet {
namespace {

// A file that is being written; it is removed again unless it was committed to its final name.
class PartialFile {
 public:
  explicit PartialFile(const std::filesystem::path& target)
      : target_(target), partial_(target.string() + fmt::format(".{}.partial", ::getpid())) {
    descriptor_ = ::open(partial_.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666);
    if (descriptor_ < 0) fail("cannot be written");
  }
  PartialFile(const PartialFile&) = delete;
  PartialFile& operator=(const PartialFile&) = delete;
  ~PartialFile() {
    if (descriptor_ >= 0) ::close(descriptor_);
    if (!committed_) ::unlink(partial_.c_str());
  }

  void write(std::string_view content) {
    while (!content.empty()) {
      const ssize_t written = ::write(descriptor_, content.data(), content.size());
      if (written < 0 && errno == EINTR) continue;
      if (written <= 0) fail("could not be written to the end");
      content.remove_prefix(static_cast<std::size_t>(written));
    }
  }

  void commit() {
    // Some disks report that they are full only here. Devices and pipes cannot be flushed, which is no fault.
    if (::fsync(descriptor_) != 0 && errno != EINVAL) fail("could not be stored");
    const int descriptor = descriptor_;
    descriptor_ = -1;
    if (::close(descriptor) != 0) fail("could not be stored");
    if (::rename(partial_.c_str(), target_.c_str()) != 0) fail("could not be given its final name");
    committed_ = true;
  }

 private:
  [[noreturn]] void fail(const std::string& problem) const {
    throw Error(ErrorKind::Write, target_.string(), problem + " (" + std::strerror(errno) + ")",
                "Choose another folder or free some space");
  }

  std::filesystem::path target_;
  std::filesystem::path partial_;
  int descriptor_ = -1;
  bool committed_ = false;
};

// At the file's end, for its size.
std::ifstream openForReading(const std::filesystem::path& path, std::size_t largest) {
  std::error_code code;
  if (std::filesystem::is_directory(path, code))
    throw Error(ErrorKind::Input, path.string(), "is a folder, not a file");
  std::ifstream stream(path, std::ios::binary | std::ios::ate);
  if (!stream)
    throw Error(ErrorKind::Input, path.string(),
                std::string("cannot be opened (") + std::strerror(errno) + ")",
                "Check the name and your right to read it");
  const std::streamoff size = stream.tellg();
  if (size < 0 || static_cast<std::size_t>(size) > largest)
    throw Error(ErrorKind::Input, path.string(),
                fmt::format("is {} bytes long, more than the {} allowed here", size, largest));
  return stream;
}

}  // namespace

void requireReadable(const std::filesystem::path& path, std::size_t largest) {
  openForReading(path, largest);
}

std::string readFile(const std::filesystem::path& path, std::size_t largest) {
  std::ifstream stream = openForReading(path, largest);
  const std::streamoff size = stream.tellg();
  std::string content(static_cast<std::size_t>(size), '\0');
  stream.seekg(0);
  if (!stream.read(content.data(), size))
    throw Error(ErrorKind::Input, path.string(), "could not be read to its end");
  return content;
}

void writeFileAtomically(const std::filesystem::path& path, std::string_view content) {
  PartialFile file(path);
  file.write(content);
  file.commit();
}

void makeFolder(const std::filesystem::path& folder) {
  std::error_code code;
  std::filesystem::create_directories(folder, code);
  if (code || !std::filesystem::is_directory(folder))
    throw Error(ErrorKind::Write, folder.string(), "cannot be made a folder (" + code.message() + ")",
                "Choose another folder");
}

}  // namespace comet
