#include "inspector/inspector.h"

#include "inspector/births_note.h"
#include "inspector/influence_note.h"
#include "inspector/loop_note.h"
#include "inspector/mesh_tools.h"
#include "inspector/packing_board.h"
#include "inspector/surface_note.h"
#include "simulation/emission/bounds.h"
#include "simulation/emission/shape.h"
#include "theme/theme.h"

#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QSettings>
#include <QToolButton>
#include <QVBoxLayout>

namespace comet {
namespace {

QString foldKey(const QString& section) { return "inspector/folded/" + section; }

bool canBeOff(const Item& item) {
  return item.kind->family() == ItemFamily::Emitter || item.kind->family() == ItemFamily::Influence;
}

}  // namespace

Inspector::Inspector(Document& document, BackgroundRun* run, QWidget* parent)
    : QWidget(parent), document_(document), run_(run), scroll_(new QScrollArea(this)) {
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(scroll_);
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  connect(&document_, &Document::selectionChanged, this, &Inspector::rebuild);
  connect(&document_, &Document::sceneChanged, this, &Inspector::refresh);
  connect(&document_, &Document::frameChanged, this, [this] {
    if (const Scene::ItemPtr item = shownItem()) refreshRowsInTime(*item);
  });
  rebuild();
}

void Inspector::showEvent(QShowEvent* event) {
  if (isStale_) rebuild();
  QWidget::showEvent(event);
}

// Rows are many: they are made for an inspector that is seen, and for parameters that apply.
void Inspector::rebuild() {
  isStale_ = !isVisible() && shown_ != 0;
  if (isStale_) return;
  const Scene::ItemPtr item = document_.scene().find(document_.selected());
  if (!item) return;
  shown_ = item->id;
  shownKind_ = item->kind;
  sections_.clear();
  shapeProblem_ = boundsProblem_ = nullptr;
  enabled_ = nullptr;
  auto* content = new QWidget;
  content->setProperty("panel", true);
  auto* layout = new QVBoxLayout(content);
  layout->setContentsMargins(10, 8, 8, 8);
  layout->setSpacing(4);
  addHead(*item, *layout);
  for (std::size_t i = 0; i < item->kind->params().size(); ++i)
    sectionFor(item->kind->params()[i].section, *layout).entries.push_back({i});
  layout->addStretch(1);
  for (Section& section : sections_) fold(section, QSettings().value(foldKey(section.name), false).toBool());
  scroll_->setWidget(content);
  refresh();
}

void Inspector::addHead(const Item& item, QVBoxLayout& layout) {
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  auto* mark = new QLabel;
  const QString kind = QString::fromStdString(item.kind->id());
  mark->setPixmap(
      theme::markPixmap(theme::hasMark(kind) ? kind : "emitter", 18, theme::kAccent, devicePixelRatioF()));
  mark->setToolTip(QString::fromStdString(item.kind->tip()));
  row->addWidget(mark);
  name_ = new QLineEdit(QString::fromStdString(item.name));
  name_->setObjectName("item_name");
  name_->setToolTip(tr("Name of this item; the command line uses it too."));
  row->addWidget(name_, 1);
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const std::string wanted = name_->text().toStdString();
    const Scene::ItemPtr now = document_.scene().find(shown_);
    if (!now || wanted == now->name) return;
    if (problemWithName(wanted).empty() && !document_.scene().findByName(wanted))
      document_.edit(document_.scene().withName(shown_, wanted), tr("rename"));
    else
      name_->setText(QString::fromStdString(now->name));
  });
  auto* kindLabel = new QLabel(QString::fromStdString(item.kind->label()));
  kindLabel->setProperty("quiet", true);
  row->addWidget(kindLabel);
  if (canBeOff(item)) {
    enabled_ = new QToolButton;
    enabled_->setObjectName("item_enabled");
    enabled_->setToolTip(tr("On or off"));
    row->addWidget(enabled_);
    connect(enabled_, &QToolButton::clicked, this, [this] {
      const Scene::ItemPtr now = document_.scene().find(shown_);
      document_.edit(document_.scene().withEnabled(shown_, !now->enabled),
                     now->enabled ? tr("turn off") : tr("turn on"));
    });
  }
  layout.addLayout(row);
}

