// Small scenes that tests start from.
#pragma once

#include "cache/scene_run.h"
#include "catalog.h"
#include "scene/scene.h"

#include <memory>
#include <string>
#include <string_view>

namespace comet::test {

// Of a new influence of gravity, and of the frames per second of a new scene.
constexpr double kGravity = 9.81, kFrameRate = 24;

// From the first frame to this one.
constexpr double secondsAt(int frame) { return (frame - 1) / kFrameRate; }

// One that forgets nothing that a test simulates.
inline std::shared_ptr<FrameCache> roomyCache(std::shared_ptr<const FrameStore> store = nullptr) {
  return std::make_shared<FrameCache>(std::size_t{1} << 30, std::move(store));
}

// One emitter, named "emitter", and one bake, named "flipbook", whose frames are told by its own range and
// step.
Scene starting();

// The scene with ITEM.PARAM=VALUE for each text.
Scene with(Scene scene, std::initializer_list<std::string> assignments);

// The scene with an influence of a kind, named after the kind, and its parameters set as in `with`.
Scene withInfluence(const Scene& scene, std::string_view kind,
                    std::initializer_list<std::string> assignments = {});

// One emitter that throws `count` particles at the first frame from a point, straight up at 3 units per
// second, to live for 100 seconds.
Scene oneBurst(int count = 1);

// The scene with an emitter whose births come from another one's particles, named and set as in `with`.
Scene withChild(const Scene& scene, const std::string& come, std::initializer_list<std::string> assignments,
                const std::string& name = "child", const std::string& parent = "emitter");

// A gas named "gas" of 24 voxels along its longest side, with a source named "source" at its bottom, and an
// emitter that gives nothing.
Scene gasScene();

// A scene with every kind of influence, children, a rule, and several hundred particles.
Scene busyScene();

SceneFramePtr simulate(const Scene& scene, int frame);

// The particles of a scene's only emitter.
inline const ParticleStore& onlyGroup(const SceneFramePtr& frame) {
  return frame->particles->groups.front().particles;
}

// Expects the frame to be the same on one thread as on all, and after a run that was resumed.
void expectTheSameHoweverRun(const Scene& scene, int frame);

Vec3d positionOf(const ParticleStore& particles, std::size_t index);
Vec3d velocityOf(const ParticleStore& particles, std::size_t index);

}  // namespace comet::test
