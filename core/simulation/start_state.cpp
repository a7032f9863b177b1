#include "simulation/start_state.h"

#include "base/error.h"
#include "particles/particle_bytes.h"

#include <fmt/format.h>

namespace comet {
namespace {

// In front: what this is, and how many groups of particles follow; behind them, how many gases. Numbers as in
// memory (little-endian).
constexpr std::uint64_t kMagic = 0x3354525453544D43ULL;  // "CMTSTRT3"
constexpr const char* kPlace = "scene settings, start state";

const Data& dataOf(const Scene& scene) { return std::get<Data>(scene.settings().value("start_state").base); }

}  // namespace

bool hasStartState(const Scene& scene) { return dataOf(scene).bytes != nullptr; }

Scene withStartState(const Scene& scene, const ParticleState& particles, const GasesState& gases) {
  const std::size_t total = particles.count();
  if (total > kMaxStartParticles)
    throw Error(ErrorKind::Budget, kPlace,
                fmt::format("would hold {} particles, more than {}", total, kMaxStartParticles),
                "Take it at a frame with fewer");
  if (gases.bytes() > kMaxStartGas)
    throw Error(ErrorKind::Budget, kPlace,
                fmt::format("would hold {} MB of gas, more than {}", gases.bytes() >> 20, kMaxStartGas >> 20),
                "Take it at a lower resolution of the gas");
  std::string bytes;
  putNumber(bytes, kMagic);
  const auto groups = static_cast<std::uint32_t>(particles.groups.size());
  putNumber(bytes, groups);
  for (const ParticleGroup& group : particles.groups) putGroup(bytes, group);
  putNumber(bytes, static_cast<std::uint32_t>(gases.gases.size()));
  for (const HeldGas& held : gases.gases) {
    putNumber(bytes, held.gas);
    held.content->put(bytes);
  }
  ParamValue value;
  value.base = Data{std::make_shared<const std::string>(std::move(bytes))};
  return scene.withParam(scene.settings().id, "start_state", std::move(value));
}

Scene withoutStartState(const Scene& scene) {
  ParamValue value;
  value.base = Data();
  return scene.withParam(scene.settings().id, "start_state", std::move(value));
}

std::optional<StartState> startStateOf(const Scene& scene) {
  const Data& data = dataOf(scene);
  if (!data.bytes) return std::nullopt;
  try {
    ByteReader reader(*data.bytes);
    if (reader.take<std::uint64_t>() != kMagic) throw DamagedBytes();
    auto particles = std::make_shared<ParticleState>();
    const auto groups = reader.take<std::uint32_t>();
    for (std::uint32_t g = 0; g < groups; ++g)
      particles->groups.push_back(takeGroup(reader, kMaxStartParticles));
    auto gases = std::make_shared<GasesState>();
    const auto count = reader.take<std::uint32_t>();
    for (std::uint32_t g = 0; g < count; ++g) {
      const auto gas = reader.take<std::uint32_t>();
      gases->gases.push_back({gas, std::make_shared<const PackedGas>(PackedGas::take(reader))});
    }
    if (reader.left() != 0) throw DamagedBytes();
    return StartState{std::move(particles), std::move(gases)};
  } catch (const DamagedBytes&) {
    refuseInput(kPlace, "is damaged", "Clear it, or take the start state again");
  }
}

}  // namespace comet
