#include "simulation/influences/influences.h"

#include <stdexcept>

namespace comet {

const std::vector<InfluenceKind>& influenceKinds() {
  static const std::vector<InfluenceKind> kinds{
      gravityInfluence(),
      windInfluence(),
      dragInfluence(),
      turbulenceInfluence(),
  };
  return kinds;
}

const InfluenceKind& influenceKindOf(const Item& item) {
  for (const InfluenceKind& kind : influenceKinds())
    if (&kind.spec == item.kind) return kind;
  throw std::logic_error(item.name + " is not an influence");
}

}  // namespace comet
