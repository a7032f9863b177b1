#include "cache/frame_store.h"

#include "base/error.h"
#include "base/file.h"
#include "particles/particle_bytes.h"
#include "scene/scene.h"

#include <algorithm>
#include <system_error>
#include <vector>

namespace comet {
namespace {

namespace fs = std::filesystem;

// In front of each file: what this is and in which form.
constexpr std::uint64_t kMagic = 0x37304D5246544D43ULL;  // "CMTFRM07"
constexpr const char* kExtension = ".frame";
constexpr std::uint64_t kMaxParticles = 50000000;
constexpr std::size_t kLargestFile = std::size_t{4} << 30;

Digest digestOf(std::string_view bytes) {
  Hasher hasher;
  hasher.bytes(bytes.data(), bytes.size());
  return hasher.digest();
}

std::string bytesOf(const SceneFrame& frame) {
  std::string bytes;
  bytes.reserve(frame.bytes() + 1024);
  putNumber(bytes, frame.report->stats);
  putNumber(bytes, static_cast<std::uint32_t>(frame.report->deflections.size()));
  for (const DeflectionStats& stats : frame.report->deflections) {
    putNumber(bytes, stats.deflector);
    putNumber(bytes, stats.hits);
    putNumber(bytes, stats.caught);
  }
  putNumber(bytes, static_cast<std::uint32_t>(frame.report->contacts.size()));
  putNumbers(bytes, frame.report->contacts.data(), frame.report->contacts.size());
  putNumber(bytes, static_cast<std::uint32_t>(frame.report->hits.size()));
  for (const SurfaceHit& hit : frame.report->hits) {
    putNumber(bytes, hit.time);
    putNumber(bytes, hit.particle);
    putNumber(bytes, hit.deflector);
    putNumber(bytes, hit.speed);
    putNumbers(bytes, &hit.position.x, 3);
    putNumbers(bytes, &hit.normal.x, 3);
  }
  putNumber(bytes, static_cast<std::uint32_t>(frame.report->rules.size()));
  for (const RuleStats& stats : frame.report->rules) {
    putNumber(bytes, stats.emitter);
    putNumber(bytes, stats.rule);
    putNumber(bytes, stats.fired);
  }
  putNumber(bytes, static_cast<std::uint32_t>(frame.report->gases.size()));
  putNumbers(bytes, frame.report->gases.data(), frame.report->gases.size());
  putNumber(bytes, static_cast<std::uint32_t>(frame.particles->groups.size()));
  for (const ParticleGroup& group : frame.particles->groups) {
    putGroup(bytes, group);
    const std::vector<Vec3>& displacement = group.particles.displacement();
    putNumber(bytes, static_cast<std::uint64_t>(displacement.size()));
    if (!displacement.empty()) putNumbers(bytes, &displacement.front().x, 3 * displacement.size());
  }
  putNumber(bytes, static_cast<std::uint32_t>(frame.gases->gases.size()));
  for (const HeldGas& held : frame.gases->gases) {
    putNumber(bytes, held.gas);
    held.content->put(bytes);
  }
  return bytes;
}

SceneFramePtr frameFrom(std::string_view bytes, int number) {
  ParticleState state;
  StepReport report;
  ByteReader reader(bytes);
  report.stats = reader.take<FrameStats>();
  const auto deflections = reader.take<std::uint32_t>();
  for (std::uint32_t i = 0; i < deflections; ++i) {
    const auto deflector = reader.take<std::uint32_t>();
    const auto hits = reader.take<std::uint64_t>();
    report.deflections.push_back({deflector, hits, reader.take<std::uint64_t>()});
  }
  const auto contacts = reader.take<std::uint32_t>();
  for (std::uint32_t i = 0; i < contacts; ++i) report.contacts.push_back(reader.take<ContactStats>());
  const auto hits = reader.take<std::uint32_t>();
  for (std::uint32_t i = 0; i < hits; ++i) {
    SurfaceHit hit;
    hit.time = reader.take<double>();
    hit.particle = reader.take<ParticleId>();
    hit.deflector = reader.take<std::uint32_t>();
    hit.speed = reader.take<float>();
    reader.take(&hit.position.x, 3);
    reader.take(&hit.normal.x, 3);
    report.hits.push_back(hit);
  }
  const auto rules = reader.take<std::uint32_t>();
  for (std::uint32_t i = 0; i < rules; ++i) {
    const auto emitter = reader.take<std::uint32_t>(), rule = reader.take<std::uint32_t>();
    report.rules.push_back({emitter, rule, reader.take<std::uint64_t>()});
  }
  const auto gasStats = reader.take<std::uint32_t>();
  for (std::uint32_t i = 0; i < gasStats; ++i) report.gases.push_back(reader.take<GasStats>());
  const auto groups = reader.take<std::uint32_t>();
  for (std::uint32_t i = 0; i < groups; ++i) {
    ParticleGroup group = takeGroup(reader, kMaxParticles);
    const auto count = reader.take<std::uint64_t>();
    if (count != 0 && count != group.particles.size()) throw DamagedBytes();
    std::vector<Vec3> displacement(count);
    if (count > 0) reader.take(&displacement.front().x, 3 * count);
    group.particles.setDisplacement(std::move(displacement));
    state.groups.push_back(std::move(group));
  }
  GasesState gases;
  const auto heldGases = reader.take<std::uint32_t>();
  for (std::uint32_t i = 0; i < heldGases; ++i) {
    const auto gas = reader.take<std::uint32_t>();
    gases.gases.push_back({gas, std::make_shared<const PackedGas>(PackedGas::take(reader))});
  }
  if (reader.left() != 0) throw DamagedBytes();
  return std::make_shared<const SceneFrame>(
      SceneFrame{number, std::make_shared<const ParticleState>(std::move(state)),
                 std::make_shared<const StepReport>(std::move(report)),
                 std::make_shared<const GasesState>(std::move(gases))});
}

// The frame in a file's content, if it is the one of this key and whole.
SceneFramePtr believed(const std::string& content, const Digest& key, int number) {
  try {
    ByteReader reader(content);
    if (reader.take<std::uint64_t>() != kMagic || reader.take<Digest>() != key) return nullptr;
    const auto digest = reader.take<Digest>();
    return digestOf(reader.rest()) == digest ? frameFrom(reader.rest(), number) : nullptr;
  } catch (const DamagedBytes&) {
    return nullptr;
  }
}

}  // namespace

fs::path FrameStore::fileOf(const Digest& key) const { return folder_ / (key.hex() + kExtension); }

bool FrameStore::contains(const Digest& key) const {
  std::error_code ignored;
  return fs::exists(fileOf(key), ignored);
}

SceneFramePtr FrameStore::read(const Digest& key, int number) const {
  if (!contains(key)) return nullptr;
  const fs::path file = fileOf(key);
  std::error_code ignored;
  try {
    if (SceneFramePtr frame = believed(readFile(file, kLargestFile), key, number)) {
      // Its age counts from its last use.
      fs::last_write_time(file, fs::file_time_type::clock::now(), ignored);
      return frame;
    }
    fs::remove(file, ignored);
  } catch (const Error&) {
    // Cannot be read now; perhaps later.
  }
  return nullptr;
}

void FrameStore::write(const Digest& key, const SceneFrame& frame) const {
  makeFolder(folder_);
  const std::string bytes = bytesOf(frame);
  std::string content;
  content.reserve(bytes.size() + sizeof kMagic + 2 * sizeof(Digest));
  putNumber(content, kMagic);
  putNumber(content, key);
  putNumber(content, digestOf(bytes));
  content += bytes;
  writeFileAtomically(fileOf(key), content);
}

void FrameStore::cleanUp(std::uintmax_t maxBytes, std::chrono::hours longestUnused) const {
  struct Kept {
    fs::path file;
    fs::file_time_type used;
    std::uintmax_t bytes = 0;
  };
  std::vector<Kept> kept;
  std::error_code problem;
  const auto now = fs::file_time_type::clock::now();
  for (const fs::directory_entry& entry : fs::directory_iterator(folder_, problem)) {
    if (entry.path().extension() != kExtension) continue;
    Kept file{entry.path(), entry.last_write_time(problem), entry.file_size(problem)};
    if (now - file.used > longestUnused)
      fs::remove(file.file, problem);
    else
      kept.push_back(std::move(file));
  }
  std::sort(kept.begin(), kept.end(), [](const Kept& a, const Kept& b) { return a.used > b.used; });
  std::uintmax_t bytes = 0;
  for (const Kept& file : kept)
    if ((bytes += file.bytes) > maxBytes) fs::remove(file.file, problem);
}

void cleanUp(const FrameStore& store, const Scene& scene) {
  const Item& settings = scene.settings();
  store.cleanUp(static_cast<std::uintmax_t>(settings.number("disk_cache_size", 0)) << 20,
                std::chrono::hours(24 * settings.integer("disk_cache_days", 0)));
}

std::shared_ptr<const FrameStore> frameStoreOf(const Scene& scene, const fs::path& sceneFile) {
  if (sceneFile.empty() || !scene.settings().flag("disk_cache")) return nullptr;
  return std::make_shared<const FrameStore>(sceneFile.string() + ".frames");
}

}  // namespace comet
