// Several values of a number, or of two, side by side: the same frame of each, moving together when played.
// A click takes one over.
#pragma once

#include "controls/number_unit.h"
#include "scene/sweep.h"
#include "session/background_run.h"
#include "session/document.h"
#include "viewport/sweep_run.h"

#include <QTimer>
#include <QWidget>
#include <optional>
#include <vector>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace comet {

class NumberField;

class SweepView : public QWidget {
  Q_OBJECT

 public:
  SweepView(Document& document, BackgroundRun& run, QWidget* parent = nullptr);

  // Shows values of a number; while one is shown already, of both.
  void begin(ItemId item, const QString& param, const ViewCamera& camera);
  bool isShown() const { return !axes_.empty(); }
  void end();

  // For tests: where a variant lies, in the coordinates of this widget.
  QRect tileOf(std::size_t variant) const;
  std::size_t variants() const { return sweep_ ? sweep_->size() : 0; }
  // The frame whose pictures are seen.
  int shownFrame() const { return shownFrame_; }
  const SweepRun& run() const { return run_; }

 Q_SIGNALS:
  // It has something to show, or no more.
  void shownChanged(bool shown);
  // The values are to become variants in a sheet.
  void bakeWanted(const comet::SweepAxis& axis);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;

 private:
  // A number and how its values are told.
  struct Axis {
    ItemId item = 0;
    std::string param;
    QWidget* row = nullptr;
    NumberField *from = nullptr, *to = nullptr, *count = nullptr;
    QLabel* list = nullptr;
    NumberUnits units{};          // that numbers are typed in
    std::vector<double> typed{};  // in place of the fields; empty for none
  };

  Axis newAxis(ItemId item, const std::string& param);
  void addRow(Axis& axis, const ParamSpec& spec);
  Axis& axisOf(const QWidget* row);
  bool takeTyped(const QWidget* row, const QString& text);
  void remove(QWidget* row);
  // Makes the sweep of what the document and the fields hold now.
  void restart();
  // Whether an item whose number is tried is not there any more.
  bool isAnyGone() const;
  std::optional<Sweep> sweepNow() const;
  void showProgress();
  void take(std::size_t variant);
  QRect area() const;
  // Tiles across and down.
  QSize grid() const;
  std::optional<std::size_t> tileAt(const QPoint& position) const;

  Document& document_;
  SweepRun run_;
  QWidget* head_;
  QVBoxLayout* rows_;
  QLabel* progress_;
  QPushButton* bake_;
  QTimer hand_;  // until it counts as resting
  ViewCamera camera_;
  std::vector<Axis> axes_;
  std::optional<Sweep> sweep_;
  std::optional<std::size_t> now_;  // the variant that the scene is
  QString problem_;
  int shownFrame_ = 0;
  std::optional<std::size_t> marked_;  // below the pointer, or chosen by keys
};

}  // namespace comet
