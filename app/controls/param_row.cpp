#include "controls/param_row.h"

#include "bake/bake_variants.h"
#include "controls/burst_editor.h"
#include "controls/choice_box.h"
#include "controls/color_picker.h"
#include "controls/curve_field.h"
#include "controls/file_field.h"
#include "controls/follow_field.h"
#include "controls/gradient_editor.h"
#include "controls/key_shape.h"
#include "controls/mask_editor.h"
#include "controls/menu.h"
#include "controls/number_field.h"
#include "controls/rule_editor.h"
#include "geometry/mesh_content.h"
#include "params/formula.h"
#include "render/look.h"
#include "scene/item_reference.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPushButton>

namespace comet {
namespace {

QString tipFor(const ParamSpec& spec) {
  QString tip = "<p>" + text(spec.tipText) + "</p>";
  const bool isNumber = spec.type == ParamType::Number || spec.type == ParamType::Integer;
  if (isNumber)
    tip += QObject::tr("<p>Usually %1 to %2 %3</p>")
               .arg(spec.usualMin)
               .arg(spec.usualMax)
               .arg(text(spec.unitText));
  for (const ChoiceOption& option : spec.choices)
    tip += QString("<br><b>%1</b>: %2").arg(text(option.label), text(option.tip));
  return tip;
}

}  // namespace

ParamRow::ParamRow(Document& document, ItemId item, std::size_t index, QWidget* parent)
    : QWidget(parent),
      document_(document),
      item_(item),
      index_(index),
      spec_(document.scene().find(item)->kind->params()[index]) {
  setObjectName("param." + text(spec_.id));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  auto* label = new QLabel(text(spec_.label));
  label->setFixedWidth(theme::kLabelWidth);
  label->setProperty("quiet", true);
  row->addWidget(label, 0, Qt::AlignTop);
  // Sentences need the room.
  label->setVisible(spec_.type != ParamType::Rules);
  label->setFixedHeight(theme::kRowHeight);
  setToolTip(tipFor(spec_));
  addFields(*row);
  addMenu();
  refresh();
}

const ParamValue& ParamRow::value() const { return document_.scene().find(item_)->values[index_]; }

QString ParamRow::mergeKey() const { return QString("%1.%2").arg(item_).arg(text(spec_.id)); }

void ParamRow::refresh() {
  // Another scene may have another item under that id.
  const Scene::ItemPtr item = document_.scene().find(item_);
  if (!item || index_ >= item->values.size() || &item->kind->params()[index_] != &spec_) return;
  for (const auto& refresher : refreshers_) refresher(value());
  if (keyMark_) {
    const KeyTrack& keys = value().keys;
    keyMark_->setState(keys.empty()                        ? KeyMark::State::None
                       : hasKeyAt(keys, document_.frame()) ? KeyMark::State::KeyedHere
                                                           : KeyMark::State::Keyed);
  }
}

void ParamRow::takeFocus() {
  if (first_) first_->setFocus();
}

void ParamRow::addFields(QHBoxLayout& row) {
  switch (spec_.type) {
    case ParamType::Number:
    case ParamType::Integer:
      addNumbers(row);
      break;
    case ParamType::Vector:
    case ParamType::Color:
      addVector(row);
      break;
    case ParamType::Choice:
      addChoice(row);
      break;
    case ParamType::Flag: {
      auto* box = new QCheckBox;
      first_ = box;
      row.addWidget(box, 1);
      refreshers_.emplace_back(
          [this, box](const ParamValue& v) { box->setChecked(std::get<bool>(v.at(document_.frame()))); });
      connect(box, &QCheckBox::clicked, this, [this](bool on) { document_.setBase(item_, spec_.id, on); });
      break;
    }
    case ParamType::Gradient: {
      auto* editor = new GradientEditor;
      editor->setObjectName("gradient");
      first_ = editor;
      row.addWidget(editor, 1);
      refreshers_.emplace_back([this, editor](const ParamValue& v) {
        const Scene::ItemPtr emitter = document_.emitter(item_);
        editor->setGradient(std::get<Gradient>(v.base), emitter ? colorMixOf(*emitter) : ColorMix::Linear);
      });
      connect(editor, &GradientEditor::edited, this,
              [this](const Gradient& gradient) { document_.setBase(item_, spec_.id, gradient, mergeKey()); });
      connect(editor, &GradientEditor::finished, this, [this] { document_.endMerge(); });
      break;
    }
    case ParamType::Text:
      addText(row);
      break;
    case ParamType::Curve:
      addCurve(row);
      break;
    case ParamType::Outline: {
      auto* editor = new MaskEditor(document_, item_);
      editor->setObjectName("mask_editor");
      first_ = editor;
      row.addWidget(editor, 1);
      refreshers_.emplace_back([editor](const ParamValue&) { editor->refresh(); });
      break;
    }
    case ParamType::File:
      addFile(row);
      break;
    case ParamType::Strokes:
      addStrokes(row);
      break;
    case ParamType::Item:
      addReference(row);
      break;
    case ParamType::Rules:
      addRules(row);
      break;
    case ParamType::Markers: {
      auto* note = new QLabel;
      note->setObjectName("markers_note");
      row.addWidget(note, 1);
      refreshers_.emplace_back([note](const ParamValue& v) {
        const std::size_t count = std::get<MarkerList>(v.base).size();
        note->setText(count == 0 ? tr("none: double-click the timeline's ruler")
                                 : tr("%1 in the timeline's ruler").arg(count));
      });
      break;
    }
    case ParamType::Data:
      addData(row);
      break;
    case ParamType::Bursts: {
      auto* editor = new BurstEditor;
      first_ = editor;
      row.addWidget(editor, 1);
      refreshers_.emplace_back([this, editor](const ParamValue& v) {
        editor->setUnits(momentUnits(document_.scene(), document_.timeDisplay()),
                         frameCountUnits(document_.scene(), document_.timeDisplay()));
        editor->setBursts(std::get<BurstList>(v.base));
      });
      connect(editor, &BurstEditor::edited, this,
              [this](const BurstList& list) { document_.setBase(item_, spec_.id, list, mergeKey()); });
      connect(editor, &BurstEditor::finished, this, [this] { document_.endMerge(); });
      break;
    }
  }
  if (spec_.choosesInput && !spec_.mapsOverAge) addFollow(row);
  if (spec_.canBeKeyed)
    addKeyMark(row);
  else
    row.addSpacing(18 + row.spacing());
}

void ParamRow::addText(QHBoxLayout& row) {
  auto* box = new ChoiceBox;
  box->setObjectName("text");
  box->setEditable(true);
  box->setInsertPolicy(QComboBox::NoInsert);
  box->setFocusPolicy(Qt::StrongFocus);
  // As wide as there is room, however long what is offered.
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  box->setMinimumContentsLength(5);
  first_ = box;
  row.addWidget(box, 1);
  refreshers_.emplace_back([this, box](const ParamValue& v) {
    if (box->lineEdit()->isModified() && box->hasFocus()) return;
    QList<ChoiceBox::Entry> entries;
    for (const std::string& name : suggestions()) entries.append({text(name), text(name)});
    box->offer(entries);
    box->setEditText(text(std::get<std::string>(v.base)));
    // Its beginning is seen.
    box->lineEdit()->setCursorPosition(0);
  });
  const auto take = [this, box] { document_.setBase(item_, spec_.id, box->currentText().toStdString()); };
  connect(box->lineEdit(), &QLineEdit::editingFinished, this, take);
  connect(box, &QComboBox::activated, this, take);
}

std::vector<std::string> ParamRow::suggestions() const {
  const Scene::ItemPtr item = document_.scene().find(item_);
  if (spec_.id == "varied") return suggestedVariedValues(document_.scene());
  if (spec_.id != "mesh_part") return {};
  const auto mesh = item->content<MeshContent>("mesh");
  return mesh ? mesh->mesh().namesOfParts() : std::vector<std::string>();
}

void ParamRow::addCurve(QHBoxLayout& row) {
  auto* editor = new CurveField;
  first_ = editor;
  row.addWidget(editor, 1);
  refreshers_.emplace_back([editor](const ParamValue& v) { editor->setCurve(std::get<Curve>(v.base)); });
  connect(editor, &CurveField::edited, this,
          [this](const Curve& curve) { document_.setBase(item_, spec_.id, curve, mergeKey()); });
  connect(editor, &CurveField::finished, this, [this] { document_.endMerge(); });
}

void ParamRow::addFile(QHBoxLayout& row) {
  auto* field = new FileField(spec_.fileKind);
  first_ = field;
  row.addWidget(field, 1);
  refreshers_.emplace_back([this, field](const ParamValue& v) {
    field->setFile(std::get<FileRef>(v.base), document_.fileBeingRead(item_, spec_.id));
  });
  connect(&document_, &Document::readingChanged, this, &ParamRow::refresh);
  connect(field, &FileField::chosen, this,
          [this](const QString& path) { document_.setFile(item_, spec_.id, path); });
}

// What it holds only can be cleared here; where it comes from, it is taken.
void ParamRow::addData(QHBoxLayout& row) {
  auto* note = new QLabel;
  note->setObjectName("data_note");
  row.addWidget(note, 1);
  auto* clear = new QPushButton(tr("Clear"));
  clear->setObjectName("clear");
  first_ = clear;
  row.addWidget(clear);
  connect(clear, &QPushButton::clicked, this, [this] { document_.setBase(item_, spec_.id, Data()); });
  refreshers_.emplace_back([note, clear](const ParamValue& v) {
    const auto& bytes = std::get<Data>(v.base).bytes;
    clear->setVisible(bytes != nullptr);
    note->setText(bytes ? tr("in use, %L1 kB").arg((bytes->size() + 999) / 1000) : tr("none"));
  });
}

void ParamRow::addReference(QHBoxLayout& row) {
  auto* box = new ChoiceBox;
  box->setObjectName("item");
  box->setFocusPolicy(Qt::StrongFocus);
  first_ = box;
  row.addWidget(box, 1);
  refreshers_.emplace_back([this, box](const ParamValue& v) {
    QList<ChoiceBox::Entry> entries{{tr("none"), QString()}};
    for (const Scene::ItemPtr& other : referable(document_.scene(), *document_.scene().find(item_), index_))
      entries.append({text(other->name), text(other->name)});
    box->offer(entries);
    box->showEntry(text(std::get<ItemRef>(v.base).name));
  });
  connect(box, &QComboBox::activated, this, [this, box] {
    document_.setBase(item_, spec_.id, ItemRef{box->currentData().toString().toStdString()});
  });
}

void ParamRow::addRules(QHBoxLayout& row) {
  auto* editor = new RuleEditor(document_, item_);
  first_ = editor;
  row.addWidget(editor, 1);
  refreshers_.emplace_back([editor](const ParamValue& v) { editor->setRules(std::get<RuleList>(v.base)); });
  connect(editor, &RuleEditor::edited, this, [this](const RuleList& rules) {
    ParamValue changed = value();
    changed.base = rules;
    Scene next = document_.scene().withParam(item_, spec_.id, changed);
    // Who gets births by a rule has to take them.
    ParamValue byRules;
    byRules.base = std::string("rules");
    for (const Scene::ItemPtr& other : next.itemsOf(ItemFamily::Emitter))
      if (rulesGiveBirthsTo(*next.find(item_), other->id) && other->chooses("birth_trigger", "own"))
        next = next.withParam(other->id, "birth_trigger", byRules);
    document_.edit(next, tr("rules"), mergeKey());
  });
  connect(editor, &RuleEditor::finished, this, [this] { document_.endMerge(); });
}

// They are drawn in the viewport.
void ParamRow::addStrokes(QHBoxLayout& row) {
  auto* draw = new QPushButton(tr("Draw"));
  draw->setObjectName("draw");
  draw->setCheckable(true);
  draw->setToolTip(tr("Drag in the viewport to draw strokes; click again when done"));
  first_ = draw;
  row.addWidget(draw);
  auto* note = new QLabel;
  note->setProperty("quiet", true);
  row.addWidget(note, 1);
  auto* last = new QPushButton(tr("Remove last"));
  last->setObjectName("remove_last");
  row.addWidget(last);
  connect(draw, &QPushButton::toggled, &document_, &Document::setDrawing);
  connect(&document_, &Document::drawingChanged, draw,
          [this, draw] { draw->setChecked(document_.isDrawing()); });
  connect(last, &QPushButton::clicked, this, [this] {
    auto strokes = std::get<StrokeList>(value().base);
    strokes.pop_back();
    document_.setBase(item_, spec_.id, strokes);
  });
  refreshers_.emplace_back([note, last](const ParamValue& v) {
    const std::size_t count = std::get<StrokeList>(v.base).size();
    note->setText(count == 0 ? tr("none yet") : count == 1 ? tr("1 stroke") : tr("%1 strokes").arg(count));
    last->setVisible(count > 0);
  });
}

void ParamRow::addFollow(QHBoxLayout& row) {
  auto* field = new FollowField;
  row.addWidget(field);
  refreshers_.emplace_back([field](const ParamValue& v) { field->show(v); });
  connect(field, &FollowField::edited, this, [this](CurveInput input, double fastest) {
    ParamValue changed = value();
    changed.input = input;
    changed.fastest = fastest;
    document_.setParam(item_, spec_.id, changed, mergeKey() + ".follows");
  });
  connect(field, &FollowField::finished, this, [this] { document_.endMerge(); });
}

NumberField* ParamRow::addNumber(QHBoxLayout& row, const QString& prefix, double min, double max) {
  auto* field = new NumberField;
  field->setPrefix(prefix);
  field->setRange(min, max);
  field->setUsualRange(spec_.usualMin, spec_.usualMax);
  field->setWhole(spec_.type == ParamType::Integer);
  row.addWidget(field, 1);
  if (!first_) first_ = field;
  connect(field, &NumberField::begun, this, [this] {
    if (!value().keys.empty()) document_.holdFrame();
  });
  connect(field, &NumberField::finished, this, [this] { document_.endMerge(); });
  return field;
}

void ParamRow::addNumbers(QHBoxLayout& row) {
  NumberField* number = addNumber(row, {}, spec_.min, spec_.max);
  number->setObjectName("value");
  refreshers_.emplace_back([this, number](const ParamValue& v) {
    number->setUnits(unitsOf(spec_, document_.scene(), document_.timeDisplay()));
    number->setValue(document_.scene().find(item_)->number(spec_.id, document_.frame()));
    number->setFormula(text(v.formula));
  });
  connect(number, &NumberField::edited, this,
          [this](double typed) { document_.setBase(item_, spec_.id, typed, mergeKey()); });
  if (spec_.takesFormula()) addFormula(*number);
  if (!spec_.canVary) return;
  NumberField* variation = addNumber(row, "±", 0, spec_.max - spec_.min);
  variation->setObjectName("variation");
  variation->setUsualRange(0, (spec_.usualMax - spec_.usualMin) / 2);
  variation->setMaximumWidth(92);
  refreshers_.emplace_back([this, variation](const ParamValue& v) {
    NumberUnits units = withoutOffset(unitsOf(spec_, document_.scene(), document_.timeDisplay()));
    for (NumberUnit& unit : units) unit.shown.clear();
    variation->setUnits(units);
    variation->setValue(v.variation);
  });
  const auto setVariation = [this](double typed, const QString& key) {
    ParamValue changed = value();
    changed.variation = typed;
    document_.setParam(item_, spec_.id, changed, key);
  };
  connect(variation, &NumberField::edited, this,
          [this, setVariation](double typed) { setVariation(typed, mergeKey() + ".variation"); });
  number->setTakesVariation(true);
  // In one step with the number before it.
  connect(number, &NumberField::variationTyped, this,
          [this, setVariation](double typed) { setVariation(typed, mergeKey()); });
}

void ParamRow::addFormula(NumberField& number) {
  QStringList names;
  for (const std::string& name : formulaNames(spec_.formulaScope())) names << text(name);
  number.setTakesFormula(names);
  connect(&number, &NumberField::formulaTyped, this, [this, field = &number](const QString& formula) {
    ParamValue changed = value();
    changed.formula = formula.toStdString();
    if (const auto problem = problemWithFormula(changed.formula, spec_.formulaScope());
        problem && !formula.isEmpty())
      return field->refuseFormula(formula, static_cast<int>(problem->position), text(problem->message));
    document_.setParam(item_, spec_.id, changed);
  });
}

void ParamRow::addSwatch(QHBoxLayout& row) {
  auto* swatch = new ColorSwatch;
  swatch->setObjectName("swatch");
  row.addWidget(swatch);
  refreshers_.emplace_back(
      [this, swatch](const ParamValue& v) { swatch->setColor(v.vectorAt(document_.frame())); });
  connect(swatch, &ColorSwatch::edited, this,
          [this](const Vec3d& color) { document_.setBase(item_, spec_.id, color, mergeKey()); });
  connect(swatch, &ColorSwatch::finished, this, [this] { document_.endMerge(); });
}

void ParamRow::addVector(QHBoxLayout& row) {
  const QString names = spec_.type == ParamType::Color ? "rgb" : "xyz";
  if (spec_.type == ParamType::Color) addSwatch(row);
  for (int axis = 0; axis < 3; ++axis) {
    NumberField* field = addNumber(row, names[axis], spec_.min, spec_.max);
    field->setObjectName(QString(names[axis]));
    field->setShowsBar(false);
    refreshers_.emplace_back([this, field, axis](const ParamValue& v) {
      field->setValue(v.vectorAt(document_.frame())[axis]);
      const std::string used = document_.scene().find(item_)->axes(index_);
      field->setVisible(used.find("xyz"[axis]) != std::string::npos);
    });
    connect(field, &NumberField::edited, this, [this, axis](double typed) {
      Vec3d vector = value().vectorAt(document_.frame());
      vector[axis] = typed;
      document_.setBase(item_, spec_.id, vector, mergeKey());
    });
  }
}

void ParamRow::addChoice(QHBoxLayout& row) {
  auto* box = new ChoiceBox;
  box->setObjectName("choice");
  box->setFocusPolicy(Qt::StrongFocus);
  first_ = box;
  for (const ChoiceOption& option : spec_.choices) {
    box->addItem(text(option.label), text(option.id));
    box->setItemData(box->count() - 1, text(option.tip), Qt::ToolTipRole);
  }
  row.addWidget(box, 1);
  refreshers_.emplace_back(
      [box](const ParamValue& v) { box->showEntry(text(std::get<std::string>(v.base))); });
  connect(box, &QComboBox::activated, this,
          [this, box] { document_.setBase(item_, spec_.id, box->currentData().toString().toStdString()); });
}

void ParamRow::addKeyMark(QHBoxLayout& row) {
  keyMark_ = new KeyMark;
  keyMark_->setObjectName("key");
  keyMark_->setContextMenuPolicy(Qt::CustomContextMenu);
  row.addWidget(keyMark_, 0, Qt::AlignTop);
  connect(keyMark_, &KeyMark::clicked, this, &ParamRow::toggleKey);
  connect(keyMark_, &KeyMark::customContextMenuRequested, this, &ParamRow::showKeyMenu);
}

void ParamRow::toggleKey() {
  document_.holdFrame();
  ParamValue changed = value();
  const double frame = document_.frame();
  if (hasKeyAt(changed.keys, frame)) {
    // The last key that goes leaves its value behind.
    if (changed.keys.size() == 1) changed.base = changed.keys.front().value;
    changed.keys = withoutKey(changed.keys, frame);
  } else {
    changed.keys = withKey(changed.keys, {frame, changed.at(frame), Interpolation::Smooth});
  }
  document_.setParam(item_, spec_.id, changed);
}

void ParamRow::showKeyMenu(const QPoint& position) {
  const double frame = document_.frame();
  QMenu* menu = newMenu(this);
  for (const auto& [label, kind] : interpolationLabels()) {
    QAction* action = menu->addAction(label, this, [this, kind = kind, frame] {
      ParamValue changed = value();
      for (std::size_t i = 0; i < changed.keys.size(); ++i)
        if (changed.keys[i].frame == frame) setInterpolation(changed.keys, i, kind);
      document_.setParam(item_, spec_.id, changed);
    });
    action->setEnabled(hasKeyAt(value().keys, frame));
  }
  menu->addSeparator();
  QAction* clear = menu->addAction(tr("Remove all keys"), this, [this, frame] {
    ParamValue changed = value();
    changed.base = changed.at(frame);
    changed.keys.clear();
    document_.setParam(item_, spec_.id, changed);
  });
  clear->setEnabled(!value().keys.empty());
  menu->popup(keyMark_->mapToGlobal(position));
}

void ParamRow::addMenu() {
  setContextMenuPolicy(Qt::CustomContextMenu);
  connect(this, &QWidget::customContextMenuRequested, this, [this](const QPoint& position) {
    QMenu* menu = newMenu(this);
    QAction* reset = menu->addAction(tr("Reset %1").arg(text(spec_.label).toLower()), this,
                                     [this] { document_.setParam(item_, spec_.id, spec_.defaultValue); });
    reset->setEnabled(value() != spec_.defaultValue);
    if (spec_.type == ParamType::Number || spec_.type == ParamType::Integer)
      menu->addAction(tr("Try values of %1…").arg(text(spec_.label).toLower()), this,
                      [this] { Q_EMIT valuesWanted(item_, text(spec_.id)); });
    menu->popup(mapToGlobal(position));
  });
}

}  // namespace comet
