#include "bake/sheet_view.h"

#include "controls/screen_image.h"
#include "theme/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kMargin = 12;

// The picture that a game would see: what the file holds, over a checker; on black, over black.
QImage imageOf(const BakedSheet& sheet) {
  return sheet.layout.alpha == AlphaKind::OnBlack ? screenImage(sheet.sheet, Qt::black)
                                                  : screenImageOverChecker(sheet.sheet, 8);
}

QRect cellPixels(const FlipbookLayout& layout, int cell) {
  const auto index = static_cast<std::size_t>(cell);
  return {layout.cellX(index), layout.cellY(index), layout.cellWidth, layout.cellHeight};
}

}  // namespace

SheetView::SheetView(QWidget* parent) : QWidget(parent) { setMinimumSize(200, 200); }

void SheetView::setSheet(std::shared_ptr<const BakedSheet> sheet) {
  sheet_ = std::move(sheet);
  image_ = sheet_ ? imageOf(*sheet_) : QImage();
  update();
}

void SheetView::setCell(int cell) {
  cell_ = cell;
  update();
}

double SheetView::scale() const {
  return std::min((width() - 2 * kMargin) / image_.width(), (height() - 2 * kMargin) / image_.height());
}

QPointF SheetView::origin() const {
  return {(width() - image_.width() * scale()) / 2, (height() - image_.height() * scale()) / 2};
}

QRectF SheetView::cellRect(int cell) const {
  const QRect pixels = cellPixels(sheet_->layout, cell);
  return {origin() + QPointF(pixels.topLeft()) * scale(), QSizeF(pixels.size()) * scale()};
}

void SheetView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kNeutral);
  if (image_.isNull()) {
    painter.setPen(theme::kQuietText);
    painter.drawText(rect(), Qt::AlignCenter, tr("Press Bake to draw the sheet"));
    return;
  }
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.drawImage(QRectF(origin(), QSizeF(image_.size()) * scale()), image_);
  const FlipbookLayout& layout = sheet_->layout;
  painter.setFont(theme::font(10));
  for (int cell = 0; cell < layout.columns * layout.rows; ++cell) {
    const QRectF box = cellRect(cell);
    const bool used = cell < static_cast<int>(layout.frames.size());
    painter.setPen(QPen(theme::withAlpha(theme::kQuietText, used ? 120 : 50), 1));
    painter.drawRect(box);
    if (!used || box.width() < 30) continue;
    painter.setPen(theme::withAlpha(theme::kText, 190));
    painter.drawText(box.adjusted(4, 2, -4, -2), Qt::AlignLeft | Qt::AlignTop,
                     QString::number(layout.frames[static_cast<std::size_t>(cell)]));
  }
  painter.setPen(QPen(theme::kAccent, 2));
  painter.drawRect(cellRect(cell_));
}

void SheetView::mousePressEvent(QMouseEvent* event) {
  if (!sheet_) return;
  for (int cell = 0; cell < static_cast<int>(sheet_->layout.frames.size()); ++cell)
    if (cellRect(cell).contains(event->position())) Q_EMIT cellChosen(cell);
}

CellPlayer::CellPlayer(QWidget* parent) : QWidget(parent) { setMinimumSize(120, 120); }

void CellPlayer::setSheet(std::shared_ptr<const BakedSheet> sheet) {
  sheet_ = std::move(sheet);
  image_ = sheet_ ? imageOf(*sheet_) : QImage();
  setCell(0);
}

void CellPlayer::setPlaying(bool playing) {
  if (timer_ != 0) killTimer(timer_);
  timer_ = playing && sheet_
               ? startTimer(std::max(1, static_cast<int>(std::lround(1000 / sheet_->layout.framesPerSecond))))
               : 0;
}

void CellPlayer::setCell(int cell) {
  cell_ = cell;
  update();
  Q_EMIT cellShown(cell_);
}

void CellPlayer::timerEvent(QTimerEvent*) {
  setCell((cell_ + 1) % static_cast<int>(sheet_->layout.frames.size()));
}

void CellPlayer::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kNeutral);
  if (image_.isNull()) return;
  const QRect pixels = cellPixels(sheet_->layout, cell_);
  const QSizeF size = QSizeF(pixels.size()).scaled(QSizeF(this->size()), Qt::KeepAspectRatio);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.drawImage(QRectF(QPointF((width() - size.width()) / 2, (height() - size.height()) / 2), size),
                    image_, pixels);
}

}  // namespace comet
