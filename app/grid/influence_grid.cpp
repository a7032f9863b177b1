#include "grid/influence_grid.h"

#include "controls/formula_completer.h"
#include "controls/menu.h"
#include "controls/own_keys.h"
#include "controls/typed_number.h"
#include "grid/cell_tip.h"
#include "grid/duplicate_popup.h"
#include "grid/grid_items.h"
#include "grid/response_popup.h"
#include "simulation/gas/gas_edits.h"
#include "theme/theme.h"

#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kRowHeadWidth = 118;
constexpr int kColumnWidth = 40;
constexpr int kHeadHeight = 46;
constexpr int kGroupHeight = 13;  // of the groups' names over the heads
constexpr int kGroupGap = 4;
constexpr int kColumnHeadHeight = kGroupHeight + kHeadHeight;
constexpr int kRowHeight = 26;
constexpr int kMarkSize = 16;
constexpr int kSwitchSize = 10;
constexpr int kSwitchReach = 3;  // how far around it a click still means it
constexpr int kDragThreshold = 3;
constexpr int kFormulaWidth = 220;

// What belongs to a gas stands a little further in.
int indentOf(const Item& item) { return item.kind->family() == ItemFamily::Source ? 12 : 0; }

QString nameOf(const Item& item) { return QString::fromStdString(item.name); }

// In four letters or a few more: 950, 12.4k, 1.2M.
QString shortCount(std::size_t count) {
  const auto number = static_cast<double>(count);
  if (count < 10000) return QString::number(count);
  return count < 1000000 ? QString("%1k").arg(number / 1e3, 0, 'f', 1)
                         : QString("%1M").arg(number / 1e6, 0, 'f', 1);
}

}  // namespace

InfluenceGrid::InfluenceGrid(Document& document, BackgroundRun& run, QWidget* parent)
    : QWidget(parent), document_(document), run_(run), editor_(new QLineEdit(this)) {
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  editor_->hide();
  QStringList names;
  for (const std::string& name : formulaNames(FormulaScope::Particle)) names << QString::fromStdString(name);
  auto* completer = new FormulaCompleter(names, editor_);
  connect(editor_, &QLineEdit::textEdited, completer, &FormulaCompleter::offer);
  editor_->installEventFilter(this);
  connect(editor_, &QLineEdit::editingFinished, this, [this] { finishTyping(false); });
  connect(&document_, &Document::sceneChanged, this, &InfluenceGrid::reread);
  connect(&document_, &Document::selectionChanged, this, qOverload<>(&QWidget::update));
  connect(&document_, &Document::frameChanged, this, qOverload<>(&QWidget::update));
  connect(&document_, &Document::soloChanged, this, qOverload<>(&QWidget::update));
  connect(&run_, &BackgroundRun::changed, this, qOverload<>(&QWidget::update));
  reread();
}

void InfluenceGrid::reread() {
  const auto before = std::make_pair(rows_.size(), influences_.size());
  rows_ = gridRows(document_.scene());
  influences_ = gridColumns(document_.scene());
  columnLefts_.clear();
  int left = kRowHeadWidth;
  for (std::size_t i = 0; i < influences_.size(); ++i) {
    if (i > 0 && groupOf(influences_[i]) != groupOf(influences_[i - 1])) left += kGroupGap;
    columnLefts_.push_back(left);
    left += kColumnWidth;
  }
  if (row_ >= static_cast<int>(rows_.size()) || column_ >= static_cast<int>(influences_.size()))
    row_ = column_ = -1;
  // What was pressed may be gone.
  if (before != std::make_pair(rows_.size(), influences_.size())) pressed_ = {};
  setMinimumSize(InfluenceGrid::sizeHint());
  updateGeometry();
  update();
}

QSize InfluenceGrid::sizeHint() const {
  return {columnLefts_.empty() ? kRowHeadWidth : columnLefts_.back() + kColumnWidth,
          kColumnHeadHeight + kRowHeight * static_cast<int>(rows_.size())};
}

QSize InfluenceGrid::cornerSize() { return {kRowHeadWidth, kColumnHeadHeight}; }

