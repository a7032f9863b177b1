// The drawing that goes on behind the window: once the simulation and the hand rest, the pictures of the
// whole range are drawn in full and kept, so that playback only has to show them.
#pragma once

#include "cache/picture_cache.h"
#include "session/worker.h"
#include "viewport/viewed_scene.h"

#include <QObject>
#include <QTimer>
#include <mutex>
#include <vector>

namespace comet {

class PictureRun : public QObject {
  Q_OBJECT

 public:
  // Make it before whatever shows how far it is.
  explicit PictureRun(BackgroundRun& run, QObject* parent = nullptr);

  // From now on draws what is seen so, from this frame on.
  void follow(std::shared_ptr<const ViewedScene> view, int frame);
  // Draws nothing until it follows again.
  void rest();

  PictureCache& cache() { return cache_; }

  // Whether the picture of a frame is kept in full, as it is seen now.
  bool isDrawn(int frame) const;
  // Pictures of the range that are still to be drawn; none while nothing is drawn ahead.
  int missing() const;
  // Whether the pictures of the range take more memory than they may.
  bool isFull() const;

 Q_SIGNALS:
  // Some picture was drawn, or another range is; comes on the window's thread.
  void changed();

 private:
  struct Request {
    std::shared_ptr<const ViewedScene> view;
    int frame;
    int generation;
  };

  void startWhenSimulated();
  void work(const Request& request, const Progress& progress);
  void drawAll(const Request& request, const Progress& progress);
  // What the pictures of the range are kept under. Empty if a newer request has come.
  std::vector<Digest> publish(const Request& request, FrameRange range, const Progress& progress);
  void end(int generation, bool isFull);

  BackgroundRun& run_;
  PictureCache cache_;
  std::shared_ptr<const ViewedScene> view_;  // null while it rests
  int frame_ = 1;
  QTimer hand_;  // until it counts as resting
  bool waits_ = false;
  mutable std::mutex mutex_;  // guards what follows
  int generation_ = 0;
  int firstFrame_ = 1;
  std::vector<Digest> keys_;  // of the range's frames; empty until they are known
  bool isWorking_ = false, isFull_ = false;
  NewestRequestWorker<Request> worker_;  // last: its thread uses all above
};

}  // namespace comet
