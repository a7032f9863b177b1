#include "base/file.h"

#include "base/error.h"
#include "base/file_destination.h"
#include "base/file_set.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>
#include <utility>

namespace comet {
namespace {

// A file that is being written; it is removed again unless it was committed to its final name.
class PartialFile {
 public:
  explicit PartialFile(const std::filesystem::path& target)
      : target_(target), partial_(target_.final().string() + fmt::format(".{}.partial", ::getpid())) {
    do {
      if (descriptor_ >= 0) ::close(descriptor_);
      descriptor_ = ::open(partial_.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666);
      if (descriptor_ < 0) target_.fail("cannot be written");
    } while (!lockUnfinished(descriptor_, partial_));
    target_.handOn(descriptor_);
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
      if (written <= 0) target_.fail("could not be written to the end");
      content.remove_prefix(static_cast<std::size_t>(written));
    }
  }

  void commit() {
    target_.flush(descriptor_);
    const int descriptor = descriptor_;
    descriptor_ = -1;
    if (::close(descriptor) != 0) target_.fail("could not be stored");
    target_.take(partial_);
    committed_ = true;
  }

 private:
  FileDestination target_;
  std::filesystem::path partial_;
  int descriptor_ = -1;
  bool committed_ = false;
};

}  // namespace

OpenFile::OpenFile(const std::filesystem::path& path, std::size_t largest)
    : descriptor_(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOCTTY)) {
  if (descriptor_ < 0)
    refuseInput(path.string(), std::string("cannot be opened (") + std::strerror(errno) + ")",
                "Check the name and your right to read it");
  struct stat status {};
  const bool isKnown = ::fstat(descriptor_, &status) == 0;
  size_ = static_cast<std::size_t>(status.st_size);
  if (isKnown && S_ISREG(status.st_mode) && size_ <= largest) return;
  ::close(descriptor_);
  if (S_ISDIR(status.st_mode)) refuseInput(path.string(), "is a folder, not a file", "Name a file in it");
  if (!isKnown || !S_ISREG(status.st_mode))
    refuseInput(path.string(), "is not a regular file but a pipe or a device", "Name a file on a disk");
  refuseInput(path.string(), fmt::format("is {} bytes long, more than the {} allowed here", size_, largest),
              "Use a smaller file");
}

OpenFile::~OpenFile() {
  if (descriptor_ >= 0) ::close(descriptor_);
}

OpenFile::OpenFile(OpenFile&& other) noexcept
    : descriptor_(std::exchange(other.descriptor_, -1)), size_(other.size_) {}

std::string readFile(const std::filesystem::path& path, std::size_t largest) {
  const OpenFile file(path, largest);
  std::string content(file.size(), '\0');
  for (std::size_t done = 0; done < content.size();) {
    const ssize_t got = ::read(file.descriptor(), content.data() + done, content.size() - done);
    if (got < 0 && errno == EINTR) continue;
    if (got <= 0) refuseInput(path.string(), "could not be read to its end", "Check the disk that it is on");
    done += static_cast<std::size_t>(got);
  }
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
