// A parameter's reference to another item of the scene.
#pragma once

#include <cstdint>
#include <string>

namespace comet {

// What a reference may name.
enum class RefersTo {
  Source,   // the emitter whose particles give births to the item's own; leads round no circle
  Emitter,  // any emitter
  Placed,   // any item that has a place
  Gas,      // any gas
};

// Files say the name; the scene keeps name and id in step, over renaming and removing.
struct ItemRef {
  std::string name;      // empty for none
  std::uint32_t id = 0;  // 0 as long as no item bears the name

  bool operator==(const ItemRef& other) const { return name == other.name; }
};

}  // namespace comet
