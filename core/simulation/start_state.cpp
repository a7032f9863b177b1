#include "simulation/start_state.h"

#include "base/error.h"
#include "particles/particle_bytes.h"

#include <fmt/format.h>

namespace comet {
namespace {

// In front of the particles: what this is, and how many groups follow. Numbers as in memory (little-endian).
constexpr std::uint64_t kMagic = 0x3254525453544D43ULL;  // "CMTSTRT2"
constexpr const char* kPlace = "scene settings, start state";

const Data& dataOf(const Scene& scene) { return std::get<Data>(scene.settings().value("start_state").base); }

}  // namespace

bool hasStartState(const Scene& scene) { return dataOf(scene).bytes != nullptr; }

Scene withStartState(const Scene& scene, const ParticleState& particles) {
  const std::size_t total = particles.count();
  if (total > kMostStartParticles)
    throw Error(ErrorKind::Budget, kPlace,
                fmt::format("would hold {} particles, more than {}", total, kMostStartParticles),
                "Take it at a frame with fewer");
  std::string bytes;
  putNumber(bytes, kMagic);
  const auto groups = static_cast<std::uint32_t>(particles.groups.size());
  putNumber(bytes, groups);
  for (const ParticleGroup& group : particles.groups) putGroup(bytes, group);
  ParamValue value;
  value.base = Data{std::make_shared<const std::string>(std::move(bytes))};
  return scene.withParam(scene.settings().id, "start_state", std::move(value));
}

Scene withoutStartState(const Scene& scene) {
  ParamValue value;
  value.base = Data();
  return scene.withParam(scene.settings().id, "start_state", std::move(value));
}

ParticleStatePtr startStateOf(const Scene& scene) {
  const Data& data = dataOf(scene);
  if (!data.bytes) return nullptr;
  try {
    ByteReader reader(*data.bytes);
    if (reader.take<std::uint64_t>() != kMagic) throw DamagedBytes();
    auto state = std::make_shared<ParticleState>();
    const auto groups = reader.take<std::uint32_t>();
    for (std::uint32_t g = 0; g < groups; ++g)
      state->groups.push_back(takeGroup(reader, kMostStartParticles));
    if (reader.left() != 0) throw DamagedBytes();
    return state;
  } catch (const DamagedBytes&) {
    refuseInput(kPlace, "is damaged", "Clear it, or take the start state again");
  }
}

}  // namespace comet
