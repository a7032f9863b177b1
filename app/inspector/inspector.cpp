#include "inspector/inspector.h"

#include "inspector/births_note.h"
#include "inspector/card_note.h"
#include "inspector/gas_note.h"
#include "inspector/influence_note.h"
#include "inspector/loop_note.h"
#include "inspector/mesh_tools.h"
#include "inspector/packing_board.h"
#include "inspector/shape_tools.h"
#include "inspector/surface_note.h"
#include "render/lights.h"
#include "simulation/emission/bounds.h"
#include "simulation/emission/shape.h"
#include "simulation/gas/gas_source.h"
#include "theme/theme.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QScrollBar>
#include <QSettings>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace comet {
namespace {

// A turn of the event loop spends no longer than this on making rows, so that the window always answers.
constexpr int kMakingMilliseconds = 15;

QString foldKey(const QString& section) { return "inspector/folded/" + section; }

}  // namespace

Inspector::Inspector(Document& document, BackgroundRun* run, QWidget* parent)
    : QWidget(parent),
      document_(document),
      run_(run),
      scroll_(new QScrollArea(this)),
      problems_(this, [this](const Problems& problems) { showProblems(problems); }) {
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(scroll_);
  scroll_->setWidgetResizable(true);
  auto* holder = new QWidget;
  holder->setProperty("panel", true);
  contents_ = new QVBoxLayout(holder);
  contents_->setContentsMargins(0, 0, 0, 0);
  scroll_->setWidget(holder);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  making_.setSingleShot(true);
  connect(&making_, &QTimer::timeout, this, &Inspector::makeRows);
  connect(&document_, &Document::replaced, this, &Inspector::forgetTyping);
  connect(&document_, &Document::selectionChanged, this, &Inspector::rebuild);
  connect(&document_, &Document::sceneChanged, this, &Inspector::refresh);
  connect(&document_, &Document::timeDisplayChanged, this, &Inspector::refresh);
  connect(&document_, &Document::frameChanged, this, [this] {
    if (const Scene::ItemPtr item = shownItem()) refreshRowsInTime(*item);
  });
  rebuild();
}

void Inspector::showEvent(QShowEvent* event) {
  if (isStale_) rebuild();
  QWidget::showEvent(event);
}

// Rows are many: they are made for an inspector that is seen, for parameters that apply, a few at a time.
void Inspector::rebuild() {
  isStale_ = !isVisible() && shown_ != 0;
  if (isStale_) return;
  endTyping();
  const Scene::ItemPtr item = document_.scene().find(document_.selected());
  if (!item) return;
  // Another item of the same kind is seen at the same place, for comparing.
  scrollTo_ = item->kind == shownKind_ ? scroll_->verticalScrollBar()->value() : 0;
  toReveal_.clear();
  shown_ = item->id;
  shownKind_ = item->kind;
  sections_.clear();
  shapeProblem_ = boundsProblem_ = itemProblem_ = nullptr;
  enabled_ = nullptr;
  auto* content = new QWidget;
  auto* layout = new QVBoxLayout(content);
  layout->setContentsMargins(10, 8, 8, 8);
  layout->setSpacing(4);
  addHead(*item, *layout);
  for (std::size_t i = 0; i < item->kind->params().size(); ++i)
    sectionFor(item->kind->params()[i].section, *layout).entries.push_back({i});
  layout->addStretch(1);
  const QSettings settings;
  for (Section& section : sections_) fold(section, settings.value(foldKey(section.name), false).toBool());
  dropContent();
  contents_->addWidget(content);
  content_ = content;
  refresh();
}

// What is being typed is for the item that is shown still.
void Inspector::endTyping() {
  QWidget* focused = QApplication::focusWidget();
  if (focused && scroll_->isAncestorOf(focused)) focused->clearFocus();
}

// Another scene may have another item under the same id, which what was being typed is not for.
void Inspector::forgetTyping() {
  if (!content_) return;
  for (QWidget* each : content_->findChildren<QWidget*>()) each->blockSignals(true);
}

