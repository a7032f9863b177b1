#include "session/document.h"

#include "catalog.h"
#include "scene/scene_file.h"
#include "scene_files.h"
#include "simulation/gas/gas_edits.h"
#include "simulation/gas/gas_kind.h"

#include <QDateTime>
#include <QFileInfo>
#include <QSettings>
#include <algorithm>
#include <utility>

namespace comet {

namespace {

constexpr auto kTimeDisplayKey = "time_display";

}  // namespace

Document::Document(FileReaderPtr files, QObject* parent) : QObject(parent), files_(std::move(files)) {
  readers_.setMaxThreadCount(1);
  const int display = QSettings().value(kTimeDisplayKey, 0).toInt();
  timeDisplay_ = static_cast<TimeDisplay>(std::clamp(display, 0, static_cast<int>(TimeDisplay::Seconds)));
  replace(startingScene(), {});
}

Document::~Document() { leaving_.cancel(); }

void Document::edit(const Scene& next, const QString& what, const QString& mergeKey) {
  if (next == scene_) return;
  const bool merges = !mergeKey.isEmpty() && mergeKey == mergeKey_ && !undo_.empty();
  if (!merges) undo_.push_back({scene_, what});
  redo_.clear();
  mergeKey_ = mergeKey;
  show(next);
}

void Document::setParam(ItemId item, const std::string& param, const ParamValue& value,
                        const QString& mergeKey) {
  const Scene::ItemPtr target = scene_.find(item);
  if (!target) return;
  const ParamSpec& spec = target->kind->params()[target->kind->indexOf(param)];
  edit(scene_.withParam(item, param, nearestValid(spec, value)),
       tr("change %1").arg(QString::fromStdString(spec.label).toLower()), mergeKey);
}

void Document::setBase(ItemId item, const std::string& param, const Value& value, const QString& mergeKey) {
  const Scene::ItemPtr target = scene_.find(item);
  if (!target) return;
  if (!target->value(param).keys.empty()) holdFrame();
  setParam(item, param, withValueAt(target->value(param), value, frame_), mergeKey);
}

void Document::setBases(ItemId item, const std::vector<std::pair<const char*, Value>>& bases,
                        const QString& what, const QString& mergeKey) {
  if (!scene_.find(item)) return;
  Scene changed = scene_;
  for (const auto& [param, base] : bases) {
    ParamValue value = changed.find(item)->value(param);
    value.base = base;
    changed = changed.withParam(item, param, value);
  }
  edit(changed, what, mergeKey);
}

std::string Document::folder() const { return QFileInfo(path_).path().toStdString(); }

void Document::setFile(ItemId item, const std::string& param, const QString& path, bool joins) {
  const Scene::ItemPtr target = scene_.find(item);
  if (!target) return;
  const FileKind kind = target->kind->params()[target->kind->indexOf(param)].fileKind;
  const std::string base = path_.isEmpty() ? std::string() : folder();
  reading_[{item, param}] = {path, joins ? std::optional(scene_) : std::nullopt};
  Q_EMIT readingChanged();
  readers_.start([this, kind, base, item, param, path] {
    FileRef file;
    try {
      file = readSceneFile(kind, pathFrom(base, path.toStdString()), base, files_, leaving_);
    } catch (const Error&) {
      return;  // nobody waits for it any more
    }
    // What is said of it takes as long again for a large one, and is kept with it.
    if (file.content) static_cast<void>(file.content->summary());
    QMetaObject::invokeMethod(
        this, [this, item, param, path, file] { takeFile(item, param, path, file); }, Qt::QueuedConnection);
  });
}

void Document::takeFile(ItemId item, const std::string& param, const QString& path, const FileRef& file) {
  // Another one may have been chosen meanwhile, or the item may be gone.
  const auto reading = reading_.find({item, param});
  if (reading == reading_.end() || reading->second.path != path) return;
  const bool joins = reading->second.joins == scene_;
  reading_.erase(reading);
  const Scene::ItemPtr target = scene_.find(item);
  const QString step = joins ? QStringLiteral("file") : QString();
  if (joins) mergeKey_ = step;
  if (target && target->kind->find(param)) setBase(item, param, file, step);
  if (joins) endMerge();
  Q_EMIT readingChanged();
}

QString Document::fileBeingRead(ItemId item, const std::string& param) const {
  const auto reading = reading_.find({item, param});
  return reading == reading_.end() ? QString() : reading->second.path;
}

void Document::setTimeDisplay(TimeDisplay display) {
  if (display == timeDisplay_) return;
  timeDisplay_ = display;
  QSettings().setValue(kTimeDisplayKey, static_cast<int>(display));
  Q_EMIT timeDisplayChanged();
}

void Document::remove(ItemId item) {
  const Scene::ItemPtr target = scene_.find(item);
  if (!target || !canBeOff(target->kind->family())) return;
  const bool isGas = target->kind->family() == ItemFamily::Gas;
  edit(isGas ? withoutGas(scene_, item) : scene_.withoutItem(item),
       tr("remove %1").arg(QString::fromStdString(target->name)));
}

void Document::undo() {
  if (undo_.empty()) return;
  Step step = std::move(undo_.back());
  undo_.pop_back();
  redo_.push_back({scene_, step.what});
  endMerge();
  show(step.scene);
}

void Document::redo() {
  if (redo_.empty()) return;
  Step step = std::move(redo_.back());
  redo_.pop_back();
  undo_.push_back({scene_, step.what});
  endMerge();
  show(step.scene);
}

void Document::show(const Scene& scene) {
  scene_ = scene;
  const ItemId before = selected_, emitterBefore = selectedEmitter_;
  keepSelectionValid();
  Q_EMIT sceneChanged();
  if (selected_ != before || selectedEmitter_ != emitterBefore) Q_EMIT selectionChanged();
  Q_EMIT stateChanged();
}

void Document::replace(const Scene& scene, const QString& path) {
  undo_.clear();
  redo_.clear();
  endMerge();
  reading_.clear();
  scene_ = saved_ = scene;
  path_ = path;
  stamp_ = stampOf(path);
  displayName_.clear();
  selected_ = selectedEmitter_ = 0;
  keepSelectionValid();
  Q_EMIT replaced();
  Q_EMIT sceneChanged();
  Q_EMIT selectionChanged();
  Q_EMIT stateChanged();
  setFrame(frameRange(scene_).first);
}

void Document::open(const QString& path) { replace(openScene(path.toStdString(), files_), path); }

void Document::save(const QString& path) {
  writeScene(path.toStdString(), scene_);
  saved_ = scene_;
  path_ = path;
  stamp_ = stampOf(path);
  Q_EMIT stateChanged();
  Q_EMIT saved();
}

void Document::takeReloaded(const Scene& scene) {
  saved_ = scene;
  stamp_ = stampOnDisk();
  endMerge();
  edit(scene, tr("reload"));
  Q_EMIT stateChanged();
}

void Document::setUnsaved() {
  saved_ = Scene();
  Q_EMIT stateChanged();
}

QString Document::stampOf(const QString& path) {
  const QFileInfo file(path);
  if (path.isEmpty() || !file.exists()) return {};
  return QString("%1 %2").arg(file.lastModified().toMSecsSinceEpoch()).arg(file.size());
}

QString Document::displayName() const {
  if (!path_.isEmpty()) return QFileInfo(path_).completeBaseName();
  return displayName_.isEmpty() ? tr("New scene") : displayName_;
}

Scene::ItemPtr Document::item(ItemId id, ItemFamily family) const {
  Scene::ItemPtr item = scene_.find(id);
  return item && item->kind->family() == family ? item : nullptr;
}

void Document::select(ItemId item) {
  const Scene::ItemPtr target = scene_.find(item);
  if (!target || selected_ == item) return;
  selected_ = item;
  if (target->kind->family() == ItemFamily::Emitter) selectedEmitter_ = item;
  endMerge();
  setDrawing(false);
  Q_EMIT selectionChanged();
}

namespace {

// With every item off but these, of those that `isMeant`.
template <typename Is>
Scene withOnly(const std::set<ItemId>& items, const Is& isMeant, Scene scene) {
  for (const Scene::ItemPtr& item : scene.items())
    if (isMeant(item->kind->family()) && items.count(item->id) == 0)
      scene = scene.withEnabled(item->id, false);
  return scene;
}

bool isInfluence(ItemFamily family) { return family == ItemFamily::Influence; }

}  // namespace

bool Document::anySolo(SoloOf what) const {
  return std::any_of(solo_.begin(), solo_.end(), [this, what](ItemId id) {
    const Scene::ItemPtr item = scene_.find(id);
    return item && isInfluence(item->kind->family()) == (what == SoloOf::Influences);
  });
}

void Document::setSolo(ItemId item, bool solo) {
  if (solo)
    solo_.insert(item);
  else
    solo_.erase(item);
  Q_EMIT soloChanged();
}

Scene Document::simulated(const Scene& version) const {
  const Scene scene = atPreviewResolution(version);
  return anySolo(SoloOf::Influences) ? withOnly(solo_, isInfluence, scene) : scene;
}

Scene Document::drawn(const Scene& version) const {
  return anySolo(SoloOf::Drawn) ? withOnly(solo_, responds, version) : version;
}

void Document::setDrawing(bool drawing) {
  if (isDrawing_ == drawing) return;
  isDrawing_ = drawing;
  endMerge();
  Q_EMIT drawingChanged();
}

void Document::keepSelectionValid() {
  for (auto id = solo_.begin(); id != solo_.end();) id = scene_.find(*id) ? std::next(id) : solo_.erase(id);

  const auto emitters = scene_.itemsOf(ItemFamily::Emitter);
  const Scene::ItemPtr emitter = scene_.find(selectedEmitter_);
  if (!emitter) selectedEmitter_ = emitters.empty() ? 0 : emitters.front()->id;
  if (!scene_.find(selected_)) selected_ = selectedEmitter_ != 0 ? selectedEmitter_ : scene_.settings().id;
}

void Document::setFrame(int frame) {
  const FrameRange range = frameRange(scene_);
  frame = std::clamp(frame, range.first, range.last);
  if (frame == frame_) return;
  frame_ = frame;
  Q_EMIT frameChanged(frame_);
}

}  // namespace comet
