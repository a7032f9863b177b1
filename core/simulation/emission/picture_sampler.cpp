#include "simulation/emission/picture_sampler.h"

#include "base/color.h"

#include <algorithm>

namespace comet {

PictureSampler::PictureSampler(std::shared_ptr<const Picture> picture, PictureWeight weight, double threshold)
    : picture_(std::move(picture)) {
  const Picture::Pixels& pixels = picture_->pixels();
  double sum = 0;
  for (std::size_t i = 0; i < pixels.size(); ++i) {
    const double fraction = weight == PictureWeight::Opaque ? pixels[i].w : luminance(Vec3d(Vec3(pixels[i])));
    if (!(fraction > 0) || fraction < threshold) continue;
    pixels_.push_back(static_cast<std::uint32_t>(i));
    cumulative_.push_back(sum += fraction);
  }
}

double PictureSampler::aspect() const {
  return static_cast<double>(picture_->height()) / static_cast<double>(picture_->width());
}

PictureSampler::Point PictureSampler::pick(const Vec3d& numbers) const {
  const auto chosen =
      std::upper_bound(cumulative_.begin(), cumulative_.end(), numbers.x * cumulative_.back());
  const std::size_t index = std::min<std::size_t>(chosen - cumulative_.begin(), cumulative_.size() - 1);
  const int x = static_cast<int>(pixels_[index]) % picture_->width();
  const int y = static_cast<int>(pixels_[index]) / picture_->width();
  const Vec4& pixel = picture_->at(x, y);
  const Vec3d color = pixel.w > 0 ? Vec3d(Vec3(pixel)) / static_cast<double>(pixel.w) : Vec3d(Vec3(pixel));
  return {(x + numbers.y) / picture_->width(), (y + numbers.z) / picture_->height(), color};
}

std::shared_ptr<const PictureSampler> samplerOf(const PictureContent& content, int frame,
                                                PictureWeight weight, double threshold) {
  const int index = content.indexAt(frame);
  const Digest key = (Hasher() << "births" << index << weight << threshold).digest();
  return content.derived<PictureSampler>(
      key, [&] { return std::make_shared<const PictureSampler>(content.at(frame), weight, threshold); });
}

}  // namespace comet
