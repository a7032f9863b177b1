#include "controls/typed_number.h"

#include <QRegularExpression>
#include <cmath>
#include <muParser.h>

namespace comet {
namespace {

// One number of what was typed, in the unit that was typed behind it.
struct Part {
  std::optional<double> number;
  const NumberUnit* unit = nullptr;
};

Part partOf(const QString& text, const NumberUnits& units) {
  const QString number = text.trimmed();
  for (const NumberUnit& unit : units)
    for (const QString& name : unit.spelled)
      if (number.endsWith(name, Qt::CaseInsensitive))
        if (const auto read = numberFromText(number.chopped(name.size()))) return {read, &unit};
  return {numberFromText(number), nullptr};
}

}  // namespace

std::optional<TypedNumber> typedNumber(const QString& text, const NumberUnits& units) {
  QString plain = text;
  plain.replace("+-", "±");
  const bool isRange = plain.contains("..");
  const QStringList parts = isRange ? plain.split("..") : plain.split(QChar(u'±'));
  if (parts.size() > 2 || (isRange && parts.size() != 2)) return std::nullopt;
  const Part first = partOf(parts.front(), units), last = partOf(parts.back(), units);
  if (!first.number || !last.number) return std::nullopt;
  // "4 ± 1.5s" is in seconds altogether.
  const NumberUnit& firstUnit = first.unit ? *first.unit : last.unit ? *last.unit : units.front();
  const NumberUnit& lastUnit = last.unit ? *last.unit : firstUnit;
  const double value = firstUnit.storedFrom(*first.number);
  if (parts.size() == 1) return TypedNumber{value, std::nullopt};
  if (isRange) {
    const double end = lastUnit.storedFrom(*last.number);
    if (end < value) return std::nullopt;
    return TypedNumber{0.5 * (value + end), 0.5 * (end - value)};
  }
  const double variation = lastUnit.scale * *last.number;
  if (variation < 0) return std::nullopt;
  return TypedNumber{value, variation};
}

std::optional<Burst> typedBurst(const QString& text, const Burst& before, const NumberUnits& moment,
                                const NumberUnits& frameCount) {
  static const QRegularExpression over(R"(^(.+?)\s+over\s+(?:frames?\s+)?(.+)$)",
                                       QRegularExpression::CaseInsensitiveOption);
  static const QRegularExpression range(R"(^(.*[0-9a-z])\s*(?:\.\.|–|-|\bto\b)\s*([0-9].*)$)",
                                        QRegularExpression::CaseInsensitiveOption);
  const auto said = over.match(text.trimmed());
  if (!said.hasMatch()) return std::nullopt;
  const auto count = typedNumber(said.captured(1), plainUnit({}));
  if (!count) return std::nullopt;
  Burst burst = before;
  burst.count = count->value;
  if (count->variation) burst.variation = *count->variation;
  if (const auto ends = range.match(said.captured(2)); ends.hasMatch()) {
    const auto from = typedNumber(ends.captured(1), moment), until = typedNumber(ends.captured(2), moment);
    if (!from || !until || from->variation || until->variation || until->value < from->value)
      return std::nullopt;
    burst.frame = from->value;
    burst.duration = until->value - from->value;
    return burst;
  }
  const auto length = typedNumber(said.captured(2), frameCount);
  if (!length || length->variation || length->value < 0) return std::nullopt;
  burst.duration = length->value;
  return burst;
}

std::optional<double> numberFromText(const QString& text) {
  try {
    mu::Parser parser;
    QString plain = text.trimmed();
    parser.SetExpr(plain.replace(',', '.').toStdString());
    const double value = parser.Eval();
    return std::isfinite(value) ? std::optional(value) : std::nullopt;
  } catch (const mu::Parser::exception_type&) {
    return std::nullopt;
  }
}

QString textFromNumber(double value) {
  // Small leftovers of scrubbing are not worth reading.
  const int decimals = std::abs(value) >= 1000 ? 1 : std::abs(value) >= 10 ? 2 : 4;
  QString text = QString::number(value, 'f', decimals);
  if (text.contains('.')) {
    while (text.endsWith('0')) text.chop(1);
    if (text.endsWith('.')) text.chop(1);
  }
  return text == "-0" ? QString("0") : text;
}

}  // namespace comet
