// Each benchmark reports the ratio of a hot path to its limit as the counter "ratio", and the target as
// "target".
#include "bake/bake_sheet.h"
#include "base/parallel.h"
#include "base/random.h"
#include "cache/scene_run.h"
#include "catalog.h"
#include "ratio.h"
#include "render/look.h"
#include "render/renderer.h"
#include "render/tile.h"
#include "render/trail.h"
#include "scene/override.h"
#include "scene_files.h"
#include "simulation/step.h"

#include <benchmark/benchmark.h>
#include <cstring>

namespace comet::benchmarks {
namespace {

constexpr int kMillion = 1000000;

// A million particles that live on, and the influences that are asked for.
struct MillionParticles {
  MillionParticles(std::initializer_list<const char*> kinds, std::initializer_list<std::string> settings) {
    scene = startingScene();
    for (const char* kind : kinds) scene = scene.withAdded(newItem(*catalog().find(kind), kind));
    for (const char* setting :
         {"emitter.rate=0", "emitter.lifetime=1000", "emitter.shape=box", "emitter.extent=20,20,20",
          "emitter.cone=180", "emitter.bursts=[{\"frame\":1,\"count\":1000000}]",
          "scene.max_particles=2000000"})
      scene = withOverride(scene, setting);
    for (const std::string& setting : settings) scene = withOverride(scene, setting);
    frame = stepFrame(SceneFrame(), planFrame(scene, 1));
    plan = planFrame(scene, 2);
  }

  Scene scene;
  SceneFramePtr frame;
  FramePlan plan;
};

// Reads the state once and writes it once, on all threads, as a step must at least.
class Streaming {
 public:
  explicit Streaming(const ParticleStore& source)
      : source_(source), target_(source.size(), source.fields()) {}

  void operator()() {
    constexpr std::size_t kPiece = 16384;
    const std::size_t count = source_.size();
    parallelForEqual((count + kPiece - 1) / kPiece, [&](std::size_t piece) {
      const std::size_t first = piece * kPiece, length = std::min(kPiece, count - first);
      source_.fields().forEach([&](ParticleStore::Field field) {
        std::memcpy(target_.field(field) + first, source_.field(field) + first, length * sizeof(float));
      });
      std::memcpy(target_.ids() + first, source_.ids() + first, length * sizeof(ParticleId));
    });
  }

