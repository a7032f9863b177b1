#include "timeline/timeline.h"

#include "simulation/emission/emission.h"
#include "theme/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kNameWidth = 84;
constexpr int kMargin = 10;
constexpr int kRulerHeight = 22;
constexpr int kSimulatedHeight = 4;
constexpr int kRowHeight = 26;
constexpr int kKeyRowHeight = 18;

// Frames between labelled ticks: 1, 2 or 5 times a power of ten, so that labels are at least `room` pixels
// apart.
int labelStep(double pixelsPerFrame, double room) {
  for (int decade = 1;; decade *= 10)
    for (const int step : {1, 2, 5})
      if (step * decade * pixelsPerFrame >= room) return step * decade;
}

}  // namespace

Timeline::Timeline(Document& document, BackgroundRun& run, Playback& playback, QWidget* parent)
    : QWidget(parent), document_(document), run_(run), playback_(playback) {
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  setMinimumHeight(80);
  connect(&document_, &Document::sceneChanged, this, &Timeline::reread);
  connect(&document_, &Document::frameChanged, this, qOverload<>(&QWidget::update));
  connect(&document_, &Document::selectionChanged, this, qOverload<>(&QWidget::update));
  connect(&run_, &BackgroundRun::changed, this, qOverload<>(&QWidget::update));
  reread();
}

void Timeline::reread() {
  births_.clear();
  const FrameRange range = frameRange(document_.scene());
  const double rate = frameRate(document_.scene());
  for (const Scene::ItemPtr& emitter : document_.scene().itemsOf(ItemFamily::Emitter)) {
    Births births{emitter->id, expectedBirths(*emitter, range, rate), 0};
    for (const ExpectedBirths& frame : births.perFrame) births.most = std::max(births.most, frame.fromRate);
    births_.push_back(std::move(births));
  }
  update();
}

double Timeline::xOf(double frame) const {
  const FrameRange range = frameRange(document_.scene());
  const double width = this->width() - kNameWidth - kMargin;
  return kNameWidth + (frame - range.first) / std::max(1, range.count() - 1) * width;
}

void Timeline::goTo(double x) {
  const FrameRange range = frameRange(document_.scene());
  const double share = (x - kNameWidth) / (width() - kNameWidth - kMargin);
  playback_.pause();
  document_.setFrame(range.first + static_cast<int>(std::lround(share * (range.count() - 1))));
}

void Timeline::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && event->position().x() >= kNameWidth - kMargin)
    goTo(event->position().x());
}

void Timeline::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) goTo(event->position().x());
}

void Timeline::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kPanel);
  painter.setRenderHint(QPainter::Antialiasing);
  paintRuler(painter);
  paintSimulated(painter);
  const int below = paintEmitters(painter, kRulerHeight + kSimulatedHeight + 4);
  paintKeys(painter, below);
  const double x = xOf(document_.frame());
  painter.setPen(QPen(theme::kAccent, 1.4));
  painter.drawLine(QPointF(x, 2), QPointF(x, height() - 2));
  painter.setBrush(theme::kAccent);
  painter.drawPolygon(QPolygonF({QPointF(x - 5, 1), QPointF(x + 5, 1), QPointF(x, 8)}));
}

void Timeline::paintRuler(QPainter& painter) const {
  const FrameRange range = frameRange(document_.scene());
  const double pixelsPerFrame = xOf(range.first + 1) - xOf(range.first);
  const int step = labelStep(pixelsPerFrame, 46);
  const int small = labelStep(pixelsPerFrame, 6);
  painter.setFont(theme::font(10));
  for (int frame = range.first; frame <= range.last; ++frame) {
    const bool isLabelled = frame % step == 0 || frame == range.first;
    if (!isLabelled && frame % small != 0) continue;
    const double x = xOf(frame);
    painter.setPen(QPen(isLabelled ? theme::kQuietText : theme::kLine, 1));
    painter.drawLine(QPointF(x, kRulerHeight - (isLabelled ? 6 : 3)), QPointF(x, kRulerHeight));
    // A label right after the first one would overlap it.
    if (isLabelled && (frame == range.first || (frame - range.first) * pixelsPerFrame > 26))
      painter.drawText(QRectF(x - 25, 1, 50, 14), Qt::AlignCenter, QString::number(frame));
  }
  painter.setPen(theme::kQuietText);
  painter.drawText(QRectF(8, 0, kNameWidth - 12, kRulerHeight), Qt::AlignVCenter | Qt::AlignLeft,
                   tr("frames"));
}

