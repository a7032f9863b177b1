// Particles that arrive at points of their own: who goes where, and a frame in which all travel, against one
// in which they only fly.
#include "base/random.h"
#include "cache/scene_run.h"
#include "catalog.h"
#include "geometry/assignment.h"
#include "ratio.h"
#include "scene/override.h"

#include <benchmark/benchmark.h>
#include <string>

namespace comet::benchmarks {
namespace {

std::vector<Vec3d> cloud(std::size_t count, std::uint64_t key, const Vec3d& at) {
  const RandomSource random(key);
  std::vector<Vec3d> points(count);
  for (std::size_t i = 0; i < count; ++i)
    points[i] =
        at + Vec3d(random.unit(i, Draw::ShapeA), random.unit(i, Draw::ShapeB), random.unit(i, Draw::ShapeC));
  return points;
}

// From one box to another beside it, as from an emitter to a shape.
void assignment(benchmark::State& state) {
  const auto count = static_cast<std::size_t>(state.range(0));
  const auto points = cloud(count, 1, Vec3d(0.0)), places = cloud(count, 2, Vec3d(3, 0, 0));
  Assignment last;
  for (auto _ : state) last = assignPlaces(points, places);
  state.counters["over_least"] = last.total / last.least;
}
BENCHMARK(assignment)->RangeMultiplier(10)->Range(10, 100000)->Iterations(1)->Unit(benchmark::kMillisecond);

Scene burst(std::int64_t count) {
  Scene scene = startingScene();
  for (const std::string& setting :
       {std::string("emitter.rate=0"), std::string("emitter.lifetime_mode=endless"),
        std::string("scene.max_particles=300000"), std::string("emitter.shape=box"),
        R"(emitter.bursts=[{"frame":1,"count":)" + std::to_string(count) + "}]"})
    scene = withOverride(scene, setting);
  return scene;
}

Scene arrivingBurst(std::int64_t count) {
  Scene scene = burst(count).withAdded(newItem(*catalog().find("arrive"), "arrive"));
  for (const std::string& setting :
       {"arrive.points=" + std::to_string(count), std::string("arrive.travel_time=60"),
        std::string("arrive.position=4,0,0")})
    scene = withOverride(scene, setting);
  return scene;
}

// Frames that nobody has simulated yet, each time.
class Frames {
 public:
  explicit Frames(const Scene& scene) : run_(scene, std::make_shared<FrameCache>(std::size_t{1} << 30)) {
    (void)run_.frame(frame_);
  }
  void next() { (void)run_.frame(++frame_); }

 private:
  SceneRun run_;
  int frame_ = 4;
};

void frameOfArrivals(benchmark::State& state) {
  Frames arriving(arrivingBurst(state.range(0))), flying(burst(state.range(0)));
  double ratio = 0, seconds = 0;
  for (auto _ : state) {
    ratio = bestRatio([&] { arriving.next(); }, [&] { flying.next(); });
    seconds = secondsFor([&] { arriving.next(); });
  }
  state.counters["ratio"] = ratio;
  state.counters["ns_a_particle"] = 1e9 * seconds / static_cast<double>(state.range(0));
}
BENCHMARK(frameOfArrivals)
    ->RangeMultiplier(10)
    ->Range(10, 100000)
    ->Iterations(1)
    ->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace comet::benchmarks
