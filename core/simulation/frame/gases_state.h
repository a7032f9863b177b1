// All gases of a scene at one moment.
//
// Finished when it is made; share it between threads freely. It does not know which frame it belongs to.
#pragma once

#include "gas/packed_gas.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace comet {

struct HeldGas {
  std::uint32_t gas = 0;                     // its item id
  std::shared_ptr<const PackedGas> content;  // never null
};

struct GasesState {
  std::vector<HeldGas> gases;  // in the scene's order

  // Null if the gas is not here.
  std::shared_ptr<const PackedGas> find(std::uint32_t gas) const {
    for (const HeldGas& held : gases)
      if (held.gas == gas) return held.content;
    return nullptr;
  }
  std::size_t bytes() const {
    std::size_t sum = sizeof *this;
    for (const HeldGas& held : gases) sum += sizeof held + held.content->bytes();
    return sum;
  }
  // A fingerprint: equal for equal gases, whatever led to them.
  Digest digest() const {
    Hasher hasher;
    for (const HeldGas& held : gases) {
      hasher << held.gas;
      held.content->describe(hasher);
    }
    return hasher.digest();
  }
};

using GasesStatePtr = std::shared_ptr<const GasesState>;

}  // namespace comet