QRect InfluenceGrid::cellRect(int row, int column) const {
  return {columnLefts_[static_cast<std::size_t>(column)], kColumnHeadHeight + row * kRowHeight, kColumnWidth,
          kRowHeight};
}
QPoint InfluenceGrid::headsAt() const { return {std::max(0, -x()), std::max(0, -y())}; }
QRect InfluenceGrid::rowHeadRect(int row) const {
  return {headsAt().x(), kColumnHeadHeight + row * kRowHeight, kRowHeadWidth, kRowHeight};
}
QRect InfluenceGrid::columnHeadRect(int column) const {
  return {columnLefts_[static_cast<std::size_t>(column)], headsAt().y() + kGroupHeight, kColumnWidth,
          kHeadHeight};
}
QRect InfluenceGrid::selectedRect() const {
  const int rows = static_cast<int>(rows_.size()), columns = static_cast<int>(influences_.size());
  for (int row = 0; row < rows && columns > 0; ++row)
    if (rows_[static_cast<std::size_t>(row)]->id == document_.selected())
      return QRect(std::max(0, -x()) + kRowHeadWidth, cellRect(row, 0).top(), 1, kRowHeight);
  for (int column = 0; column < columns && rows > 0; ++column)
    if (influences_[static_cast<std::size_t>(column)]->id == document_.selected())
      return QRect(cellRect(0, column).left(), std::max(0, -y()) + kColumnHeadHeight, kColumnWidth, 1);
  return {};
}

QRect InfluenceGrid::markRect(const QRect& head) const {
  const bool isRow = head.height() == kRowHeight;
  return {isRow ? head.left() + 6 : head.center().x() - kMarkSize / 2,
          isRow ? head.top() + 5 : head.top() + 4, kMarkSize, kMarkSize};
}

QRect InfluenceGrid::switchRect(const QRect& head) const {
  const bool isRow = head.height() == kRowHeight;
  return {head.right() - kSwitchSize - 2, isRow ? head.center().y() - kSwitchSize / 2 : head.top() + 2,
          kSwitchSize, kSwitchSize};
}

InfluenceGrid::Place InfluenceGrid::placeAt(const QPoint& position) const {
  const QPoint seen = position - headsAt();
  const int row = seen.y() < kColumnHeadHeight ? -1 : (position.y() - kColumnHeadHeight) / kRowHeight;
  const int column = seen.x() < kRowHeadWidth ? -1 : columnAt(position.x());
  const bool inRows = row >= 0 && row < static_cast<int>(rows_.size());
  const bool inColumns = column >= 0 && column < static_cast<int>(influences_.size());
  if (inRows && inColumns) return hasCell(row, column) ? Place{Part::Cell, row, column} : Place{};
  if (inRows && column < 0) return {Part::RowHead, row, -1};
  if (inColumns && row < 0) return {Part::ColumnHead, -1, column};
  return {};
}

bool InfluenceGrid::hasCell(int row, int column) const {
  const Item& item = *rows_[static_cast<std::size_t>(row)];
  return responds(item.kind->family()) &&
         canActOn(item, *influences_[static_cast<std::size_t>(column)]->kind);
}

InfluenceGrid::Place InfluenceGrid::cellBeside(Place from, int down, int across) const {
  const int rows = static_cast<int>(rows_.size()), columns = static_cast<int>(influences_.size());
  for (Place next = from;;) {
    next.row += down;
    next.column += across;
    if (next.row < 0 || next.row >= rows || next.column < 0 || next.column >= columns) return from;
    if (hasCell(next.row, next.column)) return next;
  }
}

// Gaps between groups belong to none.
int InfluenceGrid::columnAt(int x) const {
  for (std::size_t i = 0; i < columnLefts_.size(); ++i)
    if (x >= columnLefts_[i] && x < columnLefts_[i] + kColumnWidth) return static_cast<int>(i);
  return -1;
}

Scene::ItemPtr InfluenceGrid::itemAt(const Place& place) const {
  if (place.part == Part::RowHead) return rows_[static_cast<std::size_t>(place.row)];
  if (place.part == Part::ColumnHead) return influences_[static_cast<std::size_t>(place.column)];
  return nullptr;
}

