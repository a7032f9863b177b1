#include "presets/preset_tiles.h"

#include "controls/own_keys.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QDrag>
#include <QHelpEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

namespace comet {
namespace {

constexpr int kTileGap = 6;
constexpr int kNameHeight = 18;
constexpr int kTickMilliseconds = 80;

QSize tileSize() {
  const PictureSize picture = PresetPictures::size();
  return {picture.width, picture.height + kNameHeight};
}

}  // namespace

PresetTiles::PresetTiles(QWidget* parent) : QWidget(parent) {
  setObjectName("preset_tiles");
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Preferred);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
  clock_.setInterval(kTickMilliseconds);
  connect(&clock_, &QTimer::timeout, this, [this] {
    ++tick_;
    update();
  });
  connect(&pictures_, &PresetPictures::changed, this, qOverload<>(&QWidget::update));
}

void PresetTiles::show(const std::vector<OfferedPreset>& offered, std::vector<std::size_t> shown) {
  offered_ = offered;
  shown_ = std::move(shown);
  mark(std::nullopt);
  updateGeometry();
  update();
  if (isVisible()) drawPictures();
}

void PresetTiles::drawPictures() {
  std::vector<PresetPictures::PresetPtr> inSight, others;
  for (std::size_t tile = 0; tile < shown_.size(); ++tile)
    if (preset(tile).still.isEmpty())
      (visibleRegion().intersects(tileRect(tile)) ? inSight : others).push_back(preset(tile).preset);
  inSight.insert(inSight.end(), others.begin(), others.end());
  pictures_.draw(std::move(inSight));
}

int PresetTiles::across(int width) const {
  return std::max(1, (width + kTileGap) / (tileSize().width() + kTileGap));
}

int PresetTiles::heightForWidth(int width) const {
  const int down = (static_cast<int>(shown_.size()) + across(width) - 1) / across(width);
  return down * (tileSize().height() + kTileGap);
}

QSize PresetTiles::sizeHint() const {
  const int width = 3 * (tileSize().width() + kTileGap);
  return {width, heightForWidth(width)};
}

QRect PresetTiles::tileRect(std::size_t tile) const {
  const int column = static_cast<int>(tile) % across(width()), row = static_cast<int>(tile) / across(width());
  return {QPoint(column * (tileSize().width() + kTileGap), row * (tileSize().height() + kTileGap)),
          tileSize()};
}

std::optional<std::size_t> PresetTiles::tileAt(const QPoint& position) const {
  for (std::size_t tile = 0; tile < shown_.size(); ++tile)
    if (tileRect(tile).contains(position)) return tile;
  return std::nullopt;
}

std::optional<std::size_t> PresetTiles::tileNamed(const QString& name) const {
  for (std::size_t tile = 0; tile < shown_.size(); ++tile)
    if (text(preset(tile).preset->name) == name) return tile;
  return std::nullopt;
}

QRect PresetTiles::tileOf(const QString& name) const {
  const auto tile = tileNamed(name);
  return tile ? tileRect(*tile) : QRect();
}

bool PresetTiles::isDrawn(const QString& name) const {
  const auto tile = tileNamed(name);
  return tile && !pictures_.of(preset(*tile).preset).empty();
}

QByteArray PresetTiles::dragged(const QString& name) const {
  const auto tile = tileNamed(name);
  return tile ? carried(*tile) : QByteArray();
}

QByteArray PresetTiles::carried(std::size_t tile) const {
  return QByteArray::number(static_cast<qulonglong>(shown_[tile]));
}

void PresetTiles::mark(std::optional<std::size_t> tile) {
  if (tile == marked_) return;
  marked_ = tile;
  tick_ = PresetPictures::kMiddle;
  marked_ ? clock_.start() : clock_.stop();
  update();
}

QImage PresetTiles::pictureOf(const OfferedPreset& preset, bool moves) const {
  if (!preset.still.isEmpty()) return QImage(preset.still);
  const std::vector<QImage> pictures = pictures_.of(preset.preset);
  if (pictures.empty()) return {};
  return pictures[static_cast<std::size_t>(moves ? tick_ % PresetPictures::kPictures
                                                 : PresetPictures::kMiddle)];
}

