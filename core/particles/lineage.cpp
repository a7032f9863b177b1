#include "particles/lineage.h"

#include <algorithm>

namespace comet {
namespace {

using Field = ParticleStore::Field;

// An identity takes three floats, each with a whole number that it holds exactly.
enum Part { Emitter, BirthHigh, BirthLow, Age, Lifetime, Speed, kParts };
static_assert(kParts * kGenerations == ParticleStore::RollX - ParticleStore::Lineage);

constexpr int kLowBits = 20;

Field fieldOf(int generation, int part) {
  return static_cast<Field>(ParticleStore::Lineage + generation * kParts + part);
}

}  // namespace

FieldSet lineageFields(int generations) {
  FieldSet fields;
  for (int generation = 0; generation < std::min(generations, kGenerations); ++generation)
    for (int part = 0; part < kParts; ++part) fields |= {fieldOf(generation, part)};
  return fields;
}

Lineage lineageOf(const ParticleStore& particles, std::size_t index) {
  return lineageOf(
      particles.fields(), [&particles](Field field) { return particles.field(field); }, index);
}

Lineage lineageOf(FieldSet present, const FieldOf& valuesOf, std::size_t index) {
  Lineage lineage;
  for (int g = 0; g < kGenerations && present.has(fieldOf(g, 0)); ++g) {
    const auto part = [&](Part which) { return valuesOf(fieldOf(g, which))[index]; };
    const auto whole = [&](Part which) { return static_cast<std::uint64_t>(part(which)); };
    lineage[static_cast<std::size_t>(g)] = {particleId(static_cast<std::uint32_t>(whole(Emitter)),
                                                       whole(BirthHigh) << kLowBits | whole(BirthLow)),
                                            part(Age), part(Lifetime), part(Speed)};
  }
  return lineage;
}

void setLineage(ParticleStore& particles, std::size_t index, const Lineage& lineage) {
  for (int g = 0; g < kGenerations && particles.fields().has(fieldOf(g, 0)); ++g) {
    const Ancestor& ancestor = lineage[static_cast<std::size_t>(g)];
    const std::uint64_t birth = birthOfId(ancestor.id);
    const std::array<float, kParts> parts{static_cast<float>(emitterOfId(ancestor.id)),
                                          static_cast<float>(birth >> kLowBits),
                                          static_cast<float>(birth & ((1U << kLowBits) - 1)),
                                          ancestor.age,
                                          ancestor.lifetime,
                                          ancestor.speed};
    for (int part = 0; part < kParts; ++part)
      particles.field(fieldOf(g, part))[index] = parts[static_cast<std::size_t>(part)];
  }
}

Lineage lineageOfChild(const Ancestor& parent, const Lineage& lineage) {
  Lineage child{parent};
  std::copy_n(lineage.begin(), kGenerations - 1, child.begin() + 1);
  return child;
}

Lineage lineageOfParent(const Lineage& lineage) {
  Lineage parent;
  std::copy(lineage.begin() + 1, lineage.end(), parent.begin());
  return parent;
}

}  // namespace comet
