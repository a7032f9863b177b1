#include "controls/number_field.h"

#include "controls/formula_completer.h"
#include "controls/typed_number.h"
#include "theme/theme.h"

#include <QAbstractItemView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// A drag of as many pixels goes through the usual range once.
constexpr double kScrubPixels = 250;
constexpr int kDragThreshold = 3;

}  // namespace

NumberField::NumberField(QWidget* parent) : QWidget(parent), editor_(new QLineEdit(this)) {
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::SizeHorCursor);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  editor_->hide();
  editor_->installEventFilter(this);
  connect(editor_, &QLineEdit::editingFinished, this, [this] {
    // The list of names takes the focus for a while, but typing goes on.
    if (!completer_ || !completer_->popup()->isVisible()) finishTyping(End::FocusLost);
  });
}

void NumberField::setRange(double min, double max) {
  min_ = min;
  max_ = max;
}

void NumberField::setUsualRange(double min, double max) {
  usualMin_ = min;
  usualMax_ = max;
  update();
}

void NumberField::setUnits(const NumberUnits& units) {
  if (units == units_) return;
  units_ = units;
  update();
}

void NumberField::setPrefix(const QString& prefix) {
  prefix_ = prefix;
  update();
}

void NumberField::setTakesFormula(const QStringList& names) {
  takesFormula_ = true;
  completer_ = new FormulaCompleter(names, editor_);
  connect(editor_, &QLineEdit::textEdited, completer_, &FormulaCompleter::offer);
}

void NumberField::setFormula(const QString& formula) {
  if (formula == formula_) return;
  formula_ = formula;
  setToolTip(formula.isEmpty() ? QString() : "= " + formula);
  setCursor(formula.isEmpty() ? Qt::SizeHorCursor : Qt::IBeamCursor);
  update();
}

void NumberField::refuseFormula(const QString& formula, int position, const QString& problem) {
  startTyping("= " + formula, Caret::AtEnd);
  editor_->setCursorPosition(position + 2);
  QToolTip::showText(editor_->mapToGlobal(QPoint(0, editor_->height())),
                     tr("At character %1: %2").arg(position + 1).arg(problem), editor_);
}

void NumberField::setValue(double value) {
  if (value == value_) return;
  value_ = value;
  update();
}

QSize NumberField::sizeHint() const { return {110, theme::kRowHeight}; }
QSize NumberField::minimumSizeHint() const { return {44, theme::kRowHeight}; }

void NumberField::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
  painter.setPen(isRefused_ ? theme::kTrouble : hasFocus() || underMouse() ? theme::kAccent : theme::kLine);
  painter.setBrush(theme::kField);
  painter.drawRoundedRect(box, theme::kRadius, theme::kRadius);
  if (showsBar_) {
    const auto fractionOf = [this](double value) {
      return std::clamp((value - usualMin_) / std::max(1e-12, usualMax_ - usualMin_), 0.0, 1.0);
    };
    // From zero, so that a field of both signs is empty at zero.
    const double from = fractionOf(0), to = fractionOf(value_);
    painter.fillRect(QRectF(box.left() + 2 + std::min(from, to) * (box.width() - 4), box.bottom() - 2.5,
                            std::abs(to - from) * (box.width() - 4), 2),
                     theme::withAlpha(theme::kAccent, 150));
  }
  const QRect inner = rect().adjusted(6, 0, -6, 0);
  if (!formula_.isEmpty()) {
    painter.setPen(theme::kAccent);
    painter.drawText(
        inner, Qt::AlignLeft | Qt::AlignVCenter,
        painter.fontMetrics().elidedText("= " + formula_, Qt::ElideRight, inner.width() * 2 / 3));
  }
  painter.setPen(theme::kQuietText);
  if (!prefix_.isEmpty()) painter.drawText(inner, Qt::AlignLeft | Qt::AlignVCenter, prefix_);
  const QString number = numberText(), unit = units_.front().shown;
  const int left = prefix_.isEmpty() ? 0 : painter.fontMetrics().horizontalAdvance(prefix_) + 4;
  const int room = inner.width() - left;
  const int numberWidth = painter.fontMetrics().horizontalAdvance(number);
  const int unitWidth = unit.isEmpty() ? 0 : painter.fontMetrics().horizontalAdvance(unit) + 4;
  // The number matters more than its unit where there is room for one of them only.
  const bool showsUnit = unitWidth > 0 && numberWidth + unitWidth <= room;
  if (showsUnit) painter.drawText(inner, Qt::AlignRight | Qt::AlignVCenter, unit);
  painter.setPen(theme::kText);
  painter.drawText(inner.adjusted(left, 0, showsUnit ? -unitWidth : 0, 0), Qt::AlignRight | Qt::AlignVCenter,
                   number);
}

double NumberField::step(Qt::KeyboardModifiers modifiers) const {
  double step = (usualMax_ - usualMin_) / kScrubPixels;
  if (modifiers.testFlag(Qt::ShiftModifier)) step /= 10;
  if (modifiers.testFlag(Qt::ControlModifier)) step *= 10;
  return step;
}

void NumberField::offer(double value) {
  if (whole_) value = std::round(value);
  value = std::clamp(value, min_, max_);
  isRefused_ = false;
  update();
  if (value == value_) return;
  value_ = value;
  Q_EMIT edited(value_);
}

void NumberField::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  pressed_ = formula_.isEmpty();
  scrubbed_ = false;
  lastPosition_ = event->pos();
  scrubValue_ = value_;
}

