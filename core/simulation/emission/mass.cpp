#include "simulation/emission/mass.h"

#include <algorithm>

namespace comet {
namespace {

// A variation larger than the mass must not make particles that forces throw to infinity.
constexpr double kMinMass = 1e-3;

}  // namespace

MassRule::MassRule(const Item& emitter, double frame)
    : random_(lookRandom(emitter, frame)),
      mass_{emitter.number("mass", frame), emitter.value("mass").variation,
            emitter.particleFormula("mass", frame)},
      fromSize_(emitter.number("mass_from_size", frame) / 100.0) {
  if (fromSize_ > 0) size_.emplace(emitter, frame);
  if (size_ && size_->mean() <= 0) size_.reset();
}

double MassRule::bySize(ParticleId id, double mass) const {
  if (size_) mass *= 1 - fromSize_ + fromSize_ * size_->diameter(id) / size_->mean();
  return std::max(kMinMass, mass);
}

void MassRule::describe(Hasher& hasher) const {
  mass_.describe(hasher);
  if (mass_.variation > 0) hasher << random_.key();
  if (!size_) return;
  hasher << fromSize_;
  size_->describe(hasher);
}

}  // namespace comet
