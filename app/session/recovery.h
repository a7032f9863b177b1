// A copy of the scene kept against a crash, and the list of recent files.
#pragma once

#include "session/document.h"

#include <QObject>
#include <QString>
#include <QStringList>
#include <QTimer>

class QLockFile;

namespace comet {

// Writes the document to a copy soon after each edit, and removes the copy when the program ends in order or
// the scene is saved. Each running program has a copy of its own, held by a lock that dies with the process.
class Recovery : public QObject {
  Q_OBJECT

 public:
  Recovery(Document& document, QObject* parent = nullptr);
  ~Recovery() override;

  // Copies that programs which no longer run have left, newest first.
  static QStringList abandonedCopies();
  static void discard(const QString& copy);

 private:
  void writeCopy();

  Document& document_;
  QString copy_;
  std::unique_ptr<QLockFile> lock_;
  QTimer delay_;
};

// Newest first, at most ten, only files that still exist.
QStringList recentFiles();
void addRecentFile(const QString& path);

}  // namespace comet
