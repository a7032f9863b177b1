// A flock, beyond what its particles' step takes without it, against a k-d tree's radius search (nanoflann)
// that does the same sums.
#include "base/parallel.h"
#include "catalog.h"
#include "ratio.h"
#include "scene/override.h"
#include "simulation/step.h"

#include <benchmark/benchmark.h>
#include <cmath>
#include <glm/geometric.hpp>
#include <nanoflann.hpp>

namespace comet::benchmarks {
namespace {

constexpr int kParticles = 100000;
constexpr double kSight = 1, kSeparation = 0.6;

Scene flockOfHundredThousand() {
  Scene scene = startingScene();
  scene = scene.withAdded(newItem(*catalog().find("flock"), "flock"));
  // So many in a box that a ball of the sight's radius holds thirty.
  const double side = std::cbrt(kParticles * (4.0 / 3 * kPi) / 30);
  const std::string extent = std::to_string(side);
  for (const std::string& setting :
       {std::string("emitter.rate=0"), std::string("emitter.lifetime=1000"), std::string("emitter.shape=box"),
        "emitter.extent=" + extent + "," + extent + "," + extent, std::string("emitter.launch=random"),
        R"(emitter.bursts=[{"frame":1,"count":)" + std::to_string(kParticles) + "}]",
        std::string("flock.sight_radius=1"), std::string("flock.sight_angle=360"),
        std::string("flock.separation_radius=0.6"), std::string("flock.alignment_radius=1"),
        std::string("flock.cohesion_radius=1"), std::string("flock.wander=0"),
        std::string("flock.target=none")})
    scene = withOverride(scene, setting);
  return scene;
}

// The store as the tree's library wants it.
struct Cloud {
  std::vector<Vec3> points, velocities;

  std::size_t kdtree_get_point_count() const { return points.size(); }
  float kdtree_get_pt(std::size_t i, std::size_t axis) const { return points[i][static_cast<int>(axis)]; }
  template <typename Box>
  bool kdtree_get_bbox(Box&) const {
    return false;
  }
};

using Tree =
    nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<float, Cloud>, Cloud, 3, std::uint32_t>;

void sumsByTree(const Cloud& cloud, std::vector<Vec3>& steering) {
  Tree tree(3, cloud, nanoflann::KDTreeSingleIndexAdaptorParams(10));
  tree.buildIndex();
  constexpr std::size_t kPiece = 1024;
  parallelFor((cloud.points.size() + kPiece - 1) / kPiece, [&](std::size_t piece) {
    std::vector<std::pair<std::uint32_t, float>> found;
    const nanoflann::SearchParams unsorted(32, 0, false);
    for (std::size_t i = piece * kPiece; i < std::min(cloud.points.size(), (piece + 1) * kPiece); ++i) {
      tree.radiusSearch(&cloud.points[i].x, static_cast<float>(kSight * kSight), found, unsorted);
      Vec3 apart(0.0F), velocity(0.0F), middle(0.0F);
      for (const auto& [other, squared] : found) {
        if (other == i) continue;
        const Vec3 offset = cloud.points[other] - cloud.points[i];
        const float distance = std::sqrt(squared);
        if (distance < static_cast<float>(kSeparation) && distance > 0)
          apart -= offset * ((1 - distance / static_cast<float>(kSeparation)) / distance);
        velocity += cloud.velocities[other];
        middle += offset;
      }
      steering[i] = apart + velocity + middle;
    }
  });
}

void flockAgainstTree(benchmark::State& state) {
  const Scene scene = flockOfHundredThousand();
  const SceneFramePtr frame = stepFrame(SceneFrame(), planFrame(scene, 1));
  const FramePlan plan = planFrame(scene, 2);
  const FramePlan alone = planFrame(scene.withEnabled(scene.findByName("flock")->id, false), 2);
  const ParticleStore& store = frame->particles->groups.front().particles;
  Cloud cloud;
  for (std::size_t i = 0; i < store.size(); ++i) {
    cloud.points.emplace_back(Vec3(store.position(i)));
    cloud.velocities.emplace_back(Vec3(store.velocity(i)));
  }
  std::vector<Vec3> steering(cloud.points.size());
  double ratio = 0;
  for (auto _ : state)
    ratio = bestRatioBeyond([&] { benchmark::DoNotOptimize(stepFrame(*frame, plan)); },
                            [&] { benchmark::DoNotOptimize(stepFrame(*frame, alone)); },
                            [&] {
                              sumsByTree(cloud, steering);
                              benchmark::DoNotOptimize(steering.data());
                            });
  report(state, ratio, 1.0 / 8);
}

BENCHMARK(flockAgainstTree)->Iterations(1);

}  // namespace
}  // namespace comet::benchmarks