 private:
  const ParticleStore& source_;
  ParticleStore target_;
};

void stepAgainstStreaming(benchmark::State& state, const MillionParticles& million, double target) {
  Streaming streaming(million.frame->particles->groups.front().particles);
  double ratio = 0;
  for (auto _ : state)
    ratio = bestRatio([&] { benchmark::DoNotOptimize(stepFrame(*million.frame, million.plan)); },
                      [&] { streaming(); });
  report(state, ratio, target);
}

void stepMillionGravityDrag(benchmark::State& state) {
  stepAgainstStreaming(state, MillionParticles({"gravity", "drag"}, {}), 3);
}
void stepMillionOneOctave(benchmark::State& state) {
  stepAgainstStreaming(state, MillionParticles({"gravity", "drag", "turbulence"}, {"turbulence.octaves=1"}),
                       7);
}
void stepMillionThreeOctaves(benchmark::State& state) {
  stepAgainstStreaming(state, MillionParticles({"gravity", "drag", "turbulence"}, {"turbulence.octaves=3"}),
                       16);
}

void stepMillionVectorField(benchmark::State& state) {
  stepAgainstStreaming(state, MillionParticles({"gravity", "drag", "field"}, {"field.size=20,20,20"}), 16);
}

// Five shapes among the particles, most of which fly freely.
void stepMillionFiveDeflectors(benchmark::State& state) {
  MillionParticles million({"gravity", "drag"}, {"emitter.speed=3"});
  const std::pair<const char*, const char*> shapes[] = {{"plane", "[0,-9,0]"},
                                                        {"sphere", "[-5,0,0]"},
                                                        {"box", "[5,2,0]"},
                                                        {"cylinder", "[0,4,5]"},
                                                        {"capsule", "[0,-3,-5]"}};
  Scene scene = million.scene;
  for (const auto& [shape, place] : shapes) {
    scene = scene.withAdded(newItem(*catalog().find("deflector"), shape));
    scene = withOverride(scene, std::string(shape) + ".shape=" + shape);
    scene = withOverride(scene, std::string(shape) + ".position=" + place);
  }
  million.plan = planFrame(scene, 2);
  // From particles that already lie where they can be.
  million.frame = stepFrame(*million.frame, million.plan);
  million.plan = planFrame(scene, 3);
  stepAgainstStreaming(state, million, 8);
}

// A wavy sheet across the box of the particles, of about 70 000 triangles.
Mesh wavySheet() {
  constexpr int kSide = 188;
  Mesh mesh;
  for (int z = 0; z <= kSide; ++z)
    for (int x = 0; x <= kSide; ++x)
      mesh.points.emplace_back(
          20.0F * static_cast<float>(x) / kSide - 10.0F,
          2.0F * std::sin(0.1F * static_cast<float>(x)) * std::cos(0.13F * static_cast<float>(z)),
          20.0F * static_cast<float>(z) / kSide - 10.0F);
  mesh.normals.assign(mesh.points.size(), Vec3(0, 1, 0));
  for (std::uint32_t z = 0; z < kSide; ++z)
    for (std::uint32_t x = 0; x < kSide; ++x) {
      const std::uint32_t a = z * (kSide + 1) + x, b = a + 1, c = a + kSide + 1, d = c + 1;
      mesh.triangles.push_back({a, c, b});
      mesh.triangles.push_back({b, c, d});
    }
  mesh.parts.assign(mesh.triangles.size(), 0);
  mesh.partNames = {{}};
  return mesh;
}

// 200 000 particles among a mesh that moves, against one ray for each of their ways as the mesh sees them.
void stepAgainstMovingMesh(benchmark::State& state) {
  MillionParticles particles({"gravity"},
                             {R"(emitter.bursts=[{"frame":1,"count":200000}])", "emitter.extent=20,6,20"});
  const auto content = std::make_shared<const MeshContent>(wavySheet());
  Scene scene = particles.scene.withAdded(newItem(*catalog().find("deflector"), "sheet"));
  ParamValue mesh;
  mesh.base = FileRef{"sheet", content, {}};
  scene = scene.withParam(scene.findByName("sheet")->id, "mesh", mesh);
  for (
      const char* setting :
      {"sheet.shape=mesh",
       R"(sheet.position={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":9,"value":[0,2,0]}]})"})
    scene = withOverride(scene, setting);
  particles.plan = planFrame(scene, 2);
  const auto tree = content->surfaceTree();
  const ParticleStore& store = particles.frame->particles->groups.front().particles;
  const Vec3d meshMoves(0, 0.25, 0);
  const auto queryAll = [&] {
    constexpr std::size_t kPiece = 2048;
    const std::size_t count = store.size();
    parallelForEqual((count + kPiece - 1) / kPiece, [&](std::size_t piece) {
      for (std::size_t i = piece * kPiece; i < std::min(count, (piece + 1) * kPiece); ++i)
        benchmark::DoNotOptimize(
            tree->firstOn(store.position(i), store.position(i) + store.velocity(i) * (1.0 / 24) - meshMoves));
    });
  };
  double ratio = 0;
  for (auto _ : state)
    ratio =
        bestRatio([&] { benchmark::DoNotOptimize(stepFrame(*particles.frame, particles.plan)); }, queryAll);
  report(state, ratio, 2);
}

std::vector<Sprite> spritesOnPicture(std::size_t count, float radius, int width, int height) {
  const RandomSource random(1);
  std::vector<Sprite> sprites(count);
  for (std::size_t i = 0; i < count; ++i) {
    const auto unit = [&](Draw draw) { return static_cast<float>(random.unit(i, draw)); };
    sprites[i] = {radius + unit(Draw::ShapeA) * (static_cast<float>(width) - 2 * radius),
                  radius + unit(Draw::ShapeB) * (static_cast<float>(height) - 2 * radius),
                  radius,
                  unit(Draw::ShapeC),
                  1,
                  0.5F,
                  0.2F,
                  0.4F,
                  0};
  }
  return sprites;
}

// Blends as many pixels as the sprites have into one tile that stays in the cache, on all threads: a colour
// over the tile by a coverage of each pixel's own.
class BlendingInCache {
 public:
  explicit BlendingInCache(double pixels) : passes_(static_cast<int>(pixels / (kTileSize * kTileSize))) {}

  void operator()() const {
    constexpr int kShares = 16;
    parallelForEqual(kShares, [&](std::size_t) {
      Tile tile{};
      Tile::Plane cover;
      for (std::size_t i = 0; i < cover.size(); ++i) cover[i] = 0.001F * static_cast<float>(i % 997);
      for (int pass = 0; pass < passes_ / kShares; ++pass) {
        for (Tile::Plane& plane : tile.planes)
          for (int y = 0; y < kTileSize; ++y)
            for (int i = y * Tile::kStride; i < y * Tile::kStride + kTileSize; ++i)
              plane[i] = plane[i] * (1 - cover[i]) + 0.5F * cover[i];
        benchmark::ClobberMemory();
      }
      benchmark::DoNotOptimize(tile.planes[0][0]);
    });
  }

