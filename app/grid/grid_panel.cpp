#include "grid/grid_panel.h"

#include "catalog.h"
#include "controls/menu.h"
#include "grid/influence_grid.h"
#include "grid/influence_popup.h"
#include "render/lights.h"
#include "simulation/gas/gas_edits.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QResizeEvent>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

namespace comet {

namespace {

constexpr int kHintHeight = 26;  // of what an empty grid says

}  // namespace

GridPanel::GridPanel(Document& document, BackgroundRun& run, QWidget* parent)
    : QWidget(parent),
      document_(document),
      grid_(new InfluenceGrid(document, run)),
      scroll_(new QScrollArea) {
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(4, 4, 4, 4);
  layout->setSpacing(4);

  grid_->setObjectName("influence_grid");
  scroll_->setWidget(grid_);
  connect(grid_, &InfluenceGrid::presetWanted, this, &GridPanel::presetWanted);
  scroll_->setWidgetResizable(true);
  // By itself it would want more than two rows.
  scroll_->setMinimumHeight(InfluenceGrid::cornerSize().height());
  makeCorner(scroll_);
  // What was just added or found is brought into sight, once the grid has grown.
  connect(&document_, &Document::selectionChanged, scroll_, [this] {
    QTimer::singleShot(0, scroll_, [this] {
      const QRect place = grid_->selectedRect();
      if (!place.isNull()) scroll_->ensureVisible(place.center().x(), place.center().y(), place.width(), 40);
    });
  });
  connect(&document_, &Document::sceneChanged, this, [this] {
    Q_EMIT neededHeightChanged();
    chooseBar();
  });
  layout->addWidget(scroll_, 1);

  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  auto* emitter = new QPushButton(theme::mark("add"), tr("Emitter"));
  emitter->setObjectName("add_emitter");
  emitter->setToolTip(tr("Add an emitter"));
  connect(emitter, &QPushButton::clicked, this, &GridPanel::addEmitter);
  row->addWidget(emitter);
  auto* presets = newArrowButton("add_preset", tr("Add a preset: spray, sparks, smoke, a flock …"));
  connect(presets, &QToolButton::clicked, this, &GridPanel::presetsWanted);
  row->addWidget(presets);
  auto* gas = new QPushButton(theme::mark("add"), tr("Gas"));
  gas->setObjectName("add_gas");
  gas->setToolTip(tr("Add a box of smoke, steam or fog, with a source that fills it"));
  connect(gas, &QPushButton::clicked, this, [this] { addGas(withNewGas(document_.scene())); });
  row->addWidget(gas);
  row->addWidget(otherGases());
  auto* influence = new QPushButton(theme::mark("add"), tr("Influence"));
  influence->setObjectName("add_influence");
  influence->setToolTip(tr("Add an influence"));
  connect(influence, &QPushButton::clicked, this, [this, influence] {
    InfluencePopup::open(document_, influence->mapToGlobal(QPoint(0, influence->height())), this);
  });
  row->addWidget(influence);
  auto* light = new QPushButton(theme::mark("add"), tr("Light"));
  light->setObjectName("add_light");
  light->setToolTip(tr("Add a light, beside the scene's own"));
  connect(light, &QPushButton::clicked, this, [this] {
    const Scene next = withNewLight(document_.scene());
    document_.edit(next, tr("add light"));
    document_.select(next.items().back()->id);
  });
  row->addWidget(light);
  row->addStretch(1);
  // Many stand beside each other.
  for (int i = 0; i < row->count(); ++i)
    if (auto* button = qobject_cast<QPushButton*>(row->itemAt(i)->widget()))
      button->setProperty("tight", true);
  layout->addLayout(row);
}

QWidget* GridPanel::makeCorner(QWidget* parent) {
  auto* corner = new QWidget(parent);
  auto* column = new QVBoxLayout(corner);
  column->setContentsMargins(2, 2, 6, 3);
  column->setSpacing(2);
  for (const ItemFamily family : {ItemFamily::Camera, ItemFamily::Settings}) {
    const KindSpec& kind = *catalog().kindsOf(family).front();
    auto* button = new QPushButton(theme::mark(text(kind.id())), text(kind.label()));
    button->setObjectName("select_" + text(kind.id()));
    button->setToolTip(text(kind.tip()));
    button->setProperty("flat", true);
    connect(button, &QPushButton::clicked, this,
            [this, family] { document_.select(document_.scene().theOnly(family).id); });
    column->addWidget(button);
  }
  corner->setGeometry(QRect(QPoint(), InfluenceGrid::cornerSize()));
  return corner;
}

int GridPanel::neededHeight() const {
  const QMargins margins = layout()->contentsMargins();
  const int around = layout()->sizeHint().height() - scroll_->sizeHint().height();
  const QSize grid = grid_->sizeHint();
  const int room = width() - margins.left() - margins.right();
  // Where columns have to be scrolled to, the bar needs its height too.
  return around + std::max(grid.height(), InfluenceGrid::cornerSize().height() + kHintHeight) +
         (grid.width() > room ? scroll_->horizontalScrollBar()->sizeHint().height() : 0);
}

void GridPanel::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  if (event->size().width() != event->oldSize().width()) Q_EMIT neededHeightChanged();
  chooseBar();
}

// Each bar takes room that may make the other one necessary, so that both would stay where none is needed.
void GridPanel::chooseBar() {
  scroll_->setVerticalScrollBarPolicy(height() >= neededHeight() ? Qt::ScrollBarAlwaysOff
                                                                 : Qt::ScrollBarAsNeeded);
}

QToolButton* GridPanel::otherGases() {
  QToolButton* button = newArrowButton(
      "add_other_gas", tr("Add fire, or flat gas, which moves in one plane and can be as fine as a picture"));
  connect(button, &QToolButton::clicked, this, [this, button] {
    QMenu* menu = newMenu(this);
    menu->setObjectName("other_gases");
    menu->addAction(tr("Fire"), this, [this] { addGas(withNewFire(document_.scene())); })
        ->setToolTip(tr("A gas whose source gives fuel that burns"));
    menu->addAction(tr("Flat gas"), this, [this] { addGas(withNewFlatGas(document_.scene())); })
        ->setToolTip(tr("Adds flat gas, with a source that fills it"));
    menu->addAction(tr("Flat gas from a picture"), this,
                    [this] {
                      addGas(withGasOfPicture(document_.scene()));
                      // Which needs its picture.
                      document_.select(document_.scene().items().back()->id);
                    })
        ->setToolTip(tr("Adds flat gas whose source is a picture that you choose: it flows in its colours"));
    menu->popup(below(*button));
  });
  return button;
}

void GridPanel::addGas(const Scene& next) {
  document_.edit(next, tr("add gas"));
  document_.select(next.items()[next.items().size() - 2]->id);
}

void GridPanel::addEmitter() {
  const KindSpec& kind = *catalog().kindsOf(ItemFamily::Emitter).front();
  const Scene next = document_.scene().withAdded(newItem(kind, document_.scene().freeName(kind.id())));
  document_.edit(next, tr("add emitter"));
  document_.select(next.items().back()->id);
}

}  // namespace comet
