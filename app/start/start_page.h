// The page to begin from: demos with their pictures, recent files, a new scene, and what a crash left behind.
#pragma once

#include "session/recovery.h"

#include <QWidget>

class QVBoxLayout;

namespace comet {

class StartPage : public QWidget {
  Q_OBJECT

 public:
  explicit StartPage(QWidget* parent = nullptr);

  // Reads the lists of files again.
  void refresh();

 Q_SIGNALS:
  void newScene();
  void openDemo(const QString& name);
  void openFile(const QString& path);
  void chooseFile();
  void recoverCopy(const RecoveryCopy& copy);

 private:
  QWidget* makeDemos();

  QVBoxLayout* files_;
};

}  // namespace comet
