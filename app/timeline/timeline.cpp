#include "timeline/timeline.h"

#include "simulation/emission/emission.h"
#include "theme/theme.h"

#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolButton>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kNameWidth = 84;
constexpr int kMargin = 10;
constexpr int kRulerHeight = 22;
constexpr int kSimulatedHeight = 4;
constexpr int kRowHeight = 26;
constexpr int kBarRowHeight = 20;
constexpr double kEndReach = 5;

// Frames between labelled ticks: 1, 2 or 5 times a power of ten, so that labels are at least `room` pixels
// apart.
int labelStep(double pixelsPerFrame, double room) {
  for (int decade = 1;; decade *= 10)
    for (const int step : {1, 2, 5})
      if (step * decade * pixelsPerFrame >= room) return step * decade;
}

}  // namespace

Timeline::Timeline(Document& document, BackgroundRun& run, Playback& playback, QWidget* parent)
    : QWidget(parent),
      document_(document),
      run_(run),
      playback_(playback),
      keys_(document),
      graph_(document),
      graphButton_(new QToolButton(this)) {
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  setMinimumHeight(80);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  graphButton_->setObjectName("timeline_graph");
  graphButton_->setText(tr("Graph"));
  graphButton_->setToolTip(tr("Show the course of what is keyed as curves, instead of rows"));
  graphButton_->setCheckable(true);
  graphButton_->setFont(theme::font(10));
  graphButton_->setGeometry(6, 2, kNameWidth - 24, kRulerHeight - 3);
  connect(graphButton_, &QToolButton::toggled, this, &Timeline::arrange);
  connect(&document_, &Document::sceneChanged, this, &Timeline::reread);
  connect(&document_, &Document::frameChanged, this, qOverload<>(&QWidget::update));
  connect(&document_, &Document::selectionChanged, this, &Timeline::arrange);
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
  arrange();
}

TimeScale Timeline::scale() const {
  return {frameRange(document_.scene()), kNameWidth, static_cast<double>(width() - kMargin)};
}

double Timeline::xOf(double frame) const { return scale().xOf(frame); }

void Timeline::goTo(double x) {
  playback_.pause();
  document_.setFrame(static_cast<int>(std::lround(scale().frameAt(x))));
}

void Timeline::arrange() {
  rows_.clear();
  int y = kRulerHeight + kSimulatedHeight + 4 - scrolled_;
  const auto add = [&](ItemId item, int height) {
    rows_.push_back({item, QRect(0, y, width(), height)});
    y += height;
  };
  for (const Births& births : births_) add(births.emitter, kRowHeight);
  // Influences that act always have nothing to show here, unless one is being worked on.
  for (const Scene::ItemPtr& influence : document_.scene().itemsOf(ItemFamily::Influence))
    if (influence->id == document_.selected() || windowOf(*influence, document_.frame()))
      add(influence->id, kBarRowHeight);
  keys_.reread();
  keys_.place(scale(), y, kNameWidth);
  const int top = kRulerHeight + kSimulatedHeight + 3;
  graph_.place(scale(), QRectF(kNameWidth, top, width() - kNameWidth - kMargin, height() - top - 4));
  const int needed = y + scrolled_ + keys_.height() + 6;
  mostScrolled_ = std::max(0, needed - height());
  if (scrolled_ > mostScrolled_) {
    scrolled_ = mostScrolled_;
    return arrange();
  }
  update();
}

void Timeline::resizeEvent(QResizeEvent*) { arrange(); }

void Timeline::wheelEvent(QWheelEvent* event) {
  scrolled_ = std::clamp(scrolled_ - event->angleDelta().y() / 4, 0, mostScrolled_);
  arrange();
}

QRectF Timeline::barOf(ItemId item) const {
  const auto row = std::find_if(rows_.begin(), rows_.end(), [item](const Row& r) { return r.item == item; });
  const Scene::ItemPtr found = document_.scene().find(item);
  if (row == rows_.end() || !found) return {};
  const auto window = windowOf(*found, document_.frame());
  if (!window) return {};
  return QRectF(QPointF(xOf(window->from), row->rect.top() + 1),
                QPointF(xOf(window->until), row->rect.bottom() - 2))
      .normalized();
}