 private:
  int passes_;
};

void drawAgainstBlending(benchmark::State& state, std::size_t count, float radius, Blend blend,
                         double target) {
  const std::vector<Sprite> sprites = spritesOnPicture(count, radius, 1280, 720);
  SpriteProfile profile;
  profile.blend = blend;
  std::vector<SpriteSpan> spans;
  for (std::size_t first = 0; first < count; first += 4096)
    spans.push_back({sprites.data() + first, std::min<std::size_t>(4096, count - first)});
  Picture picture(1280, 720);
  Rasteriser rasteriser;
  const BlendingInCache blending(static_cast<double>(count) * 4 * radius * radius);
  double ratio = 0;
  for (auto _ : state)
    ratio = bestRatio([&] { rasteriser.draw(spans, {{profile}, nullptr}, picture); }, blending);
  report(state, ratio, target);
}

void drawSoftSpritesSorted(benchmark::State& state) {
  drawAgainstBlending(state, 100000, 8, Blend::Normal, 2.5);
}
void drawTinySpritesAdditive(benchmark::State& state) {
  drawAgainstBlending(state, kMillion, 2, Blend::Additive, 6);
}

// A scene whose particles fill an orthographic view, to draw them at rest.
Scene standingScene(std::initializer_list<std::string> settings) {
  Scene scene = startingScene();
  for (const char* setting :
       {"emitter.rate=0", "emitter.lifetime_mode=endless", "emitter.speed=0", "emitter.shape=box",
        "emitter.extent=17.7,10,1", "camera.projection=orthographic", "camera.height=10",
        "camera.position=0,0,10", "camera.aim=0,0,0"})
    scene = withOverride(scene, setting);
  for (const std::string& setting : settings) scene = withOverride(scene, setting);
  return withFilesRead(scene, {}, nullptr);
}

void drawStandingAgainstBlending(benchmark::State& state, const Scene& scene, double pixels, double target) {
  const SceneFramePtr frame = stepFrame(SceneFrame(), planFrame(scene, 1));
  Renderer renderer;
  const BlendingInCache blending(pixels);
  double ratio = 0;
  for (auto _ : state)
    ratio = bestRatio(
        [&] {
          benchmark::DoNotOptimize(renderer.draw({scene, *frame, {}, cameraOf(scene, 1), {1280, 720}}));
        },
        blending);
  report(state, ratio, target);
}

// From particles to the picture, 32 pixels each.
void drawPuffs(benchmark::State& state) {
  drawStandingAgainstBlending(
      state,
      standingScene({R"(emitter.bursts=[{"frame":1,"count":20000}])", "emitter.sprite=puff",
                     "emitter.size=0.4444", "emitter.sprite_rotation=0±180"}),
      20000.0 * 32 * 32, 8);
}

// A mesh of 264 triangles each, 16 pixels large.
void drawMeshInstances(benchmark::State& state) {
  drawStandingAgainstBlending(
      state,
      standingScene({R"(emitter.bursts=[{"frame":1,"count":20000}])", "emitter.sprite=mesh",
                     "emitter.sprite_mesh=sample:seed_head.obj", "emitter.size=0.2222",
                     "emitter.sprite_rotation=0±180"}),
      20000.0 * 16 * 16, 60);
}

// From cached frames to the picture: trails of 60 frames, bent by their weight, about 300 pixels long and
// three wide with their edges.
void drawTrails(benchmark::State& state) {
  constexpr int kTrails = 20000, kFrame = 62;
  Scene scene = standingScene({R"(emitter.bursts=[{"frame":1,"count":20000}])", "emitter.launch=random",
                               "emitter.speed=1.7±0.5", "emitter.trail=ribbon", "emitter.trail_time=2.5",
                               "emitter.trail_width=0.03", "emitter.trail_hide_sprites=true"});
  scene = withOverride(scene.withAdded(newItem(*catalog().find("gravity"), "gravity")), "gravity.strength=1");
  SceneRun run(scene, std::make_shared<FrameCache>(std::size_t{1} << 30));
  const SceneFramePtr frame = run.frame(kFrame);
  const Past past = run.past(kFrame, pastNeeded(scene, kFrame));
  Renderer renderer;
  double ratio = 0;
  for (auto _ : state)
    ratio = bestRatio(
        [&] {
          benchmark::DoNotOptimize(
              renderer.draw({scene, *frame, past, cameraOf(scene, kFrame), {1280, 720}}));
        },
        BlendingInCache(kTrails * 300.0 * 3));
  report(state, ratio, 20);
}

