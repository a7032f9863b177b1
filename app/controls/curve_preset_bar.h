// Buttons that give a curve a shape: those that come with the program, those that the user kept, copy and
// paste.
#pragma once

#include "base/curve.h"

#include <QWidget>

class QHBoxLayout;
class QToolButton;

namespace comet {

class CurveLane;

class CurvePresetBar : public QWidget {
  Q_OBJECT

 public:
  // The buttons are named "preset.NAME.ID".
  explicit CurvePresetBar(const QString& name = {}, QWidget* parent = nullptr);

  // The lane whose curve is copied and kept.
  void follow(const CurveLane* lane) { lane_ = lane; }

 Q_SIGNALS:
  void chosen(const Curve& curve);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QToolButton* addButton(const QString& id, const QString& tip);
  void showOwn();
  void keep();
  void showMenu();

  QString name_;
  const CurveLane* lane_ = nullptr;
  QHBoxLayout* own_;
  QToolButton* more_;
};

}  // namespace comet
