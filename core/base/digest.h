// 128-bit content hashes: keys of the frame cache and fingerprints of particle states.
//
// The function is XXH3-128; equal input gives an equal digest on every machine of the same byte order.
#pragma once

#include "base/vec.h"

#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <type_traits>

namespace comet {

struct Digest {
  std::uint64_t high = 0;
  std::uint64_t low = 0;

  bool operator==(const Digest&) const = default;
  std::string hex() const;
};

class Hasher {
 public:
  Hasher();
  ~Hasher();
  Hasher(const Hasher&) = delete;
  Hasher& operator=(const Hasher&) = delete;

  void bytes(const void* data, std::size_t size);

  // Only plain numbers have one byte image.
  template <typename Number,
            typename = std::enable_if_t<std::is_arithmetic_v<Number> || std::is_enum_v<Number>>>
  Hasher& operator<<(const Number& number) {
    bytes(&number, sizeof number);
    return *this;
  }
  Hasher& operator<<(std::string_view text);
  Hasher& operator<<(const Vec3d& vector);
  Hasher& operator<<(const Digest& digest);

  Digest digest() const;

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace comet

template <>
struct std::hash<comet::Digest> {
  std::size_t operator()(const comet::Digest& digest) const noexcept { return digest.low ^ digest.high; }
};
