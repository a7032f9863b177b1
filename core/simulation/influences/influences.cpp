#include "simulation/influences/influences.h"

#include "simulation/cards/card_rule.h"
#include "simulation/influences/reach.h"
#include "simulation/influences/window.h"

#include <iterator>
#include <stdexcept>

namespace comet {

std::vector<ParamSpec> influenceParams(std::vector<ParamSpec> own) {
  for (std::vector<ParamSpec>& shared : std::vector<std::vector<ParamSpec>>{reachParams(), windowParams()})
    own.insert(own.end(), std::make_move_iterator(shared.begin()), std::make_move_iterator(shared.end()));
  return own;
}

const std::vector<InfluenceKind>& influenceKinds() {
  // By their groups.
  static const std::vector<InfluenceKind> kinds{
      gravityInfluence(),   forceInfluence(),   attractorInfluence(),  bendInfluence(),
      kicksInfluence(),     spinInfluence(),    windInfluence(),       dragInfluence(),
      vortexInfluence(),    gasFlowInfluence(), turbulenceInfluence(), fieldInfluence(),
      pathInfluence(),      flockInfluence(),   arriveInfluence(),     speedLimitInfluence(),
      enclosureInfluence(), contactInfluence(), deflectorInfluence(),
  };
  return kinds;
}

const InfluenceKind& influenceKindOf(const KindSpec& wanted) {
  for (const InfluenceKind& kind : influenceKinds())
    if (&kind.spec == &wanted) return kind;
  throw std::logic_error(wanted.id() + " is not an influence");
}

const InfluenceKind& influenceKindOf(const Item& item) { return influenceKindOf(*item.kind); }

bool canActOn(const Item& responder, const KindSpec& influence) {
  const InfluenceKind& kind = influenceKindOf(influence);
  if (responder.kind->family() != ItemFamily::Emitter) return kind.movesGas;
  return kind.movesCards || !showsCards(responder);
}

PlacedWire axisLines(const Vec3d& place, const Vec3d& axis, double radius) {
  const double half = 2 * std::max(0.5, radius);
  return {{{{0, -half, 0}, {0, half, 0}}, circleLine(radius, 0, 2)},
          {place, turnedTo(unitOr(axis, Vec3d(0, 1, 0)))}};
}

}  // namespace comet
