// Playing controls, and what is true at this moment: frame, seconds, rate.
#pragma once

#include "timeline/playback.h"

#include <QWidget>

class QLabel;
class QToolButton;

namespace comet {

class NumberField;

class Transport : public QWidget {
  Q_OBJECT

 public:
  Transport(Document& document, Playback& playback, QWidget* parent = nullptr);

 private:
  QToolButton* addButton(const QString& mark, const QString& name, const QString& tip);
  void refresh();

  Document& document_;
  Playback& playback_;
  QToolButton* play_;
  NumberField* frame_;
  QLabel* time_;
};

}  // namespace comet
