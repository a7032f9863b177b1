// The list of an emitter's bursts.
#pragma once

#include "params/value.h"

#include <QWidget>

class QVBoxLayout;

namespace comet {

class NumberField;

class BurstEditor : public QWidget {
  Q_OBJECT

 public:
  explicit BurstEditor(QWidget* parent = nullptr);

  void setBursts(const BurstList& bursts);

 Q_SIGNALS:
  void edited(const BurstList& bursts);
  void finished();

 private:
  void rebuild();
  void addRow(std::size_t index);
  void showValues();

  BurstList bursts_;
  QVBoxLayout* rows_;
  std::vector<NumberField*> fields_;  // five for each burst
};

}  // namespace comet
