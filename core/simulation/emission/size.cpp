#include "simulation/emission/size.h"

#include <algorithm>

namespace comet {

RandomSource lookRandom(const Item& emitter, double frame) {
  return RandomSource(combineKeys(emitter.id, static_cast<std::uint64_t>(emitter.number("seed", frame))));
}

BirthSize::BirthSize(const Item& emitter, double frame)
    : random_(lookRandom(emitter, frame)),
      size_(emitter.number("size", frame)),
      variation_(emitter.value("size").variation),
      isEven_(std::get<Curve>(emitter.value("size_spread").base) == Curve::constant(1)),
      spread_(std::get<Curve>(emitter.value("size_spread").base)) {}

double BirthSize::diameter(ParticleId id) const {
  if (variation_ <= 0) return size_;
  const double unit = random_.unit(id, Draw::Size);
  return std::max(0.0, size_ + variation_ * (2 * (isEven_ ? unit : spread_.at(unit)) - 1));
}

void BirthSize::describe(Hasher& hasher) const {
  hasher << random_.key() << size_ << variation_ << isEven_;
  if (!isEven_) spread_.describe(hasher);
}

}  // namespace comet
