#include "viewport/comparison.h"

#include "controls/screen_image.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

// As large as it can be within the area, in the middle.
QRect fitted(const QRect& area, const QSize& shape) {
  QRect place(QPoint(), shape.scaled(area.size(), Qt::KeepAspectRatio));
  place.moveCenter(area.center());
  return place;
}

}  // namespace

Comparison::Comparison(Document& document, BackgroundRun& run, PictureRun& pictures, QObject* parent)
    : QObject(parent), document_(document), run_(run.cache(), pictures.cache()) {
  connect(&document_, &Document::sceneChanged, this, &Comparison::keepValid);
  connect(&document_, &Document::soloChanged, this, &Comparison::begin);
  connect(&run_, &CompareRun::changed, this, &Comparison::changed);
}

// It may have been renamed, or be gone.
void Comparison::keepValid() {
  if (!isOn()) return;
  const auto& kept = document_.scene().snapshots();
  if (std::find(kept.begin(), kept.end(), snapshot_) == kept.end())
    compareWith(findSnapshot(document_.scene(), snapshot_->name));
}

void Comparison::compareWith(SnapshotPtr snapshot) {
  if (snapshot == snapshot_) return;
  snapshot_ = std::move(snapshot);
  if (!isOn()) showsSnapshot_ = false;
  begin();
  Q_EMIT changed();
}

void Comparison::begin() {
  keys_.reset();
  isFollowed_ = false;
  run_.follow(nullptr);
}

void Comparison::setMode(CompareMode mode) {
  mode_ = mode;
  showsSnapshot_ = false;
  Q_EMIT changed();
}

void Comparison::toggle() {
  if (!isOn()) return;
  showsSnapshot_ = !showsSnapshot_;
  Q_EMIT changed();
}

void Comparison::see(const ViewCamera& camera, PictureSize size) {
  camera_ = camera;
  size_ = size;
  isFollowed_ = false;
}

void Comparison::look(int frame, int reduction) {
  if (!isOn()) return;
  if (!isFollowed_) {
    isFollowed_ = true;
    if (!keys_) keys_ = std::make_shared<const PictureKeys>(document_.drawn(snapshot_->scene));
    run_.follow(std::make_shared<const CompareRun::View>(CompareRun::View{
        document_.simulated(snapshot_->scene), std::make_shared<const ViewedScene>(keys_, camera_, size_)}));
  }
  // What could not be drawn is not tried again and again.
  if (!run_.picture(frame) && run_.problem().isEmpty()) run_.look(frame, reduction);
}

void Comparison::paint(QPainter& painter, const QRect& area, const QImage& now, int frame) const {
  const ScreenPicturePtr picture = run_.picture(frame);
  const ScreenPicturePtr newest = picture ? picture : run_.newestPicture();
  const QImage then = newest ? imageOf(newest) : QImage();
  const QString name = text(snapshot_->name);
  const QString thenLabel = picture                    ? name
                            : run_.problem().isEmpty() ? tr("%1: being drawn").arg(name)
                                                       : tr("%1: %2").arg(name, run_.problem());
  if (isSideBySide()) {
    const QRect left(area.topLeft(), QSize(area.width() / 2 - 1, area.height()));
    const QRect right = left.translated(area.width() - left.width(), 0);
    painter.drawImage(fitted(left, area.size()), then);
    painter.drawImage(fitted(right, area.size()), now);
    paintLabel(painter, left, Qt::AlignLeft, thenLabel);
    return paintLabel(painter, right, Qt::AlignRight, tr("now"));
  }
  if (!hasLine()) {
    painter.drawImage(area, showsSnapshot_ ? then : now);
    return paintLabel(painter, area, Qt::AlignLeft, showsSnapshot_ ? thenLabel : tr("now"));
  }
  painter.drawImage(area, now);
  const double line = lineIn(area);
  painter.save();
  painter.setClipRect(QRectF(area.left(), area.top(), line - area.left(), area.height()));
  painter.fillRect(area, theme::kNeutral);
  painter.drawImage(area, then);
  painter.restore();
  painter.setPen(QPen(theme::kAccent, 1.5));
  painter.drawLine(QPointF(line, area.top()), QPointF(line, area.bottom()));
  painter.setBrush(theme::kGround);
  painter.drawEllipse(QPointF(line, area.center().y()), 5, 9);
  paintLabel(painter, area, Qt::AlignLeft, thenLabel);
  paintLabel(painter, area, Qt::AlignRight, tr("now"));
}

void Comparison::paintLabel(QPainter& painter, const QRect& area, Qt::Alignment side,
                            const QString& words) const {
  painter.setFont(theme::font(12));
  const QRect room = area.adjusted(14, 8, -14, -8);
  const QRect place = painter.boundingRect(room, static_cast<int>(side | Qt::AlignTop), words);
  painter.fillRect(place.adjusted(-6, -3, 6, 3), theme::withAlpha(theme::kGround, 210));
  painter.setPen(theme::kText);
  painter.drawText(room, static_cast<int>(side | Qt::AlignTop), words);
}

bool Comparison::press(const QRect& area, const QPointF& position) {
  holdsLine_ = hasLine() && std::abs(position.x() - lineIn(area)) <= theme::kGripReach;
  return holdsLine_;
}

bool Comparison::move(const QRect& area, const QPointF& position) {
  if (!holdsLine_) return false;
  line_ = std::clamp((position.x() - area.left()) / area.width(), 0.0, 1.0);
  Q_EMIT changed();
  return true;
}

bool Comparison::release() { return std::exchange(holdsLine_, false); }

}  // namespace comet
