// Says over the window that another program has changed the file of the scene, and offers to read it again.
#pragma once

#include "session/document.h"

#include <QFrame>
#include <QTimer>

class QLabel;

namespace comet {

class FileNotice : public QFrame {
  Q_OBJECT

 public:
  FileNotice(const Document& document, QWidget* parent);

 Q_SIGNALS:
  void reload();

 protected:
  // Stays where it is while the window's size changes.
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void look();
  void place();

  const Document& document_;
  QLabel* text_;
  QString keptOver_;  // what the file was when it was left alone
  QTimer clock_;
};

}  // namespace comet
