#include "timeline/timeline.h"

#include "controls/menu.h"
#include "controls/own_keys.h"
#include "theme/theme.h"

#include <QActionGroup>
#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kNameWidth = 84;
constexpr int kMargin = 10;
constexpr int kRulerHeight = 22;
constexpr int kSimulatedHeight = 4;
constexpr int kBirthsHeight = 26;
constexpr int kBarRowHeight = 20;
constexpr double kEndReach = 5;
constexpr int kNoteWidth = 180;
constexpr int kLeastHeight = 80;

}  // namespace

Timeline::Timeline(Document& document, BackgroundRun& run, PictureRun& pictures, Playback& playback,
                   QWidget* parent)
    : QWidget(parent),
      document_(document),
      run_(run),
      pictures_(pictures),
      playback_(playback),
      births_(document, this, [this] { update(); }),
      ruler_(document),
      keys_(document),
      graph_(document),
      graphButton_(new QToolButton(this)) {
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  setMinimumHeight(kLeastHeight);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  graphButton_->setObjectName("timeline_graph");
  graphButton_->setText(tr("Graph"));
  graphButton_->setToolTip(tr("Show keys as curves instead of rows"));
  graphButton_->setCheckable(true);
  graphButton_->setFont(theme::font(10));
  graphButton_->setGeometry(6, 2, kNameWidth - 24, kRulerHeight - 3);
  connect(graphButton_, &QToolButton::toggled, this, &Timeline::arrange);
  note_ = new QLineEdit(this);
  note_->setObjectName("marker_note");
  note_->setPlaceholderText(tr("note"));
  note_->hide();
  connect(note_, &QLineEdit::editingFinished, this, &Timeline::finishNote);
  connect(&document_, &Document::sceneChanged, this, &Timeline::reread);
  connect(&document_, &Document::frameChanged, this, qOverload<>(&QWidget::update));
  connect(&document_, &Document::timeDisplayChanged, this, qOverload<>(&QWidget::update));
  connect(&document_, &Document::selectionChanged, this, &Timeline::arrange);
  connect(&run_, &BackgroundRun::changed, this, qOverload<>(&QWidget::update));
  connect(&pictures_, &PictureRun::changed, this, qOverload<>(&QWidget::update));
  reread();
}

int Timeline::foldedHeight() { return kRulerHeight + kSimulatedHeight + 4; }

void Timeline::setFolded(bool folded) {
  setMinimumHeight(folded ? foldedHeight() : kLeastHeight);
  setMaximumHeight(folded ? foldedHeight() : QWIDGETSIZE_MAX);
  graphButton_->setVisible(!folded);
}

void Timeline::reread() {
  births_.reread();
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
  keys_.reread();
  // Below its own row; of an item without one, at the end.
  int keysTop = -1;
  const auto addItem = [&](const Item& item, int height) {
    add(item.id, height);
    if (item.id != document_.selected()) return;
    keysTop = y;
    keys_.place(scale(), keysTop, kNameWidth);
    y += keys_.height();
  };
  for (const Scene::ItemPtr& emitter : document_.scene().itemsOf(ItemFamily::Emitter))
    addItem(*emitter, kBirthsHeight);
  for (const Scene::ItemPtr& item : document_.scene().items())
    if (item->kind->family() != ItemFamily::Emitter && hasSomethingInTime(*item))
      addItem(*item, kBarRowHeight);
  if (keysTop < 0) keys_.place(scale(), y, kNameWidth);
  ruler_.place(scale(), QRectF(kNameWidth - kMargin, 0, width() - kNameWidth + kMargin, kRulerHeight));
  const int top = kRulerHeight + kSimulatedHeight + 3;
  graph_.place(scale(), QRectF(kNameWidth, top, width() - kNameWidth - kMargin, height() - top - 4));
  const int needed = y + scrolled_ + (keysTop < 0 ? keys_.height() : 0) + 6;
  maxScrolled_ = std::max(0, needed - height());
  if (scrolled_ > maxScrolled_) {
    scrolled_ = maxScrolled_;
    return arrange();
  }
  update();
}

// Influences that act always have nothing to show here, unless one is being worked on.
bool Timeline::hasSomethingInTime(const Item& item) const {
  return !keysOf(item).empty() || windowOf(item, document_.frame()) ||
         (item.kind->family() == ItemFamily::Influence && item.id == document_.selected());
}

void Timeline::resizeEvent(QResizeEvent*) { arrange(); }

