#include "simulation/emission/mass.h"

#include <algorithm>

namespace comet {
namespace {

// A variation larger than the mass must not make particles that forces throw to infinity.
constexpr double kLeastMass = 1e-3;

}  // namespace

MassRule::MassRule(const Item& emitter, double frame)
    : random_(lookRandom(emitter, frame)),
      mass_{emitter.number("mass", frame), emitter.value("mass").variation},
      fromSize_(emitter.number("mass_from_size", frame) / 100.0) {
  if (fromSize_ > 0) size_.emplace(emitter, frame);
  if (size_ && size_->mean() <= 0) size_.reset();
}

double MassRule::of(ParticleId id) const {
  double mass = mass_.variation > 0 ? mass_.pick(random_.signedUnit(id, Draw::Mass)) : mass_.value;
  if (size_) mass *= 1 - fromSize_ + fromSize_ * size_->diameter(id) / size_->mean();
  return std::max(kLeastMass, mass);
}

void MassRule::describe(Hasher& hasher) const {
  hasher << mass_.value << mass_.variation;
  if (mass_.variation > 0) hasher << random_.key();
  if (!size_) return;
  hasher << fromSize_;
  size_->describe(hasher);
}

}  // namespace comet
