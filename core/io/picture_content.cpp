#include "io/picture_content.h"

#include "base/error.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <system_error>

namespace comet {
namespace {

namespace fs = std::filesystem;

// Pictures of a sequence that are kept: those of the frames around the one that is looked at.
constexpr std::size_t kMaxKept = 12;

// The number that stands for the run of `#` in `pattern`, or -1 if the name does not follow it.
long long numberIn(const std::string& name, const std::string& pattern) {
  const auto first = pattern.find('#');
  const auto after = pattern.find_first_not_of('#', first);
  const std::string head = pattern.substr(0, first);
  const std::string tail = after == std::string::npos ? "" : pattern.substr(after);
  if (name.size() <= head.size() + tail.size() || name.compare(0, head.size(), head) != 0 ||
      name.compare(name.size() - tail.size(), tail.size(), tail) != 0)
    return -1;
  const std::string digits = name.substr(head.size(), name.size() - head.size() - tail.size());
  constexpr std::size_t kMaxDigits = 12;
  const bool isNumber =
      digits.size() <= kMaxDigits &&
      std::all_of(digits.begin(), digits.end(), [](unsigned char c) { return std::isdigit(c) != 0; });
  return isNumber ? std::stoll(digits) : -1;
}

}  // namespace

std::vector<fs::path> filesOfSequence(const fs::path& pattern) {
  std::vector<std::pair<long long, fs::path>> found;
  std::error_code problem;
  const fs::path folder = pattern.has_parent_path() ? pattern.parent_path() : fs::path(".");
  for (const fs::directory_entry& entry : fs::directory_iterator(folder, problem))
    if (const long long number = numberIn(entry.path().filename().string(), pattern.filename().string());
        number >= 0)
      found.emplace_back(number, entry.path());
  std::sort(found.begin(), found.end());
  std::vector<fs::path> files;
  files.reserve(found.size());
  for (auto& entry : found) files.push_back(std::move(entry.second));
  return files;
}

PictureContent::PictureContent(Picture picture) : PictureContent(std::move(picture), {}, {}) {}

PictureContent::PictureContent(Picture first, std::vector<fs::path> files, Read read)
    : first_(std::make_shared<const Picture>(std::move(first))),
      files_(std::move(files)),
      read_(std::move(read)),
      width_(first_->width()),
      height_(first_->height()) {
  Hasher hasher;
  hasher << width_ << height_;
  if (count() == 1) hasher.bytes(first_->pixels().data(), first_->pixels().size() * sizeof(Vec4));
  // The pixels of a sequence may be more than memory holds: its files stand for them.
  if (count() > 1)
    for (const fs::path& file : files_) {
      std::error_code problem;
      hasher << file.string() << static_cast<std::uint64_t>(fs::file_size(file, problem))
             << static_cast<std::int64_t>(fs::last_write_time(file, problem).time_since_epoch().count());
    }
  digest_ = hasher.digest();
}

int PictureContent::count() const { return files_.empty() ? 1 : static_cast<int>(files_.size()); }

int PictureContent::indexAt(int frame) const { return ((frame - 1) % count() + count()) % count(); }

std::shared_ptr<const Picture> PictureContent::at(int frame, StoredAlpha alpha) const {
  const int index = indexAt(frame);
  if (files_.empty() || (index == 0 && alpha == StoredAlpha::Straight)) return first_;
  const std::pair key(index, alpha);
  const std::lock_guard lock(readMutex_);
  if (const auto found = known_.find(key); found != known_.end()) return found->second;
  const fs::path& file = files_[static_cast<std::size_t>(index)];
  if (known_.size() >= kMaxKept) known_.erase(known_.begin());
  try {
    Picture picture = read_(file, alpha);
    if (picture.width() != width_ || picture.height() != height_)
      refuseInput(file.string(),
                  fmt::format("is {} × {} pixels, but the first picture of the sequence {} × {}",
                              picture.width(), picture.height(), width_, height_),
                  "Export the whole sequence in one size");
    return known_[key] = std::make_shared<const Picture>(std::move(picture));
  } catch (const Error& error) {
    // Who draws it goes on; those who are answerable for the result ask for the problem.
    const std::lock_guard problemLock(problemMutex_);
    if (problem_.empty()) problem_ = error.what();
    return known_[key] = first_;
  }
}

std::string PictureContent::problem() const {
  const std::lock_guard lock(problemMutex_);
  return problem_;
}

std::string PictureContent::summary() const {
  std::string text = fmt::format("{} × {} pixels", width_, height_);
  if (count() > 1) text = fmt::format("{} pictures of {}", files_.size(), text);
  return text;
}

}  // namespace comet
