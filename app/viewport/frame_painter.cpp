#include "viewport/frame_painter.h"

#include "controls/screen_image.h"
#include "render/backdrop.h"
#include "theme/theme.h"

#include <algorithm>
#include <chrono>
#include <new>

namespace comet {

FramePainter::FramePainter(QObject* parent)
    : QObject(parent), worker_([this](const Request& request, const Progress&) { work(request); }) {}

void FramePainter::work(const Request& request) {
  try {
    draw(request);
  } catch (const Error& error) {
    Q_EMIT failed(QString::fromUtf8(error.what()));
  } catch (const std::bad_alloc&) {
    Q_EMIT failed(tr("there is not enough memory for this picture"));
  }
}

void FramePainter::draw(const Request& request) {
  const auto start = std::chrono::steady_clock::now();
  const PictureSize size{std::max(1, request.size.width / request.reduction),
                         std::max(1, request.size.height / request.reduction)};
  const Picture picture = renderer_.draw(request.scene, *request.frame, request.camera, size, request.finish,
                                         Beholder::Viewport, request.past);
  const Picture ground = drawBackdrop(request.scene, request.frame->frame, size.width, size.height,
                                      request.withBackdrop, backdrops_);
  const QImage image = screenImage(over(picture, ground), theme::kNeutral);
  const double milliseconds =
      std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
  Q_EMIT painted(image, request.frame->frame, request.reduction, milliseconds, renderer_.leftOut());
}

}  // namespace comet
