#include "inspector/shape_tools.h"

#include "theme/theme.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace comet {

ShapeTools::ShapeTools(Document& document, ItemId emitter, QWidget* parent)
    : QWidget(parent), document_(document), emitter_(emitter), face_(new QPushButton(tr("Face the view"))) {
  auto* fill = new QPushButton(tr("Fill the view"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(theme::kFieldsIndent, 0, 22, 0);
  row->setSpacing(4);
  face_->setObjectName("shape_face");
  face_->setToolTip(tr("Rotates the shape so that it lies in the plane of the picture, for flat effects"));
  fill->setObjectName("shape_fill");
  fill->setToolTip(
      tr("Makes the shape a rectangle as large as what the viewport shows, at the emitter's distance"));
  row->addWidget(face_);
  row->addWidget(fill);
  connect(face_, &QPushButton::clicked, this, &ShapeTools::facingWanted);
  connect(fill, &QPushButton::clicked, this, &ShapeTools::fillingWanted);
  connect(&document_, &Document::sceneChanged, this, &ShapeTools::refresh);
  refresh();
}

void ShapeTools::refresh() {
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (!emitter) return;
  const bool looksTheSame = emitter->chooses("shape", "point") || emitter->chooses("shape", "sphere") ||
                            emitter->chooses("shape", "mesh");
  face_->setEnabled(!looksTheSame);
}

}  // namespace comet
