// Numbers as people type them: sums such as 2*24 or (3+4)/2.
#pragma once

#include <QString>
#include <optional>

namespace comet {

struct TypedNumber {
  double value = 0;
  std::optional<double> variation;  // what was typed behind "±"
};

// As below; the unit may stand behind the number, and a variation behind "±" or "+-". A variation alone
// belongs to no number.
std::optional<TypedNumber> typedNumber(const QString& text, const QString& unit);

// The value of the text, or nothing if it is not a sum. A comma may stand for the decimal point.
std::optional<double> numberFromText(const QString& text);

// As few digits as bring back the value as shown: 0.2, 120, -3.333.
QString textFromNumber(double value);

}  // namespace comet
