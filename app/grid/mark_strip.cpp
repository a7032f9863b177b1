#include "grid/mark_strip.h"

#include "grid/grid_items.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QToolButton>
#include <QVBoxLayout>

namespace comet {
namespace {

constexpr int kStripWidth = 58;
constexpr QSize kButtonSize{54, 38};

// In the order of the column that they stand for.
std::vector<Scene::ItemPtr> itemsToMark(const Scene& scene) {
  std::vector<Scene::ItemPtr> items = gridRows(scene);
  const auto influences = gridColumns(scene);
  items.insert(items.end(), influences.begin(), influences.end());
  for (const ItemFamily family : {ItemFamily::Camera, ItemFamily::Settings})
    for (const Scene::ItemPtr& item : scene.itemsOf(family)) items.push_back(item);
  return items;
}

}  // namespace

MarkStrip::MarkStrip(Document& document, QWidget* parent) : QScrollArea(parent), document_(document) {
  setObjectName("mark_strip");
  setFixedWidth(kStripWidth);
  setWidgetResizable(true);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(&document_, &Document::sceneChanged, this, &MarkStrip::reread);
  connect(&document_, &Document::selectionChanged, this, &MarkStrip::refresh);
  reread();
}

// Buttons are replaced only where the items change: the one with the focus stays.
void MarkStrip::reread() {
  const std::vector<Scene::ItemPtr> items = itemsToMark(document_.scene());
  const bool marksTheSame =
      std::equal(items.begin(), items.end(), items_.begin(), items_.end(),
                 [](const auto& one, const auto& other) { return one->id == other->id; });
  items_ = items;
  if (!marksTheSame) {
    buttons_.clear();
    auto* strip = new QWidget;
    strip->setProperty("panel", true);
    auto* column = new QVBoxLayout(strip);
    column->setContentsMargins(0, 6, 0, 6);
    column->setSpacing(2);
    for (const Scene::ItemPtr& item : items_) addButton(*item, *strip);
    column->addStretch(1);
    setWidget(strip);
  }
  refresh();
}

void MarkStrip::addButton(const Item& item, QWidget& strip) {
  auto* button = new QToolButton;
  button->setFixedSize(kButtonSize);
  button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
  button->setFont(theme::font(10));
  button->setCheckable(true);
  connect(button, &QToolButton::clicked, this, [this, id = item.id] {
    if (document_.selected() == id) Q_EMIT opened();
    document_.select(id);
    refresh();
  });
  strip.layout()->addWidget(button);
  strip.layout()->setAlignment(button, Qt::AlignHCenter);
  buttons_.push_back(button);
}

void MarkStrip::refresh() {
  for (std::size_t i = 0; i < items_.size(); ++i) {
    const Item& item = *items_[i];
    const bool isSelected = document_.selected() == item.id;
    buttons_[i]->setObjectName("mark." + text(item.name));
    buttons_[i]->setIcon(theme::mark(text(item.kind->id()), isSelected     ? theme::kAccent
                                                            : item.enabled ? theme::kText
                                                                           : theme::kQuietText.darker(150)));
    buttons_[i]->setText(
        buttons_[i]->fontMetrics().elidedText(text(item.name), Qt::ElideRight, kButtonSize.width() - 8));
    buttons_[i]->setChecked(isSelected);
    buttons_[i]->setToolTip(tr("%1: %2").arg(
        text(item.name), isSelected ? tr("click to open its controls (F2)") : tr("click to select")));
  }
}

}  // namespace comet
