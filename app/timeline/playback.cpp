#include "timeline/playback.h"

#include <algorithm>
#include <cmath>

namespace comet {

Playback::Playback(Document& document, BackgroundRun& run, QObject* parent)
    : QObject(parent), document_(document), run_(run) {
  timer_.setTimerType(Qt::PreciseTimer);
  connect(&timer_, &QTimer::timeout, this, &Playback::tick);
}

void Playback::play() {
  const FrameRange range = frameRange(document_.scene());
  if (document_.frame() >= range.last) document_.setFrame(range.first);
  position_ = document_.frame();
  clock_.start();
  measure_.start();
  shownFrames_ = 0;
  // Twice as often as frames change, so that a frame is late by half its time at most.
  timer_.start(std::max(4, static_cast<int>(500 / frameRate(document_.scene()))));
  Q_EMIT stateChanged(true);
}

void Playback::pause() {
  if (!isPlaying()) return;
  timer_.stop();
  measuredRate_ = 0;
  Q_EMIT stateChanged(false);
}

void Playback::tick() {
  const FrameRange range = frameRange(document_.scene());
  const double passed = static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
  clock_.start();
  double wanted = position_ + passed * frameRate(document_.scene());
  if (wanted >= range.last + 1) {
    if (!loops_) {
      document_.setFrame(range.last);
      return pause();
    }
    wanted = range.first + std::fmod(wanted - range.first, range.count());
  }
  const int frame = std::clamp(static_cast<int>(std::floor(wanted)), range.first, range.last);
  // Waits for the simulation rather than run ahead of it.
  if (frame != document_.frame() && !run_.isSimulated(frame)) {
    // A run that rests has filled its budget; it goes on from the frame that is shown.
    if (!run_.isBusy()) run_.follow();
    return;
  }
  position_ = wanted;
  if (frame == document_.frame()) return;
  document_.setFrame(frame);
  ++shownFrames_;
  if (measure_.elapsed() < 1000) return;
  measuredRate_ = shownFrames_ * 1000.0 / static_cast<double>(measure_.restart());
  shownFrames_ = 0;
}

void Playback::step(int frames) {
  pause();
  document_.setFrame(document_.frame() + frames);
}

void Playback::rewind() {
  position_ = frameRange(document_.scene()).first;
  document_.setFrame(frameRange(document_.scene()).first);
}

}  // namespace comet
