// Start states: particles taken from a frame, with which a scene begins.
//
// A start state is part of the scene (its setting `start_state`): the particles, and where each emitter's
// births stand, so that a run goes on from it exactly as it would have gone on from the frame it was taken
// from.
#pragma once

#include "particles/particle_state.h"
#include "scene/scene.h"

namespace comet {

bool hasStartState(const Scene& scene);

// The scene beginning with these particles. Throws Error(Budget) if they are more than
// kMostStartParticles.
Scene withStartState(const Scene& scene, const ParticleState& particles);
Scene withoutStartState(const Scene& scene);

// Null if the scene has none. Throws Error(Input) if what the scene holds is damaged.
ParticleStatePtr startStateOf(const Scene& scene);

// A scene file holds each as 54 characters of text.
constexpr std::size_t kMostStartParticles = 1000000;

}  // namespace comet
