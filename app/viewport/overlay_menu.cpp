#include "viewport/overlay_menu.h"

#include "theme/words.h"

#include <QActionGroup>
#include <optional>
#include <utility>
#include <vector>

namespace comet {
namespace {

template <typename Value>
using Choices = std::vector<std::pair<QString, Value>>;

// One of them, at first the first one.
template <typename Value, typename Choose>
void addChoices(QMenu& menu, const Choices<Value>& choices, const QString& tip, const Choose& choose) {
  menu.addSeparator();
  auto* group = new QActionGroup(&menu);
  for (const auto& [label, value] : choices) {
    QAction* action = group->addAction(menu.addAction(label));
    action->setCheckable(true);
    action->setChecked(label == choices.front().first);
    action->setToolTip(tip);
    QObject::connect(action, &QAction::triggered, &menu, [choose, value = value] { choose(value); });
  }
}

template <typename Show>
void addToggle(QMenu& menu, const QString& label, const QString& tip, const Show& show) {
  QAction* action = menu.addAction(label);
  action->setCheckable(true);
  action->setToolTip(tip);
  QObject::connect(action, &QAction::toggled, &menu, show);
}

void addParticles(QMenu& menu, Viewport& viewport) {
  addToggle(menu, tr("Velocity lines"), tr("The path of each particle in a tenth of a second"),
            [&viewport](bool shows) {
              viewport.setOverlay({shows, viewport.overlay().tint});
            });
  using Tint = ParticleOverlay::Tint;
  addChoices(menu,
             Choices<Tint>{{tr("No colour"), Tint::None},
                           {tr("Colour by age"), Tint::Age},
                           {tr("Colour by fraction of life"), Tint::Life},
                           {tr("Colour by speed"), Tint::Speed}},
             tr("A dot for each particle, coloured by one of its attributes"), [&viewport](Tint tint) {
               viewport.setOverlay({viewport.overlay().showsVelocity, tint});
             });
}

void addGas(QMenu& menu, Viewport& viewport) {
  const auto change = [&viewport](const auto& act) {
    GasOverlay overlay = viewport.gasOverlay().overlay();
    act(overlay);
    viewport.gasOverlay().set(overlay);
  };
  using Quantity = std::optional<GasQuantity>;
  addChoices(menu,
             Choices<Quantity>{{tr("No gas slice"), std::nullopt},
                               {tr("Gas slice: density"), GasQuantity::Density},
                               {tr("Gas slice: temperature"), GasQuantity::Temperature},
                               {tr("Gas slice: speed"), GasQuantity::Speed},
                               {tr("Gas slice: age"), GasQuantity::Age},
                               {tr("Gas slice: fuel"), GasQuantity::Fuel}},
             tr("What the gas holds on a plane through its middle, or through the voxel that you click"),
             [change](const Quantity& quantity) {
               change([&quantity](GasOverlay& overlay) { overlay.slice = quantity; });
             });
  addToggle(
      menu, tr("Gas velocity arrows"), tr("How the gas moves on the plane of the slice"),
      [change](bool shows) { change([shows](GasOverlay& overlay) { overlay.showsVelocity = shows; }); });
  addToggle(menu, tr("Gas bricks"), tr("The blocks of 8 × 8 × 8 voxels that hold any gas"),
            [change](bool shows) { change([shows](GasOverlay& overlay) { overlay.showsBricks = shows; }); });
}

void addScene(QMenu& menu, Viewport& viewport) {
  const auto change = [&viewport](const auto& act) {
    SceneOverlay overlay = viewport.sceneOverlay();
    act(overlay);
    viewport.setSceneOverlay(overlay);
  };
  addChoices(
      menu,
      Choices<FieldArrows>{{tr("No field arrows"), FieldArrows::None},
                           {tr("Field arrows on a slice"), FieldArrows::Slice},
                           {tr("Field arrows in a box"), FieldArrows::Box}},
      tr("What the selected influence does at each point, or all influences on the selected emitter"),
      [change](FieldArrows where) { change([where](SceneOverlay& overlay) { overlay.field = where; }); });
  menu.addSeparator();
  const auto toggle = [&](const QString& label, const QString& tip, bool SceneOverlay::*shows) {
    addToggle(menu, label, tip,
              [change, shows](bool on) { change([=](SceneOverlay& overlay) { overlay.*shows = on; }); });
  };
  toggle(tr("Forces on the probed particle"), tr("Click a particle to probe it"), &SceneOverlay::showsForces);
  toggle(tr("Flipbook cell frame"), tr("The part of the view that a cell shows, seen through the camera"),
         &SceneOverlay::showsBakeFrame);
  toggle(tr("Hits on deflectors"), tr("Where particles hit deflectors in this frame, and how hard"),
         &SceneOverlay::showsHits);
}

}  // namespace

QMenu* makeOverlayMenu(Viewport& viewport, QWidget* parent) {
  auto* menu = new QMenu(parent);
  menu->setToolTipsVisible(true);
  addParticles(*menu, viewport);
  addGas(*menu, viewport);
  addScene(*menu, viewport);
  menu->addSeparator();
  addToggle(*menu, tr("Value under the pointer"),
            tr("The pixel's linear colour with its alpha, without it, and as the screen shows it"),
            [&viewport](bool on) { viewport.setShowsValue(on); });
  return menu;
}

}  // namespace comet
