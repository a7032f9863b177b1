// The table of all kinds of influence.
#pragma once

#include "simulation/influences/influence.h"

#include <vector>

namespace comet {

const std::vector<InfluenceKind>& influenceKinds();

// The kind of an influence item; an item of another family is a fault of ours (std::logic_error).
const InfluenceKind& influenceKindOf(const Item& item);
const InfluenceKind& influenceKindOf(const KindSpec& kind);

// Whether an influence can do anything to an emitter's particles, or to a gas.
bool canActOn(const Item& responder, const KindSpec& influence);

InfluenceKind gravityInfluence();
InfluenceKind forceInfluence();
InfluenceKind windInfluence();
InfluenceKind dragInfluence();
InfluenceKind turbulenceInfluence();
InfluenceKind vortexInfluence();
InfluenceKind gasFlowInfluence();
InfluenceKind attractorInfluence();
InfluenceKind bendInfluence();
InfluenceKind speedLimitInfluence();
InfluenceKind kicksInfluence();
InfluenceKind spinInfluence();
InfluenceKind flockInfluence();
InfluenceKind arriveInfluence();
InfluenceKind enclosureInfluence();
InfluenceKind contactInfluence();
InfluenceKind deflectorInfluence();
InfluenceKind fieldInfluence();
InfluenceKind pathInfluence();

}  // namespace comet
