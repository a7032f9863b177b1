#include "simulation/start_state.h"

#include "base/error.h"

#include <cmath>
#include <cstring>
#include <fmt/format.h>

namespace comet {
namespace {

// In front of the particles: what this is, and how many groups follow. Numbers as in memory (little-endian).
constexpr std::uint64_t kMagic = 0x3154525453544D43ULL;  // "CMTSTRT1"
constexpr const char* kPlace = "scene settings, start state";

template <typename Number>
void put(std::string& bytes, const Number* numbers, std::size_t count) {
  bytes.append(reinterpret_cast<const char*>(numbers), count * sizeof(Number));
}

// Takes numbers from the front of the bytes, and refuses to read over their end.
class Reader {
 public:
  explicit Reader(const std::string& bytes) : bytes_(bytes) {}

  template <typename Number>
  void take(Number* numbers, std::size_t count) {
    if (count > (bytes_.size() - position_) / sizeof(Number)) refuse();
    std::memcpy(numbers, bytes_.data() + position_, count * sizeof(Number));
    position_ += count * sizeof(Number);
  }
  template <typename Number>
  Number take() {
    Number number{};
    take(&number, 1);
    return number;
  }
  bool atEnd() const { return position_ == bytes_.size(); }

  [[noreturn]] static void refuse() {
    refuseInput(kPlace, "is damaged", "Clear it, or take the start state again");
  }

 private:
  const std::string& bytes_;
  std::size_t position_ = 0;
};

const Data& dataOf(const Scene& scene) { return std::get<Data>(scene.settings().value("start_state").base); }

ParticleGroup groupFrom(Reader& reader) {
  ParticleGroup group;
  group.emitter = reader.take<std::uint32_t>();
  group.births.next = reader.take<std::uint64_t>();
  group.births.carry = reader.take<double>();
  const auto count = reader.take<std::uint64_t>();
  if (count > kMostStartParticles || !(group.births.carry >= 0 && group.births.carry < 1)) Reader::refuse();
  group.particles = ParticleStore(count);
  group.particles.resize(count);
  for (int field = 0; field < ParticleStore::kFieldCount && count > 0; ++field) {
    float* values = group.particles.field(static_cast<ParticleStore::Field>(field));
    reader.take(values, count);
    // Only lifetimes may be endless.
    for (std::size_t i = 0; i < count; ++i)
      if (std::isnan(values[i]) || (field != ParticleStore::Lifetime && std::isinf(values[i])))
        Reader::refuse();
  }
  if (count > 0) reader.take(group.particles.ids(), count);
  return group;
}

}  // namespace

bool hasStartState(const Scene& scene) { return dataOf(scene).bytes != nullptr; }

Scene withStartState(const Scene& scene, const ParticleFrame& frame) {
  std::size_t total = 0;
  for (const ParticleGroup& group : frame.groups) total += group.particles.size();
  if (total > kMostStartParticles)
    throw Error(ErrorKind::Budget, kPlace,
                fmt::format("would hold {} particles, more than {}", total, kMostStartParticles),
                "Take it at a frame with fewer");
  std::string bytes;
  put(bytes, &kMagic, 1);
  const auto groups = static_cast<std::uint32_t>(frame.groups.size());
  put(bytes, &groups, 1);
  for (const ParticleGroup& group : frame.groups) {
    const std::uint64_t count = group.particles.size();
    put(bytes, &group.emitter, 1);
    put(bytes, &group.births.next, 1);
    put(bytes, &group.births.carry, 1);
    put(bytes, &count, 1);
    for (int field = 0; field < ParticleStore::kFieldCount; ++field)
      put(bytes, group.particles.field(static_cast<ParticleStore::Field>(field)), count);
    put(bytes, group.particles.ids(), count);
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

ParticleFramePtr startStateOf(const Scene& scene) {
  const Data& data = dataOf(scene);
  if (!data.bytes) return nullptr;
  Reader reader(*data.bytes);
  if (reader.take<std::uint64_t>() != kMagic) Reader::refuse();
  auto frame = std::make_shared<ParticleFrame>();
  const auto groups = reader.take<std::uint32_t>();
  for (std::uint32_t g = 0; g < groups; ++g) frame->groups.push_back(groupFrom(reader));
  if (!reader.atEnd()) Reader::refuse();
  return frame;
}

}  // namespace comet
