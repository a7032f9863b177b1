// A file that a scene uses: its path as the user gave it, and what was read from it.
//
// The content is part of the scene's value: it is read once, when the scene is opened or the path is edited,
// and shared from then on. A file that cannot be read leaves the path and the reason, so that the scene opens
// and the path can be fixed.
#pragma once

#include "base/digest.h"
#include "base/result_cache.h"

#include <functional>
#include <memory>
#include <string>

namespace comet {

enum class FileKind { Picture, Mesh, Volume };

// What was read from a file. Immutable; read from any thread.
class FileContent {
 public:
  FileContent() = default;
  virtual ~FileContent() = default;
  FileContent(const FileContent&) = delete;
  FileContent& operator=(const FileContent&) = delete;

  // Equal for equal contents.
  virtual Digest digest() const = 0;
  // What it holds, in a line for people: sizes and, where there is something to know, warnings.
  virtual std::string summary() const = 0;

  // Something that is made from the content and kept with it; see ResultCache.
  template <typename Result>
  std::shared_ptr<const Result> derived(const Digest& key,
                                        const std::function<std::shared_ptr<const Result>()>& make) const {
    return kept_.get<Result>(key, make);
  }

 private:
  ResultCache kept_;
};

struct FileRef {
  std::string path;  // empty for none
  std::shared_ptr<const FileContent> content;
  std::string problem;  // why there is no content although there is a path

  bool isMissing() const { return !path.empty() && !content; }
  // The content as what it is; null if there is none.
  template <typename Content>
  std::shared_ptr<const Content> as() const {
    return std::dynamic_pointer_cast<const Content>(content);
  }

  bool operator==(const FileRef& other) const {
    if (path != other.path || !content != !other.content) return false;
    return !content || content == other.content || content->digest() == other.content->digest();
  }
};

}  // namespace comet