void Timeline::wheelEvent(QWheelEvent* event) {
  scrolled_ = std::clamp(scrolled_ - event->angleDelta().y() / 4, 0, maxScrolled_);
  arrange();
}

BirthsLane::Place Timeline::birthsPlace(ItemId emitter) const {
  for (const Row& row : rows_)
    if (row.item == emitter) return {emitter, laneOf(row), scale()};
  return {};
}

QRectF Timeline::laneOf(const Row& row) const {
  return {kNameWidth, static_cast<double>(row.rect.top()),
          static_cast<double>(width() - kNameWidth - kMargin), row.rect.height() - 4.0};
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
  if (ruler_.press(position)) {
    held_ = Held::Ruler;
    return;
  }
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
    for (const Row& row : rows_) {
      if (!row.rect.contains(position.toPoint())) continue;
      if (position.x() < kNameWidth - kMargin) return document_.select(row.item);
      if (births_.press(birthsPlace(row.item), position)) {
        held_ = Held::Births;
        return;
      }
    }
    // From any empty place a frame is drawn around keys; without any, a drag goes to frames as in the ruler.
    if (position.x() >= kNameWidth - kMargin && keys_.height() > 0) {
      held_ = Held::Keys;
      keys_.press(position, event->modifiers());
      return update();
    }
  }
  if (position.x() < kNameWidth - kMargin) return;
  held_ = Held::Frame;
  goTo(position.x());
}

Qt::CursorShape Timeline::cursorAt(const QPointF& position) const {
  if (ruler_.isOverGrip(position)) return Qt::SizeHorCursor;
  if (showsGraph()) return Qt::ArrowCursor;
  const Part part = gripAt(position).part;
  if (part == Part::From || part == Part::Until) return Qt::SizeHorCursor;
  if (part == Part::Whole) return Qt::OpenHandCursor;
  for (const Row& row : rows_) {
    if (!row.rect.contains(position.toPoint())) continue;
    const BirthsLane::Part births = births_.partAt(birthsPlace(row.item), position);
    if (births == BirthsLane::Part::Burst) return Qt::SizeHorCursor;
    if (births == BirthsLane::Part::Rate) return Qt::SizeVerCursor;
  }
  return Qt::ArrowCursor;
}

void Timeline::mouseMoveEvent(QMouseEvent* event) {
  const QPointF position = event->position();
  if (!(event->buttons() & Qt::LeftButton)) {
    return setCursor(cursorAt(position));
  }
  if (held_ == Held::Frame) goTo(position.x());
  if (held_ == Held::Bar) dragBar(position.x());
  if (held_ == Held::Ruler) ruler_.drag(position);
  if (held_ == Held::Births)
    QToolTip::showText(mapToGlobal(position.toPoint()), births_.drag(position), this);
  if (held_ == Held::Keys) keys_.drag(position, event->modifiers());
  if (held_ == Held::Graph) graph_.drag(position, event->modifiers());
  update();
}

void Timeline::mouseReleaseEvent(QMouseEvent* event) {
  if (held_ == Held::Bar) document_.endMerge();
  if (held_ == Held::Ruler) ruler_.release();
  if (held_ == Held::Births) births_.release();
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
  if (ruler_.contains(event->position()))
    return editNote(
        ruler_.markerAt(event->position()).value_or(std::round(scale().frameAt(event->position().x()))));
  if (showsGraph() && graph_.contains(event->position())) graph_.addKey(event->position());
}

void Timeline::editNote(double frame) {
  held_ = Held::Nothing;
  noteFrame_ = frame;
  note_->setText(ruler_.noteOf(frame));
  const int x = std::min(static_cast<int>(xOf(frame)), width() - kNoteWidth - 2);
  note_->setGeometry(x, 1, kNoteWidth, kRulerHeight);
  note_->show();
  note_->setFocus();
  note_->selectAll();
}

void Timeline::finishNote() {
  if (note_->isHidden()) return;
  note_->hide();
  ruler_.setMarker(noteFrame_, note_->text().trimmed());
  setFocus();
}

