#include "bake/compare_view.h"

#include "bake/frame_choice.h"
#include "controls/own_keys.h"
#include "controls/screen_image.h"
#include "theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <utility>

namespace comet {
namespace {

constexpr double kMargin = 12, kCaptionHeight = 20;
// Differences are shown so many times as bright.
constexpr float kDifferenceGain = 4;

Picture differenceOf(const Picture& a, const Picture& b) {
  Picture result(a.width(), a.height());
  for (int y = 0; y < a.height(); ++y)
    for (int x = 0; x < a.width(); ++x) {
      const Vec4 change = glm::abs(a.at(x, y) - b.at(x, y)) * kDifferenceGain;
      result.at(x, y) = Vec4(glm::max(Vec3(change), Vec3(change.w)), 1);
    }
  return result;
}

}  // namespace

CompareView::CompareView(QWidget* parent) : QWidget(parent) {
  setMinimumSize(200, 200);
  setFocusPolicy(Qt::StrongFocus);
  setToolTip(tr("Drag the line, or move it with the left and right keys"));
}

void CompareView::setSheets(std::shared_ptr<const BakedSheet> before, std::shared_ptr<const BakedSheet> now) {
  before_ = std::move(before);
  now_ = std::move(now);
  drop();
}

void CompareView::setWith(CompareWith with) {
  if (std::exchange(with_, with) != with) drop();
}

void CompareView::setGround(Ground ground) {
  if (std::exchange(ground_, ground) != ground) drop();
}

void CompareView::setShowsDifference(bool shows) {
  showsDifference_ = shows;
  update();
}

void CompareView::drop() {
  left_ = right_ = difference_ = {};
  update();
}

bool CompareView::isReady() const {
  return now_ && (with_ == CompareWith::Texture ? now_->book.texture.has_value() : before_ != nullptr);
}

void CompareView::makeImages() {
  const SheetLook look{SheetChannel::Color, ground_, 0};
  const bool isTexture = with_ == CompareWith::Texture;
  const Flipbook &first = isTexture ? now_->book : before_->book, &second = now_->book;
  left_ = sheetImage(first, look);
  right_ = sheetImage(second, {isTexture ? SheetChannel::Texture : look.channel, ground_, 0});
  if (left_.size() != right_.size()) return;
  const Picture& picture = isTexture ? second.texture->picture : second.color;
  difference_ = screenImage(differenceOf(first.color, picture), Qt::black);
  meanDifference_ = changeBetween(first.color, picture);
}

QRectF CompareView::box() const {
  const FlipbookLayout& layout = now_->layout();
  const QSizeF size = QSizeF(layout.width(), layout.height())
                          .scaled(QSizeF(width() - 2 * kMargin, height() - 2 * kMargin - kCaptionHeight),
                                  Qt::KeepAspectRatio);
  return {QPointF((width() - size.width()) / 2, (height() - size.height() + kCaptionHeight) / 2), size};
}

void CompareView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kNeutral);
  painter.setPen(theme::kQuietText);
  const bool isTexture = with_ == CompareWith::Texture;
  if (!isReady()) {
    painter.drawText(rect(), Qt::AlignCenter,
                     isTexture ? tr("Choose a GPU texture in Files and bake, to compare the sheet with it")
                               : tr("Bake twice to compare the sheet with the previous one"));
    return;
  }
  if (left_.isNull()) makeImages();
  const QRectF box = this->box();
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  const QRectF caption(box.left(), box.top() - kCaptionHeight, box.width(), kCaptionHeight - 2);
  if (showsDifference_) {
    if (difference_.isNull()) {
      painter.drawText(rect(), Qt::AlignCenter, tr("The sheets differ in size: compare them by the line"));
      return;
    }
    painter.drawImage(box, difference_);
    painter.drawText(caption, Qt::AlignCenter,
                     tr("Difference, %1 times as bright: %2 % of white on average")
                         .arg(kDifferenceGain)
                         .arg(100 * meanDifference_, 0, 'f', 3));
    return;
  }
  const double line = box.left() + fraction_ * box.width();
  painter.save();
  painter.setClipRect(QRectF(0, 0, line, height()));
  painter.drawImage(box, left_);
  painter.setClipRect(QRectF(line, 0, width() - line, height()));
  painter.drawImage(box, right_);
  painter.restore();
  painter.drawText(caption, Qt::AlignLeft | Qt::AlignVCenter, isTexture ? tr("Sheet") : tr("Before"));
  painter.drawText(caption, Qt::AlignRight | Qt::AlignVCenter, isTexture ? tr("GPU texture") : tr("Now"));
  painter.setPen(QPen(theme::kAccent, 2));
  painter.drawLine(QPointF(line, box.top()), QPointF(line, box.bottom()));
}

void CompareView::moveLine(double fraction) {
  fraction_ = std::clamp(fraction, 0.0, 1.0);
  update();
}

void CompareView::mousePressEvent(QMouseEvent* event) { mouseMoveEvent(event); }

void CompareView::mouseMoveEvent(QMouseEvent* event) {
  if (isReady()) moveLine((event->position().x() - box().left()) / box().width());
}

bool CompareView::event(QEvent* event) {
  return claimsKey(event, {Qt::Key_Left, Qt::Key_Right}) || QWidget::event(event);
}

void CompareView::keyPressEvent(QKeyEvent* event) {
  constexpr double kStep = 0.02;
  if (event->key() == Qt::Key_Left) return moveLine(fraction_ - kStep);
  if (event->key() == Qt::Key_Right) return moveLine(fraction_ + kStep);
  QWidget::keyPressEvent(event);
}

}  // namespace comet
