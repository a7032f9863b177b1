// Draws frames on a thread of its own; the newest wish wins.
#pragma once

#include "render/renderer.h"
#include "session/worker.h"

#include <QImage>
#include <QObject>

namespace comet {

class FramePainter : public QObject {
  Q_OBJECT

 public:
  struct Request {
    Scene scene;
    ParticleFramePtr frame;
    Past past;
    Camera camera;
    Finish finish;
    PictureSize size;          // of the picture on the screen, in its pixels
    bool withBackdrop = true;  // false for views that are not the camera's
    int reduction = 1;         // drawn at so many times fewer pixels each way
  };

  explicit FramePainter(QObject* parent = nullptr);

  void paint(const Request& request) { worker_.ask(request); }

 Q_SIGNALS:
  // On the window's thread. `milliseconds` is what drawing took.
  // `leftOut` is how many particles are missing because their meshes have too many triangles in all.
  void painted(const QImage& image, int frame, int reduction, double milliseconds, std::size_t leftOut);
  // Why there is no picture.
  void failed(const QString& problem);

 private:
  void work(const Request& request);
  void draw(const Request& request);

  Renderer renderer_;
  StampCache backdrops_;
  NewestRequestWorker<Request> worker_;
};

}  // namespace comet
