#include "simulation/emission/size.h"

#include <algorithm>

namespace comet {

RandomSource lookRandom(const Item& emitter, double frame) {
  return RandomSource(combineKeys(emitter.id, static_cast<std::uint64_t>(emitter.number("seed", frame))));
}

BirthSize::BirthSize(const Item& emitter, double frame)
    : random_(lookRandom(emitter, frame)),
      size_(emitter.number("size", frame)),
      variation_(emitter.value("size").variation) {
  const auto& spread = std::get<Curve>(emitter.value("size_distribution").base);
  if (variation_ > 0 && spread != Curve::constant(1)) spread_.emplace(spread);
}

double BirthSize::diameter(ParticleId id) const {
  if (variation_ <= 0) return size_;
  const double unit = random_.unit(id, Draw::Size);
  return std::max(0.0, size_ + variation_ * (2 * (spread_ ? spread_->at(unit) : unit) - 1));
}

void BirthSize::describe(Hasher& hasher) const {
  hasher << random_.key() << size_ << variation_ << spread_.has_value();
  if (spread_) spread_->describe(hasher);
}

}  // namespace comet
