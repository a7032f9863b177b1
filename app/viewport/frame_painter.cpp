#include "viewport/frame_painter.h"

#include "base/error.h"

#include <chrono>
#include <new>

namespace comet {
namespace {

using PaintClock = std::chrono::steady_clock;

}  // namespace

FramePainter::FramePainter(PictureCache& cache, QObject* parent)
    : QObject(parent),
      cache_(cache),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {
  qRegisterMetaType<FramePainter::Painted>();
}

void FramePainter::paint(const Request& request) {
  constexpr std::chrono::milliseconds kPatience{200};
  const bool isFresh = isRefining_ || PaintClock::now() - lastPainted_.load() < kPatience;
  worker_.ask(request, isFresh ? Running::GivesWay : Running::Ends);
}

void FramePainter::work(const Request& request, const Progress& progress) {
  try {
    draw(request, request.reduction, progress);
    isRefining_ = true;
    if (request.reduction > 1 && request.refines) draw(request, 1, progress);
  } catch (const Error& error) {
    if (error.kind() != ErrorKind::Cancelled) Q_EMIT failed(QString::fromUtf8(error.what()));
  } catch (const std::bad_alloc&) {
    Q_EMIT failed(tr("there is not enough memory for this picture"));
  }
  isRefining_ = false;
}

void FramePainter::draw(const Request& request, int reduction, const Progress& progress) {
  const auto start = PaintClock::now();
  const auto picture = std::make_shared<const ScreenPicture>(
      drawForScreen(renderer_, backdrops_, request.shot, reduction, progress));
  const auto end = PaintClock::now();
  if (reduction == 1) cache_.insert(request.key, picture, PictureCache::Others::Stay);
  lastPainted_ = end;
  Q_EMIT painted({picture, request.shot.shot.frame.number, reduction,
                  std::chrono::duration<double, std::milli>(end - start).count(), request.number});
}

}  // namespace comet
