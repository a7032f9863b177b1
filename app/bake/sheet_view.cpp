#include "bake/sheet_view.h"

#include "controls/own_keys.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr double kMargin = 12;
constexpr double kMaxPixelSize = 48;  // pixels of the screen for one of the sheet
// From here on pixels are drawn as squares.
constexpr double kSharpFrom = 2;

// The frame that a cell shows, and the one that is mixed in.
QString labelOf(const CellPlan& cell) {
  return cell.fadedFraction > 0 ? SheetView::tr("%1 + %2").arg(cell.frame).arg(cell.fadesTo)
                                : QString::number(cell.frame);
}

}  // namespace

SheetView::SheetView(QWidget* parent) : QWidget(parent) {
  setMinimumSize(200, 200);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setToolTip(tr("Wheel, + and - zoom, dragging pans, a double-click shows all, a click selects a cell"));
}

void SheetView::setSheet(std::shared_ptr<const BakedSheet> sheet) {
  sheet_ = std::move(sheet);
  marked_.clear();
  setLook(look_);
}

void SheetView::setLook(const SheetLook& look) {
  look_ = look;
  image_ = {};
  update();
}

void SheetView::setCell(int cell) {
  cell_ = cell;
  update();
}

void SheetView::setMarked(const std::vector<int>& cells) {
  marked_ = cells;
  update();
}

void SheetView::showAll() {
  zoom_.reset();
  update();
}

double SheetView::fittingScale() const {
  const FlipbookLayout& layout = sheet_->layout();
  return std::min((width() - 2 * kMargin) / layout.width(), (height() - 2 * kMargin) / layout.height());
}

QRectF SheetView::fitting() const {
  const QSizeF size = QSizeF(sheet_->layout().width(), sheet_->layout().height()) * fittingScale();
  return {QPointF(width() - size.width(), height() - size.height()) / 2, size};
}

QPointF SheetView::origin() const { return zoom_.placed(fitting()).topLeft(); }

QRectF SheetView::boxAt(int x, int y) const {
  const FlipbookLayout& layout = sheet_->layout();
  return {origin() + QPointF(x, y) * scale(), QSizeF(layout.cellWidth, layout.cellHeight) * scale()};
}

QRectF SheetView::cellRect(int cell) const {
  const auto index = static_cast<std::size_t>(cell);
  return boxAt(sheet_->layout().cellX(index), sheet_->layout().cellY(index));
}

std::optional<int> SheetView::cellAt(const QPointF& place) const {
  for (int cell = 0; cell < static_cast<int>(sheet_->layout().cells.size()); ++cell)
    if (cellRect(cell).contains(place)) return cell;
  return std::nullopt;
}

void SheetView::drawCells(QPainter& painter) const {
  const FlipbookLayout& layout = sheet_->layout();
  painter.setFont(theme::font(10));
  painter.setPen(QPen(theme::withAlpha(theme::kQuietText, 50), 1));
  for (int row = 0; row < layout.allRows(); ++row)
    for (int column = 0; column < layout.columns; ++column)
      painter.drawRect(boxAt(layout.xOfColumn(column), layout.yOfRow(row)));
  for (int cell = 0; cell < static_cast<int>(layout.cells.size()); ++cell) {
    const QRectF box = cellRect(cell);
    painter.setPen(QPen(theme::withAlpha(theme::kQuietText, 120), 1));
    painter.drawRect(box);
    if (box.width() < 30) continue;
    const CellPlan& plan = layout.cells[static_cast<std::size_t>(cell)];
    QString label = labelOf(plan);
    const auto width = [&painter](const QString& shown) {
      return painter.fontMetrics().horizontalAdvance(shown) + 6;
    };
    // The first of a variant says which it is, as far as there is room for it.
    if (layout.variants.size() > 1 && static_cast<std::size_t>(cell) % layout.cellsEach() == 0)
      for (const QString& name : {text(layout.variants[plan.variant]), tr("No. %1").arg(plan.variant + 1)})
        if (const QString whole = QString("%1 · %2").arg(name, label); width(whole) < box.width() - 6) {
          label = whole;
          break;
        }
    const QRectF corner(box.topLeft() + QPointF(3, 3), QSizeF(width(label), 14));
    painter.fillRect(corner, theme::withAlpha(theme::kNeutral, 150));
    painter.setPen(theme::kText);
    painter.drawText(corner, Qt::AlignCenter, label);
  }
  painter.setPen(QPen(theme::kTrouble, 2, Qt::DashLine));
  for (const int cell : marked_) painter.drawRect(cellRect(cell).adjusted(2, 2, -2, -2));
  painter.setPen(QPen(theme::kAccent, 2));
  painter.drawRect(cellRect(cell_));
}