void Timeline::showRulerMenu(const QPointF& position, const QPoint& globalPosition) {
  const auto marker = ruler_.markerAt(position);
  const FrameRange range = frameRange(document_.scene());
  const double frame = std::clamp<double>(std::round(scale().frameAt(position.x())), range.first, range.last);
  QMenu& menu = *newMenu(this);
  if (marker) {
    menu.addAction(tr("Rename the marker"), this, [this, marker] { editNote(*marker); });
    menu.addAction(tr("Remove the marker"), this, [this, marker] { ruler_.removeMarker(*marker); });
  } else {
    menu.addAction(tr("Marker at frame %1").arg(frame), this, [this, frame] { editNote(frame); });
  }
  menu.addSeparator();
  menu.addAction(tr("Play from frame %1").arg(frame), this, [this, frame] { ruler_.playFrom(frame); });
  menu.addAction(tr("Play until frame %1").arg(frame), this, [this, frame] { ruler_.playUntil(frame); });
  menu.addAction(tr("Play all"), this, [this] { ruler_.playAll(); })
      ->setEnabled(!(playedRange(document_.scene()) == range));
  menu.addSeparator();
  addTimeDisplays(menu);
  menu.popup(globalPosition);
}

void Timeline::addTimeDisplays(QMenu& menu) {
  const std::pair<TimeDisplay, QString> displays[] = {
      {TimeDisplay::AsKept, tr("Show frames, and lengths in seconds")},
      {TimeDisplay::Frames, tr("Show frames only")},
      {TimeDisplay::Seconds, tr("Show seconds only")}};
  auto* group = new QActionGroup(&menu);
  for (const auto& [display, label] : displays) {
    QAction* action = group->addAction(menu.addAction(label));
    action->setCheckable(true);
    action->setChecked(document_.timeDisplay() == display);
    connect(action, &QAction::triggered, &document_,
            [this, display = display] { document_.setTimeDisplay(display); });
  }
}

void Timeline::contextMenuEvent(QContextMenuEvent* event) {
  if (ruler_.contains(event->pos())) return showRulerMenu(event->pos(), event->globalPos());
  if (showsGraph()) {
    QMenu* menu = newMenu(this);
    return graph_.fillMenu(*menu, event->pos()) ? menu->popup(event->globalPos()) : menu->deleteLater();
  }
  if (!keys_.contains(event->pos())) return;
  if (keys_.chosen().empty()) {
    keys_.press(event->pos(), Qt::NoModifier);
    keys_.release();
  }
  QMenu& menu = *newMenu(this);
  keys_.fillMenu(menu);
  menu.popup(event->globalPos());
  update();
}

void Timeline::keyPressEvent(QKeyEvent* event) {
  if (showsGraph() || !keys_.handle(*event)) return QWidget::keyPressEvent(event);
  update();
}

bool Timeline::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    QString text;
    if (const auto marker = ruler_.markerAt(help->pos()))
      text = tr("frame %1: %2").arg(*marker).arg(ruler_.noteOf(*marker));
    else if (ruler_.contains(help->pos() - QPoint(0, kSimulatedHeight)))
      text = tr("Click or drag to go to a frame. Double-click to add a marker; right-click for the playback "
                "range and for frames or seconds.\n\n") +
             progressText();
    QToolTip::showText(help->globalPos(), text, this);
    return true;
  }
  // Over curves, Delete must not mean the item.
  if (event->type() == QEvent::ShortcutOverride && showsGraph() && claimsKey(event, {Qt::Key_Delete}))
    return true;
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
  ruler_.paint(painter);
  paintMarkers(painter);
  paintProgress(painter);
  const double x = xOf(document_.frame());
  painter.setPen(QPen(theme::kAccent, 1.4));
  painter.drawLine(QPointF(x, 2), QPointF(x, height() - 2));
  painter.setBrush(theme::kAccent);
  painter.drawPolygon(QPolygonF({QPointF(x - 5, 1), QPointF(x + 5, 1), QPointF(x, 8)}));
}

// Hatches the frames that are still to be simulated, and underlines those whose pictures are drawn.
void Timeline::paintProgress(QPainter& painter) const {
  constexpr double kLineHeight = 2;
  const FrameRange range = frameRange(document_.scene());
  const double half = 0.5 * (xOf(range.first + 1) - xOf(range.first)) + 0.3;
  const QBrush hatching(theme::kQuietText, Qt::BDiagPattern);
  for (int frame = range.first; frame <= range.last; ++frame) {
    const double left = xOf(frame) - half;
    if (!run_.isSimulated(frame))
      painter.fillRect(QRectF(left, kRulerHeight, 2 * half, kSimulatedHeight), hatching);
    else if (pictures_.isDrawn(frame))
      painter.fillRect(QRectF(left, kRulerHeight + kSimulatedHeight - kLineHeight, 2 * half, kLineHeight),
                       theme::kQuietText);
  }
}