void InfluenceGrid::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const int rows = static_cast<int>(rows_.size()), columns = static_cast<int>(influences_.size());
  for (int row = 0; row < rows; ++row)
    for (int column = 0; column < columns; ++column)
      if (hasCell(row, column)) paintCell(painter, row, column);
  // Heads stay in sight, over what is scrolled under them.
  const QPoint heads = headsAt();
  painter.fillRect(QRect(heads.x(), 0, kRowHeadWidth, height()), theme::kPanel);
  for (int row = 0; row < rows; ++row)
    paintHead(painter, rowHeadRect(row), *rows_[static_cast<std::size_t>(row)], true);
  painter.fillRect(QRect(0, heads.y(), width(), kColumnHeadHeight), theme::kPanel);
  for (int column = 0; column < columns; ++column)
    paintHead(painter, columnHeadRect(column), *influences_[static_cast<std::size_t>(column)], false);
  paintGroups(painter);
  painter.fillRect(QRect(heads, cornerSize()), theme::kPanel);
  const QString hint = rows_.empty()         ? tr("Add an emitter to give particles")
                       : influences_.empty() ? tr("Add an influence to push or steer the particles")
                                             : QString();
  painter.setPen(theme::kQuietText);
  painter.setFont(theme::font(12));
  painter.drawText(rect().adjusted(rows_.empty() ? 8 : kRowHeadWidth + 8, kColumnHeadHeight + 5, 0, 0),
                   Qt::AlignTop | Qt::AlignLeft, hint);
}

// The name of each group, over its first column.
void InfluenceGrid::paintGroups(QPainter& painter) const {
  painter.setFont(theme::font(10));
  for (std::size_t i = 0; i < influences_.size(); ++i) {
    if (i > 0 && groupOf(influences_[i]) == groupOf(influences_[i - 1])) continue;
    // As far as the group goes on, or to the end.
    std::size_t last = i;
    while (last + 1 < influences_.size() && groupOf(influences_[last + 1]) == groupOf(influences_[i])) ++last;
    const bool endsHere = last + 1 < influences_.size();
    const int right = endsHere ? columnLefts_[last] + kColumnWidth : width();
    const QRect place(columnLefts_[i] + 2, headsAt().y(), right - columnLefts_[i] - 2, kGroupHeight);
    painter.setPen(theme::kQuietText);
    painter.drawText(
        place, Qt::AlignLeft | Qt::AlignVCenter,
        painter.fontMetrics().elidedText(nameOf(groupOf(influences_[i])), Qt::ElideRight, place.width()));
    if (i == 0) continue;
    painter.setPen(QPen(theme::kLine, 1));
    const int x = columnLefts_[i] - kGroupGap / 2;
    painter.drawLine(x, headsAt().y() + 2, x, height());
  }
}

void InfluenceGrid::paintHead(QPainter& painter, const QRect& rect, const Item& item, bool isRow) const {
  const bool selected = document_.selected() == item.id;
  painter.setPen(Qt::NoPen);
  if (selected) {
    painter.setBrush(theme::kRaised);
    painter.drawRoundedRect(QRectF(rect).adjusted(1, 1, -1, -1), theme::kRadius, theme::kRadius);
  }
  const QColor ink = !item.enabled ? theme::kQuietText.darker(150) : selected ? theme::kAccent : theme::kText;
  painter.drawPixmap(
      markRect(rect).topLeft() + QPoint(indentOf(item), 0),
      theme::markPixmap(QString::fromStdString(item.kind->id()), kMarkSize, ink, devicePixelRatioF()));
  painter.drawPixmap(switchRect(rect).topLeft(),
                     theme::markPixmap(item.enabled ? "on" : "off", kSwitchSize,
                                       item.enabled ? theme::kWell : theme::kQuietText, devicePixelRatioF()));
  painter.setPen(ink);
  isRow ? paintRowWords(painter, rect, item) : paintColumnWords(painter, rect, item);
}

