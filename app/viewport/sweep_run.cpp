#include "viewport/sweep_run.h"

#include "base/error.h"
#include "render/trail.h"

#include <algorithm>
#include <new>

namespace comet {

SweepRun::SweepRun(std::shared_ptr<FrameCache> frames, QObject* parent)
    : QObject(parent),
      frames_(std::move(frames)),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {}

void SweepRun::begin(Variants variants) {
  worker_.cancel();
  const std::lock_guard lock(mutex_);
  shown_ = std::make_shared<const Variants>(std::move(variants));
  pictures_.assign(shown_->scenes.size() * static_cast<std::size_t>(shown_->range.count()), nullptr);
  drawn_ = 0;
  problem_.clear();
}

void SweepRun::look(int frame) {
  std::shared_ptr<const Variants> variants;
  {
    const std::lock_guard lock(mutex_);
    variants = shown_;
  }
  if (variants && !variants->scenes.empty())
    worker_.ask({variants, frame}, isAhead_ ? Running::GivesWay : Running::Ends);
}

void SweepRun::work(const Request& request, const Progress& progress) {
  QString problem;
  try {
    const Variants& variants = *request.variants;
    if (running_ != request.variants) {
      running_ = request.variants;
      runs_.clear();
      for (const Variant& variant : variants.scenes) runs_.emplace_back(variant.simulated, frames_);
    }
    const FrameRange range = variants.range;
    const int first = std::clamp(request.frame, range.first, range.last);
    makeRoom(variants, first);
    for (int i = 0; i < range.count(); ++i) {
      drawFrame(variants, range.first + (first - range.first + i) % range.count(), progress);
      isAhead_ = true;
      if (isFull(variants)) break;
    }
  } catch (const Error& error) {
    if (error.kind() != ErrorKind::Cancelled) problem = QString::fromUtf8(error.what());
  } catch (const std::bad_alloc&) {
    problem = tr("There is not enough memory for these pictures. Try fewer values.");
  }
  isAhead_ = false;
  if (problem.isEmpty()) return;
  {
    const std::lock_guard lock(mutex_);
    problem_ = problem;
  }
  Q_EMIT changed();
}

void SweepRun::drawFrame(const Variants& variants, int frame, const Progress& progress) {
  for (std::size_t v = 0; v < variants.scenes.size(); ++v) {
    progress.stopIfCancelled();
    if (picture(v, frame)) continue;
    const Scene& scene = variants.scenes[v].drawn;
    const SceneFramePtr states = runs_[v].frame(frame, progress);
    Past past = runs_[v].past(frame, pastNeeded(scene, frame), progress);
    const ScreenShot shot{{scene, *states, std::move(past), variants.camera.camera(scene, frame),
                           variants.size, 1, RenderPurpose::Viewport},
                          finishOf(scene.camera(), frame),
                          variants.camera.kind() == ViewKind::Camera};
    auto drawn =
        std::make_shared<const ScreenPicture>(drawForScreen(renderer_, backdrops_, shot, 1, progress));
    {
      const std::lock_guard lock(mutex_);
      // Another sweep may have begun.
      if (shown_.get() != &variants) return;
      pictures_[static_cast<std::size_t>(indexOf(frame)) + v] = std::move(drawn);
      ++drawn_;
    }
    Q_EMIT changed();
  }
}

std::ptrdiff_t SweepRun::indexOf(int frame) const {
  return (frame - shown_->range.first) * static_cast<std::ptrdiff_t>(shown_->scenes.size());
}

bool SweepRun::isFull(const Variants& variants) const {
  const std::lock_guard lock(mutex_);
  return (drawn_ + variants.scenes.size()) * variants.pictureBytes() > variants.budget;
}

void SweepRun::makeRoom(const Variants& variants, int frame) {
  const FrameRange range = variants.range;
  for (int i = range.count() - 1; i > 0 && !isDrawn(frame) && isFull(variants); --i) {
    const std::lock_guard lock(mutex_);
    if (shown_.get() != &variants) return;
    const auto first = pictures_.begin() + indexOf(range.first + (frame - range.first + i) % range.count());
    for (auto picture = first; picture != first + static_cast<std::ptrdiff_t>(variants.scenes.size());
         ++picture) {
      drawn_ -= *picture ? 1 : 0;
      picture->reset();
    }
  }
}

ScreenPicturePtr SweepRun::picture(std::size_t variant, int frame) const {
  const std::lock_guard lock(mutex_);
  if (!shown_ || !shown_->range.contains(frame) || variant >= shown_->scenes.size()) return nullptr;
  return pictures_[static_cast<std::size_t>(indexOf(frame)) + variant];
}

bool SweepRun::isDrawn(int frame) const {
  const std::lock_guard lock(mutex_);
  if (!shown_ || shown_->scenes.empty() || !shown_->range.contains(frame)) return false;
  const auto count = static_cast<std::ptrdiff_t>(shown_->scenes.size());
  const auto first = pictures_.begin() + (frame - shown_->range.first) * count;
  return std::all_of(first, first + count,
                     [](const ScreenPicturePtr& picture) { return picture != nullptr; });
}

std::size_t SweepRun::drawn() const {
  const std::lock_guard lock(mutex_);
  return drawn_;
}

std::size_t SweepRun::all() const {
  const std::lock_guard lock(mutex_);
  return pictures_.size();
}

bool SweepRun::fits() const {
  const std::lock_guard lock(mutex_);
  return !shown_ || pictures_.size() * shown_->pictureBytes() <= shown_->budget;
}

QString SweepRun::problem() const {
  const std::lock_guard lock(mutex_);
  return problem_;
}

}  // namespace comet
