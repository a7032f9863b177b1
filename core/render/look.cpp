#include "render/look.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

SpriteProfile profileOf(const Item& emitter, double frame) {
  SpriteProfile profile;
  if (emitter.chooses("sprite", "dot")) profile.type = SpriteProfile::Type::Dot;
  if (emitter.chooses("sprite", "ring")) profile.type = SpriteProfile::Type::Ring;
  profile.covers = emitter.chooses("blend", "normal");
  profile.hardness = static_cast<float>(emitter.number("hardness", frame) / 100.0);
  profile.innerRadius = static_cast<float>(1.0 - emitter.number("ring_width", frame) / 100.0);
  return profile;
}

}  // namespace

double lifeShare(float age, float lifetime) {
  return std::clamp(static_cast<double>(age) / static_cast<double>(lifetime), 0.0, 1.0);
}

Look::Look(const Item& emitter, double frame)
    : profile_(profileOf(emitter, frame)),
      random_(combineKeys(emitter.id, static_cast<std::uint64_t>(emitter.number("seed", frame)))),
      size_(emitter.number("size", frame)),
      sizeVariation_(emitter.value("size").variation),
      opacity_(emitter.number("opacity", frame) / 100.0),
      opacityVariation_(emitter.value("opacity").variation / 100.0) {
  const auto& gradient = std::get<Gradient>(emitter.value("color").base);
  const double brightness = emitter.number("brightness", frame);
  const auto curveAt = [](const ParamValue& value, double share) {
    return static_cast<float>(value.overAge ? value.overAge->at(share) : 1.0);
  };
  for (int i = 0; i <= kSteps; ++i) {
    const double share = static_cast<double>(i) / kSteps;
    sizeOverAge_[i] = curveAt(emitter.value("size"), share);
    opacityOverAge_[i] = curveAt(emitter.value("opacity"), share);
    color_[i] = Vec3(gradient.at(share) * brightness);
  }
}

template <typename Sample>
Sample Look::read(const Table<Sample>& table, double share) {
  const double position = share * kSteps;
  const int below = std::min(static_cast<int>(position), kSteps - 1);
  const auto t = static_cast<float>(position - below);
  return table[below] + (table[below + 1] - table[below]) * t;
}

double Look::diameter(ParticleId id, double lifeShare) const {
  const double own = sizeVariation_ > 0 ? sizeVariation_ * random_.signedUnit(id, Draw::Size) : 0.0;
  return std::max(0.0, size_ + own) * read(sizeOverAge_, lifeShare);
}

double Look::opacity(ParticleId id, double lifeShare) const {
  const double own = opacityVariation_ > 0 ? opacityVariation_ * random_.signedUnit(id, Draw::Opacity) : 0.0;
  return std::clamp((opacity_ + own) * read(opacityOverAge_, lifeShare), 0.0, 1.0);
}

Vec3 Look::color(double lifeShare) const { return read(color_, lifeShare); }

std::size_t makeSprites(const Look& look, std::uint32_t profileIndex, const ParticleStore& particles,
                        std::size_t first, std::size_t count, const Projector& projector, int width,
                        int height, Sprite* out) {
  std::size_t made = 0;
  for (std::size_t i = first; i < first + count; ++i) {
    const Projector::Point point = projector.project({particles.field(ParticleStore::PositionX)[i],
                                                      particles.field(ParticleStore::PositionY)[i],
                                                      particles.field(ParticleStore::PositionZ)[i]});
    if (!projector.visible(point)) continue;
    const double share =
        lifeShare(particles.field(ParticleStore::Age)[i], particles.field(ParticleStore::Lifetime)[i]);
    const ParticleId id = particles.ids()[i];
    const double radius = 0.5 * look.diameter(id, share) * point.pixelsPerUnit;
    const double reach = radius + 2;
    // Also refuses what is not a number.
    if (!(radius > 0 && point.x > -reach && point.x < width + reach && point.y > -reach &&
          point.y < height + reach))
      continue;
    const Vec3 color = look.color(share);
    Sprite sprite{static_cast<float>(point.x),
                  static_cast<float>(point.y),
                  static_cast<float>(radius),
                  static_cast<float>(point.depth),
                  color.x,
                  color.y,
                  color.z,
                  static_cast<float>(look.opacity(id, share)),
                  profileIndex};
    if (sprite.opacity <= 0) continue;
    keepVisible(sprite);
    out[made++] = sprite;
  }
  return made;
}

}  // namespace comet