// The name, in two lines if it has two words; "solo" takes the second one.
void InfluenceGrid::paintColumnWords(QPainter& painter, const QRect& rect, const Item& item) const {
  painter.setFont(theme::font(10));
  const QFontMetrics metrics = painter.fontMetrics();
  const QRect first(rect.left() + 1, rect.top() + kMarkSize + 4, rect.width() - 2, metrics.height());
  const QRect second = first.translated(0, metrics.height());
  const auto write = [&](const QRect& line, const QString& words) {
    painter.drawText(line, Qt::AlignCenter, metrics.elidedText(words, Qt::ElideRight, line.width()));
  };
  const QString name = nameOf(item);
  const qsizetype space = name.indexOf(' ');
  const bool solo = document_.isSolo(item.id);
  const bool breaks = !solo && space > 0 && metrics.horizontalAdvance(name) > first.width();
  write(first, breaks ? name.left(space) : name);
  if (breaks) write(second, name.mid(space + 1));
  painter.setPen(theme::kAccent);
  if (solo) write(second, tr("solo"));
}

// The name, and how many live, how many voxels hold gas, or that it is shown alone.
void InfluenceGrid::paintRowWords(QPainter& painter, const QRect& rect, const Item& item) const {
  const SceneFramePtr frame = run_.frame(document_.frame());
  const ParticleGroup* group = frame ? frame->particles->find(item.id) : nullptr;
  const bool solo = document_.isSolo(item.id);
  const auto gas = frame ? frame->gases->find(item.id) : nullptr;
  const QString living = solo    ? tr("solo")
                         : group ? shortCount(group->particles.size())
                         : gas   ? shortCount(gas->filled())
                                 : QString();
  const QRect words = rect.adjusted(28 + indentOf(item), 0, -kSwitchSize - 6, 0);
  const int room = QFontMetrics(theme::font(10)).horizontalAdvance(living) + 4;
  const QRect place = words.adjusted(0, 0, -room, 0);
  painter.setFont(theme::font(12));
  painter.drawText(place, Qt::AlignVCenter | Qt::AlignLeft,
                   painter.fontMetrics().elidedText(nameOf(item), Qt::ElideRight, place.width()));
  painter.setPen(solo ? theme::kAccent : theme::kQuietText);
  painter.setFont(theme::font(10));
  painter.drawText(words, Qt::AlignVCenter | Qt::AlignRight, living);
}

void InfluenceGrid::paintCell(QPainter& painter, int row, int column) const {
  const QRectF box = QRectF(cellRect(row, column)).adjusted(1.5, 1.5, -1.5, -1.5);
  const Item& emitter = *rows_[static_cast<std::size_t>(row)];
  const Item& influence = *influences_[static_cast<std::size_t>(column)];
  const bool selected = isChosen(row, column);
  const bool acts = emitter.enabled && influence.enabled;
  painter.setPen(QPen(selected ? theme::kAccent : theme::kLine, selected ? 1.5 : 1));
  painter.setBrush(theme::kField);
  painter.drawRoundedRect(box, theme::kRadius, theme::kRadius);
  const Response response = document_.scene().response(emitter.id, influence.id);
  painter.setFont(theme::font(12));
  if (!response.percent) {
    painter.setPen(theme::kQuietText);
    painter.drawText(box, Qt::AlignCenter, "·");
    return;
  }
  // The bar is full at 100 %; what is over or under zero is told by the number and the bar's side.
  const double fraction = std::clamp(std::abs(*response.percent) / kFullResponse, 0.0, 1.0);
  const double width = fraction * (box.width() - 2);
  const QRectF bar(*response.percent >= 0 ? box.left() + 1 : box.right() - 1 - width, box.top() + 1, width,
                   box.height() - 2);
  painter.setPen(Qt::NoPen);
  painter.setBrush(
      theme::withAlpha(*response.percent >= 0 ? theme::kAccent : theme::kTrouble, acts ? 70 : 25));
  painter.drawRoundedRect(bar, 2, 2);
  painter.setPen(acts ? theme::kText : theme::kQuietText);
  painter.drawText(box, Qt::AlignCenter,
                   response.formula.empty() ? textFromNumber(*response.percent) : QStringLiteral("= …"));
  if (response.overAge) paintCourse(painter, box, *response.overAge);
}

