#include "geometry/round_surface.h"

#include "base/error.h"
#include "base/random.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <gmock/gmock.h>
#include <rapidcheck.h>
#include <set>

namespace comet {
namespace {

constexpr std::size_t kPlenty = std::size_t{1} << 31;

RoundPiece ball(const Vec3d& place, double radius) { return {place, place, radius, radius}; }

TEST(RoundSurface, VolumeOfSeparateBallsIsTheirs) {
  std::vector<RoundPiece> pieces;
  double expected = 0;
  for (int i = 0; i < 12; ++i) {
    const double radius = 0.4 + 0.05 * i;
    pieces.push_back(ball({3.0 * (i % 4), 3.0 * (i / 4), 0.37 * i}, radius));
    expected += 4.0 / 3 * kPi * radius * radius * radius;
  }
  const Mesh mesh = roundSurface(pieces, 0.06, 0, kPlenty);
  EXPECT_TRUE(reportOn(mesh).isClosed());
  EXPECT_NEAR(volumeOf(mesh), expected, 0.02 * expected) << "positive: its triangles look outwards";
}

TEST(RoundSurface, AThreadIsACappedConeAndRoundAllOver) {
  const double from = 0.3, to = 0.6, length = 4;
  const Mesh mesh = roundSurface({{{0, 0, 0}, {length, 0, 0}, from, to}}, 0.04, 0, kPlenty);
  ASSERT_TRUE(reportOn(mesh).isClosed());
  for (std::size_t i = 0; i < mesh.points.size(); ++i) {
    const Vec3d point(mesh.points[i]);
    const double fraction = std::clamp(point.x / length, 0.0, 1.0);
    const double away = glm::length(point - Vec3d(fraction * length, 0, 0));
    EXPECT_NEAR(away, from + (to - from) * fraction, 0.03);
  }
}

TEST(RoundSurface, SmoothingRoundsAndKeepsItClosed) {
  const std::vector<RoundPiece> pieces{ball({0, 0, 0}, 0.5), ball({0.8, 0, 0}, 0.5)};
  const auto sharpest = [](const Mesh& mesh) {
    // The largest turn between neighbouring points' normals and their triangle's.
    double max = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      for (const std::uint32_t corner : mesh.triangles[t])
        max = std::max(max, 1 - glm::dot(Vec3d(mesh.normals[corner]), mesh.faceNormal(t)));
    return max;
  };
  const Mesh rough = roundSurface(pieces, 0.04, 0, kPlenty), smooth = roundSurface(pieces, 0.04, 6, kPlenty);
  EXPECT_TRUE(reportOn(smooth).isClosed());
  EXPECT_LT(sharpest(smooth), 0.5 * sharpest(rough));
  EXPECT_NEAR(volumeOf(smooth), volumeOf(rough), 0.05 * volumeOf(rough));
}

TEST(RoundSurface, IsClosedForAnyPieces) {
  EXPECT_TRUE(rc::check([] {
    const RandomSource random(static_cast<std::uint64_t>(*rc::gen::inRange(0, 1000000)));
    std::vector<RoundPiece> pieces;
    const auto count = static_cast<std::uint64_t>(*rc::gen::inRange(1, 30));
    for (std::uint64_t i = 0; i < count; ++i) {
      const auto place = [&](Draw a, Draw b, Draw c) {
        return Vec3d(random.unit(i, a), random.unit(i, b), random.unit(i, c)) * 2.0;
      };
      pieces.push_back({place(Draw::ShapeA, Draw::ShapeB, Draw::ShapeC),
                        place(Draw::DirectionA, Draw::DirectionB, Draw::Speed),
                        0.3 * random.unit(i, Draw::Size), 0.3 * random.unit(i, Draw::Mass)});
    }
    const int smoothing = static_cast<int>(count % 3);
    const Mesh mesh = roundSurface(pieces, 0.1, smoothing, kPlenty);
    // Smoothing may take away what is thin.
    RC_ASSERT(smoothing > 0 || !mesh.triangles.empty());
    const MeshReport report = reportOn(mesh);
    RC_ASSERT(report.openEdges == 0);
  }));
}

TEST(RoundSurface, TooMuchMemoryIsRefusedBeforeItIsTaken) {
  const std::vector<RoundPiece> pieces{ball({0, 0, 0}, 1), ball({1000, 1000, 1000}, 1)};
  EXPECT_GT(surfaceBytes(pieces, 0.01), 1e12);
  try {
    roundSurface(pieces, 0.01, 2, kPlenty);
    FAIL() << "it was made";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Budget);
    EXPECT_THAT(error.what(), ::testing::HasSubstr("GiB"));
    EXPECT_THAT(error.remedy(), ::testing::HasSubstr("Raise the voxel size to"));
  }
  EXPECT_TRUE(roundSurface({}, 0.01, 2, kPlenty).triangles.empty());
}

// How many pieces hang together by their triangles.
std::size_t piecesOf(const Mesh& mesh) {
  std::vector<std::uint32_t> root(mesh.points.size());
  for (std::uint32_t i = 0; i < root.size(); ++i) root[i] = i;
  const auto rootOf = [&root](std::uint32_t i) {
    while (root[i] != i) i = root[i] = root[root[i]];
    return i;
  };
  for (const Mesh::Triangle& corners : mesh.triangles)
    for (std::size_t i = 1; i < 3; ++i) root[rootOf(corners[i])] = rootOf(corners[0]);
  std::set<std::uint32_t> roots;
  for (const Mesh::Triangle& corners : mesh.triangles) roots.insert(rootOf(corners[0]));
  return roots.size();
}

// Bent threads that lie well apart, thinner at their ends, from much thicker than a voxel to much thinner.
TEST(RoundSurface, AThreadIsOnePieceAtAnyVoxelSizeAndSmoothing) {
  constexpr int kThreads = 6;
  std::vector<RoundPiece> pieces;
  for (int thread = 0; thread < kThreads; ++thread)
    for (int i = 0; i < 40; ++i) {
      const auto at = [thread](double t) {
        return Vec3d(9.0 * thread, 3 * std::sin(3 * t + thread), 0.31 * thread + 4 * t);
      };
      const double width = 0.1 * std::sin(kPi * (i + 0.5) / 40) + 1e-4;
      pieces.push_back({at(i / 40.0), at((i + 1) / 40.0), width, width});
    }
  for (const double voxel : {0.03, 0.1, 0.37, 1.0})
    for (const int smoothing : {0, 1, 4, 20}) {
      const Mesh mesh = roundSurface(pieces, voxel, smoothing, kPlenty);
      EXPECT_TRUE(reportOn(mesh).isClosed()) << voxel << " " << smoothing;
      EXPECT_EQ(piecesOf(mesh), static_cast<std::size_t>(kThreads)) << voxel << " " << smoothing;
    }
}

}  // namespace
}  // namespace comet
