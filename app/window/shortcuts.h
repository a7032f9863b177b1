// The one overlay that lists all keys, under "?".
#pragma once

#include <QWidget>

namespace comet {

class ShortcutsOverlay : public QWidget {
  Q_OBJECT

 public:
  explicit ShortcutsOverlay(QWidget* parent);
  void toggle();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
};

}  // namespace comet
