// Draws frames on a thread of its own; the newest wish wins.
#pragma once

#include "cache/picture_cache.h"
#include "render/screen_picture.h"
#include "session/worker.h"

#include <QObject>
#include <atomic>
#include <chrono>
#include <optional>

namespace comet {

// A picture that is wanted: the later of two has the larger number.
using WishNumber = std::uint64_t;

class FramePainter : public QObject {
  Q_OBJECT

 public:
  struct Request {
    ScreenShot shot;
    Digest key;            // what its picture is kept under
    int reduction = 1;     // drawn at so many times fewer pixels each way
    bool refines = false;  // and once more with all, unless another is wanted by then
    WishNumber number = 0;
  };

  // What is drawn with all pixels is kept as long as there is room.
  explicit FramePainter(PictureCache& cache, QObject* parent = nullptr);

  // Gives up the picture that is being drawn, unless the screen has gone without a new one for too long:
  // while a hand drags, pictures come as often as they can be drawn.
  void paint(const Request& request);

  struct Painted {
    ScreenPicturePtr picture;
    int frame = 0, reduction = 1;
    std::optional<double> milliseconds{};  // that drawing took; none for one that was kept
    WishNumber number = 0;
  };

 Q_SIGNALS:
  // On the window's thread.
  void painted(const FramePainter::Painted& painted);
  // Why there is no picture.
  void failed(const QString& problem);

 private:
  void work(const Request& request, const Progress& progress);
  void draw(const Request& request, int reduction, const Progress& progress);

  PictureCache& cache_;
  Renderer renderer_;
  StampCache backdrops_;
  std::atomic<std::chrono::steady_clock::time_point> lastPainted_{};
  std::atomic<bool> isRefining_{false};
  NewestRequestWorker<Request> worker_;
};

}  // namespace comet
