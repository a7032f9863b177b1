#include "particles/particle_bytes.h"

#include <cmath>

namespace comet {

using StoreField = ParticleStore::Field;

namespace {

// Beside the bits of the fields: that the length of bodies follows, and these stand behind the identities.
constexpr FieldSet::Bits kHasBodies = FieldSet::Bits{1} << 63;
// More than any body has.
constexpr std::uint32_t kMaxBodyNumbers = 4096;

void checkNumbers(const float* values, std::size_t count, bool mayBeEndless) {
  for (std::size_t i = 0; i < count; ++i)
    if (std::isnan(values[i]) || (!mayBeEndless && std::isinf(values[i]))) throw DamagedBytes();
}

}  // namespace

void putGroup(std::string& bytes, const ParticleGroup& group) {
  const std::uint64_t count = group.particles.size();
  putNumber(bytes, group.emitter);
  putNumber(bytes, group.births.next);
  putNumber(bytes, group.births.carry);
  putNumber(bytes, count);
  const auto bodyNumbers = static_cast<std::uint32_t>(group.particles.bodyNumbers());
  putNumber(bytes, group.particles.fields().bits() | (bodyNumbers > 0 ? kHasBodies : 0));
  if (bodyNumbers > 0) putNumber(bytes, bodyNumbers);
  group.particles.fields().forEach(
      [&](StoreField field) { putNumbers(bytes, group.particles.field(field), count); });
  putNumbers(bytes, group.particles.ids(), count);
  if (bodyNumbers > 0) putNumbers(bytes, group.particles.body(0), count * bodyNumbers);
}

ParticleGroup takeGroup(ByteReader& reader, std::uint64_t maxParticles) {
  ParticleGroup group;
  group.emitter = reader.take<std::uint32_t>();
  group.births.next = reader.take<std::uint64_t>();
  group.births.carry = reader.take<double>();
  const auto count = reader.take<std::uint64_t>();
  const auto bits = reader.take<FieldSet::Bits>();
  const FieldSet fields = FieldSet::fromBits(bits);
  const std::uint32_t bodyNumbers = (bits & kHasBodies) != 0 ? reader.take<std::uint32_t>() : 0;
  if (bodyNumbers > kMaxBodyNumbers) throw DamagedBytes();
  const std::size_t bytesEach = (fields.count() + bodyNumbers) * sizeof(float) + sizeof(ParticleId);
  if (count > maxParticles || count > reader.left() / bytesEach ||
      !(group.births.carry >= 0 && group.births.carry < 1))
    throw DamagedBytes();
  group.particles = ParticleStore(count, fields, bodyNumbers);
  group.particles.resize(count);
  fields.forEach([&](StoreField field) {
    float* values = group.particles.field(field);
    reader.take(values, count);
    // Only lifetimes may be endless, also those of ancestors.
    const bool mayBeEndless =
        field == ParticleStore::Lifetime || (field >= ParticleStore::Lineage && field < ParticleStore::RollX);
    checkNumbers(values, count, mayBeEndless);
  });
  reader.take(group.particles.ids(), count);
  if (bodyNumbers > 0) {
    reader.take(group.particles.body(0), count * bodyNumbers);
    checkNumbers(group.particles.body(0), count * bodyNumbers, false);
  }
  return group;
}

}  // namespace comet
