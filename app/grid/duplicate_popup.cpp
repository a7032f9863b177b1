#include "grid/duplicate_popup.h"

#include "controls/number_field.h"
#include "simulation/emission/rearrange.h"
#include "theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace comet {

void DuplicatePopup::open(Document& document, ItemId emitter, const QPoint& place, QWidget* parent) {
  auto* popup = new DuplicatePopup(document, emitter, parent);
  popup->move(place);
  popup->show();
}

DuplicatePopup::DuplicatePopup(Document& document, ItemId emitter, QWidget* parent)
    : QWidget(parent, Qt::Popup), document_(document), emitter_(emitter) {
  setObjectName("duplicate_popup");
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  setAttribute(Qt::WA_DeleteOnClose);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 8, 10, 10);
  column->setSpacing(5);
  auto* title = new QLabel(tr("Duplicate, moved by"));
  title->setFont(theme::font(12, true));
  column->addWidget(title);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  for (int axis = 0; axis < 3; ++axis) {
    offset_[axis] = new NumberField;
    offset_[axis]->setObjectName(QString("xyz"[axis]));
    offset_[axis]->setPrefix(QString("xyz"[axis]));
    offset_[axis]->setRange(-1e6, 1e6);
    offset_[axis]->setUsualRange(-10, 10);
    offset_[axis]->setShowsBar(false);
    offset_[axis]->setFixedWidth(80);
    row->addWidget(offset_[axis]);
  }
  column->addLayout(row);
  later_ = new NumberField;
  later_->setObjectName("later");
  later_->setPrefix(tr("delay"));
  later_->setUnit(tr("frames"));
  later_->setRange(-100000, 100000);
  later_->setUsualRange(0, 100);
  column->addWidget(later_);
  auto* done = new QPushButton(tr("Duplicate"));
  done->setObjectName("duplicate");
  done->setProperty("main", true);
  column->addWidget(done);
  connect(done, &QPushButton::clicked, this, &DuplicatePopup::duplicate);
}

void DuplicatePopup::duplicate() {
  const Scene& scene = document_.scene();
  const Scene::ItemPtr emitter = scene.find(emitter_);
  if (emitter) {
    const Vec3d offset(offset_[0]->value(), offset_[1]->value(), offset_[2]->value());
    const Item copy = shiftedInSpace(shiftedInTime(*emitter, later_->value(), frameRange(scene)), offset);
    const Scene next = scene.withDuplicate(emitter_, copy);
    document_.edit(next, tr("duplicate"));
    document_.select(next.items().back()->id);
  }
  close();
}

}  // namespace comet
