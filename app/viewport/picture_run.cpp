#include "viewport/picture_run.h"

#include "base/error.h"

#include <algorithm>
#include <new>
#include <tbb/task_arena.h>

namespace comet {
namespace {

constexpr int kHandRests = 300;  // milliseconds

}  // namespace

PictureRun::PictureRun(BackgroundRun& run, QObject* parent)
    : QObject(parent),
      run_(run),
      cache_(0),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {
  hand_.setSingleShot(true);
  hand_.setInterval(kHandRests);
  connect(&hand_, &QTimer::timeout, this, [this] {
    waits_ = true;
    startWhenSimulated();
  });
  connect(&run_, &BackgroundRun::changed, this, &PictureRun::startWhenSimulated);
}

void PictureRun::follow(std::shared_ptr<const ViewedScene> view, int frame) {
  rest();
  view_ = std::move(view);
  frame_ = frame;
  cache_.setBudget(pictureBudget(view_->scene()));
  hand_.start();
}

void PictureRun::rest() {
  hand_.stop();
  waits_ = false;
  view_.reset();
  worker_.cancel();
  {
    const std::lock_guard lock(mutex_);
    ++generation_;
    keys_.clear();
    isWorking_ = isFull_ = false;
  }
  Q_EMIT changed();
}

void PictureRun::startWhenSimulated() {
  if (!waits_ || run_.isBusy()) return;
  waits_ = false;
  int generation = 0;
  {
    const std::lock_guard lock(mutex_);
    generation = generation_;
    isWorking_ = true;
  }
  worker_.ask({view_, frame_, generation});
}

void PictureRun::work(const Request& request, const Progress& progress) {
  try {
    // What is drawn for the eye at once goes first.
    tbb::task_arena arena(tbb::task_arena::automatic, 1, tbb::task_arena::priority::low);
    arena.execute([&] { drawAll(request, progress); });
  } catch (const Error&) {
    // Given up; or what cannot be drawn, which is said where it is drawn to be looked at.
    end(request.generation, false);
  } catch (const std::bad_alloc&) {
    end(request.generation, true);
  }
}

void PictureRun::drawAll(const Request& request, const Progress& progress) {
  const FrameRange range = playedRange(request.view->scene());
  const std::vector<Digest> keys = publish(request, range, progress);
  const std::size_t size = request.view->pictureBytes();
  std::size_t kept = cache_.use(keys);
  // Of its own, whose memory goes with the work.
  Renderer renderer;
  StampCache backdrops;
  bool isFull = false;
  for (int i = 0; i < static_cast<int>(keys.size()); ++i) {
    const int index = (std::max(0, request.frame - range.first) + i) % range.count();
    const Digest& key = keys[static_cast<std::size_t>(index)];
    progress.stopIfCancelled();
    if (cache_.contains(key)) continue;
    const auto shot = request.view->shotOf(run_, range.first + index);
    // Not simulated for want of memory, or edited meanwhile.
    if (!shot || shot->key != key) continue;
    isFull = kept + size > cache_.budget();
    if (isFull) break;
    cache_.insert(
        key,
        std::make_shared<const ScreenPicture>(drawForScreen(renderer, backdrops, shot->shot, 1, progress)),
        PictureCache::Others::Go);
    kept += size;
    Q_EMIT changed();
  }
  end(request.generation, isFull);
}

std::vector<Digest> PictureRun::publish(const Request& request, FrameRange range, const Progress& progress) {
  std::vector<Digest> keys;
  for (int frame = range.first; frame <= range.last; ++frame) {
    progress.stopIfCancelled();
    const auto shot = request.view->shotOf(run_, frame);
    keys.push_back(shot ? shot->key : Digest());
  }
  {
    const std::lock_guard lock(mutex_);
    if (request.generation != generation_) return {};
    firstFrame_ = range.first;
    keys_ = keys;
  }
  Q_EMIT changed();
  return keys;
}

void PictureRun::end(int generation, bool isFull) {
  {
    const std::lock_guard lock(mutex_);
    if (generation != generation_) return;
    isWorking_ = false;
    isFull_ = isFull;
  }
  Q_EMIT changed();
}

bool PictureRun::isDrawn(int frame) const {
  const std::lock_guard lock(mutex_);
  const int index = frame - firstFrame_;
  return index >= 0 && index < static_cast<int>(keys_.size()) &&
         cache_.contains(keys_[static_cast<std::size_t>(index)]);
}

int PictureRun::missing() const {
  const std::lock_guard lock(mutex_);
  if (!isWorking_) return 0;
  return static_cast<int>(
      std::count_if(keys_.begin(), keys_.end(), [this](const Digest& key) { return !cache_.contains(key); }));
}

bool PictureRun::isFull() const {
  const std::lock_guard lock(mutex_);
  return isFull_;
}

}  // namespace comet
