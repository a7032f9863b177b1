#include "particles/particle_bytes.h"

#include <cmath>

namespace comet {

using Field = ParticleStore::Field;

void putGroup(std::string& bytes, const ParticleGroup& group) {
  const std::uint64_t count = group.particles.size();
  putNumber(bytes, group.emitter);
  putNumber(bytes, group.births.next);
  putNumber(bytes, group.births.carry);
  putNumber(bytes, count);
  putNumber(bytes, group.particles.fields().bits());
  group.particles.fields().forEach(
      [&](Field field) { putNumbers(bytes, group.particles.field(field), count); });
  putNumbers(bytes, group.particles.ids(), count);
}

ParticleGroup takeGroup(ByteReader& reader, std::uint64_t maxParticles) {
  ParticleGroup group;
  group.emitter = reader.take<std::uint32_t>();
  group.births.next = reader.take<std::uint64_t>();
  group.births.carry = reader.take<double>();
  const auto count = reader.take<std::uint64_t>();
  const FieldSet fields = FieldSet::fromBits(reader.take<FieldSet::Bits>());
  const std::size_t bytesEach = fields.count() * sizeof(float) + sizeof(ParticleId);
  if (count > maxParticles || count > reader.left() / bytesEach ||
      !(group.births.carry >= 0 && group.births.carry < 1))
    throw DamagedBytes();
  group.particles = ParticleStore(count, fields);
  group.particles.resize(count);
  fields.forEach([&](Field field) {
    float* values = group.particles.field(field);
    reader.take(values, count);
    // Only lifetimes may be endless, also those of ancestors.
    const bool mayBeEndless =
        field == ParticleStore::Lifetime || (field >= ParticleStore::Lineage && field < ParticleStore::RollX);
    for (std::size_t i = 0; i < count; ++i)
      if (std::isnan(values[i]) || (!mayBeEndless && std::isinf(values[i]))) throw DamagedBytes();
  });
  reader.take(group.particles.ids(), count);
  return group;
}

}  // namespace comet
