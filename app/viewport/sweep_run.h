// Draws the variants of a sweep behind the window: those of the frame that is looked at first, then those of
// the other frames.
#pragma once

#include "cache/picture_cache.h"
#include "cache/scene_run.h"
#include "render/screen_picture.h"
#include "session/worker.h"
#include "viewport/view_camera.h"

#include <QObject>
#include <QString>
#include <atomic>
#include <memory>
#include <mutex>
#include <vector>

namespace comet {

class SweepRun : public QObject {
  Q_OBJECT

 public:
  // What is simulated and what is drawn of a variant.
  struct Variant {
    Scene simulated, drawn;
  };
  struct Variants {
    std::vector<Variant> scenes;
    FrameRange range;
    ViewCamera camera;
    PictureSize size;        // of each picture
    std::size_t budget = 0;  // for all pictures, in bytes
  };

  // Frames are shared with whoever else uses the cache.
  explicit SweepRun(std::shared_ptr<FrameCache> frames, QObject* parent = nullptr);

  // Forgets what was drawn before. Without scenes it rests.
  void begin(Variants variants);
  // Draws these next; what is drawn ahead gives way.
  void look(int frame);

  // Null while it is not drawn.
  ScreenPicturePtr picture(std::size_t variant, int frame) const;
  bool isDrawn(int frame) const;
  // How many pictures there are, and will be.
  std::size_t drawn() const;
  std::size_t all() const;
  // What stopped it, in words; empty while all is well.
  QString problem() const;

 Q_SIGNALS:
  // A picture was drawn, or there is a problem; comes on the window's thread.
  void changed();

 private:
  struct Request {
    std::shared_ptr<const Variants> variants;
    int frame;
  };

  void work(const Request& request, const Progress& progress);
  void drawFrame(const Variants& variants, int frame, const Progress& progress);
  bool isFull(const Variants& variants) const;

  std::shared_ptr<FrameCache> frames_;
  std::shared_ptr<const Variants> variants_;
  std::atomic<bool> isAhead_{false};
  // The worker's own.
  std::shared_ptr<const Variants> running_;
  std::vector<SceneRun> runs_;
  Renderer renderer_;
  StampCache backdrops_;
  mutable std::mutex mutex_;  // guards what follows
  std::shared_ptr<const Variants> shown_;
  std::vector<ScreenPicturePtr> pictures_;  // frame by frame, each with all variants
  std::size_t drawn_ = 0;
  QString problem_;
  NewestRequestWorker<Request> worker_;  // last: its thread uses all above
};

}  // namespace comet
