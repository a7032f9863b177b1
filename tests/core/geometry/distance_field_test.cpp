// Rays, nearest points and distances on a grid tell the same of a mesh.
#include "geometry/distance_field.h"

#include "geometry/mesh_content.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <glm/vector_relational.hpp>
#include <random>

namespace comet {
namespace {

// A closed lump: a ball whose radius goes up and down at random.
Mesh lump(unsigned seed) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<float> unit(0, 1);
  const float waves = std::floor(2 + 3 * unit(random)), depth = 0.3F * unit(random), turn = 6 * unit(random);
  constexpr std::uint32_t kAround = 40, kUp = 20;
  Mesh mesh;
  const auto radius = [&](float a, float b) {
    return 1 + depth * std::sin(waves * a + turn) * std::sin(2 * b) * std::sin(b);
  };
  mesh.points.emplace_back(0, 1, 0);
  for (std::uint32_t up = 1; up < kUp; ++up)
    for (std::uint32_t around = 0; around < kAround; ++around) {
      const float a = 2 * static_cast<float>(kPi) * static_cast<float>(around) / kAround;
      const float b = static_cast<float>(kPi) * static_cast<float>(up) / kUp;
      mesh.points.push_back(radius(a, b) *
                            Vec3(std::sin(b) * std::cos(a), std::cos(b), -std::sin(b) * std::sin(a)));
    }
  mesh.points.emplace_back(0, -1, 0);
  const auto at = [](std::uint32_t up, std::uint32_t around) {
    return 1 + (up - 1) * kAround + around % kAround;
  };
  const auto last = static_cast<std::uint32_t>(mesh.points.size() - 1);
  for (std::uint32_t around = 0; around < kAround; ++around) {
    mesh.triangles.push_back({0, at(1, around), at(1, around + 1)});
    mesh.triangles.push_back({last, at(kUp - 1, around + 1), at(kUp - 1, around)});
    for (std::uint32_t up = 1; up + 1 < kUp; ++up) {
      mesh.triangles.push_back({at(up, around), at(up + 1, around), at(up + 1, around + 1)});
      mesh.triangles.push_back({at(up, around), at(up + 1, around + 1), at(up, around + 1)});
    }
  }
  mesh.normals.assign(mesh.points.size(), Vec3(0, 1, 0));
  mesh.parts.assign(mesh.triangles.size(), 0);
  mesh.partNames = {{}};
  return mesh;
}

class Lump : public ::testing::TestWithParam<unsigned> {
 protected:
  Vec3d place(double reach) {
    std::uniform_real_distribution<double> along(-reach, reach);
    return {along(random_), along(random_), along(random_)};
  }

  MeshContent content_{lump(GetParam())};
  std::mt19937 random_{GetParam() + 100};
};

TEST_P(Lump, RaysNearestPointsAndTheFieldAgree) {
  ASSERT_TRUE(content_.report().isClosed());
  const auto tree = content_.surfaceTree();
  const auto inside = content_.insideTest();
  const auto field = content_.distanceField(64);
  int insides = 0;
  for (int i = 0; i < 1000; ++i) {
    const Vec3d at = place(1.5), to = place(1.5);
    const double distance = glm::length(tree->nearest(at)->at - at);
    const bool isIn = inside->isInside(at);
    insides += isIn ? 1 : 0;
    const double signedDistance = isIn ? -distance : distance;
    // Beyond the grid it is only known to be no nearer than the box.
    const Box box = content_.mesh().bounds();
    const bool isBeyond = glm::any(glm::lessThan(at, box.min)) || glm::any(glm::greaterThan(at, box.max));
    EXPECT_LE(field->at(at).distance, signedDistance + field->spacing());
    EXPECT_GE(field->at(at).distance, isBeyond ? 0 : signedDistance - field->spacing());
    // A ray that leaves for far away meets the surface from within, and no nearer than the nearest point.
    const auto meeting = tree->firstOn(at, to);
    if (meeting) {
      EXPECT_GE(meeting->fraction * glm::length(to - at), distance * (1 - 1e-5));
    }
    if (!meeting) {
      EXPECT_EQ(inside->isInside(to), isIn) << "no way from inside to outside without a crossing";
    }
    if (!meeting) continue;
    const Vec3d met = at + (to - at) * meeting->fraction;
    EXPECT_LT(glm::length(tree->nearest(met)->at - met), 1e-5);
    EXPECT_LT(std::abs(field->at(met).distance), field->spacing());
  }
  EXPECT_GT(insides, 50);
}

TEST_P(Lump, TheFieldTellsWhereAPlaceIsByOneValue) {
  const auto tree = content_.surfaceTree();
  const auto inside = content_.insideTest();
  const auto field = content_.distanceField(24);
  using Whereabouts = DistanceField::Whereabouts;
  int told = 0, near = 0;
  for (int i = 0; i < 4000; ++i) {
    const Vec3d at = place(i % 2 == 0 ? 3 : 1.2);
    const Vec3 rough(at);
    const float range = 0.02F * static_cast<float>(i % 20);
    const double distance = glm::length(tree->nearest(at)->at - at);
    const Whereabouts about = field->about({rough.x, rough.y, rough.z, range});
    Whereabouts among[2];
    const float two[4][2] = {{9, rough.x}, {9, rough.y}, {9, rough.z}, {0, range}};
    field->about({two[0], two[1], two[2], two[3], 2}, among);
    EXPECT_EQ(among[0], Whereabouts::Outside);
    EXPECT_EQ(among[1], about);
    if (about == Whereabouts::Near) {
      // Beyond the box it is only known how far that is.
      const Box box = content_.mesh().bounds();
      if (glm::any(glm::lessThan(at, box.min)) || glm::any(glm::greaterThan(at, box.max))) continue;
      EXPECT_LT(distance, range + 2 * field->spacing()) << "no farther than need be";
      ++near;
      continue;
    }
    ++told;
    EXPECT_GT(distance, range);
    EXPECT_EQ(about == Whereabouts::Inside, inside->isInside(at));
  }
  EXPECT_GT(told, 1000);
  EXPECT_GT(near, 100);
}

TEST_P(Lump, TheFieldChangesNoFasterThanItSays) {
  const auto field = content_.distanceField(32);
  for (int i = 0; i < 2000; ++i) {
    const Vec3d at = place(0.9), step = place(0.02);
    EXPECT_LE(std::abs(field->at(at + step).distance - field->at(at).distance),
              DistanceField::kSteepest * glm::length(step) * (1 + 1e-5));
  }
}

INSTANTIATE_TEST_SUITE_P(Some, Lump, ::testing::Range(1U, 6U));

TEST(SelfCrossings, AreNoneInALumpAndSomeInTwoThatOverlap) {
  EXPECT_EQ(MeshContent(lump(1)).selfCrossings(), 0U);
  Mesh two = lump(1);
  const Mesh other = lump(2);
  const auto first = static_cast<std::uint32_t>(two.points.size());
  for (const Vec3& point : other.points) two.points.push_back(point + Vec3(0.7F, 0.1F, 0));
  for (const Mesh::Triangle& t : other.triangles)
    two.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
  two.normals.assign(two.points.size(), Vec3(0, 1, 0));
  two.parts.assign(two.triangles.size(), 0);
  EXPECT_GT(MeshContent(two).selfCrossings(), 10U);
}

}  // namespace
}  // namespace comet
