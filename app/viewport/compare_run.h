// Draws pictures of an earlier state of the scene behind the window: of the frame that is looked at first,
// then of the others. They are kept with those of the scene itself.
#pragma once

#include "cache/picture_cache.h"
#include "cache/scene_run.h"
#include "render/screen_picture.h"
#include "session/worker.h"
#include "viewport/viewed_scene.h"

#include <QObject>
#include <QString>
#include <atomic>
#include <map>
#include <memory>
#include <mutex>
#include <optional>

namespace comet {

class CompareRun : public QObject {
  Q_OBJECT

 public:
  struct View {
    Scene simulated;
    std::shared_ptr<const ViewedScene> seen;
  };

  // Frames and pictures are shared with whoever else uses the caches.
  CompareRun(std::shared_ptr<FrameCache> frames, PictureCache& pictures, QObject* parent = nullptr);

  // Shows another view from now on; nothing without one. Until it is drawn, the newest picture stays.
  void follow(std::shared_ptr<const View> view);
  // Draws this frame next, with so many times fewer pixels each way at first.
  void look(int frame, int reduction);

  // The picture of a frame, or of the nearest one that its range has; null while there is none.
  ScreenPicturePtr picture(int frame) const;
  // The one that was drawn last, perhaps of another frame or view.
  ScreenPicturePtr newestPicture() const;
  // What stopped it, in words; empty while all is well.
  QString problem() const;

 Q_SIGNALS:
  // A picture was drawn, or there is a problem; comes on the window's thread.
  void changed();

 private:
  struct Request {
    std::shared_ptr<const View> view;
    int frame, reduction;
  };

  void work(const Request& request, const Progress& progress);
  void drawAhead(const Request& request, const Progress& progress);
  // What its picture is drawn of, simulated if need be.
  ViewedScene::FrameShot shotOf(const View& view, int frame, const Progress& progress);
  // Kept, or else drawn with so many times fewer pixels each way.
  ScreenPicturePtr drawn(const ViewedScene::FrameShot& shot, int reduction, const Progress& progress);
  void publish(const View& view, int frame, const Digest& key, ScreenPicturePtr picture);

  std::shared_ptr<FrameCache> frames_;
  PictureCache& cache_;
  std::atomic<bool> isAhead_{false};
  // The worker's own.
  std::optional<SceneRun> run_;
  Renderer renderer_;
  StampCache backdrops_;
  mutable std::mutex mutex_;  // guards what follows
  std::shared_ptr<const View> view_;
  std::map<int, Digest> keys_;      // of the pictures that were drawn of the view
  ScreenPicturePtr newest_;         // kept or not
  std::optional<int> newestFrame_;  // if it is of this view
  QString problem_;
  NewestRequestWorker<Request> worker_;  // last: its thread uses all above
};

}  // namespace comet
