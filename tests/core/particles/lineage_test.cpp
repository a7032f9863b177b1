#include "particles/lineage.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

Ancestor ancestor(std::uint32_t emitter, std::uint64_t birth, float age) {
  return {particleId(emitter, birth), age, 2 * age, 3 * age};
}

void expectSame(const Ancestor& a, const Ancestor& b) {
  EXPECT_EQ(a.id, b.id);
  EXPECT_EQ(a.age, b.age);
  EXPECT_EQ(a.lifetime, b.lifetime);
  EXPECT_EQ(a.speed, b.speed);
}

TEST(Lineage, KeepsIdentitiesToTheLastBit) {
  // Fields are floats, which hold 24 bits.
  const std::uint64_t max = (std::uint64_t{1} << kBirthBits) - 1;
  const Lineage lineage{ancestor(3, max, 0.5F), ancestor(16777215, 12345678901, 1.25F), ancestor(1, 0, 7)};
  ParticleStore store(2, lineageFields(kGenerations));
  setLineage(store, 1, lineage);
  const Lineage back = lineageOf(store, 1);
  for (std::size_t g = 0; g < lineage.size(); ++g) expectSame(back[g], lineage[g]);
}

TEST(Lineage, RemembersAsManyGenerationsAsThereAreFields) {
  const Lineage lineage{ancestor(3, 4, 0.5F), ancestor(5, 6, 1), ancestor(7, 8, 2)};
  ParticleStore store(1, lineageFields(1));
  setLineage(store, 0, lineage);
  const Lineage back = lineageOf(store, 0);
  expectSame(back[0], lineage[0]);
  EXPECT_EQ(back[1].id, 0U);
}

TEST(Lineage, GoesOnFromParentToChildAndBack) {
  const Lineage parents{ancestor(3, 4, 0.5F), ancestor(5, 6, 1), ancestor(7, 8, 2)};
  const Ancestor parent = ancestor(9, 10, 3);
  const Lineage child = lineageOfChild(parent, parents);
  expectSame(child[0], parent);
  expectSame(child[1], parents[0]);
  expectSame(child[2], parents[1]);
  const Lineage again = lineageOfParent(child);
  expectSame(again[0], parents[0]);
  expectSame(again[1], parents[1]);
  EXPECT_EQ(again[2].id, 0U) << "the oldest is forgotten";
}

TEST(Identity, DrawsDisregardTheRound) {
  const ParticleId first = particleId(5, 77), later = particleId(5, 77 + 3 * kBirthsARound);
  EXPECT_LT(first, later) << "births of later rounds come later";
  EXPECT_EQ(withoutCycle(later), first);
  EXPECT_EQ(emitterOfId(later), 5U);
  EXPECT_EQ(birthOfId(withoutCycle(later)), 77U);
}

}  // namespace
}  // namespace comet
