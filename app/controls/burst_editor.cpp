#include "controls/burst_editor.h"

#include "controls/focus_keeper.h"
#include "controls/number_field.h"
#include "controls/typed_number.h"
#include "theme/theme.h"

#include <QGridLayout>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <iterator>

namespace comet {
namespace {

enum class Kind { Moment, FrameCount, Count };

struct BurstField {
  double Burst::*value;  // null for the number of times
  Kind kind;
  const char* prefix;
  double min, max, usual;
  const char* tip;
};

constexpr std::size_t kCountField = 1, kVariationField = 2;

constexpr BurstField kFields[] = {
    {&Burst::frame, Kind::Moment, "at", -1e5, 1e5, 100, "Frame at which the burst begins."},
    {&Burst::count, Kind::Count, "n", 0, 5e6, 500,
     "How many are born. Type for example “500 over frames 1–15” to spread them."},
    {&Burst::variation, Kind::Count, "±", 0, 5e6, 200, "By how many the number varies."},
    {&Burst::duration, Kind::FrameCount, "over", 0, 1e5, 50,
     "Frames over which the births are spread evenly; 0 for all at once."},
    {&Burst::every, Kind::FrameCount, "every", 0, 1e5, 50, "Frames until it repeats; 0 for once."},
    {nullptr, Kind::Count, "×", 1, 1e5, 20, "How often it comes in all."}};
constexpr std::size_t kFieldCount = std::size(kFields);

double valueOf(const Burst& burst, std::size_t field) {
  return kFields[field].value ? burst.*kFields[field].value : burst.times;
}

void setValueOf(Burst& burst, std::size_t field, double value) {
  if (kFields[field].value)
    burst.*kFields[field].value = value;
  else
    burst.times = static_cast<int>(value);
}

}  // namespace

BurstEditor::BurstEditor(QWidget* parent) : QWidget(parent), rows_(new QVBoxLayout(this)) {
  rows_->setContentsMargins(0, 0, 0, 0);
  rows_->setSpacing(4);
  rebuild();
}

void BurstEditor::setBursts(const BurstList& bursts) {
  if (bursts == bursts_) return;
  const bool sameRows = bursts.size() == bursts_.size();
  bursts_ = bursts;
  if (sameRows)
    showValues();
  else
    rebuild();
}

void BurstEditor::rebuild() {
  const FocusKeeper keeper(*this);
  fields_.clear();
  while (QLayoutItem* item = rows_->takeAt(0)) {
    // A button's own click may lead here.
    item->widget()->hide();
    item->widget()->setParent(nullptr);
    item->widget()->deleteLater();
    delete item;
  }
  for (std::size_t i = 0; i < bursts_.size(); ++i) addRow(i);
  auto* add = new QPushButton(theme::mark("add"), tr("Add burst"));
  add->setObjectName("add_burst");
  connect(add, &QPushButton::clicked, this, [this] {
    bursts_.push_back(Burst{});
    rebuild();
    Q_EMIT edited(bursts_);
    Q_EMIT finished();
  });
  rows_->addWidget(add);
  showValues();
}

void BurstEditor::addRow(std::size_t index) {
  auto* box = new QWidget;
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(4);
  for (std::size_t f = 0; f < kFieldCount; ++f)
    grid->addWidget(addField(index, f), static_cast<int>(f / 3), static_cast<int>(f % 3));
  auto* remove = new QToolButton;
  remove->setIcon(theme::mark("remove"));
  remove->setToolTip(tr("Remove this burst"));
  connect(remove, &QToolButton::clicked, this, [this, index] {
    bursts_.erase(bursts_.begin() + static_cast<std::ptrdiff_t>(index));
    rebuild();
    Q_EMIT edited(bursts_);
    Q_EMIT finished();
  });
  grid->addWidget(remove, 0, 3, Qt::AlignLeft);
  rows_->addWidget(box);
}

NumberField* BurstEditor::addField(std::size_t index, std::size_t f) {
  const BurstField& look = kFields[f];
  auto* field = new NumberField;
  field->setObjectName(QString("burst%1.%2").arg(index).arg(f));
  field->setPrefix(QString::fromUtf8(look.prefix));
  field->setToolTip(tr(look.tip));
  field->setRange(look.min, look.max);
  field->setUsualRange(0, look.usual);
  field->setWhole(true);
  field->setShowsBar(false);
  fields_.push_back(field);
  connect(field, &NumberField::edited, this, [this, index, f](double value) {
    setValueOf(bursts_[index], f, value);
    offer();
  });
  connect(field, &NumberField::finished, this, &BurstEditor::finished);
  if (f != kCountField) return field;
  field->setTakesVariation(true);
  field->setOtherReader([this, index](const QString& text) { return takeSaid(index, text); });
  connect(field, &NumberField::variationTyped, this, [this, index](double variation) {
    setValueOf(bursts_[index], kVariationField, std::round(variation));
    offer();
  });
  return field;
}

bool BurstEditor::takeSaid(std::size_t index, const QString& text) {
  const auto said = typedBurst(text, bursts_[index], moment_, frameCount_);
  if (!said) return false;
  bursts_[index] = *said;
  for (std::size_t f = 0; f < kFieldCount; ++f)
    setValueOf(bursts_[index], f, std::clamp(std::round(valueOf(*said, f)), kFields[f].min, kFields[f].max));
  offer();
  Q_EMIT finished();
  return true;
}

void BurstEditor::offer() {
  showValues();
  Q_EMIT edited(bursts_);
}

void BurstEditor::setUnits(const NumberUnits& moment, const NumberUnits& frameCount) {
  moment_ = moment;
  frameCount_ = frameCount;
  // The prefix says what is counted; there is no room for "frames" too.
  for (NumberUnit& unit : frameCount_)
    if (unit.shown == "frames") unit.shown.clear();
  showValues();
}

void BurstEditor::showValues() {
  for (std::size_t i = 0; i < fields_.size(); ++i) {
    const Kind kind = kFields[i % kFieldCount].kind;
    if (kind != Kind::Count) fields_[i]->setUnits(kind == Kind::Moment ? moment_ : frameCount_);
    fields_[i]->setValue(valueOf(bursts_[i / kFieldCount], i % kFieldCount));
  }
}

}  // namespace comet