void PresetTiles::paintTile(QPainter& painter, std::size_t tile) const {
  const QRect all = tileRect(tile), place = all.adjusted(0, 0, 0, -kNameHeight);
  const bool isMarked = marked_ == tile;
  painter.fillRect(place, theme::kNeutral);
  const QImage picture = pictureOf(preset(tile), isMarked);
  if (!picture.isNull()) {
    // Demos have pictures of another shape.
    QRect from(QPoint(), place.size().scaled(picture.size(), Qt::KeepAspectRatio));
    from.moveCenter(picture.rect().center());
    painter.drawImage(place, picture, from);
  }
  if (isMarked) {
    painter.setPen(QPen(theme::kAccent, 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(place.adjusted(1, 1, -1, -1));
  }
  painter.setPen(isMarked ? theme::kAccent : theme::kText);
  painter.drawText(
      all.adjusted(2, place.height(), -2, 0), Qt::AlignCenter,
      painter.fontMetrics().elidedText(text(preset(tile).preset->name), Qt::ElideRight, all.width() - 4));
}

void PresetTiles::paintEvent(QPaintEvent* event) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.setFont(theme::font(11));
  for (std::size_t tile = 0; tile < shown_.size(); ++tile)
    if (event->rect().intersects(tileRect(tile))) paintTile(painter, tile);
}

void PresetTiles::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  pressed_ = tileAt(event->position().toPoint());
  pressedAt_ = event->position().toPoint();
}

void PresetTiles::mouseMoveEvent(QMouseEvent* event) {
  const QPoint position = event->position().toPoint();
  if (!pressed_) return mark(tileAt(position));
  if ((position - pressedAt_).manhattanLength() >= QApplication::startDragDistance())
    startDrag(*std::exchange(pressed_, std::nullopt));
}

void PresetTiles::startDrag(std::size_t tile) {
  auto* carries = new QMimeData;
  carries->setData(kMimeType, carried(tile));
  auto* drag = new QDrag(this);
  drag->setMimeData(carries);
  const QImage picture = pictureOf(preset(tile), false);
  if (!picture.isNull())
    drag->setPixmap(QPixmap::fromImage(picture.scaledToHeight(PresetPictures::size().height / 2)));
  drag->exec(Qt::CopyAction);
}

void PresetTiles::mouseReleaseEvent(QMouseEvent* event) {
  const auto pressed = std::exchange(pressed_, std::nullopt);
  if (pressed && tileAt(event->position().toPoint()) == pressed) Q_EMIT chosen(shown_[*pressed]);
}

void PresetTiles::leaveEvent(QEvent*) { mark(std::nullopt); }

void PresetTiles::contextMenuEvent(QContextMenuEvent* event) {
  if (const auto tile = tileAt(event->pos())) Q_EMIT menuWanted(shown_[*tile], event->globalPos());
}

void PresetTiles::focusInEvent(QFocusEvent* event) {
  QWidget::focusInEvent(event);
  if (!marked_ && !shown_.empty() && event->reason() != Qt::MouseFocusReason) mark(0);
}

void PresetTiles::keyPressEvent(QKeyEvent* event) {
  if (shown_.empty()) return QWidget::keyPressEvent(event);
  const auto by = [&]() -> int {
    switch (event->key()) {
      case Qt::Key_Left:
        return -1;
      case Qt::Key_Right:
        return 1;
      case Qt::Key_Up:
        return -across(width());
      case Qt::Key_Down:
        return across(width());
      default:
        return 0;
    }
  }();
  if (by != 0) {
    const int now = marked_ ? static_cast<int>(*marked_) : 0;
    return mark(static_cast<std::size_t>(std::clamp(now + by, 0, static_cast<int>(shown_.size()) - 1)));
  }
  const bool isEnter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (isEnter && marked_) return Q_EMIT chosen(shown_[*marked_]);
  QWidget::keyPressEvent(event);
}

bool PresetTiles::event(QEvent* event) {
  if (claimsKey(event, {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down})) return true;
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  if (const auto tile = tileAt(help->pos()))
    QToolTip::showText(
        help->globalPos(),
        tr("%1: click to add it, or drag it to its place in the viewport; on a mesh, it is born there")
            .arg(text(preset(*tile).preset->name)),
        this);
  return true;
}

}  // namespace comet