Inspector::Section& Inspector::sectionFor(const std::string& name, QVBoxLayout& layout) {
  const QString wanted = QString::fromStdString(name);
  for (Section& section : sections_)
    if (section.name == wanted) return section;
  Section section;
  section.name = wanted;
  section.head = new QToolButton;
  section.head->setText(wanted);
  section.head->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
  section.head->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  section.head->setFont(theme::font(12, true));
  section.body = new QWidget;
  auto* body = new QVBoxLayout(section.body);
  body->setContentsMargins(2, 0, 0, 4);
  body->setSpacing(4);
  layout.addWidget(section.head);
  layout.addWidget(section.body);
  connect(section.head, &QToolButton::clicked, this, [this, wanted] {
    for (Section& each : sections_)
      if (each.name == wanted) fold(each, each.body->isVisibleTo(each.body->parentWidget()));
  });
  sections_.push_back(std::move(section));
  return sections_.back();
}

void Inspector::fold(Section& section, bool folded) {
  section.body->setVisible(!folded);
  section.head->setIcon(theme::mark(folded ? "folded" : "unfolded"));
  QSettings().setValue(foldKey(section.name), folded);
}

Scene::ItemPtr Inspector::shownItem() const {
  Scene::ItemPtr item = document_.scene().find(shown_);
  // Another scene may have an item of another kind under this id; the selection's change then follows.
  return item && item->kind == shownKind_ ? item : nullptr;
}

void Inspector::refresh() {
  const Scene::ItemPtr item = shownItem();
  if (!item) return;
  if (!name_->hasFocus()) name_->setText(QString::fromStdString(item->name));
  if (enabled_)
    enabled_->setIcon(
        theme::mark(item->enabled ? "on" : "off", item->enabled ? theme::kWell : theme::kQuietText));
  refreshRows(*item);
  showProblems(*item);
}

void Inspector::refreshRows(const Item& item) {
  for (Section& section : sections_)
    for (Entry& entry : section.entries) {
      const bool applies = item.applies(entry.param);
      if (applies && !entry.row) make(section, entry, item);
      if (!entry.row) continue;
      entry.row->setVisible(applies);
      if (applies) entry.row->refresh();
    }
}

void Inspector::refreshRowsInTime(const Item& item) {
  for (Section& section : sections_)
    for (Entry& entry : section.entries)
      if (entry.row && entry.row->isVisible() && item.values[entry.param].changesInTime()) entry.row->refresh();
}

void Inspector::make(Section& section, Entry& entry, const Item& item) {
  auto* layout = static_cast<QVBoxLayout*>(section.body->layout());
  int place = 0;
  for (const Entry& before : section.entries) {
    if (&before == &entry) break;
    if (before.last) place = layout->indexOf(before.last) + 1;
  }
  entry.row = new ParamRow(document_, item.id, entry.param);
  std::vector<QWidget*> widgets{entry.row};
  if (item.kind->family() == ItemFamily::Emitter)
    for (QWidget* note : emitterNotes(item, entry.row->spec().id)) widgets.push_back(note);
  if (item.kind->family() == ItemFamily::Settings && entry.row->spec().id == "loops")
    widgets.push_back(new LoopNote(document_, section.body));
  if (item.kind->family() == ItemFamily::Bake && entry.row->spec().id == "pack")
    widgets.push_back(new PackingBoard(document_, item.id));
  if (const auto about = InfluenceNote::belowParam(*item.kind, entry.param))
    widgets.push_back(new InfluenceNote(document_, run_, item.id, *about));
  for (QWidget* widget : widgets) layout->insertWidget(place++, widget);
  entry.last = widgets.back();
}

std::vector<QWidget*> Inspector::emitterNotes(const Item& item, const std::string& param) {
  if (param == "shape") return {shapeProblem_ = new NoteLabel("shape_problem", 0)};
  if (param == "ends") return {boundsProblem_ = new NoteLabel("bounds_problem", 0)};
  if (param == "mesh") return {new MeshTools(document_, item.id)};
  if (param == "bursts" || param == "stands") return {new BirthsNote(document_, run_, item.id)};
  if (param == "surface_voxel") return {new SurfaceNote(document_, run_, item.id)};
  return {};
}

void Inspector::showProblems(const Item& item) {
  const auto show = [](NoteLabel* label, const std::string& problem) {
    if (!label) return;
    if (!problem.empty()) label->say(QString::fromStdString(problem), true);
    // Once it was needed, its room is kept.
    if (problem.empty()) label->say({});
  };
  if (shapeProblem_) show(shapeProblem_, problemWithShape(item, document_.frame()));
  if (boundsProblem_) show(boundsProblem_, problemWithBounds(item));
}

void Inspector::reveal(const std::string& param) {
  for (Section& section : sections_)
    for (Entry& entry : section.entries)
      if (entry.row && entry.row->spec().id == param) {
        fold(section, false);
        scroll_->widget()->layout()->activate();
        scroll_->ensureWidgetVisible(entry.row);
        entry.row->takeFocus();
      }
}

}  // namespace comet
