#include "session/emitter_presets.h"

#include "base/error.h"
#include "base/file.h"
#include "catalog.h"
#include "demos.h"
#include "scene/scene_file.h"
#include "scene_files.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>

namespace comet {
namespace {

QString folder() { return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/emitters"; }

QString picturePathOf(const QString& path) {
  return QFileInfo(path).path() + "/" + QFileInfo(path).completeBaseName() + ".png";
}

// A name of an item as the name of a file.
QString fileNameOf(const std::string& name) {
  return QString::fromStdString(name).replace('/', '_') + ".comet";
}

}  // namespace

std::vector<EmitterPreset> emitterPresets() {
  std::vector<EmitterPreset> presets;
  for (const QFileInfo& file : QDir(folder()).entryInfoList({"*.comet"}, QDir::Files, QDir::Name))
    presets.push_back({file.completeBaseName(), picturePathOf(file.filePath()), file.filePath(), {}});
  for (const Demo& demo : demos()) {
    const QString name = QString::fromUtf8(demo.name.data(), static_cast<int>(demo.name.size()));
    const Scene scene = sceneFromText(demo.sceneText, catalog());
    for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter))
      presets.push_back(
          {QString::fromStdString(emitter->name), QString(":/demo/%1.png").arg(name), {}, name});
  }
  return presets;
}

Item emitterOf(const EmitterPreset& preset, const FileReaderPtr& files) {
  const Scene scene = preset.path.isEmpty() ? openDemo(preset.demo.toStdString())
                                            : openScene(preset.path.toStdString(), files);
  const Scene::ItemPtr found = scene.findByName(preset.name.toStdString());
  const auto emitters = scene.itemsOf(ItemFamily::Emitter);
  if (!found && emitters.empty()) refuseInput(preset.path.toStdString(), "holds no emitter");
  Item emitter = found && found->kind->family() == ItemFamily::Emitter ? *found : *emitters.front();
  emitter.id = 0;
  return emitter;
}

void keepEmitterPreset(const Item& emitter, const QImage& picture) {
  const QString path = folder() + "/" + fileNameOf(emitter.name);
  makeFolder(folder().toStdString());
  Item kept = emitter;
  kept.id = 0;
  writeScene(path.toStdString(), bareScene(catalog()).withAdded(kept));
  if (!picture.isNull() && !picture.save(picturePathOf(path)))
    throw Error(ErrorKind::Write, picturePathOf(path).toStdString(), "cannot be written");
}

void forgetEmitterPreset(const EmitterPreset& preset) {
  QFile::remove(preset.path);
  QFile::remove(preset.picturePath);
}

}  // namespace comet
