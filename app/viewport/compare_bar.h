// Keeps snapshots of the scene and chooses which one it is compared with, and how.
#pragma once

#include "session/document.h"
#include "viewport/viewport.h"

#include <QWidget>
#include <vector>

class QComboBox;
class QToolButton;

namespace comet {

class CompareBar : public QWidget {
  Q_OBJECT

 public:
  CompareBar(Document& document, Viewport& viewport, QWidget* parent = nullptr);

  // Keeps the scene as it is now, with the picture that is seen.
  void keep();
  // Shows the snapshot alone, or the scene again. Begins with the newest one if none is compared.
  void toggle();

 Q_SIGNALS:
  void failed(const QString& problem);

 private:
  void refresh();
  void refill();
  void showMenu();
  void startRenaming();
  void finishRenaming();
  void restore();
  void remove();

  Document& document_;
  Viewport& viewport_;
  QComboBox* with_;
  QComboBox* mode_;
  QToolButton* more_;
  std::vector<SnapshotPtr> listed_;
};

}  // namespace comet