Timeline::Grip Timeline::gripAt(const QPointF& position) const {
  for (const Row& row : rows_) {
    const QRectF bar = barOf(row.item);
    if (bar.isNull() || position.y() < bar.top() || position.y() > bar.bottom()) continue;
    if (std::abs(position.x() - bar.left()) <= kEndReach) return {row.item, Part::From};
    if (std::abs(position.x() - bar.right()) <= kEndReach) return {row.item, Part::Until};
    if (bar.contains(position) && isInfluence(row.item)) return {row.item, Part::Whole};
  }
  return {};
}

bool Timeline::showsGraph() const { return graphButton_->isChecked(); }

bool Timeline::isInfluence(ItemId item) const {
  const Scene::ItemPtr found = document_.scene().find(item);
  return found && found->kind->family() == ItemFamily::Influence;
}

void Timeline::dragBar(double x) {
  const double by = std::round(scale().frameAt(x) - scale().frameAt(pressedX_));
  double from = grippedWindow_.from, until = grippedWindow_.until;
  if (gripped_.part != Part::Until) from += by;
  if (gripped_.part != Part::From) until += by;
  if (gripped_.part == Part::From) from = std::min(from, until);
  setWindow(document_, gripped_.item, from, until, "window");
}

void Timeline::mousePressEvent(QMouseEvent* event) {
  const QPointF position = event->position();
  if (event->button() != Qt::LeftButton) return;
  held_ = Held::Nothing;
  pressedX_ = position.x();
  if (position.y() > kRulerHeight + kSimulatedHeight && showsGraph()) {
    if (graph_.chooseAt(position)) return update();
    if (graph_.press(position)) {
      held_ = Held::Graph;
      return update();
    }
  } else if (position.y() > kRulerHeight + kSimulatedHeight) {
    gripped_ = gripAt(position);
    if (gripped_.part != Part::None) {
      held_ = Held::Bar;
      grippedWindow_ = *windowOf(*document_.scene().find(gripped_.item), document_.frame());
      return;
    }
    for (const Row& row : rows_)
      if (row.rect.contains(position.toPoint()) && position.x() < kNameWidth - kMargin)
        return document_.select(row.item);
    if (keys_.contains(position)) {
      held_ = Held::Keys;
      keys_.press(position, event->modifiers());
      return update();
    }
  }
  if (position.x() < kNameWidth - kMargin) return;
  held_ = Held::Frame;
  goTo(position.x());
}

void Timeline::mouseMoveEvent(QMouseEvent* event) {
  const QPointF position = event->position();
  if (!(event->buttons() & Qt::LeftButton)) {
    const Part part = showsGraph() ? Part::None : gripAt(position).part;
    return setCursor(part == Part::From || part == Part::Until ? Qt::SizeHorCursor
                     : part == Part::Whole                     ? Qt::OpenHandCursor
                                                               : Qt::ArrowCursor);
  }
  if (held_ == Held::Frame) goTo(position.x());
  if (held_ == Held::Bar) dragBar(position.x());
  if (held_ == Held::Keys) keys_.drag(position, event->modifiers());
  if (held_ == Held::Graph) graph_.drag(position, event->modifiers());
  update();
}

void Timeline::mouseReleaseEvent(QMouseEvent* event) {
  if (held_ == Held::Bar) document_.endMerge();
  // A click beside the keys goes to a frame, as everywhere.
  if (held_ == Held::Keys && keys_.release() && event->button() == Qt::LeftButton)
    goTo(event->position().x());
  if (held_ == Held::Graph) {
    graph_.release();
    arrange();
  }
  held_ = Held::Nothing;
  update();
}

void Timeline::mouseDoubleClickEvent(QMouseEvent* event) {
  if (showsGraph() && graph_.contains(event->position())) graph_.addKey(event->position());
}

void Timeline::contextMenuEvent(QContextMenuEvent* event) {
  if (showsGraph()) {
    QMenu menu(this);
    if (graph_.fillMenu(menu, event->pos())) menu.exec(event->globalPos());
    return;
  }
  if (!keys_.contains(event->pos())) return;
  if (keys_.chosen().empty()) {
    keys_.press(event->pos(), Qt::NoModifier);
    keys_.release();
  }
  QMenu menu(this);
  keys_.fillMenu(menu);
  menu.exec(event->globalPos());
  update();
}

void Timeline::keyPressEvent(QKeyEvent* event) {
  if (showsGraph() || !keys_.handle(*event)) return QWidget::keyPressEvent(event);
  update();
}

