// Start states: particles and gases taken from a frame, with which a scene begins.
//
// A start state is part of the scene (its setting `start_state`): the particles, where each emitter's births
// stand, and the gases, so that a run goes on from it exactly as it would have gone on from the frame it was
// taken from.
#pragma once

#include "particles/particle_state.h"
#include "scene/scene.h"
#include "simulation/frame/gases_state.h"

#include <optional>

namespace comet {

bool hasStartState(const Scene& scene);

struct StartState {
  ParticleStatePtr particles;  // never null
  GasesStatePtr gases;         // never null
};

// The scene beginning with these particles and gases. Throws Error(Budget) if they are more than
// kMaxStartParticles, or kMaxStartGas.
Scene withStartState(const Scene& scene, const ParticleState& particles, const GasesState& gases = {});
Scene withoutStartState(const Scene& scene);

// Nothing if the scene has none. Throws Error(Input) if what the scene holds is damaged.
std::optional<StartState> startStateOf(const Scene& scene);

// A scene file holds each as 54 characters of text.
constexpr std::size_t kMaxStartParticles = 1000000;
// Bytes; a scene file holds three as four characters of text.
constexpr std::size_t kMaxStartGas = std::size_t{64} << 20;

}  // namespace comet
