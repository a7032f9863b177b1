#include "simulation/emission/picture_sampler.h"

#include "base/color.h"

#include <algorithm>
#include <cmath>

namespace comet {

PictureSampler::PictureSampler(std::shared_ptr<const Picture> picture, PictureWeight weight, double threshold)
    : picture_(std::move(picture)), weight_(weight), threshold_(threshold) {
  const Picture::Pixels& pixels = picture_->pixels();
  double sum = 0;
  for (std::size_t i = 0; i < pixels.size(); ++i) {
    const double fraction = weightOf(pixels[i]);
    if (fraction == 0) continue;
    pixels_.push_back(static_cast<std::uint32_t>(i));
    cumulative_.push_back(sum += fraction);
  }
}

double PictureSampler::weightOf(const Vec4& pixel) const {
  const double fraction =
      weight_ == PictureWeight::Opaque ? static_cast<double>(pixel.w) : luminance(Vec3d(Vec3(pixel)));
  return fraction > 0 && fraction >= threshold_ ? fraction : 0;
}

PictureSampler::Spot PictureSampler::at(double x, double y) const {
  if (!(x >= 0 && x <= 1 && y >= 0 && y <= 1)) return {};
  const double acrossX = x * picture_->width() - 0.5, acrossY = y * picture_->height() - 0.5;
  const double lowX = std::floor(acrossX), lowY = std::floor(acrossY);
  Spot spot;
  Vec3d color(0.0);
  double alpha = 0;
  for (int i = 0; i < 4; ++i) {
    const double partX = i % 2 == 0 ? 1 - (acrossX - lowX) : acrossX - lowX;
    const double partY = i / 2 == 0 ? 1 - (acrossY - lowY) : acrossY - lowY;
    const Vec4& pixel = picture_->at(std::clamp(static_cast<int>(lowX) + i % 2, 0, picture_->width() - 1),
                                     std::clamp(static_cast<int>(lowY) + i / 2, 0, picture_->height() - 1));
    spot.amount += partX * partY * std::min(weightOf(pixel), 1.0);
    color += partX * partY * Vec3d(Vec3(pixel));
    alpha += partX * partY * static_cast<double>(pixel.w);
  }
  spot.color = alpha > 0 ? color / alpha : color;
  return spot;
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