void SheetView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kNeutral);
  if (sheet_ && image_.isNull()) image_ = sheetImage(sheet_->book, look_);
  if (!sheet_) {
    painter.setPen(theme::kQuietText);
    painter.drawText(rect(), Qt::AlignCenter, tr("Press Bake to draw the sheet"));
    return;
  }
  const FlipbookLayout& layout = sheet_->layout();
  painter.setRenderHint(QPainter::SmoothPixmapTransform, look_.mipLevel == 0 && scale() < kSharpFrom);
  painter.drawImage(QRectF(origin(), QSizeF(layout.width(), layout.height()) * scale()), image_);
  drawCells(painter);
  if (hasFocus()) {
    painter.setPen(QPen(theme::kAccent, 1));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

void SheetView::zoomAt(const QPointF& place, double factor) {
  zoom_.zoomAt(place, factor, fitting(), 0.5, std::max(1.0, kMaxPixelSize / fittingScale()));
  update();
}

void SheetView::wheelEvent(QWheelEvent* event) {
  if (sheet_) zoomAt(event->position(), PictureZoom::byWheel(event->angleDelta().y()));
  event->accept();
}

void SheetView::keyPressEvent(QKeyEvent* event) {
  if (!sheet_) return QWidget::keyPressEvent(event);
  if (const auto by = PictureZoom::byKey(event->key())) return zoomAt(fitting().center(), *by);
  const int cells = static_cast<int>(sheet_->layout().cells.size());
  switch (event->key()) {
    case Qt::Key_0:
      return showAll();
    case Qt::Key_Left:
      return Q_EMIT cellChosen((cell_ + cells - 1) % cells);
    case Qt::Key_Right:
      return Q_EMIT cellChosen((cell_ + 1) % cells);
    default:
      QWidget::keyPressEvent(event);
  }
}

bool SheetView::event(QEvent* event) {
  return claimsKey(event,
                   {Qt::Key_Left, Qt::Key_Right, Qt::Key_Plus, Qt::Key_Equal, Qt::Key_Minus, Qt::Key_0}) ||
         QWidget::event(event);
}

void SheetView::mousePressEvent(QMouseEvent* event) {
  pressedAt_ = event->position();
  shiftAtPress_ = zoom_.shift();
  isMoved_ = false;
}

void SheetView::mouseMoveEvent(QMouseEvent* event) {
  if (!sheet_) return;
  if (event->buttons() != Qt::NoButton) {
    const QPointF moved = event->position() - pressedAt_;
    isMoved_ = isMoved_ || moved.manhattanLength() > QApplication::startDragDistance();
    if (isMoved_) zoom_.setShift(shiftAtPress_ + moved);
    update();
    return;
  }
  const QPointF place = (event->position() - origin()) / scale();
  const int x = static_cast<int>(std::floor(place.x())), y = static_cast<int>(std::floor(place.y()));
  const FlipbookLayout& layout = sheet_->layout();
  const std::optional<int> cell = cellAt(event->position());
  if (!cell) return Q_EMIT hovered({});
  const auto index = static_cast<std::size_t>(*cell);
  const QString variant = text(layout.variants[layout.cells[index].variant]);
  Q_EMIT hovered((variant.isEmpty() ? QString() : variant + ", ") +
                 tr("cell %1, frame %2, pixel %3 × %4:  %5")
                     .arg(index % layout.cellsEach() + 1)
                     .arg(layout.cells[index].frame)
                     .arg(x - layout.cellX(index))
                     .arg(y - layout.cellY(index))
                     .arg(valueText(sheet_->book, look_.channel, x, y)));
}

void SheetView::mouseReleaseEvent(QMouseEvent* event) {
  if (!sheet_ || isMoved_) return;
  if (const auto cell = cellAt(event->position())) Q_EMIT cellChosen(*cell);
}

void SheetView::mouseDoubleClickEvent(QMouseEvent*) { showAll(); }

void SheetView::leaveEvent(QEvent*) { Q_EMIT hovered({}); }

}  // namespace comet
