#include "controls/rule_editor.h"

#include "controls/choice_box.h"
#include "controls/focus_keeper.h"
#include "controls/number_field.h"
#include "controls/number_unit.h"
#include "scene/item_reference.h"
#include "theme/theme.h"

#include <QCheckBox>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

namespace comet {
namespace {

constexpr int kEndMargin = 12;

constexpr int kLeadWidth = 34;
constexpr int kItemWidth = 112;
constexpr int kSentenceLines = 3;

QString text(std::string_view utf8) {
  return QString::fromUtf8(utf8.data(), static_cast<qsizetype>(utf8.size()));
}

QString nameOf(std::size_t rule, bool isCondition, std::size_t clause, const char* part) {
  return QString("rule%1.%2%3.%4").arg(rule).arg(isCondition ? "when" : "then").arg(clause).arg(part);
}

QHBoxLayout* addRow(QVBoxLayout& rows) {
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  rows.addLayout(row);
  return row;
}

QLabel* addLead(const QString& words, QHBoxLayout& row) {
  auto* lead = new QLabel(words);
  lead->setFixedWidth(kLeadWidth);
  lead->setProperty("quiet", true);
  row.addWidget(lead);
  return lead;
}

QToolButton* removeButton(const QString& tip) {
  auto* button = new QToolButton;
  button->setIcon(theme::mark("remove"));
  button->setToolTip(tip);
  return button;
}

}  // namespace

RuleEditor::RuleEditor(Document& document, ItemId emitter, QWidget* parent)
    : QWidget(parent), document_(document), emitter_(emitter), rows_(new QVBoxLayout(this)) {
  rows_->setContentsMargins(0, 0, 0, 0);
  rows_->setSpacing(6);
  rebuild();
}

void RuleEditor::setRules(const RuleList& rules) {
  const auto shapeOf = [](const RuleList& list) {
    std::vector<int> shape;
    for (const Rule& rule : list) {
      shape.push_back(-1);
      for (const RuleClause& clause : rule.when) shape.push_back(clause.form);
      shape.push_back(-2);
      for (const RuleClause& clause : rule.then) shape.push_back(clause.form);
    }
    return shape;
  };
  const bool isSameShape = shapeOf(rules) == shapeOf(rules_);
  rules_ = rules;
  if (!isSameShape) return rebuild();
  for (const auto& refresh : refreshers_) refresh();
  showSentences();
}

void RuleEditor::rebuild() {
  const FocusKeeper keeper(*this);
  sentences_.clear();
  refreshers_.clear();
  while (QLayoutItem* item = rows_->takeAt(0)) {
    // A button's own click may lead here.
    item->widget()->hide();
    item->widget()->setParent(nullptr);
    item->widget()->deleteLater();
    delete item;
  }
  for (std::size_t i = 0; i < rules_.size(); ++i) addRule(i);
  auto* add = new QPushButton(theme::mark("add"), tr("Add rule"));
  add->setObjectName("add_rule");
  add->setEnabled(rules_.size() < kMaxRules);
  connect(add, &QPushButton::clicked, this, [this] {
    change([this] {
      // Does nothing until it is said whose births the burst gives.
      Rule rule;
      rule.when = {newCondition(RuleWhen::Age)};
      rule.then = {newAction(RuleThen::Burst)};
      rules_.push_back(rule);
    });
    // Once it has its place.
    QTimer::singleShot(0, this, &RuleEditor::showEnd);
  });
  rows_->addWidget(add);
  for (const auto& refresh : refreshers_) refresh();
  showSentences();
}

std::vector<RuleClause>& RuleEditor::clauses(std::size_t rule, bool isCondition) {
  return isCondition ? rules_[rule].when : rules_[rule].then;
}

void RuleEditor::showEnd() {
  for (QWidget* parent = parentWidget(); parent; parent = parent->parentWidget())
    if (auto* area = qobject_cast<QScrollArea*>(parent))
      return area->ensureWidgetVisible(findChild<QWidget*>("add_rule"), 0, kEndMargin);
}

void RuleEditor::setForm(std::size_t rule, bool isCondition, std::size_t clause, std::uint8_t form) {
  RuleClause& now = clauses(rule, isCondition)[clause];
  if (now.form == form) return;
  change([&] {
    earlier_[{rule, isCondition, clause, now.form}] = now;
    const auto earlier = earlier_.find({rule, isCondition, clause, form});
    now = earlier != earlier_.end() ? earlier->second
                                    : withForm(now, form, isCondition ? conditionForms() : actionForms());
  });
}

void RuleEditor::change(const std::function<void()>& act) {
  act();
  rebuild();
  changed();
  Q_EMIT finished();
}

void RuleEditor::changed() {
  showSentences();
  Q_EMIT edited(rules_);
}

void RuleEditor::showSentences() {
  for (std::size_t i = 0; i < sentences_.size(); ++i) sentences_[i]->setText(text(sentenceOf(rules_[i])));
}

void RuleEditor::addRule(std::size_t rule) {
  auto* box = new QFrame;
  box->setObjectName(QString("rule%1").arg(rule));
  auto* rows = new QVBoxLayout(box);
  rows->setContentsMargins(0, 0, 0, 4);
  rows->setSpacing(4);
  QHBoxLayout* head = addRow(*rows);
  auto* sentence = new QLabel;
  sentence->setObjectName(QString("rule%1.sentence").arg(rule));
  sentence->setWordWrap(true);
  sentence->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  // Room for a usual one is kept: what is below must not move when it gets longer.
  sentence->setMinimumHeight(kSentenceLines * sentence->fontMetrics().lineSpacing());
  head->addWidget(sentence, 1);
  sentences_.push_back(sentence);
  QToolButton* remove = removeButton(tr("Remove this rule"));
  remove->setObjectName(QString("rule%1.remove").arg(rule));
  connect(remove, &QToolButton::clicked, this, [this, rule] {
    change([&] {
      earlier_.clear();
      rules_.erase(rules_.begin() + static_cast<std::ptrdiff_t>(rule));
    });
  });
  head->addWidget(remove, 0, Qt::AlignTop);
  for (const bool isCondition : {true, false}) {
    for (std::size_t i = 0; i < clauses(rule, isCondition).size(); ++i)
      addClause(rule, isCondition, i, *rows);
    auto* add = new QPushButton(isCondition ? tr("Add condition") : tr("Add action"));
    add->setObjectName(QString("rule%1.%2").arg(rule).arg(isCondition ? "add_when" : "add_then"));
    connect(add, &QPushButton::clicked, this, [this, rule, isCondition] {
      change([&] {
        clauses(rule, isCondition)
            .push_back(isCondition ? newCondition(RuleWhen::Speed) : newAction(RuleThen::Kick));
      });
    });
    QHBoxLayout* row = addRow(*rows);
    addLead({}, *row);
    row->addWidget(add, 1);
    if (isCondition) addTerms(rule, *rows);
  }
  rows_->addWidget(box);
}

void RuleEditor::addClause(std::size_t rule, bool isCondition, std::size_t clause, QVBoxLayout& rows) {
  QHBoxLayout* row = addRow(rows);
  const QString first = isCondition ? tr("when") : tr("then");
  if (isCondition && clause == 1) {
    auto* join = new ChoiceBox;
    join->setObjectName(QString("rule%1.join").arg(rule));
    join->addItems({tr("and"), tr("or")});
    join->setToolTip(tr("Whether all conditions must be true, or one is enough"));
    connect(join, &QComboBox::activated, this,
            [this, rule](int index) { change([&] { rules_[rule].anyOf = index == 1; }); });
    refreshers_.emplace_back([this, rule, join] { join->setCurrentIndex(rules_[rule].anyOf ? 1 : 0); });
    row->addWidget(join);
  } else {
    const bool isAny = isCondition && rules_[rule].anyOf;
    addLead(clause == 0 ? first : isAny ? tr("or") : tr("and"), *row);
  }
  auto* kind = new ChoiceBox;
  kind->setObjectName(nameOf(rule, isCondition, clause, "kind"));
  for (const RuleForm& form : isCondition ? conditionForms() : actionForms()) kind->addItem(text(form.label));
  kind->setCurrentIndex(clauses(rule, isCondition)[clause].form);
  kind->setFocusPolicy(Qt::StrongFocus);
  connect(kind, &QComboBox::activated, this, [this, rule, isCondition, clause](int index) {
    setForm(rule, isCondition, clause, static_cast<std::uint8_t>(index));
  });
  row->addWidget(kind, 1);
  QToolButton* remove = removeButton(tr("Remove this part"));
  remove->setObjectName(nameOf(rule, isCondition, clause, "remove"));
  remove->setEnabled(clauses(rule, isCondition).size() > 1);
  connect(remove, &QToolButton::clicked, this, [this, rule, isCondition, clause] {
    change([&] {
      earlier_.clear();
      auto& list = clauses(rule, isCondition);
      list.erase(list.begin() + static_cast<std::ptrdiff_t>(clause));
    });
  });
  row->addWidget(remove);
  addClauseFields(rule, isCondition, clause, rows);
}

void RuleEditor::addClauseFields(std::size_t rule, bool isCondition, std::size_t clause, QVBoxLayout& rows) {
  const RuleForm& form =
      (isCondition ? conditionForms() : actionForms())[clauses(rule, isCondition)[clause].form];
  QHBoxLayout* row = addRow(rows);
  // As high without any field: what is below must not move when another kind is chosen.
  addLead({}, *row)->setFixedHeight(theme::kRowHeight);
  for (double RuleClause::*field : {&RuleClause::first, &RuleClause::second}) {
    const bool isFirst = field == &RuleClause::first;
    const RuleField& look = isFirst ? form.first : form.second;
    if (look.label.empty()) continue;
    NumberField* number = addNumber(look, *row);
    number->setObjectName(nameOf(rule, isCondition, clause, isFirst ? "first" : "second"));
    refreshers_.emplace_back([this, number, rule, isCondition, clause, field] {
      number->setValue(clauses(rule, isCondition)[clause].*field);
    });
    connect(number, &NumberField::edited, this, [this, rule, isCondition, clause, field](double value) {
      clauses(rule, isCondition)[clause].*field = value;
      changed();
    });
  }
  if (form.item != RuleItem::None) addItemBox(form.item, rule, isCondition, clause, *row);
  if (!isCondition) return;
  auto* isNot = new QCheckBox(tr("not"));
  isNot->setObjectName(nameOf(rule, isCondition, clause, "not"));
  isNot->setToolTip(tr("The opposite: when this is not true"));
  connect(isNot, &QCheckBox::clicked, this, [this, rule, clause](bool on) {
    rules_[rule].when[clause].isNot = on;
    changed();
    Q_EMIT finished();
  });
  refreshers_.emplace_back(
      [this, isNot, rule, clause] { isNot->setChecked(rules_[rule].when[clause].isNot); });
  row->addWidget(isNot);
}

NumberField* RuleEditor::addNumber(const RuleField& look, QLayout& row) {
  auto* number = new NumberField;
  number->setRange(look.min, look.max);
  number->setUsualRange(std::max(look.min, -100.0), std::min(look.max, 100.0));
  number->setPrefix(text(look.label));
  number->setToolTip(look.unit.empty() ? text(look.label)
                                       : tr("%1, %2").arg(text(look.label), text(look.unit)));
  number->setShowsBar(false);
  // Times are shown and typed as everywhere.
  const bool isMoment = look.unit == "frame", isLength = look.unit == "frames";
  if (isMoment || isLength) {
    const auto setUnits = [this, number, isMoment] {
      const Scene& scene = document_.scene();
      const TimeDisplay display = document_.timeDisplay();
      number->setUnits(isMoment ? momentUnits(scene, display) : frameCountUnits(scene, display));
    };
    setUnits();
    connect(&document_, &Document::timeDisplayChanged, number, setUnits);
    connect(&document_, &Document::sceneChanged, number, setUnits);
  }
  connect(number, &NumberField::finished, this, &RuleEditor::finished);
  row.addWidget(number);
  return number;
}

void RuleEditor::addItemBox(RuleItem what, std::size_t rule, bool isCondition, std::size_t clause,
                            QLayout& row) {
  auto* box = new ChoiceBox;
  box->setObjectName(nameOf(rule, isCondition, clause, "item"));
  box->setFocusPolicy(Qt::StrongFocus);
  box->setMinimumWidth(kItemWidth);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  row.addWidget(box);
  refreshers_.emplace_back([this, box, what, rule, isCondition, clause] {
    const Scene::ItemPtr emitter = document_.scene().find(emitter_);
    if (!emitter) return;
    QList<ChoiceBox::Entry> entries{
        {what == RuleItem::Deflector ? tr("anything") : tr("choose one"), QString()}};
    for (const Scene::ItemPtr& item : referable(document_.scene(), *emitter, what))
      entries.append({text(item->name), text(item->name)});
    box->offer(entries);
    box->showEntry(text(clauses(rule, isCondition)[clause].item.name));
  });
  connect(box, &QComboBox::activated, this, [this, box, rule, isCondition, clause] {
    clauses(rule, isCondition)[clause].item = {box->currentData().toString().toStdString()};
    changed();
    Q_EMIT finished();
  });
}

// How likely and how often it fires.
void RuleEditor::addTerms(std::size_t rule, QVBoxLayout& rows) {
  QHBoxLayout* row = addRow(rows);
  addLead(tr("with"), *row);
  NumberField* chance = addNumber({"", "%", 100, 0, 100}, *row);
  chance->setUnit("%");
  chance->setToolTip(tr("Chance, %"));
  chance->setObjectName(QString("rule%1.chance").arg(rule));
  refreshers_.emplace_back([this, chance, rule] { chance->setValue(rules_[rule].chance); });
  connect(chance, &NumberField::edited, this, [this, rule](double value) {
    rules_[rule].chance = value;
    changed();
  });
  auto* draw = new ChoiceBox;
  draw->setObjectName(QString("rule%1.draw").arg(rule));
  draw->addItems({tr("for each particle"), tr("each frame")});
  draw->setToolTip(tr("Whether the chance is drawn once for each particle or again in each frame"));
  connect(draw, &QComboBox::activated, this, [this, rule](int index) {
    rules_[rule].chanceEachFrame = index == 1;
    changed();
    Q_EMIT finished();
  });
  refreshers_.emplace_back(
      [this, draw, rule] { draw->setCurrentIndex(rules_[rule].chanceEachFrame ? 1 : 0); });
  row->addWidget(draw);
  auto* max = new ChoiceBox;
  max->setObjectName(QString("rule%1.most").arg(rule));
  max->addItems({tr("unlimited"), tr("once per particle")});
  for (int times = 2; times <= kMaxTimes; ++times) max->addItem(tr("up to %1 times").arg(times));
  max->setToolTip(tr("How many times it can fire for each particle"));
  connect(max, &QComboBox::activated, this, [this, rule](int index) {
    rules_[rule].max = index;
    changed();
    Q_EMIT finished();
  });
  refreshers_.emplace_back([this, max, rule] { max->setCurrentIndex(rules_[rule].max); });
  row->addWidget(max);
}

}  // namespace comet
