#include "bake/loop_check.h"

#include "particles/lineage.h"

#include <algorithm>

namespace comet {
namespace {

using Field = ParticleStore::Field;

bool haveSameAncestors(const ParticleStore& a, const ParticleStore& b, std::size_t index) {
  const Lineage first = lineageOf(a, index), second = lineageOf(b, index);
  return std::equal(first.begin(), first.end(), second.begin(), [](const Ancestor& x, const Ancestor& y) {
    return withoutCycle(x.id) == withoutCycle(y.id) && x.age == y.age && x.lifetime == y.lifetime &&
           x.speed == y.speed;
  });
}

bool areSame(const ParticleStore& a, const ParticleStore& b) {
  if (a.size() != b.size() || a.fields().bits() != b.fields().bits()) return false;
  for (int f = 0; f < Field::Lineage; ++f) {
    const auto field = static_cast<Field>(f);
    if (a.fields().has(field) && !std::equal(a.field(field), a.field(field) + a.size(), b.field(field)))
      return false;
  }
  const bool hasLineage = a.fields().has(Field::Lineage);
  for (std::size_t i = 0; i < a.size(); ++i)
    if (withoutCycle(a.ids()[i]) != withoutCycle(b.ids()[i]) || (hasLineage && !haveSameAncestors(a, b, i)))
      return false;
  return true;
}

}  // namespace

bool areSameButRound(const ParticleState& a, const ParticleState& b) {
  return std::equal(a.groups.begin(), a.groups.end(), b.groups.begin(), b.groups.end(),
                    [](const ParticleGroup& x, const ParticleGroup& y) {
                      return x.emitter == y.emitter && areSame(x.particles, y.particles);
                    });
}

}  // namespace comet
