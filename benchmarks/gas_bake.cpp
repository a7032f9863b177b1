// A flipbook of fire: 64 cells of 512 × 512 from frames of 128³ voxels that are in the cache, with its
// shadows, its light on its smoke, and motion vectors.
#include "bake/bake_sheet.h"
#include "cache/scene_run.h"
#include "catalog.h"
#include "ratio.h"
#include "scene/override.h"
#include "simulation/gas/gas_edits.h"

#include <benchmark/benchmark.h>
#include <fstream>
#include <string>

namespace comet::benchmarks {
namespace {

Scene fireScene() {
  Scene scene = withNewFire(startingScene());
  for (const char* setting :
       {"emitter.rate=0", "fire.position=0,2,0", "fire.size=4,4,4", "fire.resolution=128",
        "flipbook.first=24", "flipbook.last=87", "flipbook.step=1", "flipbook.columns=8", "flipbook.rows=8",
        "flipbook.cell_width=512", "flipbook.cell_height=512", "flipbook.supersampling=1",
        "flipbook.motion_vectors=eight", "flipbook.view=own", "flipbook.projection=orthographic",
        "flipbook.position=0,2,10", "flipbook.aim=0,2,0", "flipbook.height=4"})
    scene = withOverride(scene, setting);
  return scene;
}

// The most memory that the process held so far, in MB; 0 if the system does not say.
double peakMegabytes() {
  std::ifstream status("/proc/self/status");
  std::string word;
  while (status >> word)
    if (double kilobytes = 0; word == "VmHWM:" && status >> kilobytes) return kilobytes / 1000;
  return 0;
}

// Against drawing the same frames one by one without motion vectors.
void bakeOfFire(benchmark::State& state) {
  const Scene scene = fireScene();
  const Item& bake = *scene.findByName("flipbook");
  const FlipbookLayout layout = flipbookLayout(scene, bake);
  SceneRun run(scene, std::make_shared<FrameCache>(std::size_t{4} << 30));
  (void)run.frame(layout.cells.back().next);
  double bakeSeconds = 0, drawSeconds = 0;
  for (auto _ : state) {
    bakeSeconds = secondsFor([&] { benchmark::DoNotOptimize(bakeFlipbook(run, layout, Progress())); });
    BakeRenderer renderer(run, bake.id, {layout.cellWidth, layout.cellHeight}, 1);
    drawSeconds = secondsFor([&] {
      for (const CellPlan& cell : layout.cells)
        benchmark::DoNotOptimize(renderer.color(cell.frame, Progress()));
    });
  }
  state.counters["seconds"] = bakeSeconds;
  state.counters["peak_MB"] = peakMegabytes();
  report(state, bakeSeconds / drawSeconds, 2);
}
BENCHMARK(bakeOfFire)->Iterations(1)->Unit(benchmark::kSecond);

}  // namespace
}  // namespace comet::benchmarks
