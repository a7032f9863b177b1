#include "base/file_set.h"

#include <algorithm>
#include <cctype>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>
#include <utility>

namespace comet {
namespace {

namespace fs = std::filesystem;

constexpr std::string_view kAside = ".partial-";

// As FileSet and writeFileAtomically name what is not finished: .partial-ABCDEF, and NAME.123.partial.
bool isUnfinished(const std::string& name) {
  if (name.compare(0, kAside.size(), kAside) == 0) return name.size() == kAside.size() + 6;
  const fs::path path = name;
  const std::string number = path.stem().extension().string();
  return path.extension() == ".partial" && number.size() > 1 &&
         std::all_of(number.begin() + 1, number.end(), [](unsigned char c) { return std::isdigit(c) != 0; });
}

class Descriptor {
 public:
  Descriptor(const fs::path& path, int flags) : number_(::open(path.c_str(), flags | O_CLOEXEC)) {}
  ~Descriptor() {
    if (number_ >= 0) ::close(number_);
  }
  Descriptor(const Descriptor&) = delete;
  Descriptor& operator=(const Descriptor&) = delete;
  int number() const { return number_; }

 private:
  int number_;
};

}  // namespace

void removeAbandonedFiles(const fs::path& folder) {
  std::error_code ignored;
  for (fs::directory_iterator entry(folder.empty() ? "." : folder, ignored), end; entry != end;
       entry.increment(ignored)) {
    if (!isUnfinished(entry->path().filename().string())) continue;
    const Descriptor found(entry->path(), O_RDONLY | O_NOFOLLOW | O_NONBLOCK);
    // Who writes it holds a lock on it, which ends with the program.
    if (found.number() < 0 || ::flock(found.number(), LOCK_EX | LOCK_NB) != 0) continue;
    std::error_code problem;
    fs::remove_all(entry->path(), problem);
  }
}

bool lockUnfinished(int descriptor, const fs::path& path) {
  // Where there are no locks, nothing is taken for abandoned either.
  return ::flock(descriptor, LOCK_EX) != 0 || ::access(path.c_str(), F_OK) == 0;
}

FileSet::FileSet(fs::path folder) : folder_(folder.empty() ? "." : std::move(folder)) {
  removeAbandonedFiles(folder_);
  do {
    if (lock_ >= 0) ::close(lock_);
    std::string name = (folder_ / kAside).string() + "XXXXXX";
    const bool isMade = ::mkdtemp(name.data()) != nullptr;
    aside_ = name;
    lock_ = isMade ? ::open(aside_.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC) : -1;
    // Somebody who cleans up may already have removed it.
    if (lock_ < 0 && !(isMade && errno == ENOENT))
      throw Error(ErrorKind::Write, folder_.string(),
                  std::string("cannot be written into (") + std::strerror(errno) + ")",
                  "Choose another folder or free some space");
  } while (lock_ < 0 || !lockUnfinished(lock_, aside_));
}

FileSet::~FileSet() {
  std::error_code ignored;
  fs::remove_all(aside_, ignored);
  if (lock_ >= 0) ::close(lock_);
}

fs::path FileSet::add(const std::string& name) {
  members_.push_back({folder_ / name, FileDestination(folder_ / name), aside_ / name});
  return members_.back().staged;
}

Error FileSet::seenOutside(const Error& error) const {
  const auto named = [this](std::string text) {
    const std::string aside = aside_.string(), folder = folder_.string();
    for (std::size_t at = 0; (at = text.find(aside, at)) != std::string::npos; at += folder.size())
      text.replace(at, aside.size(), folder);
    return text;
  };
  return {error.kind(), named(error.place()), named(error.problem()), error.remedy()};
}

std::vector<fs::path> FileSet::keep() {
  for (const Member& member : members_) {
    const Descriptor file(member.staged, O_RDONLY);
    if (file.number() < 0) member.destination.fail("could not be stored");
    member.destination.handOn(file.number());
    member.destination.flush(file.number());
  }
  std::vector<fs::path> paths;
  if (members_.size() > 1) ::unlink(members_.back().destination.final().c_str());
  for (const Member& member : members_) {
    member.destination.take(member.staged);
    paths.push_back(member.path);
  }
  members_.clear();
  return paths;
}

}  // namespace comet
