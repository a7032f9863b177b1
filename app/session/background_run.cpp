#include "session/background_run.h"

#include "base/error.h"
#include "base/memory.h"
#include "scene/scene_change.h"
#include "simulation/plan.h"

#include <algorithm>
#include <new>

namespace comet {

BackgroundRun::BackgroundRun(Document& document, QObject* parent)
    : QObject(parent),
      document_(document),
      cache_(std::make_shared<FrameCache>(std::size_t{1} << 31)),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {
  connect(&document_, &Document::sceneChanged, this, &BackgroundRun::followEdit);
  // No frame of another scene is looked for again.
  connect(&document_, &Document::replaced, this, [this] { isReplaced_ = true; });
  connect(&document_, &Document::soloChanged, this, &BackgroundRun::followEdit);
  follow();
}

void BackgroundRun::followEdit() {
  const Scene next = document_.simulatedScene();
  const SceneChange change = changeBetween(followed_, next);
  // The settings say how much memory frames may take, and whether they are kept on the disk.
  const bool areSettings = std::binary_search(change.items.begin(), change.items.end(), next.settings().id);
  if (isReplaced_ || change.simulation || areSettings)
    follow();
  else
    followed_ = next;
}

void BackgroundRun::follow() {
  int generation = 0;
  {
    const std::lock_guard lock(mutex_);
    keys_.clear();
    generation = ++generation_;
  }
  followed_ = document_.simulatedScene();
  worker_.ask({followed_, document_.path().toStdString(), document_.frame(), generation});
}

void BackgroundRun::work(const Request& request, const Progress& progress) {
  QString problem;
  try {
    if (isReplaced_.exchange(false)) {
      // Only now the run of the scene before has ended, which may have added a last one.
      cache_->clear();
      releaseUnusedMemory();
    }
    cache_->setBudget(memoryBudget(request.scene));
    cache_->setStore(frameStoreOf(request.scene, request.sceneFile));
    SceneRun run(request.scene, cache_);
    const FrameRange range = frameRange(request.scene);
    publish(run, range, request.generation, progress);
    for (int i = 0; i < range.count(); ++i) {
      // From the frame that is looked at to the end, then from the start.
      const int frame = range.first + (request.frame - range.first + i) % range.count();
      progress.stopIfCancelled();
      if (run.isCached(frame)) continue;
      const std::size_t size = run.frame(frame, progress)->bytes();
      Q_EMIT changed();
      // A range that does not fit the budget would push out the frames that are looked at.
      if (cache_->bytes() + size > cache_->budget()) break;
    }
    problem = QString::fromStdString(run.keepOnDisk());
  } catch (const Error& error) {
    if (error.kind() == ErrorKind::Cancelled) return;
    problem = QString::fromUtf8(error.what());
  } catch (const std::bad_alloc&) {
    problem = tr("There is not enough memory for these particles. Lower the rate or the lifetime.");
  }
  {
    const std::lock_guard lock(mutex_);
    problem_ = problem;
    finishedGeneration_ = request.generation;
  }
  Q_EMIT changed();
}

void BackgroundRun::publish(SceneRun& run, FrameRange range, int generation, const Progress& progress) {
  std::vector<Digest> keys;
  const int first = firstSimulatedFrame(run.scene());
  for (int frame = first; frame <= range.last; ++frame) {
    // A newer edit makes these keys worthless.
    keys.push_back(run.key(frame, progress));
  }
  {
    const std::lock_guard lock(mutex_);
    if (generation != generation_) return;
    range_ = range;
    firstKey_ = first;
    keys_ = std::move(keys);
    problem_.clear();
  }
  Q_EMIT changed();
}

SceneFramePtr BackgroundRun::frame(int frame) const {
  const std::lock_guard lock(mutex_);
  const Digest* key = range_.contains(frame) ? keyOf(frame) : nullptr;
  return key ? cache_->find(*key, frame) : nullptr;
}

const Digest* BackgroundRun::keyOf(int frame) const {
  const int index = frame - firstKey_;
  if (index < 0 || index >= static_cast<int>(keys_.size())) return nullptr;
  return &keys_[static_cast<std::size_t>(index)];
}

std::optional<BackgroundRun::Moment> BackgroundRun::moment(int frame, int pastCount) const {
  const std::lock_guard lock(mutex_);
  const Digest* key = range_.contains(frame) ? keyOf(frame) : nullptr;
  const SceneFramePtr found = key ? cache_->find(*key, frame) : nullptr;
  if (!found) return std::nullopt;
  return Moment{*key, found, keptPast(frame, pastCount)};
}

Past BackgroundRun::past(int frame, int count) const {
  const std::lock_guard lock(mutex_);
  return keptPast(frame, count);
}

Past BackgroundRun::keptPast(int frame, int count) const {
  Past past;
  for (int before = frame - 1; before >= frame - count; --before) {
    const Digest* key = keyOf(before);
    const SceneFramePtr found = key ? cache_->find(*key, before) : nullptr;
    if (!found) break;
    past.push_back(found->particles);
  }
  return past;
}

bool BackgroundRun::isSimulated(int frame) const {
  const std::lock_guard lock(mutex_);
  const Digest* key = range_.contains(frame) ? keyOf(frame) : nullptr;
  return key && cache_->contains(*key);
}

bool BackgroundRun::isBusy() const {
  const std::lock_guard lock(mutex_);
  return finishedGeneration_ != generation_;
}

bool BackgroundRun::isComplete() const {
  const std::lock_guard lock(mutex_);
  if (keys_.empty()) return false;
  const auto range = keys_.begin() + (range_.first - firstKey_);
  return std::all_of(range, keys_.end(), [this](const Digest& key) { return cache_->contains(key); });
}

QString BackgroundRun::problem() const {
  const std::lock_guard lock(mutex_);
  return problem_;
}

}  // namespace comet
