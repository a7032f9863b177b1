#include "presets/offered_presets.h"

#include "base/error.h"
#include "base/file.h"
#include "demos.h"
#include "scene/item_reference.h"
#include "scene_files.h"
#include "theme/words.h"

#include <QDir>
#include <QFile>
#include <QStandardPaths>
#include <algorithm>

namespace comet {
namespace {

QString ownFolder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/emitters";
}

void addOwn(std::vector<OfferedPreset>& offered, const FileReaderPtr& files, const Progress& progress) {
  for (const QFileInfo& file : QDir(ownFolder()).entryInfoList({"*.comet"}, QDir::Files, QDir::Name)) {
    try {
      const auto preset =
          std::make_shared<const Preset>(openPreset(file.filePath().toStdString(), files, progress));
      offered.push_back({preset, ownCategory(), file.filePath(), {}});
    } catch (const Error& error) {
      if (error.kind() == ErrorKind::Cancelled) throw;
    }
  }
}

// Each emitter that gives births on its own, with those that come from it.
void addEmittersOf(const Demo& demo, std::vector<OfferedPreset>& offered) {
  const QString name = text(std::string(demo.name));
  const Scene scene = openDemo(demo.name);
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter)) {
    if (!sourcesOf(scene, *emitter).empty()) continue;
    Preset preset = presetOf(scene, emitter->id);
    preset.words = QString(name).replace('_', ' ').toStdString();
    offered.push_back({std::make_shared<const Preset>(std::move(preset)),
                       tr("From the demos"),
                       {},
                       QString(":/demo/%1.png").arg(name)});
  }
}

}  // namespace

QString ownCategory() { return tr("Your own"); }

std::vector<OfferedPreset> offeredPresets(const FileReaderPtr& files, const Progress& progress) {
  std::vector<OfferedPreset> offered;
  addOwn(offered, files, progress);
  for (const Preset& preset : builtInPresets())
    offered.push_back({std::make_shared<const Preset>(preset), text(preset.category), {}, {}});
  for (const Demo& demo : demos()) {
    progress.stopIfCancelled();
    addEmittersOf(demo, offered);
  }
  return offered;
}

void keepPreset(const Preset& preset) {
  makeFolder(ownFolder().toStdString());
  const QString file = text(preset.name).replace('/', '_') + ".comet";
  writePreset((ownFolder() + "/" + file).toStdString(), preset);
}

void importPreset(const QString& path, const FileReaderPtr& files) {
  keepPreset(openPreset(path.toStdString(), files));
}

void forgetPreset(const OfferedPreset& preset) { QFile::remove(preset.path); }

}  // namespace comet