// Along the cell's lower edge, so that the number stays readable.
void InfluenceGrid::paintCourse(QPainter& painter, const QRectF& box, const Curve& course) const {
  constexpr int kSteps = 20;
  const double max = std::max(1.0, course.largest());
  QPolygonF line;
  for (int i = 0; i <= kSteps; ++i) {
    const double x = static_cast<double>(i) / kSteps;
    line << QPointF(box.left() + 3 + x * (box.width() - 6), box.bottom() - 2 - 7 * course.at(x) / max);
  }
  painter.setPen(QPen(theme::kAccent, 1));
  painter.drawPolyline(line);
}

void InfluenceGrid::selectCell(int row, int column) {
  row_ = lastRow_ = row;
  column_ = lastColumn_ = column;
  document_.select(rows_[static_cast<std::size_t>(row)]->id);
  document_.select(influences_[static_cast<std::size_t>(column)]->id);
  update();
}

void InfluenceGrid::extendTo(int row, int column) {
  lastRow_ = row;
  lastColumn_ = column;
  update();
}

bool InfluenceGrid::isChosen(int row, int column) const {
  return row_ >= 0 && row >= std::min(row_, lastRow_) && row <= std::max(row_, lastRow_) &&
         column >= std::min(column_, lastColumn_) && column <= std::max(column_, lastColumn_);
}

std::vector<Scene::ResponseKey> InfluenceGrid::chosenCells() const {
  std::vector<Scene::ResponseKey> cells;
  for (std::size_t row = 0; row < rows_.size(); ++row)
    for (std::size_t column = 0; column < influences_.size(); ++column)
      if (isChosen(static_cast<int>(row), static_cast<int>(column)) &&
          hasCell(static_cast<int>(row), static_cast<int>(column)))
        cells.emplace_back(rows_[row]->id, influences_[column]->id);
  return cells;
}

std::optional<double> InfluenceGrid::currentPercent() const { return currentResponse().percent; }

Response InfluenceGrid::currentResponse() const {
  return document_.scene().response(rows_[static_cast<std::size_t>(row_)]->id,
                                    influences_[static_cast<std::size_t>(column_)]->id);
}

void InfluenceGrid::setPercent(std::optional<double> percent) {
  // A number that is set takes the place of a formula.
  changeChosen(
      [percent](Response response) {
        response.percent = percent;
        response.formula.clear();
        return response;
      },
      {});
}

void InfluenceGrid::addToPercent(double by, const QString& mergeKey) {
  changeChosen([by](const Response& response) { return response.at(response.percent.value_or(0) + by); },
               mergeKey);
}

void InfluenceGrid::setFormula(const std::string& formula) {
  changeChosen(
      [&formula](Response response) {
        response.formula = formula;
        if (!response.percent) response.percent = kFullResponse;
        return response;
      },
      {});
}

void InfluenceGrid::changeChosen(const std::function<Response(Response)>& change, const QString& mergeKey) {
  // A drag changes what was there when it began.
  const Scene& from = mergeKey.isEmpty() ? document_.scene() : scrubbed_;
  Scene next = document_.scene();
  for (const auto& [emitter, influence] : chosenCells()) {
    Response response = change(from.response(emitter, influence));
    if (response.percent)
      response.percent = std::clamp(*response.percent, -kLargestResponse, kLargestResponse);
    next = next.withResponse(emitter, influence, response);
  }
  document_.edit(next, tr("change response"), mergeKey);
}

void InfluenceGrid::toggle(const Item& item) {
  document_.edit(document_.scene().withEnabled(item.id, !item.enabled),
                 item.enabled ? tr("turn off") : tr("turn on"));
}

void InfluenceGrid::mousePressEvent(QMouseEvent* event) {
  editor_->hide();
  pressed_ = placeAt(event->pos());
  lastPosition_ = event->pos();
  moved_ = false;
  if (event->button() != Qt::LeftButton || pressed_.part == Part::None) return;
  document_.endMerge();
  if (pressed_.part == Part::Cell) {
    if (event->modifiers().testFlag(Qt::ShiftModifier) && row_ >= 0)
      extendTo(pressed_.row, pressed_.column);
    else if (!isChosen(pressed_.row, pressed_.column))
      selectCell(pressed_.row, pressed_.column);
    scrubbed_ = document_.scene();
    scrub_ = 0;
    return;
  }
  row_ = column_ = -1;
  document_.select(itemAt(pressed_)->id);
  update();
}

