#include "controls/typed_number.h"

#include <cmath>
#include <muParser.h>

namespace comet {

std::optional<TypedNumber> typedNumber(const QString& text, const QString& unit) {
  QString plain = text;
  const QStringList parts = plain.replace("+-", "±").split(QChar(u'±'));
  if (parts.size() > 2) return std::nullopt;
  const auto read = [&unit](const QString& part) {
    QString number = part.trimmed();
    if (!unit.isEmpty() && number.endsWith(unit)) number.chop(unit.size());
    return numberFromText(number);
  };
  const auto value = read(parts.front());
  if (!value) return std::nullopt;
  if (parts.size() == 1) return TypedNumber{*value, std::nullopt};
  const auto variation = read(parts.back());
  if (!variation || *variation < 0) return std::nullopt;
  return TypedNumber{*value, variation};
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