// Rows take their time to go. They stay where they are until then, since a widget that gets another parent,
// or none, has the style of all within it worked out again.
void Inspector::dropContent() {
  if (!content_) return;
  content_->hide();
  contents_->removeWidget(content_);
  content_->deleteLater();
}

void Inspector::makeRows() {
  const Scene::ItemPtr item = shownItem();
  if (!item) return;
  QElapsedTimer clock;
  clock.start();
  for (Section& section : sections_)
    for (Entry& entry : section.entries) {
      if (entry.row || section.folded || !item->applies(entry.param)) continue;
      if (clock.elapsed() > kMakingMilliseconds) {
        making_.start();
        return settle();
      }
      make(section, entry, *item);
    }
  making_.stop();
  settle();
  showPlace();
}

// What has been made is where it stays before anybody can click it.
void Inspector::settle() {
  content_->layout()->activate();
  contents_->activate();
  QWidget& holder = *scroll_->widget();
  holder.resize(holder.width(), std::max(holder.height(), holder.minimumSizeHint().height()));
}

bool Inspector::isComplete() const {
  const bool isAlone = scroll_->widget()->findChildren<QWidget*>(Qt::FindDirectChildrenOnly).size() == 1;
  return isAlone && !making_.isActive();
}

void Inspector::showPlace() {
  if (scrollTo_ == 0 && toReveal_.empty()) return;
  if (const int place = std::exchange(scrollTo_, 0); place > 0) scroll_->verticalScrollBar()->setValue(place);
  const std::string param = std::exchange(toReveal_, {});
  for (const Section& section : sections_)
    for (const Entry& entry : section.entries)
      if (entry.row && entry.row->spec().id == param) scroll_->ensureWidgetVisible(entry.row);
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
  if (canBeOff(item.kind->family())) {
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
      if (each.name == wanted) fold(each, !each.folded);
    makeRows();
  });
  sections_.push_back(std::move(section));
  return sections_.back();
}

void Inspector::fold(Section& section, bool folded) {
  if (section.folded != folded) QSettings().setValue(foldKey(section.name), folded);
  section.folded = folded;
  section.body->setVisible(!folded);
  section.head->setIcon(theme::mark(folded ? "folded" : "unfolded"));
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
  askProblems(item);
}

void Inspector::refreshRows(const Item& item) {
  for (Section& section : sections_) {
    bool anyApplies = false;
    for (Entry& entry : section.entries) {
      const bool applies = item.applies(entry.param);
      anyApplies |= applies;
      if (!entry.row) continue;
      entry.box->setVisible(applies);
      if (applies) entry.row->refresh();
    }
    section.head->setVisible(anyApplies);
    section.body->setVisible(anyApplies && !section.folded);
  }
  makeRows();
}

void Inspector::refreshRowsInTime(const Item& item) {
  for (Section& section : sections_)
    for (Entry& entry : section.entries)
      if (entry.row && entry.row->isVisible() && item.values[entry.param].changesInTime())
        entry.row->refresh();
}

void Inspector::make(Section& section, Entry& entry, const Item& item) {
  auto* layout = static_cast<QVBoxLayout*>(section.body->layout());
  int place = 0;
  for (const Entry& before : section.entries) {
    if (&before == &entry) break;
    if (before.box) place = layout->indexOf(before.box) + 1;
  }
  entry.box = new QWidget;
  auto* rows = new QVBoxLayout(entry.box);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(layout->spacing());
  entry.row = new ParamRow(document_, item.id, entry.param);
  connect(entry.row, &ParamRow::valuesWanted, this, &Inspector::valuesWanted);
  rows->addWidget(entry.row);
  for (QWidget* note : notesBelow(item, entry.param)) rows->addWidget(note);
  layout->insertWidget(place, entry.box);
  entry.box->show();
}

