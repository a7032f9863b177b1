#include "controls/follow_field.h"

#include "controls/choice_box.h"
#include "controls/number_field.h"

#include <QBoxLayout>

namespace comet {

FollowField::FollowField(Qt::Orientation orientation, QWidget* parent)
    : QWidget(parent), input_(new ChoiceBox), fastest_(new NumberField) {
  auto* row =
      new QBoxLayout(orientation == Qt::Horizontal ? QBoxLayout::LeftToRight : QBoxLayout::TopToBottom, this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(4);
  input_->setObjectName("follows");
  input_->setFocusPolicy(Qt::StrongFocus);
  input_->addItems({tr("over life"), tr("over speed"), tr("random"), tr("over arrival")});
  input_->setToolTip(tr(
      "What runs from left to right: a particle's life, its speed, a random number of its own, or its way to "
      "the point at which it arrives"));
  input_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  input_->setMinimumContentsLength(5);
  row->addWidget(input_);
  fastest_->setObjectName("fastest");
  fastest_->setPrefix(tr("to"));
  fastest_->setUnit(tr("units/s"));
  fastest_->setRange(1e-6, 1e6);
  fastest_->setUsualRange(0, 20);
  fastest_->setFixedWidth(orientation == Qt::Horizontal ? 110 : 100);
  fastest_->setToolTip(tr("The speed at the right end"));
  row->addWidget(fastest_);
  const auto offer = [this] {
    Q_EMIT edited(static_cast<CurveInput>(input_->currentIndex()), fastest_->value());
  };
  connect(input_, &QComboBox::activated, this, [this, offer] {
    offer();
    Q_EMIT finished();
  });
  connect(fastest_, &NumberField::edited, this, offer);
  connect(fastest_, &NumberField::finished, this, &FollowField::finished);
}

void FollowField::show(const ParamValue& value) {
  input_->setCurrentIndex(static_cast<int>(value.input));
  fastest_->setValue(value.fastest);
  fastest_->setVisible(value.input == CurveInput::Speed);
}

}  // namespace comet
