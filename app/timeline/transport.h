// Playing controls, and what is true at this moment: frame, seconds, rate.
#pragma once

#include "timeline/playback.h"
#include "viewport/picture_run.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QToolButton;

namespace comet {

class NumberField;

class Transport : public QWidget {
  Q_OBJECT

 public:
  Transport(Document& document, BackgroundRun& run, PictureRun& pictures, Playback& playback,
            QWidget* parent = nullptr);

 private:
  QToolButton* addButton(const QString& mark, const QString& name, const QString& tip);
  // Takes the particles of the frame that is shown as the beginning, or begins empty again.
  void toggleStartState();
  void refresh();

  Document& document_;
  BackgroundRun& run_;
  PictureRun& pictures_;
  Playback& playback_;
  QToolButton* play_;
  NumberField* frame_;
  QLabel* time_;
  QPushButton* start_;
};

}  // namespace comet
