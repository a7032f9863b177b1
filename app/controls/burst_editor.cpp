#include "controls/burst_editor.h"

#include "controls/focus_keeper.h"
#include "controls/number_field.h"
#include "theme/theme.h"

#include <QGridLayout>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace comet {
namespace {

constexpr std::size_t kFields = 5;

double valueOf(const Burst& burst, std::size_t field) {
  const double values[kFields] = {burst.frame, burst.count, burst.variation, burst.every,
                                  static_cast<double>(burst.times)};
  return values[field];
}

void setValueOf(Burst& burst, std::size_t field, double value) {
  if (field == 4)
    burst.times = static_cast<int>(value);
  else
    *(field == 0   ? &burst.frame
      : field == 1 ? &burst.count
      : field == 2 ? &burst.variation
                   : &burst.every) = value;
}

struct FieldLook {
  const char* prefix;
  double least, most, usual;
  const char* tip;
};

constexpr FieldLook kLooks[kFields] = {{"at", -1e5, 1e5, 100, "Frame of the burst"},
                                       {"n", 0, 5e6, 500, "How many are born"},
                                       {"±", 0, 5e6, 200, "By how many it varies"},
                                       {"every", 0, 1e5, 50, "Frames until it repeats; 0 for once"},
                                       {"×", 1, 1e5, 20, "How often in all"}};

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
  for (std::size_t f = 0; f < kFields; ++f) {
    const FieldLook& look = kLooks[f];
    auto* field = new NumberField;
    field->setObjectName(QString("burst%1.%2").arg(index).arg(f));
    field->setPrefix(QString::fromUtf8(look.prefix));
    field->setToolTip(tr(look.tip));
    field->setRange(look.least, look.most);
    field->setUsualRange(0, look.usual);
    field->setWhole(true);
    field->setShowsBar(false);
    grid->addWidget(field, f < 3 ? 0 : 1, f < 3 ? static_cast<int>(f) : static_cast<int>(f) - 3);
    fields_.push_back(field);
    connect(field, &NumberField::edited, this, [this, index, f](double value) {
      setValueOf(bursts_[index], f, value);
      Q_EMIT edited(bursts_);
    });
    connect(field, &NumberField::finished, this, &BurstEditor::finished);
  }
  auto* remove = new QToolButton;
  remove->setIcon(theme::mark("remove"));
  remove->setToolTip(tr("Remove this burst"));
  connect(remove, &QToolButton::clicked, this, [this, index] {
    bursts_.erase(bursts_.begin() + static_cast<std::ptrdiff_t>(index));
    rebuild();
    Q_EMIT edited(bursts_);
    Q_EMIT finished();
  });
  grid->addWidget(remove, 1, 2, Qt::AlignLeft);
  rows_->addWidget(box);
}

void BurstEditor::showValues() {
  for (std::size_t i = 0; i < fields_.size(); ++i)
    fields_[i]->setValue(valueOf(bursts_[i / kFields], i % kFields));
}

}  // namespace comet
