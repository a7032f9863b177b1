// Whose child a particle is: of its parent, that one's parent and so on, what their looks at the birth are
// derived from.
#pragma once

#include "particles/particle_store.h"

#include <array>
#include <functional>

namespace comet {

// How many generations back are remembered.
constexpr int kGenerations = 3;

// A particle as it was when it gave birth to a child.
struct Ancestor {
  ParticleId id = 0;            // 0: there is none
  float age = 0, lifetime = 1;  // seconds
  float speed = 0;              // units per second
};

// The parent first.
using Lineage = std::array<Ancestor, kGenerations>;

// The fields that hold so many generations.
FieldSet lineageFields(int generations);

// As far back as the fields that are present remember. `fieldOf` gives the array of one of them.
using FieldOf = std::function<const float*(ParticleFields::Field)>;
Lineage lineageOf(FieldSet present, const FieldOf& fieldOf, std::size_t index);
Lineage lineageOf(const ParticleStore& particles, std::size_t index);
void setLineage(ParticleStore& particles, std::size_t index, const Lineage& lineage);

// The lineage of a child of `parent`, whose own lineage this is.
Lineage lineageOfChild(const Ancestor& parent, const Lineage& lineage);
// The lineage of the parent.
Lineage lineageOfParent(const Lineage& lineage);

}  // namespace comet
