#include "timeline/playback.h"

#include <algorithm>
#include <cmath>

namespace comet {

Playback::Playback(Document& document, BackgroundRun& run, QObject* parent)
    : QObject(parent), document_(document), run_(run) {
  timer_.setTimerType(Qt::PreciseTimer);
  connect(&timer_, &QTimer::timeout, this, &Playback::tick);
  connect(&document_, &Document::frameHeld, this, &Playback::pause);
}

void Playback::play() {
  const FrameRange range = playedRange(document_.scene());
  if (document_.frame() >= range.last || document_.frame() < range.first) document_.setFrame(range.first);
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

double Playback::wantedPosition() {
  const double passed = static_cast<double>(clock_.nsecsElapsed()) * 1e-9;
  clock_.start();
  const double wanted = position_ + passed * frameRate(document_.scene());
  if (!showsEveryFrame_) return wanted;
  // Not before its picture was seen, and never more than one on.
  const double next = std::floor(position_) + 1;
  return std::min(wanted, pictureOf_ == document_.frame() ? next : next - 1e-6);
}

void Playback::tick() {
  const FrameRange range = playedRange(document_.scene());
  double wanted = wantedPosition();
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
  if (measure_.elapsed() >= 1000) {
    measuredRate_ = shownFrames_ * 1000.0 / static_cast<double>(measure_.restart());
    shownFrames_ = 0;
  }
  document_.setFrame(frame);
}

void Playback::pictureShown(int frame) {
  if (frame != pictureOf_) ++shownFrames_;
  pictureOf_ = frame;
}

void Playback::step(int frames) {
  pause();
  document_.setFrame(document_.frame() + frames);
}

void Playback::rewind() {
  position_ = playedRange(document_.scene()).first;
  document_.setFrame(playedRange(document_.scene()).first);
}

}  // namespace comet
