#include "viewport/sweep_view.h"

#include "base/error.h"
#include "controls/number_field.h"
#include "controls/screen_image.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QRegularExpression>
#include <QToolButton>
#include <algorithm>
#include <cmath>

namespace comet {
namespace {

constexpr int kGap = 6;
constexpr int kLabelHeight = 18;
constexpr int kAxisNameWidth = 120;
constexpr int kFirstCount = 4;
constexpr int kFieldsRest = 150;  // milliseconds

// From half of a number to twice it; around nothing, what is usual.
std::pair<double, double> usualValues(const ParamSpec& spec, double now) {
  if (now == 0) return {spec.usualMin, spec.usualMax};
  const double half = 0.5 * now, twice = 2 * now;
  return {std::max(spec.min, std::min(half, twice)), std::min(spec.max, std::max(half, twice))};
}

}  // namespace

SweepView::SweepView(Document& document, BackgroundRun& run, QWidget* parent)
    : QWidget(parent), document_(document), run_(run.cache()) {
  setObjectName("sweep");
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  head_ = new QWidget;
  head_->setProperty("panel", true);
  auto* row = new QHBoxLayout(head_);
  row->setContentsMargins(8, 4, 6, 4);
  rows_ = new QVBoxLayout;
  rows_->setSpacing(4);
  row->addLayout(rows_, 1);
  progress_ = new QLabel;
  progress_->setObjectName("sweep_progress");
  progress_->setProperty("quiet", true);
  row->addWidget(progress_);
  bake_ = new QPushButton(tr("Bake as variants"));
  bake_->setObjectName("sweep_bake");
  bake_->setToolTip(tr("One flipbook with a variant for each of these values, of a single number"));
  connect(bake_, &QPushButton::clicked, this, [this] {
    const SweepAxis axis = sweep_->axes().front();
    end();
    Q_EMIT bakeWanted(axis);
  });
  row->addWidget(bake_, 0, Qt::AlignTop);
  auto* close = new QPushButton(tr("Close"));
  close->setObjectName("sweep_close");
  close->setToolTip(tr("Back to the viewport; the scene stays as it is (Esc)"));
  connect(close, &QPushButton::clicked, this, &SweepView::end);
  row->addWidget(close, 0, Qt::AlignTop);
  layout->addWidget(head_);
  layout->addStretch(1);
  hand_.setSingleShot(true);
  hand_.setInterval(kFieldsRest);
  connect(&hand_, &QTimer::timeout, this, &SweepView::restart);
  const auto restartSoon = [this] {
    if (isShown()) hand_.start();
  };
  connect(&document_, &Document::sceneChanged, this, restartSoon);
  connect(&document_, &Document::soloChanged, this, restartSoon);
  connect(&document_, &Document::replaced, this, &SweepView::end);
  connect(&document_, &Document::frameChanged, this, [this](int frame) {
    if (isShown() && !run_.isDrawn(frame)) run_.look(frame);
    showProgress();
  });
  connect(&run_, &SweepRun::changed, this, &SweepView::showProgress);
}

void SweepView::begin(ItemId item, const QString& param, const ViewCamera& camera) {
  const std::string name = param.toStdString();
  const auto isThis = [&](const Axis& axis) { return axis.item == item && axis.param == name; };
  if (std::any_of(axes_.begin(), axes_.end(), isThis)) return;
  camera_ = camera;
  if (axes_.size() == 2) remove(axes_.back().row);
  axes_.push_back(newAxis(item, name));
  // It begins when it is shown.
  if (isVisible()) restart();
  Q_EMIT shownChanged(true);
  setFocus();
}

void SweepView::end() {
  if (!isShown()) return;
  hand_.stop();
  for (const Axis& axis : axes_) axis.row->deleteLater();
  axes_.clear();
  sweep_.reset();
  run_.begin({});
  Q_EMIT shownChanged(false);
}

SweepView::Axis SweepView::newAxis(ItemId item, const std::string& param) {
  const Scene::ItemPtr found = document_.scene().find(item);
  const ParamSpec& spec = found->kind->params()[found->kind->indexOf(param)];
  Axis axis;
  axis.item = item;
  axis.param = param;
  addRow(axis, spec);
  const auto [from, to] = usualValues(spec, found->value(param).numberAt(document_.frame()));
  axis.from->setValue(from);
  axis.to->setValue(to);
  axis.count->setValue(kFirstCount);
  return axis;
}

void SweepView::addRow(Axis& axis, const ParamSpec& spec) {
  axis.row = new QWidget;
  auto* row = new QHBoxLayout(axis.row);
  row->setContentsMargins(0, 0, 0, 0);
  const Scene::ItemPtr item = document_.scene().find(axis.item);
  auto* label = new QLabel(
      tr("%1: %2").arg(text(item->name), text(clearLabel(*item->kind, item->kind->indexOf(axis.param)))));
  label->setMinimumWidth(kAxisNameWidth);
  row->addWidget(label);
  const auto addField = [&](const char* name, const QString& prefix, const NumberUnits& units) {
    auto* field = new NumberField;
    field->setObjectName(name);
    field->setPrefix(prefix);
    field->setUnits(units);
    field->setFixedWidth(112);
    field->setShowsBar(false);
    row->addWidget(field);
    connect(field, &NumberField::edited, this, [this, of = axis.row] {
      axisOf(of).typed.clear();
      hand_.start();
    });
    return field;
  };
  axis.units = unitsOf(spec, document_.scene(), document_.timeDisplay());
  axis.from = addField("sweep_from", tr("from"), axis.units);
  axis.to = addField("sweep_to", tr("to"), axis.units);
  for (NumberField* field : {axis.from, axis.to}) {
    field->setRange(spec.min, spec.max);
    field->setUsualRange(spec.usualMin, spec.usualMax);
    field->setWhole(spec.type == ParamType::Integer);
  }
  axis.from->setToolTip(tr("The first value; or type several with commas between"));
  axis.from->setOtherReader([this, of = axis.row](const QString& text) { return takeTyped(of, text); });
  axis.count = addField("sweep_count", tr("values"), plainUnit({}));
  axis.count->setWhole(true);
  axis.count->setRange(1, kMaxSweepValues);
  axis.count->setUsualRange(1, kMaxSweepValues);
  axis.list = new QLabel;
  axis.list->setProperty("quiet", true);
  row->addWidget(axis.list);
  auto* away = new QToolButton;
  away->setText("×");
  away->setToolTip(tr("Leave this number as it is"));
  connect(away, &QToolButton::clicked, this, [this, of = axis.row] { remove(of); });
  row->addWidget(away);
  row->addStretch(1);
  rows_->addWidget(axis.row);
}

SweepView::Axis& SweepView::axisOf(const QWidget* row) {
  return *std::find_if(axes_.begin(), axes_.end(), [row](const Axis& axis) { return axis.row == row; });
}

bool SweepView::takeTyped(const QWidget* row, const QString& text) {
  const QStringList parts = text.split(QRegularExpression("[,;]"), Qt::SkipEmptyParts);
  if (parts.size() < 2) return false;
  Axis& axis = axisOf(row);
  std::vector<double> numbers;
  for (const QString& part : parts) {
    bool isNumber = false;
    numbers.push_back(axis.units.front().storedFrom(part.trimmed().toDouble(&isNumber)));
    if (!isNumber) return false;
  }
  axis.typed = std::move(numbers);
  hand_.start();
  return true;
}

void SweepView::remove(QWidget* row) {
  if (axes_.size() == 1) return end();
  axes_.erase(std::find_if(axes_.begin(), axes_.end(), [row](const Axis& axis) { return axis.row == row; }));
  row->deleteLater();
  restart();
}

bool SweepView::isAnyGone() const {
  return std::any_of(axes_.begin(), axes_.end(),
                     [this](const Axis& axis) { return !document_.scene().find(axis.item); });
}

std::optional<Sweep> SweepView::sweepNow() const {
  std::vector<SweepAxis> axes;
  for (const Axis& axis : axes_) {
    const auto numbers = axis.typed.empty() ? evenNumbers(axis.from->value(), axis.to->value(),
                                                          static_cast<int>(axis.count->value()))
                                            : axis.typed;
    axes.push_back(axisOfNumbers(document_.scene(), axis.item, axis.param, numbers, document_.frame()));
  }
  return Sweep(document_.scene(), std::move(axes));
}

void SweepView::restart() {
  if (isAnyGone()) return end();
  for (const Axis& axis : axes_) {
    QStringList numbers;
    for (const double number : axis.typed) numbers << QString::number(axis.units.front().shownFrom(number));
    axis.list->setText(numbers.join(", "));
  }
  problem_.clear();
  marked_.reset();
  now_.reset();
  SweepRun::Variants variants;
  try {
    sweep_ = sweepNow();
    for (std::size_t i = 0; i < sweep_->size(); ++i) {
      const Scene scene = sweep_->scene(i);
      if (scene == document_.scene()) now_ = i;
      variants.scenes.push_back({document_.simulated(scene), document_.drawn(scene)});
    }
  } catch (const Error& error) {
    sweep_.reset();
    problem_ = text(error.problem());
  }
  if (sweep_) {
    const QSize tile = tileOf(0).size() * devicePixelRatioF();
    variants.range = playedRange(document_.scene());
    variants.camera = camera_;
    variants.size = {std::max(1, tile.width()), std::max(1, tile.height())};
    variants.budget = pictureBudget(document_.scene());
  }
  bake_->setEnabled(sweep_ && axes_.size() == 1);
  run_.begin(std::move(variants));
  run_.look(document_.frame());
  showProgress();
}

void SweepView::showProgress() {
  if (!isShown()) return;
  // All of a frame together, so that they move together; the first one as they come.
  if (run_.isDrawn(document_.frame()) || !run_.isDrawn(shownFrame_)) shownFrame_ = document_.frame();
  const QString problem = problem_.isEmpty() ? run_.problem() : problem_;
  QString text = tr("Click a picture to take its value");
  if (run_.drawn() < run_.all())
    text = run_.fits() ? tr("%1 of %2 pictures drawn").arg(run_.drawn()).arg(run_.all())
                       : tr("Drawn as they are played: there is not enough room for all (Picture cache)");
  progress_->setText(problem.isEmpty() ? text : problem);
  update();
}

void SweepView::take(std::size_t variant) {
  // Another edit may have come since the pictures were begun.
  if (isAnyGone()) return end();
  const Scene scene = sweep_->on(document_.scene(), variant);
  const QString what = tr("take %1").arg(text(sweep_->label(variant)));
  end();
  document_.edit(scene, what);
}

QRect SweepView::area() const {
  const int top = head_->height();
  return QRect(0, top, width(), height() - top).adjusted(kGap, kGap, -kGap, -kGap);
}

QSize SweepView::grid() const {
  const int count = static_cast<int>(variants());
  if (sweep_->rows() > 1) return {static_cast<int>(sweep_->columns()), static_cast<int>(sweep_->rows())};
  // As many across as make the tiles largest, at the shape that the viewport has.
  QSize best{1, count};
  double largest = 0;
  for (int across = 1; across <= count; ++across) {
    const int down = (count + across - 1) / across;
    const double shape = static_cast<double>(area().width()) / std::max(1, area().height());
    const double size =
        std::min(static_cast<double>(area().width()) / across, shape * area().height() / down);
    if (size <= largest) continue;
    largest = size;
    best = {across, down};
  }
  return best;
}

QRect SweepView::tileOf(std::size_t variant) const {
  const QSize tiles = grid();
  const QRect all = area();
  const int width = (all.width() - kGap * (tiles.width() - 1)) / tiles.width();
  const int height = (all.height() - kGap * (tiles.height() - 1)) / tiles.height();
  const int column = static_cast<int>(variant) % tiles.width();
  const int row = static_cast<int>(variant) / tiles.width();
  return {all.left() + column * (width + kGap), all.top() + row * (height + kGap), width,
          height - kLabelHeight};
}

std::optional<std::size_t> SweepView::tileAt(const QPoint& position) const {
  for (std::size_t i = 0; i < variants(); ++i)
    if (tileOf(i).adjusted(0, 0, 0, kLabelHeight).contains(position)) return i;
  return std::nullopt;
}

void SweepView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kGround);
  if (!sweep_) return;
  painter.setFont(theme::font(11));
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  for (std::size_t i = 0; i < sweep_->size(); ++i) {
    const QRect tile = tileOf(i);
    painter.fillRect(tile, theme::kNeutral);
    if (const ScreenPicturePtr picture = run_.picture(i, shownFrame_))
      painter.drawImage(tile, imageOf(picture));
    if (marked_ == i) {
      painter.setPen(QPen(theme::kAccent, 2));
      painter.drawRect(tile);
    }
    painter.setPen(marked_ == i ? theme::kAccent : theme::kText);
    const QString label = text(sweep_->label(i)) + (now_ == i ? tr("  (now)") : QString());
    painter.drawText(QRect(tile.left(), tile.bottom() + 1, tile.width(), kLabelHeight),
                     Qt::AlignHCenter | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(label, Qt::ElideMiddle, tile.width()));
  }
}