void Timeline::paintSimulated(QPainter& painter) const {
  const FrameRange range = frameRange(document_.scene());
  const double half = 0.5 * (xOf(range.first + 1) - xOf(range.first)) + 0.3;
  painter.fillRect(QRectF(kNameWidth, kRulerHeight, width() - kNameWidth - kMargin, kSimulatedHeight),
                   theme::kField);
  for (int frame = range.first; frame <= range.last; ++frame)
    if (run_.isSimulated(frame))
      painter.fillRect(QRectF(xOf(frame) - half, kRulerHeight, 2 * half, kSimulatedHeight), theme::kWell);
  painter.fillRect(QRectF(0, kRulerHeight, kNameWidth - half, kSimulatedHeight), theme::kPanel);
}

int Timeline::paintEmitters(QPainter& painter, int top) const {
  const FrameRange range = frameRange(document_.scene());
  for (const Births& births : births_) {
    const Scene::ItemPtr emitter = document_.scene().find(births.emitter);
    if (!emitter) continue;
    const bool selected = births.emitter == document_.selectedEmitter();
    const QRectF row(kNameWidth, top, width() - kNameWidth - kMargin, kRowHeight - 4);
    painter.fillRect(row, theme::kField);
    const QColor color = !emitter->enabled ? theme::kLine : selected ? theme::kAccent : theme::kQuietText;
    QPainterPath area(QPointF(xOf(range.first), row.bottom()));
    std::vector<double> bursts;
    for (int i = 0; i < range.count(); ++i) {
      const ExpectedBirths& frame = births.perFrame[static_cast<std::size_t>(i)];
      const double share = births.most > 0 ? 0.9 * frame.fromRate / births.most : 0;
      area.lineTo(xOf(range.first + i), row.bottom() - share * row.height());
      if (frame.fromBursts > 0) bursts.push_back(xOf(range.first + i));
    }
    area.lineTo(xOf(range.last), row.bottom());
    painter.fillPath(area, theme::withAlpha(color, 80));
    painter.setPen(QPen(color, 1.6));
    for (const double x : bursts) painter.drawLine(QPointF(x, row.top() + 2), QPointF(x, row.bottom()));
    painter.setFont(theme::font(11));
    painter.setPen(selected ? theme::kAccent : theme::kText);
    const QRect name(8, top, kNameWidth - 12, kRowHeight - 4);
    painter.drawText(name, Qt::AlignVCenter | Qt::AlignLeft,
                     painter.fontMetrics().elidedText(QString::fromStdString(emitter->name), Qt::ElideRight,
                                                      name.width()));
    top += kRowHeight;
  }
  return top;
}

void Timeline::paintKeys(QPainter& painter, int top) const {
  const Scene::ItemPtr item = document_.scene().find(document_.selected());
  if (!item) return;
  painter.setFont(theme::font(11));
  for (std::size_t i = 0; i < item->values.size(); ++i) {
    if (item->values[i].keys.empty()) continue;
    painter.setPen(theme::kQuietText);
    const QRect name(8, top, kNameWidth - 12, kKeyRowHeight);
    painter.drawText(name, Qt::AlignVCenter | Qt::AlignLeft,
                     painter.fontMetrics().elidedText(QString::fromStdString(item->kind->params()[i].label),
                                                      Qt::ElideRight, name.width()));
    const double y = top + kKeyRowHeight / 2.0;
    painter.setPen(QPen(theme::kLine, 1));
    painter.drawLine(QPointF(kNameWidth, y), QPointF(width() - kMargin, y));
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kAccent);
    for (const Key& key : item->values[i].keys) {
      const QPointF centre(xOf(key.frame), y);
      painter.drawPolygon(QPolygonF({centre + QPointF(0, -4), centre + QPointF(4, 0), centre + QPointF(0, 4),
                                     centre + QPointF(-4, 0)}));
    }
    top += kKeyRowHeight;
  }
}

}  // namespace comet