void InfluenceGrid::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton) || pressed_.part == Part::None) return;
  const QPoint moved = event->pos() - lastPosition_;
  if (!moved_ && moved.manhattanLength() < kDragThreshold) return;
  moved_ = true;
  if (pressed_.part == Part::Cell) {
    lastPosition_ = event->pos();
    const bool fine = event->modifiers().testFlag(Qt::ShiftModifier),
               coarse = event->modifiers().testFlag(Qt::ControlModifier);
    scrub_ += moved.x() * (fine ? 0.1 : coarse ? 10.0 : 1.0);
    const double by = fine ? std::round(scrub_ * 10) / 10 : std::round(scrub_);
    return addToPercent(by, "response");
  }
  const Place over = placeAt(event->pos());
  if (over.part != pressed_.part || (over.row == pressed_.row && over.column == pressed_.column)) return;
  if (itemAt(over)->kind->family() != itemAt(pressed_)->kind->family()) return;
  document_.edit(document_.scene().withMoved(itemAt(pressed_)->id, itemAt(over)->id), tr("move"), "move");
  pressed_ = over;
}

void InfluenceGrid::mouseReleaseEvent(QMouseEvent* event) {
  document_.endMerge();
  const Scene::ItemPtr item = itemAt(pressed_);
  if (event->button() == Qt::LeftButton && item && !moved_) {
    const QRect head =
        pressed_.part == Part::RowHead ? rowHeadRect(pressed_.row) : columnHeadRect(pressed_.column);
    const QRect reach = switchRect(head).adjusted(-kSwitchReach, -kSwitchReach, kSwitchReach, kSwitchReach);
    if (reach.contains(event->pos())) toggle(*item);
  }
  // A click that did not drag the chosen cells chooses the one under it.
  const bool isPlain = event->button() == Qt::LeftButton && !event->modifiers().testFlag(Qt::ShiftModifier);
  if (pressed_.part == Part::Cell && !moved_ && isPlain) selectCell(pressed_.row, pressed_.column);
  pressed_ = {};
}

void InfluenceGrid::moveEvent(QMoveEvent*) { update(); }

void InfluenceGrid::mouseDoubleClickEvent(QMouseEvent* event) {
  if (placeAt(event->pos()).part == Part::Cell)
    startTyping(textFromNumber(currentPercent().value_or(kFullResponse)), Caret::AllSelected);
}

void InfluenceGrid::startTyping(const QString& text, Caret caret) {
  // A formula needs more room than its cell has.
  const QRect cell = cellRect(row_, column_);
  const bool isFormula = text.startsWith('=');
  const int left = std::max(0, std::min(cell.left(), width() - kFormulaWidth));
  editor_->setGeometry(isFormula ? QRect(left, cell.top(), kFormulaWidth, cell.height()) : cell);
  editor_->setText(text);
  editor_->show();
  editor_->setFocus();
  if (caret == Caret::AllSelected && !isFormula) editor_->selectAll();
}