bool Timeline::event(QEvent* event) {
  // The window has shortcuts for some of what keys understand.
  if (event->type() == QEvent::ShortcutOverride && !showsGraph() && !keys_.chosen().empty()) {
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->matches(QKeySequence::Copy) || key->matches(QKeySequence::Paste) ||
        key->matches(QKeySequence::SelectAll) || key->key() == Qt::Key_Delete) {
      event->accept();
      return true;
    }
  }
  return QWidget::event(event);
}

void Timeline::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kPanel);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.save();
  painter.setClipRect(rect().adjusted(0, kRulerHeight + kSimulatedHeight + 1, 0, 0));
  if (showsGraph()) {
    graph_.paint(painter);
  } else {
    for (const Row& row : rows_) paintRow(painter, row);
    keys_.paint(painter, width() - kMargin);
  }
  painter.restore();
  paintRuler(painter);
  paintSimulated(painter);
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

void Timeline::paintRow(QPainter& painter, const Row& row) const {
  const Scene::ItemPtr item = document_.scene().find(row.item);
  if (!item) return;
  const bool selected = row.item == document_.selected();
  const QColor color = !item->enabled ? theme::kLine : selected ? theme::kAccent : theme::kQuietText;
  const QRectF lane(kNameWidth, row.rect.top(), width() - kNameWidth - kMargin, row.rect.height() - 4);
  painter.fillRect(lane, theme::kField);
  for (const Births& births : births_)
    if (births.emitter == row.item) paintBirths(painter, births, lane, color);
  paintBar(painter, *item, lane, color);
  painter.setFont(theme::font(11));
  painter.setPen(selected ? theme::kAccent : theme::kText);
  const QRect name(8, row.rect.top(), kNameWidth - 12, row.rect.height() - 4);
  painter.drawText(
      name, Qt::AlignVCenter | Qt::AlignLeft,
      painter.fontMetrics().elidedText(QString::fromStdString(item->name), Qt::ElideRight, name.width()));
}

void Timeline::paintBirths(QPainter& painter, const Births& births, const QRectF& lane,
                           const QColor& color) const {
  const FrameRange range = frameRange(document_.scene());
  QPainterPath area(QPointF(xOf(range.first), lane.bottom()));
  std::vector<double> bursts;
  for (int i = 0; i < range.count(); ++i) {
    const ExpectedBirths& frame = births.perFrame[static_cast<std::size_t>(i)];
    const double share = births.most > 0 ? 0.9 * frame.fromRate / births.most : 0;
    area.lineTo(xOf(range.first + i), lane.bottom() - share * lane.height());
    if (frame.fromBursts > 0) bursts.push_back(xOf(range.first + i));
  }
  area.lineTo(xOf(range.last), lane.bottom());
  painter.fillPath(area, theme::withAlpha(color, 80));
  painter.setPen(QPen(color, 1.6));
  for (const double x : bursts) painter.drawLine(QPointF(x, lane.top() + 2), QPointF(x, lane.bottom()));
}

// The window, with slopes where it sets in and fades; all of the lane for an influence that acts always.
void Timeline::paintBar(QPainter& painter, const Item& item, const QRectF& lane, const QColor& color) const {
  const auto window = windowOf(item, document_.frame());
  const bool isInfluence = item.kind->family() == ItemFamily::Influence;
  if (!window) {
    if (isInfluence) painter.fillRect(lane.adjusted(0, 4, 0, -4), theme::withAlpha(color, 50));
    return;
  }
  const QRectF bar = barOf(item.id);
  painter.save();
  painter.setClipRect(lane, Qt::IntersectClip);
  if (isInfluence) {
    const QPolygonF shape({QPointF(bar.left(), bar.bottom()),
                           QPointF(xOf(std::min(window->until, window->from + window->softIn)), bar.top()),
                           QPointF(xOf(std::max(window->from, window->until - window->softOut)), bar.top()),
                           QPointF(bar.right(), bar.bottom())});
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::withAlpha(color, 80));
    painter.drawPolygon(shape);
  }
  painter.setPen(QPen(color, 2));
  for (const double x : {bar.left(), bar.right()})
    painter.drawLine(QPointF(x, bar.top()), QPointF(x, bar.bottom()));
  painter.restore();
}

}  // namespace comet