std::vector<QWidget*> Inspector::notesBelow(const Item& item, std::size_t param) {
  const std::string& id = item.kind->params()[param].id;
  if (item.kind->family() == ItemFamily::Emitter) return emitterNotes(item, id);
  if (item.kind->family() == ItemFamily::Source && id == "gas")
    return {itemProblem_ = new NoteLabel("source_problem", 0)};
  if (item.kind->family() == ItemFamily::Light && id == "follow_what")
    return {itemProblem_ = new NoteLabel("light_problem", 0)};
  if (item.kind->family() == ItemFamily::Gas && id == "resolution")
    return {new GasCostNote(document_, run_, item.id)};
  if (item.kind->family() == ItemFamily::Gas && id == "size")
    return {new GasWallsNote(document_, run_, item.id)};
  if (item.kind->family() == ItemFamily::Settings && id == "exact_loop") return {new LoopNote(document_)};
  if (item.kind->family() == ItemFamily::Bake && id == "channel_packing")
    return {new PackingBoard(document_, item.id)};
  if (const auto about = InfluenceNote::belowParam(item, param))
    return {new InfluenceNote(document_, run_, item.id, *about)};
  return {};
}

std::vector<QWidget*> Inspector::emitterNotes(const Item& item, const std::string& param) {
  if (param == "shape") {
    auto* tools = new ShapeTools(document_, item.id);
    connect(tools, &ShapeTools::facingWanted, this,
            [this, id = item.id] { Q_EMIT shapeToViewWanted(id, false); });
    connect(tools, &ShapeTools::fillingWanted, this,
            [this, id = item.id] { Q_EMIT shapeToViewWanted(id, true); });
    return {shapeProblem_ = new NoteLabel("shape_problem", 0), tools};
  }
  if (param == "bounds") return {boundsProblem_ = new NoteLabel("bounds_problem", 0)};
  if (param == "mesh") return {new MeshTools(document_, item.id)};
  if (param == "bursts" || param == "shape_orientation") return {new BirthsNote(document_, run_, item.id)};
  if (param == "card_cells_along") return {new CardNote(document_, run_, item.id)};
  if (param == "surface_voxel_size") return {new SurfaceNote(document_, run_, item.id)};
  return {};
}

// Behind the window, since a mesh or a picture may have to be prepared for it.
void Inspector::askProblems(const Scene::ItemPtr& item) {
  if (!shapeProblem_ && !boundsProblem_ && !itemProblem_) return;
  problems_.ask([item, frame = document_.frame(), scene = document_.scene()](const Progress&) -> Problems {
    if (item->kind->family() == ItemFamily::Source)
      return {item->id, {}, {}, problemWithSource(scene, *item, frame)};
    if (item->kind->family() == ItemFamily::Light) return {item->id, {}, {}, problemWithLight(scene, *item)};
    return {item->id, problemWithShape(*item, frame), problemWithBounds(*item), {}};
  });
}

void Inspector::showProblems(const Problems& problems) {
  if (problems.item != shown_) return;
  if (shapeProblem_) shapeProblem_->say(QString::fromStdString(problems.shape), !problems.shape.empty());
  if (itemProblem_) itemProblem_->say(QString::fromStdString(problems.whole), !problems.whole.empty());
  if (boundsProblem_) boundsProblem_->say(QString::fromStdString(problems.bounds), !problems.bounds.empty());
}

void Inspector::reveal(const std::string& param) {
  const Scene::ItemPtr item = shownItem();
  if (!item) return;
  for (Section& section : sections_)
    for (Entry& entry : section.entries) {
      if (item->kind->params()[entry.param].id != param || !item->applies(entry.param)) continue;
      fold(section, false);
      // Before all others: what is typed next is for it, and not for whatever has the keyboard then.
      if (!entry.row) make(section, entry, *item);
      entry.row->takeFocus();
    }
  toReveal_ = param;
  makeRows();
}

}  // namespace comet
