#include "bake/cell_player.h"

#include "controls/screen_image.h"
#include "render/backdrop.h"
#include "theme/theme.h"

#include <QPainter>
#include <cmath>

namespace comet {
namespace {

constexpr int kTick = 16;  // ms
constexpr int kCaption = 20;

QString nameOf(CellBlend blend) {
  switch (blend) {
    case CellBlend::None:
      return CellPlayer::tr("Cell by cell");
    case CellBlend::Mixed:
      return CellPlayer::tr("Blended");
    case CellBlend::AlongMotion:
      return CellPlayer::tr("Motion vectors");
  }
  return {};
}

}  // namespace

CellPlayer::CellPlayer(QWidget* parent) : QWidget(parent) { setMinimumSize(120, 120); }

void CellPlayer::setSheet(std::shared_ptr<const BakedSheet> sheet) {
  sheet_ = std::move(sheet);
  cell_ = -1;
  setCell(0);
}

void CellPlayer::setGround(Ground ground) {
  ground_ = ground;
  update();
}

void CellPlayer::setCompares(bool compares) {
  compares_ = compares;
  update();
}

void CellPlayer::setPlaying(bool playing) {
  if (timer_ != 0) killTimer(timer_);
  timer_ = playing && sheet_ ? startTimer(kTick, Qt::PreciseTimer) : 0;
  clock_.start();
}

void CellPlayer::setCell(int cell) {
  if (!sheet_) return;
  const int each = static_cast<int>(sheet_->layout().cellsEach());
  variant_ = static_cast<std::size_t>(cell / each);
  showTime(cell % each / sheet_->layout().framesPerSecond);
}

void CellPlayer::showTime(double seconds) {
  const FlipbookLayout& layout = sheet_->layout();
  seconds_ = std::fmod(seconds, layout.seconds());
  const int each = static_cast<int>(layout.cellsEach());
  const int cell =
      static_cast<int>(variant_) * each + static_cast<int>(seconds_ * layout.framesPerSecond + 1e-6) % each;
  const bool isNew = cell != cell_;
  cell_ = cell;
  // Between two cells only blending changes anything.
  if (isNew || compares_) update();
  if (isNew) Q_EMIT cellShown(cell_);
}

void CellPlayer::timerEvent(QTimerEvent*) {
  const double passed = static_cast<double>(clock_.restart()) / 1000;
  showTime(seconds_ + passed);
}

std::vector<CellBlend> CellPlayer::panes() const {
  if (!compares_) return {CellBlend::None};
  std::vector<CellBlend> all{CellBlend::None, CellBlend::Mixed};
  if (sheet_->book.find(DataLayer::Motion)) all.push_back(CellBlend::AlongMotion);
  return all;
}

void CellPlayer::drawPane(QPainter& painter, const QRectF& box, CellBlend blend) const {
  const FlipbookLayout& layout = sheet_->layout();
  const int within = cell_ % static_cast<int>(layout.cellsEach());
  const double seconds = blend == CellBlend::None ? within / layout.framesPerSecond : seconds_;
  const Picture cell = sheet_->preview.cellAt(variant_, seconds + 1e-9, blend);
  const Ground ground = layout.alpha == AlphaKind::OnBlack ? Ground::Black : ground_;
  const QImage image = screenImage(over(cell, groundPicture(ground, cell.width(), cell.height())), Qt::black);
  const QRectF room = compares_ ? box.adjusted(4, kCaption, -4, -4) : box;
  const QSizeF size = QSizeF(image.size()).scaled(room.size(), Qt::KeepAspectRatio);
  painter.drawImage(QRectF(room.center() - QPointF(size.width(), size.height()) / 2, size), image);
  if (!compares_) return;
  painter.setPen(theme::kText);
  painter.drawText(QRectF(box.x(), room.center().y() - size.height() / 2 - kCaption, box.width(), kCaption),
                   Qt::AlignCenter, nameOf(blend));
}

void CellPlayer::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kNeutral);
  if (!sheet_) return;
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  const std::vector<CellBlend> all = panes();
  const double width = static_cast<double>(this->width()) / static_cast<double>(all.size());
  for (std::size_t i = 0; i < all.size(); ++i)
    drawPane(painter, QRectF(width * static_cast<double>(i), 0, width, height()), all[i]);
}

}  // namespace comet
