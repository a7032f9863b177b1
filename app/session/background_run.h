// The simulation that goes on behind the window.
//
// It always works on the newest scene: first the frame that is looked at, then the rest of the range from
// there on. Frames whose keys an edit leaves as they were are found in the cache and not run again.
#pragma once

#include "cache/scene_run.h"
#include "session/document.h"
#include "session/worker.h"

#include <QObject>
#include <QString>
#include <atomic>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

namespace comet {

class BackgroundRun : public QObject {
  Q_OBJECT

 public:
  // Follows the document. Make it before whatever asks it for frames: it then hears of an edit before they
  // do.
  explicit BackgroundRun(Document& document, QObject* parent = nullptr);

  // Works for the document's scene from now on, its current frame first.
  void follow();

  // Null while the frame is not simulated.
  SceneFramePtr frame(int frame) const;
  bool isSimulated(int frame) const;
  // So many frames before one, as far as they are at hand.
  Past past(int frame, int count) const;
  // A frame with so many before it, and what its states are kept under: all of one scene, whatever is edited
  // meanwhile. None while it is not simulated. From any thread.
  struct Moment {
    Digest key;
    SceneFramePtr frame;
    Past past;
  };
  std::optional<Moment> moment(int frame, int pastCount) const;
  // Whether it is still working on the newest scene. It rests when all is done, or what is done fills the
  // budget.
  bool isBusy() const;
  // Whether all frames of the range are there.
  bool isComplete() const;
  // For others who simulate the document's scene; it may be shared.
  const std::shared_ptr<FrameCache>& cache() const { return cache_; }
  std::size_t bytes() const { return cache_->bytes(); }
  std::size_t budget() const { return cache_->budget(); }
  // What stopped the run, in words; empty while all is well.
  QString problem() const;

 Q_SIGNALS:
  // Some frame was finished, or a problem arose; comes on the window's thread.
  void changed();

 private:
  struct Request {
    Scene scene;
    std::string sceneFile;  // empty for one that has no file yet
    int frame;
    int generation;
  };

  // Follows only what the run depends on.
  void followEdit();
  void work(const Request& request, const Progress& progress);
  void publish(SceneRun& run, FrameRange range, int generation, const Progress& progress);
  // Null if it is not simulated, or of no frame that is. With the mutex held, as the next.
  const Digest* keyOf(int frame) const;
  Past keptPast(int frame, int count) const;

  Document& document_;
  std::shared_ptr<FrameCache> cache_;
  Scene followed_;
  std::atomic<bool> isReplaced_{false};  // by another scene, and the frames before are still kept
  mutable std::mutex mutex_;             // guards what follows
  int generation_ = 0;                   // of the newest request
  int finishedGeneration_ = 0;           // of the newest one that was worked off
  FrameRange range_;
  int firstKey_ = 0;  // the frame that the first key is of: warm-up comes before the range
  std::vector<Digest>
      keys_;  // empty until the newest scene is planned, so that no older frame is taken for its own
  QString problem_;
  NewestRequestWorker<Request> worker_;
};

}  // namespace comet
