#include "io/volume_content.h"

#include <algorithm>
#include <fmt/format.h>

namespace comet {

VolumeContent::VolumeContent(std::vector<VectorVolume> volumes) : volumes_(std::move(volumes)) {
  Hasher hasher;
  for (const VectorVolume& volume : volumes_)
    hasher << volume.name << volume.centre << volume.size << volume.grid.digest();
  digest_ = hasher.digest();
}

const VectorVolume& VolumeContent::named(const std::string& name) const {
  const auto found = std::find_if(volumes_.begin(), volumes_.end(),
                                  [&name](const VectorVolume& volume) { return volume.name == name; });
  return found == volumes_.end() ? volumes_.front() : *found;
}

std::string VolumeContent::summary() const {
  std::string text;
  for (const VectorVolume& volume : volumes_) {
    const VectorGrid::Counts& counts = volume.grid.counts();
    text += fmt::format("{}{}: {} × {} × {} vectors, up to {:.3g} long", text.empty() ? "" : "; ",
                        volume.name, counts[0], counts[1], counts[2], volume.grid.longest());
  }
  return text;
}

}  // namespace comet
