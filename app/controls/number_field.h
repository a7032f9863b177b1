// The one field for numbers: drag to scrub (Shift finer, Ctrl coarser), double-click or Enter to type a sum,
// wheel and arrow keys to step. Shows its unit; a prefix such as "±" or "x" tells fields in a row apart.
#pragma once

#include "controls/number_unit.h"

#include <QStringList>
#include <QWidget>
#include <functional>

class QLineEdit;

namespace comet {

class FormulaCompleter;

class NumberField : public QWidget {
  Q_OBJECT

 public:
  explicit NumberField(QWidget* parent = nullptr);

  void setRange(double min, double max);
  // What a drag across a few hundred pixels covers; also where the bar behind the number is empty and full.
  void setUsualRange(double min, double max);
  void setUnit(const QString& unit) { setUnits(plainUnit(unit)); }
  // The units in which it is shown, the first, and typed.
  void setUnits(const NumberUnits& units);
  void setPrefix(const QString& prefix);
  void setWhole(bool whole) { whole_ = whole; }
  void setShowsBar(bool shows) { showsBar_ = shows; }
  // Lets the user type a variation behind the number, as in "4 ± 1.5".
  void setTakesVariation(bool takes) { takesVariation_ = takes; }
  // Lets the user type a formula, which begins with "=", and completes `names` in it.
  void setTakesFormula(const QStringList& names);
  // Asked before what is typed is read as a number; true if it was something else that is taken care of.
  void setOtherReader(std::function<bool(const QString& text)> reader) { otherReader_ = std::move(reader); }
  // Shows that the number comes from a formula, which a double-click edits; empty for none.
  void setFormula(const QString& formula);
  // Opens the typed formula again and says what is wrong with it at a character.
  void refuseFormula(const QString& formula, int position, const QString& problem);

  double value() const { return value_; }
  // Shows another value; does not report it.
  void setValue(double value);

  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

 Q_SIGNALS:
  // The user changed the value; comes for each step of a drag.
  void edited(double value);
  // A formula was typed, without its "="; empty if it was taken away.
  void formulaTyped(const QString& formula);
  // A number and what follows its "±" were typed at once.
  void variationTyped(double variation);
  // The user begins to drag or to type.
  void begun();
  // A drag, a typed number or a step is complete.
  void finished();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  double step(Qt::KeyboardModifiers modifiers) const;
  void offer(double value);
  // In the unit that is shown.
  QString numberText() const;
  // What the user begins to edit.
  QString typedText() const;
  enum class Caret { AtEnd, AllSelected };
  void startTyping(const QString& text, Caret caret);
  // Ends by Enter, by Escape, or because the keyboard went elsewhere.
  enum class End { Accept, Discard, FocusLost };
  void finishTyping(End end);
  // False if the text says nothing that the field understands.
  bool take(const QString& text);
  void refuse(const QString& text, End end);

  double value_ = 0;
  double min_ = -1e9, max_ = 1e9;
  double usualMin_ = 0, usualMax_ = 100;
  bool whole_ = false;
  bool showsBar_ = true;
  NumberUnits units_ = plainUnit({});
  std::function<bool(const QString&)> otherReader_;
  QString prefix_;
  bool takesFormula_ = false;
  FormulaCompleter* completer_ = nullptr;
  QString formula_;
  QLineEdit* editor_;
  bool typing_ = false;
  bool takesVariation_ = false;
  bool isRefused_ = false;  // what was typed last was not understood
  bool pressed_ = false;
  bool scrubbed_ = false;
  QPoint lastPosition_;
  double scrubValue_ = 0;
};

}  // namespace comet