QString Timeline::progressText() const {
  const FrameRange range = frameRange(document_.scene());
  int simulated = 0, drawn = 0;
  for (int frame = range.first; frame <= range.last; ++frame) {
    simulated += run_.isSimulated(frame) ? 1 : 0;
    drawn += pictures_.isDrawn(frame) ? 1 : 0;
  }
  QString text = tr("%1 of %2 frames are simulated; the others are hatched. The pictures of %3 are drawn "
                    "in full, as the line below the ruler shows; playback takes them as they are.")
                     .arg(simulated)
                     .arg(range.count())
                     .arg(drawn);
  if (!pictures_.isFull()) return text;
  return text + ' ' + tr("There is no more room for pictures: Scene → Limits → Picture cache.");
}

// How often the rules of an emitter fired in each frame that is simulated, as ticks: ten times as often, one
// step higher.
void Timeline::paintFirings(QPainter& painter, const BirthsLane::Place& place) const {
  const Scene::ItemPtr emitter = document_.emitter(place.emitter);
  if (!emitter || std::get<RuleList>(emitter->value("rules").base).empty()) return;
  constexpr double kMin = 4, kStep = 4;
  painter.setPen(QPen(theme::kText, 1.6));
  for (int frame = place.scale.range.first; frame <= place.scale.range.last; ++frame) {
    const SceneFramePtr now = run_.frame(frame);
    std::uint64_t fired = 0;
    if (now)
      for (const RuleStats& stats : now->report->rules)
        fired += stats.emitter == place.emitter ? stats.fired : 0;
    if (fired == 0) continue;
    const double height =
        std::min(place.lane.height(), kMin + kStep * std::log10(static_cast<double>(fired)));
    const double x = place.scale.xOf(frame);
    painter.drawLine(QPointF(x, place.lane.bottom() - height), QPointF(x, place.lane.bottom()));
  }
}

void Timeline::paintRow(QPainter& painter, const Row& row) const {
  const Scene::ItemPtr item = document_.scene().find(row.item);
  if (!item) return;
  const bool selected = row.item == document_.selected();
  const QColor color = !item->enabled ? theme::kLine : selected ? theme::kAccent : theme::kQuietText;
  const QRectF lane = laneOf(row);
  painter.fillRect(lane, theme::kField);
  births_.paint(painter, birthsPlace(row.item), color);
  paintFirings(painter, birthsPlace(row.item));
  paintBar(painter, *item, lane, color);
  if (!selected) paintKeysOf(painter, *item, lane);
  painter.setFont(theme::font(11));
  painter.setPen(selected ? theme::kAccent : theme::kText);
  const QRect name(8, row.rect.top(), kNameWidth - 12, row.rect.height() - 4);
  painter.drawText(
      name, Qt::AlignVCenter | Qt::AlignLeft,
      painter.fontMetrics().elidedText(QString::fromStdString(item->name), Qt::ElideRight, name.width()));
}

// Where an item that is not worked on has keys, at the foot of its row.
void Timeline::paintKeysOf(QPainter& painter, const Item& item, const QRectF& lane) const {
  constexpr double kSize = 2.5;
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::withAlpha(theme::kText, 190));
  double last = -1e9;
  for (const auto& [param, frame] : keysOf(item)) {
    const double x = xOf(frame), y = lane.bottom() - kSize;
    if (x == last) continue;
    last = x;
    painter.drawPolygon(QPolygonF(
        {QPointF(x - kSize, y), QPointF(x, y - kSize), QPointF(x + kSize, y), QPointF(x, y + kSize)}));
  }
}

// A line through the rows, and the note beside its flag where it fits.
void Timeline::paintMarkers(QPainter& painter) const {
  const auto& markers = std::get<MarkerList>(document_.scene().settings().value("markers").base);
  painter.setFont(theme::font(10));
  for (std::size_t i = 0; i < markers.size(); ++i) {
    const double x = xOf(markers[i].frame);
    if (x < kNameWidth || x > width() - kMargin) continue;
    painter.setPen(QPen(theme::withAlpha(theme::kWell, 90), 1, Qt::DotLine));
    painter.drawLine(QPointF(x, kRulerHeight), QPointF(x, height()));
    const double until = i + 1 < markers.size() ? xOf(markers[i + 1].frame) : width() - kMargin;
    const QString note = painter.fontMetrics().elidedText(QString::fromStdString(markers[i].note),
                                                          Qt::ElideRight, static_cast<int>(until - x - 6));
    painter.setPen(theme::kWell);
    painter.drawText(QRectF(x + 3, height() - 15, until - x - 4, 13), Qt::AlignLeft | Qt::AlignVCenter, note);
  }
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