Scene steadyScene() {
  Scene scene = startingScene();
  for (const char* setting :
       {"emitter.rate=10000", "emitter.cone=90", "flipbook.first=8", "flipbook.last=71", "flipbook.step=1",
        "flipbook.columns=8", "flipbook.rows=8", "flipbook.cell_width=256", "flipbook.cell_height=256"})
    scene = withOverride(scene, setting);
  return scene;
}

void redrawAfterEditToLooks(benchmark::State& state) {
  const Scene scene = steadyScene();
  const auto cache = std::make_shared<FrameCache>(std::size_t{1} << 30);
  (void)SceneRun(scene, cache).frame(60);
  const Scene edited = withOverride(scene, "emitter.brightness=2");
  const SceneFramePtr frame = SceneRun(scene, cache).frame(60);
  Renderer renderer;
  const auto draw = [&](const Scene& look, const SceneFrame& particles) {
    benchmark::DoNotOptimize(renderer.draw({look, particles, {}, cameraOf(look, 60), {1280, 720}}));
  };
  double ratio = 0;
  for (auto _ : state)
    ratio =
        bestRatio([&] { draw(edited, *SceneRun(edited, cache).frame(60)); }, [&] { draw(scene, *frame); });
  report(state, ratio, 1.1);
}

// Against the sum of its frames' drawing times, with everything simulated.
double flipbookRatio(const Scene& scene) {
  const Item& bake = *scene.findByName("flipbook");
  const FlipbookLayout layout = flipbookLayout(scene, bake);
  SceneRun run(scene, std::make_shared<FrameCache>(std::size_t{1} << 30));
  (void)run.frame(layout.cells.back().next);
  Renderer renderer;
  return bestRatio([&] { benchmark::DoNotOptimize(bakeFlipbook(run, layout, Progress())); },
                   [&] {
                     for (const CellPlan& cell : layout.cells)
                       benchmark::DoNotOptimize(renderer.draw({scene,
                                                               *run.frame(cell.frame),
                                                               {},
                                                               bakeView(scene, bake, cell.frame),
                                                               {layout.cellWidth, layout.cellHeight},
                                                               layout.supersampling},
                                                              bakeFinish(scene, bake, cell.frame)));
                   },
                   8);
}

void flipbookOf64Frames(benchmark::State& state) {
  double ratio = 0;
  for (auto _ : state) ratio = flipbookRatio(steadyScene());
  report(state, ratio, 1.15);
}

// Motion vectors are a second picture of each frame.
void flipbookWithMotionAndGlow(benchmark::State& state) {
  Scene scene = steadyScene();
  for (const char* setting :
       {"flipbook.motion_vectors=eight", "flipbook.post_processing=own", "flipbook.glow=true"})
    scene = withOverride(scene, setting);
  double ratio = 0;
  for (auto _ : state) ratio = flipbookRatio(scene);
  report(state, ratio, 2);
}

void memoryPerParticle(benchmark::State& state) {
  double bytes = 0;
  for (auto _ : state) bytes = static_cast<double>(ParticleStore::bytesFor(kMillion)) / kMillion;
  report(state, bytes, 64);
}

BENCHMARK(stepMillionGravityDrag)->Iterations(1);
BENCHMARK(stepMillionOneOctave)->Iterations(1);
BENCHMARK(stepMillionThreeOctaves)->Iterations(1);
BENCHMARK(stepMillionVectorField)->Iterations(1);
BENCHMARK(stepMillionFiveDeflectors)->Iterations(1);
BENCHMARK(stepAgainstMovingMesh)->Iterations(1);
BENCHMARK(drawSoftSpritesSorted)->Iterations(1);
BENCHMARK(drawTinySpritesAdditive)->Iterations(1);
BENCHMARK(drawPuffs)->Iterations(1);
BENCHMARK(drawMeshInstances)->Iterations(1);
BENCHMARK(drawTrails)->Iterations(1);
BENCHMARK(redrawAfterEditToLooks)->Iterations(1);
BENCHMARK(flipbookOf64Frames)->Iterations(1);
BENCHMARK(flipbookWithMotionAndGlow)->Iterations(1);
BENCHMARK(memoryPerParticle)->Iterations(1);

}  // namespace
}  // namespace comet::benchmarks
