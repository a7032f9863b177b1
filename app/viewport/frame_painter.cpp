#include "viewport/frame_painter.h"

#include "controls/screen_image.h"
#include "render/backdrop.h"
#include "theme/theme.h"

#include <algorithm>
#include <chrono>
#include <new>

namespace comet {
namespace {

using PaintClock = std::chrono::steady_clock;

}  // namespace

FramePainter::FramePainter(QObject* parent)
    : QObject(parent),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {}

void FramePainter::paint(const Request& request) {
  constexpr std::chrono::milliseconds kPatience{200};
  const bool isFresh = PaintClock::now() - lastPainted_.load() < kPatience;
  worker_.ask(request, isFresh ? Running::GivesWay : Running::Ends);
}

void FramePainter::work(const Request& request, const Progress& progress) {
  try {
    draw(request, progress);
  } catch (const Error& error) {
    if (error.kind() != ErrorKind::Cancelled) Q_EMIT failed(QString::fromUtf8(error.what()));
  } catch (const std::bad_alloc&) {
    Q_EMIT failed(tr("there is not enough memory for this picture"));
  }
}

void FramePainter::draw(const Request& request, const Progress& progress) {
  const auto start = PaintClock::now();
  Shot shot = request.shot;
  const int frame = shot.frame.number;
  shot.size = {std::max(1, shot.size.width / request.reduction),
               std::max(1, shot.size.height / request.reduction)};
  const PictureSize size = shot.size;
  const Picture picture = renderer_.draw(std::move(shot), request.finish, progress);
  const Picture ground =
      drawBackdrop(request.shot.scene, frame, size.width, size.height, request.withBackdrop, backdrops_);
  const QImage image = screenImage(over(picture, ground), theme::kNeutral);
  const auto end = PaintClock::now();
  lastPainted_ = end;
  Q_EMIT painted(image, frame, request.reduction,
                 std::chrono::duration<double, std::milli>(end - start).count(), renderer_.leftOut());
}

}  // namespace comet
