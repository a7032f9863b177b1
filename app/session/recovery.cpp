#include "session/recovery.h"

#include "base/error.h"
#include "scene/scene_file.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QLockFile>
#include <QSettings>
#include <QStandardPaths>

namespace comet {
namespace {

constexpr int kDelayMilliseconds = 1500;
constexpr int kMostRecentFiles = 10;
const char* const kRecentKey = "recent_files";

QDir recoveryFolder() {
  const QDir folder(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/recovery");
  folder.mkpath(".");
  return folder;
}

}  // namespace

Recovery::Recovery(Document& document, QObject* parent)
    : QObject(parent),
      document_(document),
      copy_(recoveryFolder().filePath(QString("%1-%2.comet")
                                          .arg(QCoreApplication::applicationPid())
                                          .arg(reinterpret_cast<quintptr>(this), 0, 16))),
      lock_(std::make_unique<QLockFile>(copy_ + ".lock")) {
  lock_->setStaleLockTime(0);
  lock_->tryLock(0);
  delay_.setSingleShot(true);
  delay_.setInterval(kDelayMilliseconds);
  connect(&delay_, &QTimer::timeout, this, &Recovery::writeCopy);
  connect(&document_, &Document::stateChanged, this, [this] {
    if (document_.hasUnsavedChanges())
      delay_.start();
    else
      discard(copy_);
  });
}

Recovery::~Recovery() {
  discard(copy_);
  lock_->unlock();
}

void Recovery::writeCopy() {
  try {
    writeScene(copy_.toStdString(), document_.scene());
  } catch (const Error& error) {
    // The user's own file is not concerned; the next edit tries again.
    qWarning("%s", error.what());
  }
}

QStringList Recovery::abandonedCopies() {
  QStringList copies;
  const QDir folder = recoveryFolder();
  for (const QString& name : folder.entryList({"*.comet"}, QDir::Files, QDir::Time)) {
    QLockFile lock(folder.filePath(name) + ".lock");
    lock.setStaleLockTime(0);
    // A lock whose process is gone can be taken.
    if (lock.tryLock(0)) copies << folder.filePath(name);
  }
  return copies;
}

void Recovery::discard(const QString& copy) { QFile::remove(copy); }

QStringList recentFiles() {
  QStringList files;
  for (const QString& file : QSettings().value(kRecentKey).toStringList())
    if (QFile::exists(file)) files << file;
  return files;
}

void addRecentFile(const QString& path) {
  QStringList files = recentFiles();
  const QString absolute = QFileInfo(path).absoluteFilePath();
  files.removeAll(absolute);
  files.prepend(absolute);
  QSettings().setValue(kRecentKey, files.mid(0, kMostRecentFiles));
}

}  // namespace comet
