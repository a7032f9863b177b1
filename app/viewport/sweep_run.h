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

    std::size_t pictureBytes() const {
      return sizeof(std::uint32_t) * static_cast<std::size_t>(size.width) *
             static_cast<std::size_t>(size.height);
    }
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
  // How many pictures there are, and in the whole range; and whether it has room for them all.
  std::size_t drawn() const;
  std::size_t all() const;
  bool fits() const;
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
  // Whether the pictures of one more frame are more than they may be.
  bool isFull(const Variants& variants) const;
  // Forgets those frames that are played last from this one on, as far as it needs their room.
  void makeRoom(const Variants& variants, int frame);
  // Where the pictures of a frame begin. With the mutex held.
  std::ptrdiff_t indexOf(int frame) const;

  std::shared_ptr<FrameCache> frames_;
  std::atomic<bool> isAhead_{false};
  // The worker's own.
  std::shared_ptr<const Variants> running_;
  std::vector<SceneRun> runs_;
  Renderer renderer_;
  StampCache backdrops_;
  mutable std::mutex mutex_;                // guards what follows
  std::shared_ptr<const Variants> shown_;   // null until it begins
  std::vector<ScreenPicturePtr> pictures_;  // frame by frame, each with all variants
  std::size_t drawn_ = 0;
  QString problem_;
  NewestRequestWorker<Request> worker_;  // last: its thread uses all above
};

}  // namespace comet
