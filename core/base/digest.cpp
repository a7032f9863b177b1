#include "base/digest.h"

#include <fmt/format.h>
#include <xxhash.h>

namespace comet {

struct Hasher::State {
  struct Free {
    void operator()(XXH3_state_t* state) const { XXH3_freeState(state); }
  };
  std::unique_ptr<XXH3_state_t, Free> xxh{XXH3_createState()};
};

Hasher::Hasher() : state_(std::make_unique<State>()) { XXH3_128bits_reset(state_->xxh.get()); }
Hasher::~Hasher() = default;

void Hasher::bytes(const void* data, std::size_t size) { XXH3_128bits_update(state_->xxh.get(), data, size); }

Hasher& Hasher::operator<<(std::string_view text) {
  *this << text.size();
  bytes(text.data(), text.size());
  return *this;
}

Hasher& Hasher::operator<<(const Vec3d& vector) { return *this << vector.x << vector.y << vector.z; }

Hasher& Hasher::operator<<(const Digest& digest) { return *this << digest.high << digest.low; }

Digest Hasher::digest() const {
  const XXH128_hash_t hash = XXH3_128bits_digest(state_->xxh.get());
  return {hash.high64, hash.low64};
}

std::string Digest::hex() const { return fmt::format("{:016x}{:016x}", high, low); }

}  // namespace comet
