#include "window/effect_layout.h"

#include "grid/grid_panel.h"
#include "grid/mark_strip.h"
#include "timeline/timeline.h"

#include <QCursor>
#include <QSettings>
#include <algorithm>

namespace comet {
namespace {

constexpr int kLeftWidth = 386;
constexpr int kLowerHeight = 284;
constexpr int kTimelineWidth = 440, kLifeChartWidth = 450;
constexpr double kGridShare = 0.45;  // of the column, at the most, until the user says otherwise

const QString kFoldedKeys[] = {QStringLiteral("layout/left_folded"), QStringLiteral("layout/lower_folded")};
const QString kLeftWidthKey = QStringLiteral("layout/left_width");
const QString kLowerHeightKey = QStringLiteral("layout/lower_height");
const QString kTimelineShareKey = QStringLiteral("layout/timeline_share");
const QString kGridLimitKey = QStringLiteral("layout/grid_limit");

QSplitter* splitterOf(Qt::Orientation orientation, std::initializer_list<QWidget*> widgets) {
  auto* splitter = new QSplitter(orientation);
  for (QWidget* widget : widgets) splitter->addWidget(widget);
  splitter->setChildrenCollapsible(false);
  return splitter;
}

}  // namespace

EffectLayout::EffectLayout(const Panels& panels, QWidget* parent)
    : QSplitter(Qt::Horizontal, parent),
      panels_(panels),
      left_(splitterOf(Qt::Vertical, {panels.grid, panels.inspector})),
      lower_(splitterOf(Qt::Horizontal, {panels.timeline, panels.lifeChart})) {
  right_ = splitterOf(Qt::Vertical, {panels.view, lower_});
  right_->setStretchFactor(0, 1);
  setChildrenCollapsible(false);
  addWidget(panels.marks);
  addWidget(left_);
  addWidget(right_);
  setStretchFactor(2, 1);
  restore();
  connect(panels.marks, &MarkStrip::opened, this, [this] { open(Part::LeftColumn); });
  // Later: it is said while the panel takes another size, and must not change that below its own feet.
  connect(panels.grid, &GridPanel::neededHeightChanged, this, &EffectLayout::fitGrid, Qt::QueuedConnection);
  connect(left_, &QSplitter::splitterMoved, this, [this] {
    const int height = panels_.grid->height();
    gridLimit_ = height < panels_.grid->neededHeight() ? height : left_->height();
    remember();
  });
  connect(right_, &QSplitter::splitterMoved, this, [this] {
    if (!isFolded(Part::LowerPanels)) lowerHeight_ = lower_->height();
    remember();
  });
  for (QSplitter* splitter : {lower_, static_cast<QSplitter*>(this)})
    connect(splitter, &QSplitter::splitterMoved, this, &EffectLayout::remember);
  arrange();
}

void EffectLayout::restore() {
  const QSettings settings;
  for (const Part part : {Part::LeftColumn, Part::LowerPanels})
    folded_[indexOf(part)] = settings.value(kFoldedKeys[indexOf(part)], false).toBool();
  const int width = settings.value(kLeftWidthKey, kLeftWidth).toInt();
  setSizes({panels_.marks->width(), width, std::max(1, 1280 - width)});
  lowerHeight_ = settings.value(kLowerHeightKey, kLowerHeight).toInt();
  gridLimit_ = settings.value(kGridLimitKey, 0).toInt();
  const double share =
      settings.value(kTimelineShareKey, double{kTimelineWidth} / (kTimelineWidth + kLifeChartWidth))
          .toDouble();
  lower_->setSizes({static_cast<int>(1000 * share), static_cast<int>(1000 * (1 - share))});
}

void EffectLayout::remember() const {
  QSettings settings;
  for (const Part part : {Part::LeftColumn, Part::LowerPanels})
    settings.setValue(kFoldedKeys[indexOf(part)], isFolded(part));
  if (left_->isVisible()) settings.setValue(kLeftWidthKey, left_->width());
  settings.setValue(kLowerHeightKey, lowerHeight_);
  settings.setValue(kGridLimitKey, gridLimit_);
  if (panels_.lifeChart->isVisible())
    settings.setValue(kTimelineShareKey, static_cast<double>(panels_.timeline->width()) / lower_->width());
}

void EffectLayout::setFolded(Part part, bool folded) {
  if (isFolded(part) == folded) return;
  folded_[indexOf(part)] = folded;
  full_ = nullptr;
  arrange();
  remember();
  Q_EMIT foldedChanged();
}

void EffectLayout::open(Part part) {
  if (isFolded(part)) return setFolded(part, false);
  full_ = nullptr;
  arrange();
}

void EffectLayout::toggleFullPanel() {
  QWidget* under = nullptr;
  for (QWidget* panel : std::initializer_list<QWidget*>{panels_.grid, panels_.inspector, panels_.view,
                                                        panels_.timeline, panels_.lifeChart})
    if (panel->isVisible() && panel->rect().contains(panel->mapFromGlobal(QCursor::pos()))) under = panel;
  full_ = full_ ? nullptr : under;
  arrange();
}

void EffectLayout::arrange() {
  const bool hasLeft = !isFolded(Part::LeftColumn), hasLower = !isFolded(Part::LowerPanels);
  const auto show = [this](QWidget* panel, bool unlessFull) {
    panel->setVisible(full_ ? panel == full_ : unlessFull);
  };
  show(panels_.grid, hasLeft);
  show(panels_.inspector, hasLeft);
  show(panels_.marks, !hasLeft);
  show(panels_.view, true);
  show(panels_.timeline, true);
  show(panels_.lifeChart, hasLower);
  panels_.timeline->setFolded(!hasLower && panels_.timeline != full_);
  // Splitters without a panel to show give their room away too.
  for (QSplitter* splitter : {lower_, left_, right_}) {
    bool holdsShown = false;
    for (int i = 0; i < splitter->count(); ++i) holdsShown |= !splitter->widget(i)->isHidden();
    splitter->setVisible(holdsShown);
  }
  const int lowerHeight = hasLower ? lowerHeight_ : Timeline::foldedHeight();
  // Splitters would ask their panels for it only later.
  lower_->setMaximumHeight(panels_.timeline->maximumHeight());
  right_->setSizes({std::max(1, right_->height() - right_->handleWidth() - lowerHeight), lowerHeight});
  fitGrid();
}

void EffectLayout::resizeEvent(QResizeEvent* event) {
  QSplitter::resizeEvent(event);
  fitGrid();
}

void EffectLayout::fitGrid() {
  if (full_ == panels_.grid) return panels_.grid->setMaximumHeight(QWIDGETSIZE_MAX);
  const int needed = panels_.grid->neededHeight();
  const int limit = gridLimit_ > 0 ? gridLimit_ : static_cast<int>(kGridShare * left_->height());
  const int height = std::min(needed, limit);
  panels_.grid->setMaximumHeight(needed);
  if (panels_.grid->height() != height)
    left_->setSizes({height, std::max(1, left_->height() - left_->handleWidth() - height)});
}

}  // namespace comet
