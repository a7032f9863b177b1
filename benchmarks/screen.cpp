// Pictures for the screen: one that is kept against copying its pixels, and how long those of each demo take.
#include "cache/scene_run.h"
#include "catalog.h"
#include "demos.h"
#include "each_demo.h"
#include "ratio.h"
#include "render/picture_keys.h"
#include "render/screen_picture.h"
#include "render/trail.h"
#include "scene_files.h"
#include "simulation/gas/gas_kind.h"

#include <array>
#include <cstring>
#include <string>

namespace comet::benchmarks {
namespace {

constexpr PictureSize kLarge{1920, 1080};
// Those that the window has for most artists.
constexpr std::array kSizes{PictureSize{1280, 800}, kLarge};

// What the window does for a frame that plays: its key, the picture of that key, and its pixels to the
// screen.
void showKeptPicture(benchmark::State& state) {
  const PictureKeys keys(openDemo("wake_ribbon"));
  const CameraView view{cameraOf(keys.scene(), 1), kLarge, true};
  constexpr int kFrames = 24;
  PictureCache cache(std::size_t{1} << 30);
  for (int frame = 1; frame <= kFrames; ++frame) {
    constexpr std::size_t kPixels = static_cast<std::size_t>(kLarge.width) * kLarge.height;
    cache.insert(keys.of(frame, {}, 0, view),
                 std::make_shared<const ScreenPicture>(ScreenPicture{
                     kLarge.width, kLarge.height, std::vector<std::uint32_t>(kPixels, 0xFF000000U)}),
                 PictureCache::Others::Go);
  }
  const ScreenPicturePtr any = cache.find(keys.of(1, {}, 0, view));
  std::vector<std::uint32_t> screen(any->pixels.size());
  const auto copy = [&screen](const ScreenPicture& picture) {
    std::memcpy(screen.data(), picture.pixels.data(), picture.bytes());
    benchmark::DoNotOptimize(screen.data());
  };
  double ratio = 0;
  int frame = 0;
  for (auto _ : state)
    ratio = bestRatio([&] { copy(*cache.find(keys.of(1 + ++frame % kFrames, {}, 0, view))); },
                      [&] { copy(*any); });
  report(state, ratio, 1.5);
}
BENCHMARK(showKeptPicture)->Iterations(1);

// The glow of a picture, against one pass over it.
void glow(benchmark::State& state) {
  Picture lit(1920, 1080);
  for (int y = 0; y < lit.height(); ++y)
    for (int x = 0; x < lit.width(); ++x)
      lit.at(x, y) = Vec4(Vec3(static_cast<float>((x ^ y) % 64 == 0 ? 4 : 0.1)), 1);
  Finish finish;
  finish.glows = true;
  finish.glowThreshold = 0.5;
  finish.glowSize = 0.05;
  finish.glowStrength = 0.6;
  double ratio = 0;
  for (auto _ : state)
    ratio = bestRatio([&] { benchmark::DoNotOptimize(glowOf(finish, lit)); },
                      [&] {
                        lit = changed(std::move(lit), [](const Vec4& pixel) { return pixel * 1.0001F; });
                        benchmark::DoNotOptimize(lit);
                      });
  report(state, ratio, 6);
}
BENCHMARK(glow)->Iterations(1);

// In the middle of the range, the best of three.
void drawDemo(benchmark::State& state, const std::string& name) {
  const Scene scene = openDemo(name);
  SceneRun run(atPreviewResolution(scene), std::make_shared<FrameCache>(memoryBudget(scene)));
  const FrameRange range = frameRange(scene);
  const int frame = (range.first + range.last) / 2;
  const SceneFramePtr states = run.frame(frame);
  const Past past = run.past(frame, pastNeeded(scene, frame));
  Renderer renderer;
  StampCache backdrops;
  for (auto _ : state)
    for (const PictureSize size : kSizes) {
      double best = 1e9;
      for (int i = 0; i < 3; ++i)
        best =
            std::min(best, secondsFor([&] {
                       benchmark::DoNotOptimize(drawForScreen(
                           renderer, backdrops,
                           {{scene, *states, past, cameraOf(scene, frame), size, 1, RenderPurpose::Viewport},
                            finishOf(scene.camera(), frame)},
                           1));
                     }));
      state.counters["ms_" + std::to_string(size.width) + "x" + std::to_string(size.height)] = 1e3 * best;
    }
}

const bool kAreRegistered = registerForEachDemo("drawDemo", drawDemo);

}  // namespace
}  // namespace comet::benchmarks