bool InfluenceGrid::eventFilter(QObject* watched, QEvent* event) {
  if (watched != editor_ || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  // Taken here: the editor would pass the key on to the grid, which would begin to type again.
  const int key = static_cast<QKeyEvent*>(event)->key();
  const bool accepts = key == Qt::Key_Return || key == Qt::Key_Enter;
  if (!accepts && key != Qt::Key_Escape) return false;
  if (accepts) {
    finishTyping(true);
  } else {
    editor_->hide();
    setFocus();
  }
  return true;
}

void InfluenceGrid::finishTyping(bool staysOpen) {
  if (!editor_->isVisible()) return;
  const QString text = editor_->text().trimmed();
  if (text.startsWith('=')) return finishFormula(text.mid(1).trimmed());
  const auto typed = typedNumber(text, plainUnit("%"));
  const bool isUnderstood = text.isEmpty() || (typed && !typed->variation);
  if (!isUnderstood)
    refuse(tr("“%1” is not a number. Type a percentage such as 80, or nothing for no response.")
               .arg(text.left(40)));
  if (!isUnderstood && staysOpen) return editor_->selectAll();
  editor_->hide();
  if (staysOpen) setFocus();
  if (row_ >= 0 && isUnderstood) setPercent(typed ? std::optional(typed->value) : std::nullopt);
}

// Says what is wrong where it was typed.
void InfluenceGrid::refuse(const QString& message) {
  constexpr int kReadMilliseconds = 8000;
  QToolTip::showText(editor_->mapToGlobal(QPoint(0, editor_->height())), message, this, {},
                     kReadMilliseconds);
}

void InfluenceGrid::finishFormula(const QString& formula) {
  const auto problem = problemWithFormula(formula.toStdString(), FormulaScope::Particle);
  if (problem && !formula.isEmpty()) {
    // What was typed stays to be put right, until something else is done here.
    editor_->setCursorPosition(1 + static_cast<int>(problem->position));
    return refuse(
        tr("At character %1: %2").arg(problem->position + 1).arg(QString::fromStdString(problem->message)));
  }
  editor_->hide();
  setFocus();
  if (row_ >= 0) setFormula(formula.toStdString());
}

void InfluenceGrid::keyPressEvent(QKeyEvent* event) {
  const int rows = static_cast<int>(rows_.size()), columns = static_cast<int>(influences_.size());
  if (rows == 0 || columns == 0) return QWidget::keyPressEvent(event);
  const bool extends = event->modifiers().testFlag(Qt::ShiftModifier) && row_ >= 0;
  const auto move = [&](int down, int across) {
    // The first key chooses the first cell.
    const Place from = extends     ? Place{Part::Cell, lastRow_, lastColumn_}
                       : row_ >= 0 ? Place{Part::Cell, row_, column_}
                                   : cellBeside({Part::Cell, 0, -1}, 0, 1);
    const Place to = row_ < 0 ? from : cellBeside(from, down, across);
    if (to.column < 0) return;
    extends ? extendTo(to.row, to.column) : selectCell(to.row, to.column);
  };
  const bool hasCell = row_ >= 0;
  switch (event->key()) {
    case Qt::Key_Down:
      return move(1, 0);
    case Qt::Key_Up:
      return move(-1, 0);
    case Qt::Key_Right:
      return move(0, 1);
    case Qt::Key_Left:
      return move(0, -1);
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      if (hasCell) return setPercent(std::nullopt);
      break;
    case Qt::Key_Plus:
      if (hasCell) addToPercent(5, {});
      return;
    case Qt::Key_Minus:
      if (hasCell) addToPercent(-5, {});
      return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (hasCell) startTyping(textFromNumber(currentPercent().value_or(kFullResponse)), Caret::AllSelected);
      return;
    default:
      break;
  }
  const QString typed = event->text();
  if (hasCell && typed.size() == 1 && (typed[0].isDigit() || typed[0] == '='))
    return startTyping(typed, Caret::AtEnd);
  QWidget::keyPressEvent(event);
}

void InfluenceGrid::contextMenuEvent(QContextMenuEvent* event) {
  const Place place = placeAt(event->pos());
  if (place.part != Part::Cell && !itemAt(place)) return;
  QMenu& menu = *newMenu(this);
  if (place.part == Part::Cell) {
    if (!isChosen(place.row, place.column)) selectCell(place.row, place.column);
    menu.addAction(tr("Full response, 100 %"), this, [this] { setPercent(kFullResponse); });
    menu.addAction(tr("No response"), this, [this] { setPercent(std::nullopt); });
    menu.addAction(tr("Formula…"), this, [this] {
      startTyping("=" + QString::fromStdString(currentResponse().formula), Caret::AtEnd);
    });
    menu.addAction(
        tr("Over age…"), this,
        [this, emitter = rows_[static_cast<std::size_t>(place.row)]->id,
         influence = influences_[static_cast<std::size_t>(place.column)]->id, at = event->globalPos()] {
          const Scene& scene = document_.scene();
          if (scene.find(emitter) && scene.find(influence))
            ResponsePopup::open(document_, emitter, influence, at, this);
        });
  } else if (const Scene::ItemPtr item = itemAt(place)) {
    document_.select(item->id);
    menu.addAction(item->enabled ? tr("Turn off") : tr("Turn on"), this, [this, item] { toggle(*item); });
    menu.addAction(tr("Duplicate"), this, [this, item] { duplicate(*item); });
    if (place.part == Part::RowHead) addRowActions(menu, item, event->globalPos());
    if (place.part == Part::ColumnHead) addSoloAction(menu, item->id);
    menu.addAction(tr("Remove"), this, [this, item] { document_.remove(item->id); });
  }
  menu.popup(event->globalPos());
}

void InfluenceGrid::addSoloAction(QMenu& menu, ItemId item) {
  const bool solo = document_.isSolo(item);
  menu.addAction(solo ? tr("End solo") : tr("Solo"), this,
                 [this, item, solo] { document_.setSolo(item, !solo); });
}

void InfluenceGrid::duplicate(const Item& item) {
  const Scene& scene = document_.scene();
  const std::size_t before = scene.items().size();
  const Scene next = item.kind->family() == ItemFamily::Gas ? withDuplicatedGas(scene, item)
                                                            : scene.withDuplicate(item.id, item);
  document_.edit(next, tr("duplicate"));
  document_.select(next.items()[before]->id);
}

void InfluenceGrid::addRowActions(QMenu& menu, const Scene::ItemPtr& item, const QPoint& at) {
  const ItemFamily family = item->kind->family();
  if (family == ItemFamily::Emitter) addEmitterActions(menu, item, at);
  if (family == ItemFamily::Gas)
    menu.addAction(tr("Add source"), this, [this, item] {
      const Scene next = withNewSource(document_.scene(), *item);
      document_.edit(next, tr("add source"));
      document_.select(next.items().back()->id);
    });
  if (!responds(family)) return;
  addSoloAction(menu, item->id);
  menu.addAction(tr("Copy responses"), this, [this, item] { copiedRow_ = item->id; });
  QAction* paste = menu.addAction(tr("Paste responses"), this, [this, item] { pasteRow(item->id); });
  paste->setEnabled(document_.scene().find(copiedRow_) != nullptr && copiedRow_ != item->id);
}

void InfluenceGrid::addEmitterActions(QMenu& menu, const Scene::ItemPtr& emitter, const QPoint& at) {
  menu.addAction(tr("Duplicate, moved…"), this,
                 [this, emitter, at] { DuplicatePopup::open(document_, emitter->id, at, this); });
  menu.addAction(tr("Save as preset"), this, [this, emitter] { Q_EMIT presetWanted(emitter->id); });
}

void InfluenceGrid::pasteRow(ItemId emitter) {
  Scene next = document_.scene();
  for (const Scene::ItemPtr& influence : influences_)
    if (canActOn(*next.find(emitter), *influence->kind))
      next = next.withResponse(emitter, influence->id, next.response(copiedRow_, influence->id));
  document_.edit(next, tr("paste responses"));
}

QString InfluenceGrid::tipFor(const Place& place) const {
  if (const Scene::ItemPtr item = itemAt(place))
    return QString::fromStdString(item->kind->tip()) + "<br>" +
           tr("Click to select, drag to move, right-click for more. The small switch turns it on or off.");
  if (place.part != Part::Cell) return {};
  return cellTip(document_.scene(), *rows_[static_cast<std::size_t>(place.row)],
                 *influences_[static_cast<std::size_t>(place.column)], document_.frame());
}

bool InfluenceGrid::event(QEvent* event) {
  if (claimsKey(event, {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down})) return true;
  // With a cell chosen it is the response that goes, and not the item.
  if (row_ >= 0 && claimsKey(event, {Qt::Key_Delete})) return true;
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  QToolTip::showText(help->globalPos(), tipFor(placeAt(help->pos())), this);
  return true;
}

}  // namespace comet
