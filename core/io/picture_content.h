// A picture, or a sequence of pictures, that a scene uses.
#pragma once

#include "base/picture.h"
#include "io/picture_file.h"
#include "params/file_ref.h"

#include <filesystem>
#include <functional>
#include <map>
#include <mutex>
#include <utility>
#include <vector>

namespace comet {

class PictureContent : public FileContent {
 public:
  // One that is in no file: premultiplied, however it is asked for.
  explicit PictureContent(Picture picture);
  // A file, or those of a sequence in its order, read by `read` when they are asked for; `first` is what is
  // in the first with straight alpha, and all must have its size.
  using Read = std::function<Picture(const std::filesystem::path& file, StoredAlpha alpha)>;
  PictureContent(Picture first, std::vector<std::filesystem::path> files, Read read);

  int count() const;
  int width() const { return width_; }
  int height() const { return height_; }
  // Which picture of a sequence a frame has, from 0.
  int indexAt(int frame) const;
  // The picture for a frame of the scene: frame 1 has the first, and after the last the first comes again. A
  // file of a sequence that cannot be read, or has another size than the first, gives the first, and there is
  // a problem.
  std::shared_ptr<const Picture> at(int frame, StoredAlpha alpha = StoredAlpha::Straight) const;
  // What was wrong with the first file that was asked for in vain; empty if none was.
  std::string problem() const;

  Digest digest() const override { return digest_; }
  std::string summary() const override;

 private:
  std::shared_ptr<const Picture> first_;
  std::vector<std::filesystem::path> files_;  // empty for one that is in no file
  Read read_;
  int width_ = 0, height_ = 0;
  Digest digest_;
  mutable std::mutex readMutex_;
  mutable std::map<std::pair<int, StoredAlpha>, std::shared_ptr<const Picture>> known_;
  // Apart from the reading, which may take long: who asks for the problem does not wait for it.
  mutable std::mutex problemMutex_;
  mutable std::string problem_;
};

// The files that a path with `#` in its name stands for: each run of `#` is a number. Sorted by it.
std::vector<std::filesystem::path> filesOfSequence(const std::filesystem::path& pattern);

}  // namespace comet
