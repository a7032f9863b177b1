// Playing: which frame is shown when. Runs in real time and leaves out frames that come too late, or shows
// every one, however long it takes.
#pragma once

#include "session/background_run.h"
#include "session/document.h"

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

namespace comet {

class Playback : public QObject {
  Q_OBJECT

 public:
  Playback(Document& document, BackgroundRun& run, QObject* parent = nullptr);

  bool isPlaying() const { return timer_.isActive(); }
  bool loops() const { return loops_; }
  void setLoops(bool loops) { loops_ = loops; }
  // Whether no frame is left out: the next one comes when the picture of this one has been shown.
  bool showsEveryFrame() const { return showsEveryFrame_; }
  void setShowsEveryFrame(bool shows) { showsEveryFrame_ = shows; }
  // Tells that the picture of a frame came to the screen.
  void pictureShown(int frame);
  void play();
  void pause();
  void toggle() { isPlaying() ? pause() : play(); }
  // Steps by so many frames and pauses.
  void step(int frames);
  void rewind();
  // Frames whose pictures came to the screen, a second, over the last second of playing.
  double measuredRate() const { return measuredRate_; }

 Q_SIGNALS:
  void stateChanged(bool playing);

 private:
  void tick();
  // Where playing should be now, in frames.
  double wantedPosition();

  Document& document_;
  BackgroundRun& run_;
  QTimer timer_;
  QElapsedTimer clock_;
  double position_ = 0;  // in frames
  QElapsedTimer measure_;
  int shownFrames_ = 0;
  double measuredRate_ = 0;
  bool loops_ = true;
  bool showsEveryFrame_ = false;
  int pictureOf_ = 0;
};

}  // namespace comet
