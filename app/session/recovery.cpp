#include "session/recovery.h"

#include "base/error.h"
#include "base/file.h"
#include "catalog.h"
#include "scene/scene_file.h"
#include "scene_files.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QLockFile>
#include <QSettings>
#include <QStandardPaths>
#include <algorithm>
#include <iterator>
#include <nlohmann/json.hpp>
#include <utility>

namespace comet {
namespace {

constexpr int kDelayMilliseconds = 500;
constexpr int kMaxRecentFiles = 10;
constexpr std::size_t kLargestCopy = std::size_t{1} << 30;
const char* const kTexts[] = {"path", "name", "scene"};
const char* const kFormat = "tawny-comet-recovery";
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
  connect(&delay_, &QTimer::timeout, this, &Recovery::askForCopy);
  // Edits that go on and on do not put it off.
  connect(&document_, &Document::stateChanged, this, [this] {
    if (!document_.hasUnsavedChanges())
      askForCopy();
    else if (!delay_.isActive())
      delay_.start();
  });
  worker_.emplace([this](const Request& request, const Progress&) { work(request); });
}

Recovery::~Recovery() {
  worker_.reset();
  discard(copy_);
  lock_->unlock();
}

void Recovery::askForCopy() {
  Request request{{}, document_.path(), document_.displayName(), superseded_};
  if (document_.hasUnsavedChanges()) request.scene = document_.scene();
  worker_->ask(std::move(request));
}

void Recovery::work(const Request& request) const {
  if (!request.scene) {
    // What was taken over is saved, or no longer wanted.
    for (const QString& copy : request.superseded) discard(copy);
    return discard(copy_);
  }
  nlohmann::ordered_json head;
  head["format"] = kFormat;
  head["path"] = request.path.isEmpty() ? "" : QFileInfo(request.path).absoluteFilePath().toStdString();
  head["name"] = request.name.toStdString();
  head["scene"] = textFromScene(*request.scene);
  try {
    writeFileAtomically(copy_.toStdString(), head.dump());
    for (const QString& copy : request.superseded) discard(copy);
  } catch (const Error& error) {
    // The user's own file is not concerned; the next edit tries again.
    qWarning("%s", error.what());
  }
}

namespace {

// An empty object if it is none.
nlohmann::json contentOf(const QString& file) {
  try {
    const auto content = nlohmann::json::parse(readFile(file.toStdString(), kLargestCopy));
    const bool isWhole = content.is_object() && content.value("format", "") == kFormat &&
                         std::all_of(std::begin(kTexts), std::end(kTexts), [&content](const char* text) {
                           return content.contains(text) && content[text].is_string();
                         });
    if (isWhole) return content;
  } catch (const Error&) {
    // As one that is damaged.
  } catch (const nlohmann::json::exception&) {
    // Whoever wrote it was stopped by more than a crash.
  }
  return nlohmann::json::object();
}

}  // namespace

QString Recovery::unwritableFolder() {
  const QString copies = recoveryFolder().path();
  if (!QFileInfo(copies).isWritable()) return copies;
  const QSettings settings;
  return settings.isWritable() ? QString() : QFileInfo(settings.fileName()).path();
}

std::vector<RecoveryCopy> Recovery::abandonedCopies() {
  std::vector<RecoveryCopy> copies;
  const QDir folder = recoveryFolder();
  for (const QFileInfo& file : folder.entryInfoList({"*.comet"}, QDir::Files, QDir::Time)) {
    QLockFile lock(file.filePath() + ".lock");
    lock.setStaleLockTime(0);
    // A lock whose process is gone can be taken.
    if (!lock.tryLock(0)) continue;
    const nlohmann::json content = contentOf(file.filePath());
    if (content.empty()) continue;
    copies.push_back({file.filePath(), QString::fromStdString(content.value("path", "")),
                      QString::fromStdString(content.value("name", "")), file.lastModified()});
  }
  return copies;
}

Scene Recovery::read(const RecoveryCopy& copy, const FileReaderPtr& files) {
  const nlohmann::json content = contentOf(copy.file);
  const std::string place = copy.file.toStdString();
  if (content.empty()) refuseInput(place, "holds no scene that could be recovered", "Discard it");
  try {
    const std::string folder =
        copy.path.isEmpty() ? std::string() : QFileInfo(copy.path).path().toStdString();
    return withFilesRead(sceneFromText(content.value("scene", ""), catalog()), folder, files);
  } catch (const Error& error) {
    throw error.within(place);
  }
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
  QSettings().setValue(kRecentKey, files.mid(0, kMaxRecentFiles));
}

}  // namespace comet
