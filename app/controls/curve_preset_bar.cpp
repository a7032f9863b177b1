#include "controls/curve_preset_bar.h"

#include "controls/curve_lane.h"
#include "controls/curve_presets.h"
#include "controls/menu.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QToolButton>

namespace comet {
namespace {

constexpr int kButtonHeight = 20;

}  // namespace

CurvePresetBar::CurvePresetBar(const QString& name, QWidget* parent)
    : QWidget(parent), name_(name), own_(new QHBoxLayout) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(4, 0, 0, 0);
  row->setSpacing(1);
  for (const CurvePreset& preset : curvePresets()) {
    QToolButton* button = addButton(preset.id, preset.name);
    button->setIcon(curveIcon(preset.curve));
    row->addWidget(button);
    connect(button, &QToolButton::clicked, this, [this, curve = preset.curve] { Q_EMIT chosen(curve); });
  }
  own_->setSpacing(3);
  row->addLayout(own_);
  more_ = addButton("more", tr("Save this curve as a preset, copy it, or paste another"));
  more_->setText("…");
  row->addWidget(more_);
  connect(more_, &QToolButton::clicked, this, &CurvePresetBar::showMenu);
  row->addStretch(1);
}

QToolButton* CurvePresetBar::addButton(const QString& id, const QString& tip) {
  auto* button = new QToolButton;
  button->setFixedHeight(kButtonHeight);
  button->setObjectName(QString("preset.%1.%2").arg(name_, id));
  button->setIconSize(QSize(16, 12));
  button->setToolTip(tip);
  return button;
}

void CurvePresetBar::showEvent(QShowEvent*) { showOwn(); }

void CurvePresetBar::showOwn() {
  while (QLayoutItem* item = own_->takeAt(0)) {
    item->widget()->deleteLater();
    delete item;
  }
  const std::vector<Curve> kept = ownCurvePresets();
  for (std::size_t i = 0; i < kept.size(); ++i) {
    QToolButton* button = addButton(QString("own%1").arg(i), tr("Your own preset; right-click to remove it"));
    button->setIcon(curveIcon(kept[i]));
    button->setContextMenuPolicy(Qt::CustomContextMenu);
    own_->addWidget(button);
    connect(button, &QToolButton::clicked, this, [this, curve = kept[i]] { Q_EMIT chosen(curve); });
    connect(button, &QToolButton::customContextMenuRequested, this, [this, i] {
      std::vector<Curve> rest = ownCurvePresets();
      rest.erase(rest.begin() + static_cast<std::ptrdiff_t>(i));
      setOwnCurvePresets(rest);
      showOwn();
    });
  }
}

void CurvePresetBar::keep() {
  std::vector<Curve> kept = ownCurvePresets();
  kept.push_back(lane_->curve());
  setOwnCurvePresets(kept);
  showOwn();
}

void CurvePresetBar::showMenu() {
  QMenu& menu = *newMenu(this);
  menu.addAction(tr("Save as preset"), this, &CurvePresetBar::keep);
  menu.addAction(tr("Copy curve"), this,
                 [this] { QGuiApplication::clipboard()->setText(textFromCurve(lane_->curve())); });
  const std::optional<Curve> copied = curveFromText(QGuiApplication::clipboard()->text());
  QAction* paste = menu.addAction(tr("Paste curve"), this, [this, copied] { Q_EMIT chosen(*copied); });
  paste->setEnabled(copied.has_value());
  menu.popup(more_->mapToGlobal(QPoint(0, more_->height())));
}

}  // namespace comet
