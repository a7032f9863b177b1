// Numbers as people type them: sums such as 2*24 or (3+4)/2, with units, variations and ranges.
#pragma once

#include "controls/number_unit.h"
#include "params/value.h"

#include <QString>
#include <optional>

namespace comet {

struct TypedNumber {
  double value = 0;
  std::optional<double> variation;  // what was typed behind "±", or half of a range
};

// As below, in any of the units; the first one is meant where none is typed. A variation may follow behind
// "±" or "+-", and "4..7" is the range from 4 to 7. A variation alone belongs to no number.
std::optional<TypedNumber> typedNumber(const QString& text, const NumberUnits& units);

// A burst as it is said: "500 over frames 1-15", "500 ± 50 over 0.4s". Frames and their count are in the
// units; without a first frame, and for what it does not say, the burst is as `before`.
std::optional<Burst> typedBurst(const QString& text, const Burst& before, const NumberUnits& moment,
                                const NumberUnits& frameCount);

// The value of the text, or nothing if it is not a sum. A comma may stand for the decimal point.
std::optional<double> numberFromText(const QString& text);

// As few digits as bring back the value as shown: 0.2, 120, -3.333.
QString textFromNumber(double value);

}  // namespace comet
