// A frame of cards that lie on the ground in the wind, against one in which as many particles as they have
// points lie there; and how long it takes by number.
#include "cache/scene_run.h"
#include "catalog.h"
#include "ratio.h"
#include "scene/override.h"

#include <benchmark/benchmark.h>
#include <string>

namespace comet::benchmarks {
namespace {

Scene lying(std::int64_t count, bool areCards) {
  Scene scene = startingScene();
  for (const char* kind : {"gravity", "wind", "deflector"})
    scene = scene.withAdded(newItem(*catalog().find(kind), kind));
  for (const std::string& setting :
       {std::string("emitter.rate=0"), std::string("emitter.lifetime_mode=endless"),
        std::string("scene.max_particles=300000"), std::string("emitter.shape=box"),
        std::string("emitter.extent=4,0.5,4"), std::string("emitter.position=0,0.3,0"),
        std::string("emitter.speed=0"), std::string("emitter.sprite_rotation=0±180"),
        std::string("deflector.shape=plane"), std::string("wind.speed=1"),
        std::string(areCards ? "emitter.sprite=card" : "emitter.sprite=dot"),
        R"(emitter.bursts=[{"frame":1,"count":)" + std::to_string(count) + "}]"})
    scene = withOverride(scene, setting);
  return scene;
}

// Frames that nobody has simulated yet, each time; by then all have landed.
class LyingFrames {
 public:
  LyingFrames(std::int64_t count, bool areCards)
      : run_(lying(count, areCards), std::make_shared<FrameCache>(std::size_t{1} << 30)) {
    (void)run_.frame(frame_);
  }
  void next() { (void)run_.frame(++frame_); }

 private:
  SceneRun run_;
  int frame_ = 40;
};

void frameOfCards(benchmark::State& state) {
  constexpr std::int64_t kPoints = 25;
  LyingFrames cards(state.range(0), true), particles(state.range(0) * kPoints, false);
  double ratio = 0, seconds = 0;
  for (auto _ : state) {
    ratio = bestRatio([&] { cards.next(); }, [&] { particles.next(); });
    seconds = secondsFor([&] { cards.next(); });
  }
  state.counters["ratio"] = ratio;
  state.counters["ms_a_frame"] = 1e3 * seconds;
  state.counters["us_a_card"] = 1e6 * seconds / static_cast<double>(state.range(0));
}
BENCHMARK(frameOfCards)
    ->Arg(10)
    ->Arg(100)
    ->Arg(1000)
    ->Arg(5000)
    ->Iterations(1)
    ->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace comet::benchmarks
