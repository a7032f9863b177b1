// That deflectors hold, at full size: how many particles are where they cannot be, which must be none. As a
// ratio of particles, with a target of 0. Each run is made twice, on all threads and on one, and must end the
// same.
#include "base/parallel.h"
#include "cache/scene_run.h"
#include "catalog.h"
#include "geometry/mesh_content.h"
#include "geometry/picture_mesh.h"
#include "ratio.h"
#include "scene/override.h"
#include "simulation/deflectors/deflector_shape.h"
#include "simulation/step.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/matrix.hpp>
#include <string>

namespace comet::benchmarks {
namespace {

// Places kept by single floats and by the deflectors' skins.
constexpr double kTolerance = 2e-3;

Scene sceneOf(int count, std::initializer_list<std::string> settings) {
  Scene scene = startingScene();
  for (const char* kind : {"gravity", "deflector"})
    scene = scene.withAdded(newItem(*catalog().find(kind), kind));
  for (const std::string& setting :
       {std::string("emitter.rate=0"), std::string("emitter.lifetime=1000"),
        "emitter.bursts=[{\"frame\":1,\"count\":" + std::to_string(count) + "}]"})
    scene = withOverride(scene, setting);
  for (const std::string& setting : settings) scene = withOverride(scene, setting);
  return scene;
}

SceneFramePtr runTo(const Scene& scene, int frames) {
  SceneFramePtr frame = std::make_shared<SceneFrame>();
  for (int f = 1; f <= frames; ++f) frame = stepFrame(*frame, planFrame(scene, f));
  return frame;
}

// The fraction of particles for which `isOut(position)`; all count as out if runs on one thread and on all
// differ, of which the first frames will do.
template <typename IsOut>
void reportEscaped(benchmark::State& state, const Scene& scene, int frames, const IsOut& isOut) {
  double fraction = 0;
  for (auto _ : state) {
    const SceneFramePtr frame = runTo(scene, frames);
    const ParticleStore& particles = frame->particles->groups.front().particles;
    std::size_t out = 0;
    for (std::size_t i = 0; i < particles.size(); ++i) out += isOut(particles.position(i)) ? 1 : 0;
    const int compared = std::min(frames, 100);
    const Digest onAll = runTo(scene, compared)->particles->digest();
    const ThreadLimit single(1);
    const bool isSame = runTo(scene, compared)->particles->digest() == onAll;
    fraction =
        isSame && particles.size() > 0 ? static_cast<double>(out) / static_cast<double>(particles.size()) : 1;
  }
  report(state, fraction, 0);
}

constexpr const char* kTurning =
    R"(deflector.rotation={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},{"frame":1001,"value":[4000,0,7000]}]})";

Vec3d inOwnSpace(const Scene& scene, int frame, const Vec3d& position) {
  const Item& deflector = *scene.findByName("deflector");
  return glm::transpose(rotationFromDegrees(deflector.vector("rotation", frame))) *
         (position - deflector.vector("position", frame));
}

void escapedFromTurningBox(benchmark::State& state) {
  const Scene scene =
      sceneOf(100000, {"deflector.shape=box", "deflector.inside_out=true", "deflector.size=4,4,4",
                       "deflector.bounce=30", "deflector.friction=0.3", kTurning, "emitter.shape=box",
                       "emitter.extent=3.8,3.8,3.8", "emitter.launch=random", "emitter.speed=8±8"});
  reportEscaped(state, scene, 1000, [&](const Vec3d& position) {
    const Vec3d own = glm::abs(inOwnSpace(scene, 1000, position));
    return std::max({own.x, own.y, own.z}) > 2 + kTolerance;
  });
}

void escapedFromTurningMesh(benchmark::State& state) {
  // A drum in the shape of a lens: what two discs have in common.
  constexpr int kPixels = 256;
  Picture lens(kPixels, kPixels);
  for (int y = 0; y < kPixels; ++y)
    for (int x = 0; x < kPixels; ++x)
      if (std::hypot(x - 100, y - 128) < 110 && std::hypot(x - 156, y - 128) < 110)
        lens.at(x, y) = Vec4(1.0F);
  const Mesh drum = cutOutOf(lens, {64, 6}, 0.5, 3);
  Scene scene = sceneOf(50000, {"deflector.shape=mesh", "deflector.inside_out=true", "deflector.bounce=40",
                                "deflector.friction=0.2", kTurning, "emitter.shape=sphere",
                                "emitter.radius=1", "emitter.launch=random", "emitter.speed=10±8"});
  ParamValue file;
  file.base = FileRef{"drum", std::make_shared<const MeshContent>(drum), {}};
  scene = scene.withParam(scene.findByName("deflector")->id, "mesh", file);
  constexpr int kFrames = 120;
  const DeflectorShape shape = DeflectorShape(*scene.findByName("deflector"), kFrames).readyToMeet({});
  reportEscaped(state, scene, kFrames, [&](const Vec3d& position) {
    return shape.at(inOwnSpace(scene, kFrames, position)).distance < -kTolerance;
  });
}

void escapedThroughThinSheet(benchmark::State& state) {
  const Scene scene = sceneOf(20000, {"deflector.shape=rectangle", "deflector.size=40,1,40",
                                      "emitter.position=0,9,0", "emitter.shape=box", "emitter.extent=6,2,6",
                                      "emitter.direction=0,-1,0", "emitter.cone=0", "emitter.speed=500"});
  reportEscaped(state, scene, 4, [](const Vec3d& position) { return position.y < -kTolerance; });
}

void escapedFromSweepingPlane(benchmark::State& state) {
  // 200 units a second at 24 frames a second, through particles at rest.
  const Scene scene = sceneOf(
      10000,
      {"gravity.strength=0", "emitter.speed=0", "emitter.shape=box", "emitter.extent=8,8,8",
       "emitter.position=0,6,0", "deflector.bounce=0",
       R"(deflector.position={"keys":[{"frame":1,"value":[0,-1,0],"to_next":"linear"},{"frame":4,"value":[0,24,0]}]})"});
  reportEscaped(state, scene, 4, [](const Vec3d& position) { return position.y < 24 - kTolerance; });
}

}  // namespace
}  // namespace comet::benchmarks

using namespace comet::benchmarks;

BENCHMARK(escapedFromTurningBox)->Iterations(1);
BENCHMARK(escapedFromTurningMesh)->Iterations(1);
BENCHMARK(escapedThroughThinSheet)->Iterations(1);
BENCHMARK(escapedFromSweepingPlane)->Iterations(1);