void NumberField::mouseMoveEvent(QMouseEvent* event) {
  if (!pressed_) return;
  const int moved = event->pos().x() - lastPosition_.x();
  if (!scrubbed_ && std::abs(moved) < kDragThreshold) return;
  if (!scrubbed_) Q_EMIT begun();
  scrubbed_ = true;
  lastPosition_ = event->pos();
  // Kept apart from the value, which rounding and limits change.
  scrubValue_ = std::clamp(scrubValue_ + moved * step(event->modifiers()), min_, max_);
  const double digits = std::pow(10.0, std::max(0.0, 2 - std::floor(std::log10(usualMax_ - usualMin_)) + 1));
  offer(std::round(scrubValue_ * digits) / digits);
}

void NumberField::mouseReleaseEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton || !pressed_) return;
  pressed_ = false;
  if (scrubbed_) Q_EMIT finished();
}

void NumberField::mouseDoubleClickEvent(QMouseEvent*) { startTyping(typedText(), Caret::AllSelected); }

QString NumberField::numberText() const { return textFromNumber(units_.front().shownFrom(value_)); }

QString NumberField::typedText() const { return formula_.isEmpty() ? numberText() : "= " + formula_; }

void NumberField::wheelEvent(QWheelEvent* event) {
  // Without focus the wheel scrolls the panel that the field is in.
  if (!hasFocus() || !formula_.isEmpty()) return event->ignore();
  offer(value_ +
        (event->angleDelta().y() > 0 ? 1 : -1) * std::max(whole_ ? 1.0 : 0.0, step(event->modifiers())));
  Q_EMIT finished();
}

void NumberField::keyPressEvent(QKeyEvent* event) {
  const double size = formula_.isEmpty() ? std::max(whole_ ? 1.0 : 0.0, step(event->modifiers())) : 0.0;
  switch (event->key()) {
    case Qt::Key_Up:
      offer(value_ + size);
      return Q_EMIT finished();
    case Qt::Key_Down:
      offer(value_ - size);
      return Q_EMIT finished();
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return startTyping(typedText(), Caret::AllSelected);
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return startTyping({}, Caret::AtEnd);
    default:
      break;
  }
  const QString text = event->text();
  if (text.size() == 1 && (text[0].isDigit() || QString(takesFormula_ ? "-.,(=" : "-.,(").contains(text[0])))
    return startTyping(text, Caret::AtEnd);
  QWidget::keyPressEvent(event);
}

void NumberField::startTyping(const QString& text, Caret caret) {
  Q_EMIT begun();
  typing_ = true;
  editor_->setText(text);
  editor_->setGeometry(rect());
  editor_->show();
  editor_->setFocus();
  if (caret == Caret::AllSelected && !text.startsWith('=')) editor_->selectAll();
}

bool NumberField::eventFilter(QObject* watched, QEvent* event) {
  if (watched != editor_ || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  // Taken here: the editor would pass the key on to the field, which would begin to type again.
  const int key = static_cast<QKeyEvent*>(event)->key();
  const bool accepts = key == Qt::Key_Return || key == Qt::Key_Enter;
  if (!accepts && key != Qt::Key_Escape) return false;
  finishTyping(accepts ? End::Accept : End::Discard);
  return true;
}

void NumberField::finishTyping(End end) {
  if (!typing_) return;
  typing_ = false;
  const QString text = editor_->text().trimmed();
  isRefused_ = false;
  editor_->hide();
  // A click elsewhere has chosen who gets the keyboard.
  if (end != End::FocusLost) setFocus();
  update();
  if (end == End::Discard || text.isEmpty() || take(text)) return;
  refuse(text, end);
}

bool NumberField::take(const QString& text) {
  if (takesFormula_ && text.startsWith('=')) {
    Q_EMIT formulaTyped(text.mid(1).trimmed());
    return true;
  }
  if (otherReader_ && otherReader_(text)) return true;
  const auto typed = typedNumber(text, units_);
  if (!typed || (typed->variation && !takesVariation_)) return false;
  if (!formula_.isEmpty()) Q_EMIT formulaTyped({});
  offer(typed->value);
  if (typed->variation) Q_EMIT variationTyped(*typed->variation);
  Q_EMIT finished();
  return true;
}

// Typed text never vanishes without a word: it stays open to be put right, or the field keeps its mark.
void NumberField::refuse(const QString& text, End end) {
  QStringList examples{"12", "2*24"};
  if (takesVariation_)
    examples << "4 ± 1.5"
             << "4..7";
  if (units_.size() > 1)
    examples << "12f"
             << "0.5s";
  const QString last = examples.takeLast();
  QString message = tr("“%1” is not a number. Type a number or a sum, such as %2 or %3.")
                        .arg(text.left(40), examples.join(", "), last);
  if (end == End::FocusLost) message += " " + tr("%1 was kept.").arg(numberText());
  if (end == End::Accept) startTyping(text, Caret::AllSelected);
  isRefused_ = true;
  constexpr int kReadMilliseconds = 8000;
  QToolTip::showText(mapToGlobal(QPoint(0, height())), message, this, {}, kReadMilliseconds);
  update();
}

void NumberField::focusInEvent(QFocusEvent*) { update(); }
void NumberField::focusOutEvent(QFocusEvent*) { update(); }
void NumberField::resizeEvent(QResizeEvent*) { editor_->setGeometry(rect()); }

}  // namespace comet
