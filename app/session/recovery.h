// A copy of the scene kept against a crash, and the list of recent files.
#pragma once

#include "session/document.h"
#include "session/worker.h"

#include <QDateTime>
#include <QObject>
#include <QString>
#include <QStringList>
#include <QTimer>
#include <memory>
#include <optional>
#include <vector>

class QLockFile;

namespace comet {

// A copy that a program which no longer runs has left, and what it is a copy of.
struct RecoveryCopy {
  QString file;
  QString path;  // of the scene's file; empty if it had none
  QString name;  // as it was shown
  QDateTime time;
};

// Writes the document to a copy within a second of each edit, behind the window, and removes the copy when
// the program ends in order or the scene is saved. Each running program has a copy of its own, held by a lock
// that dies with the process.
class Recovery : public QObject {
  Q_OBJECT

 public:
  Recovery(Document& document, QObject* parent = nullptr);
  ~Recovery() override;

  // Newest first.
  static std::vector<RecoveryCopy> abandonedCopies();
  // One of the folders of copies and of settings that cannot be written to; empty if both can.
  static QString unwritableFolder();
  static void discard(const QString& copy);
  // The scene of a copy, with its files. Throws Error(Input).
  static Scene read(const RecoveryCopy& copy, const FileReaderPtr& files);

  // The document holds what is in another copy: that one goes as soon as its own is written.
  void takeOver(const QString& copy) { superseded_ << copy; }

 private:
  // Nothing to write: the copy goes.
  struct Request {
    std::optional<Scene> scene;
    QString path, name;
    QStringList superseded;
  };

  void askForCopy();
  void work(const Request& request) const;

  Document& document_;
  QString copy_;
  std::unique_ptr<QLockFile> lock_;
  QTimer delay_;
  QStringList superseded_;
  std::optional<NewestRequestWorker<Request>> worker_;
};

// Newest first, at most ten, only files that still exist.
QStringList recentFiles();
void addRecentFile(const QString& path);

}  // namespace comet
