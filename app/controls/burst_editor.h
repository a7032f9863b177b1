// The list of an emitter's bursts.
#pragma once

#include "controls/number_unit.h"
#include "params/value.h"

#include <QWidget>

class QVBoxLayout;

namespace comet {

class NumberField;

class BurstEditor : public QWidget {
  Q_OBJECT

 public:
  explicit BurstEditor(QWidget* parent = nullptr);

  // In which moments and numbers of frames are shown and typed; set first.
  void setUnits(const NumberUnits& moment, const NumberUnits& frameCount);
  void setBursts(const BurstList& bursts);

 Q_SIGNALS:
  void edited(const BurstList& bursts);
  void finished();

 private:
  void rebuild();
  void addRow(std::size_t index);
  NumberField* addField(std::size_t index, std::size_t field);
  // What is said behind a count, as in "500 over frames 1-15".
  bool takeSaid(std::size_t index, const QString& text);
  void offer();
  void showValues();

  BurstList bursts_;
  NumberUnits moment_ = plainUnit({}), frameCount_ = plainUnit({});
  QVBoxLayout* rows_;
  std::vector<NumberField*> fields_;  // as many for each burst
};

}  // namespace comet
