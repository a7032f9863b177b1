// Meshes, pictures and volumes from files that may be anything: read in processes of their own.
#pragma once

#include "base/picture.h"
#include "base/progress.h"
#include "geometry/mesh.h"
#include "io/picture_file.h"
#include "io/volume_file.h"

#include <filesystem>
#include <memory>
#include <vector>

namespace comet {

// Whatever is in a file: the program goes on. All calls may be made from any thread; readers are kept for the
// next file. All throw Error(Input) with the file's path and what to do: what the readers of each kind throw,
// files that are no regular files, that end what reads them, or that take more than kReaderMemory or
// kReaderSeconds; and Error(Cancelled).
class FileReader {
 public:
  // To be made before the program has any threads.
  FileReader();
  ~FileReader();
  FileReader(const FileReader&) = delete;
  FileReader& operator=(const FileReader&) = delete;

  // As described with pictureFromBytes, meshFromBytes and vectorVolumesFromBytes. A glTF may name further
  // files in its folder or below it.
  Picture picture(const std::filesystem::path& path, const Progress& progress = {},
                  StoredAlpha alpha = StoredAlpha::Straight) const;
  Mesh mesh(const std::filesystem::path& path, const Progress& progress = {}) const;
  std::vector<VectorVolume> volumes(const std::filesystem::path& path, const Progress& progress = {}) const;

 private:
  struct Pool;
  std::unique_ptr<Pool> pool_;
};

constexpr double kReaderSeconds = 120;

using FileReaderPtr = std::shared_ptr<const FileReader>;

}  // namespace comet