void SweepView::showEvent(QShowEvent*) {
  if (isShown()) restart();
}

// Nothing is drawn for nobody.
void SweepView::hideEvent(QHideEvent*) { run_.begin({}); }

void SweepView::resizeEvent(QResizeEvent*) {
  if (isShown()) hand_.start();
}

void SweepView::mouseMoveEvent(QMouseEvent* event) {
  marked_ = tileAt(event->position().toPoint());
  update();
}

void SweepView::leaveEvent(QEvent*) {
  marked_.reset();
  update();
}

void SweepView::mouseReleaseEvent(QMouseEvent* event) {
  const auto tile = tileAt(event->position().toPoint());
  if (event->button() == Qt::LeftButton && tile) take(*tile);
}

void SweepView::keyPressEvent(QKeyEvent* event) {
  const auto last = static_cast<int>(variants()) - 1;
  const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
  if (event->key() == Qt::Key_Escape) return end();
  if (last < 0) return QWidget::keyPressEvent(event);
  if (step != 0) {
    const int now = marked_ ? static_cast<int>(*marked_) : step > 0 ? -1 : last + 1;
    marked_ = static_cast<std::size_t>(std::clamp(now + step, 0, last));
    return update();
  }
  const bool isEnter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (isEnter && marked_) return take(*marked_);
  QWidget::keyPressEvent(event);
}

}  // namespace comet
