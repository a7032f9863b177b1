// The fields of vectors in a volume file that a scene uses.
#pragma once

#include "io/volume_file.h"
#include "params/file_ref.h"

namespace comet {

class VolumeContent : public FileContent {
 public:
  // At least one.
  explicit VolumeContent(std::vector<VectorVolume> volumes);

  const std::vector<VectorVolume>& volumes() const { return volumes_; }
  // The one of this name, or the first.
  const VectorVolume& named(const std::string& name) const;

  Digest digest() const override { return digest_; }
  std::string summary() const override;

 private:
  std::vector<VectorVolume> volumes_;
  Digest digest_;
};

}  // namespace comet
