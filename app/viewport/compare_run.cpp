#include "viewport/compare_run.h"

#include "base/error.h"
#include "render/trail.h"

#include <algorithm>
#include <new>
#include <tbb/task_arena.h>
#include <utility>

namespace comet {
namespace {

int nearestFrame(const CompareRun::View& view, int frame) {
  const FrameRange range = frameRange(view.seen->scene());
  return std::clamp(frame, range.first, range.last);
}

}  // namespace

CompareRun::CompareRun(std::shared_ptr<FrameCache> frames, PictureCache& pictures, QObject* parent)
    : QObject(parent),
      frames_(std::move(frames)),
      cache_(pictures),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {}

void CompareRun::follow(std::shared_ptr<const View> view) {
  worker_.cancel();
  const std::lock_guard lock(mutex_);
  if (!view) newest_.reset();
  view_ = std::move(view);
  keys_.clear();
  newestFrame_.reset();
  problem_.clear();
}

void CompareRun::look(int frame, int reduction) {
  std::shared_ptr<const View> view;
  {
    const std::lock_guard lock(mutex_);
    view = view_;
  }
  if (view)
    worker_.ask({view, nearestFrame(*view, frame), reduction}, isAhead_ ? Running::GivesWay : Running::Ends);
}

void CompareRun::work(const Request& request, const Progress& progress) {
  QString problem;
  try {
    const View& view = *request.view;
    const auto shot = shotOf(view, request.frame, progress);
    if (!cache_.contains(shot.key) && request.reduction > 1) {
      publish(view, request.frame, shot.key, drawn(shot, request.reduction, progress));
      isAhead_ = true;
    }
    publish(view, request.frame, shot.key, drawn(shot, 1, progress));
    isAhead_ = true;
    // What is drawn to be looked at now goes first.
    tbb::task_arena arena(tbb::task_arena::automatic, 1, tbb::task_arena::priority::low);
    arena.execute([&] { drawAhead(request, progress); });
  } catch (const Error& error) {
    if (error.kind() != ErrorKind::Cancelled) problem = QString::fromUtf8(error.what());
  } catch (const std::bad_alloc&) {
    problem = tr("there is not enough memory for this picture");
  }
  isAhead_ = false;
  if (problem.isEmpty()) return;
  {
    const std::lock_guard lock(mutex_);
    problem_ = problem;
  }
  Q_EMIT changed();
}

void CompareRun::drawAhead(const Request& request, const Progress& progress) {
  const View& view = *request.view;
  const FrameRange range = playedRange(view.seen->scene());
  for (int i = 1; i < range.count(); ++i) {
    const int frame = range.first + (std::max(0, request.frame - range.first) + i) % range.count();
    // The scene's own pictures are needed as well, and there may not be room for both.
    if (cache_.bytes() + view.seen->pictureBytes() > cache_.budget()) return;
    const auto shot = shotOf(view, frame, progress);
    static_cast<void>(drawn(shot, 1, progress));
    publish(view, frame, shot.key, nullptr);
  }
}

ViewedScene::FrameShot CompareRun::shotOf(const View& view, int frame, const Progress& progress) {
  if (!run_ || run_->scene() != view.simulated) run_.emplace(view.simulated, frames_);
  const int pastCount = pastNeeded(view.seen->scene(), frame);
  const SceneFramePtr states = run_->frame(frame, progress);
  return view.seen->shotOf({run_->key(frame, progress), states, run_->past(frame, pastCount, progress)},
                           frame);
}

ScreenPicturePtr CompareRun::drawn(const ViewedScene::FrameShot& shot, int reduction,
                                   const Progress& progress) {
  if (ScreenPicturePtr kept = cache_.find(shot.key)) return kept;
  auto picture = std::make_shared<const ScreenPicture>(
      drawForScreen(renderer_, backdrops_, shot.shot, reduction, progress));
  if (reduction == 1) cache_.insert(shot.key, picture, PictureCache::Others::Stay);
  return picture;
}

void CompareRun::publish(const View& view, int frame, const Digest& key, ScreenPicturePtr picture) {
  {
    const std::lock_guard lock(mutex_);
    // Another one may be shown by now, and this work about to be given up.
    if (view_.get() != &view) return;
    keys_[frame] = key;
    if (picture) {
      newestFrame_ = frame;
      newest_ = std::move(picture);
    }
  }
  Q_EMIT changed();
}

ScreenPicturePtr CompareRun::picture(int frame) const {
  const std::lock_guard lock(mutex_);
  if (!view_) return nullptr;
  const int nearest = nearestFrame(*view_, frame);
  const auto key = keys_.find(nearest);
  if (key != keys_.end())
    if (ScreenPicturePtr kept = cache_.find(key->second)) return kept;
  return nearest == newestFrame_ ? newest_ : nullptr;
}

ScreenPicturePtr CompareRun::newestPicture() const {
  const std::lock_guard lock(mutex_);
  return newest_;
}

QString CompareRun::problem() const {
  const std::lock_guard lock(mutex_);
  return problem_;
}

}  // namespace comet
