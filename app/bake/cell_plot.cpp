#include "bake/cell_plot.h"

#include "theme/theme.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

namespace comet {
namespace {

constexpr double kLegend = 18;

}  // namespace

CellPlot::CellPlot(QWidget* parent) : QWidget(parent) { setFixedHeight(96); }

void CellPlot::setSheet(std::shared_ptr<const BakedSheet> sheet) {
  sheet_ = std::move(sheet);
  update();
}

void CellPlot::setCell(int cell) {
  cell_ = cell;
  update();
}

QRectF CellPlot::bars() const { return QRectF(rect()).adjusted(8, kLegend + 2, -8, -6); }

int CellPlot::cellAt(double x) const {
  const QRectF room = bars();
  const int count = static_cast<int>(sheet_->book.cells.size());
  return std::clamp(static_cast<int>((x - room.left()) / room.width() * count), 0, count - 1);
}

void CellPlot::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kPanel);
  if (!sheet_) return;
  const std::vector<CellFacts>& cells = sheet_->book.cells;
  double energy = 1e-12, change = 1e-12;
  for (const CellFacts& cell : cells) {
    energy = std::max(energy, cell.energy);
    change = std::max(change, cell.change);
  }
  const QRectF room = bars();
  const double width = room.width() / static_cast<double>(cells.size());
  for (std::size_t i = 0; i < cells.size(); ++i) {
    const double left = room.left() + width * static_cast<double>(i);
    const double high = room.height() * cells[i].energy / energy;
    painter.fillRect(QRectF(left + 1, room.bottom() - high, width - 2, high),
                     static_cast<int>(i) == cell_ ? theme::kAccent : theme::kLine);
    const bool isSeam = sheet_->layout().isLastOfVariant(i);
    const double mark = room.height() * cells[i].change / change;
    painter.setPen(QPen(isSeam ? theme::kTrouble : theme::kWell, 2, isSeam ? Qt::DotLine : Qt::SolidLine));
    painter.drawLine(QPointF(left + width * 0.6, room.bottom() - mark),
                     QPointF(left + width * 1.4 - (isSeam ? width * 0.4 : 0), room.bottom() - mark));
    if (!cells[i].changeAlongMotion) continue;
    const double rest = room.bottom() - room.height() * *cells[i].changeAlongMotion / change;
    painter.setPen(QPen(theme::kText, 1));
    painter.drawLine(QPointF(left + width * 0.7, rest), QPointF(left + width * (isSeam ? 1 : 1.3), rest));
  }
  painter.setFont(theme::font(11));
  painter.setPen(theme::kQuietText);
  painter.drawText(QRectF(8, 0, width * static_cast<double>(cells.size()), kLegend), Qt::AlignVCenter,
                   sheet_->book.find(DataLayer::Motion)
                       ? tr("bars: visible light   ·   lines: change to the next cell, dotted to the first; "
                            "thin: what remains of it with motion vectors")
                       : tr("bars: visible light   ·   lines: change to the next cell, dotted to the first"));
}

void CellPlot::mousePressEvent(QMouseEvent* event) {
  if (sheet_) Q_EMIT cellChosen(cellAt(event->position().x()));
}

bool CellPlot::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip || !sheet_) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const int cell = cellAt(help->pos().x());
  const CellFacts& facts = sheet_->book.cells[static_cast<std::size_t>(cell)];
  QToolTip::showText(help->globalPos(), tr("Cell %1: changes by %2 % of white on average, moves %3 px")
                                            .arg(cell + 1)
                                            .arg(100 * facts.change, 0, 'f', 2)
                                            .arg(facts.motion, 0, 'f', 1));
  return true;
}

}  // namespace comet
