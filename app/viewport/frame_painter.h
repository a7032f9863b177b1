// Draws frames on a thread of its own; the newest wish wins.
#pragma once

#include "render/renderer.h"
#include "session/worker.h"

#include <QImage>
#include <QObject>
#include <atomic>
#include <chrono>

namespace comet {

class FramePainter : public QObject {
  Q_OBJECT

 public:
  struct Request {
    Shot shot;  // in the size of the picture on the screen, in its pixels
    Finish finish;
    bool withBackdrop = true;  // false for views that are not the camera's
    int reduction = 1;         // drawn at so many times fewer pixels each way
  };

  explicit FramePainter(QObject* parent = nullptr);

  // Gives up the picture that is being drawn, unless the screen has gone without a new one for too long:
  // while a hand drags, pictures come as often as they can be drawn.
  void paint(const Request& request);

 Q_SIGNALS:
  // On the window's thread. `milliseconds` is what drawing took.
  // `leftOut` is how many particles are missing because their meshes have too many triangles in all.
  void painted(const QImage& image, int frame, int reduction, double milliseconds, std::size_t leftOut);
  // Why there is no picture.
  void failed(const QString& problem);

 private:
  void work(const Request& request, const Progress& progress);
  void draw(const Request& request, const Progress& progress);

  Renderer renderer_;
  StampCache backdrops_;
  std::atomic<std::chrono::steady_clock::time_point> lastPainted_{};
  NewestRequestWorker<Request> worker_;
};

}  // namespace comet
