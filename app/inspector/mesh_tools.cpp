#include "inspector/mesh_tools.h"

#include "render/camera.h"
#include "simulation/emission/rearrange.h"
#include "theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {

double fittingLength(const Scene& scene, double frame) {
  const Camera camera = cameraOf(scene, frame);
  if (camera.projection == Camera::Projection::Orthographic) return 0.5 * camera.height;
  return glm::length(camera.aim - camera.place) * std::tan(0.5 * radians(camera.fieldOfView));
}

MeshTools::MeshTools(Document& document, ItemId emitter, QWidget* parent)
    : QWidget(parent),
      document_(document),
      emitter_(emitter),
      size_(new QLabel),
      extent_(this, [this](const Vec3d& extent) {
        size_->setText(tr("%1 × %2 × %3 units")
                           .arg(extent.x, 0, 'g', 3)
                           .arg(extent.y, 0, 'g', 3)
                           .arg(extent.z, 0, 'g', 3));
      }) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(theme::kFieldsIndent, 0, 22, 0);
  column->setSpacing(3);
  size_->setObjectName("mesh_size");
  size_->setProperty("quiet", true);
  column->addWidget(size_);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  column->addLayout(row);
  const auto add = [this, row](const char* name, const QString& text, const QString& tip) {
    auto* button = new QPushButton(text);
    button->setObjectName(name);
    button->setToolTip(tip);
    row->addWidget(button);
    return button;
  };
  connect(add("mesh_fit", tr("Fit"),
              tr("Scales the mesh to half of the view's height and moves it to the middle")),
          &QPushButton::clicked, this, &MeshTools::fit);
  connect(add("mesh_ground", tr("On ground"), tr("Moves the mesh up or down until it touches the ground")),
          &QPushButton::clicked, this, [this] {
            document_.edit(
                document_.scene().withReplaced(withMeshOnGround(*document_.scene().find(emitter_))),
                tr("put on ground"));
          });
  connect(&document_, &Document::sceneChanged, this, &MeshTools::refresh);
  connect(&document_, &Document::frameChanged, this, &MeshTools::refresh);
  refresh();
}

void MeshTools::fit() {
  const Scene& scene = document_.scene();
  const double frame = document_.frame();
  document_.edit(scene.withReplaced(withMeshFitted(*scene.find(emitter_), fittingLength(scene, frame),
                                                   cameraOf(scene, frame).aim)),
                 tr("fit mesh"));
}

void MeshTools::refresh() {
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (!emitter) return;
  const bool hasMesh =
      emitter->chooses("shape", "mesh") && std::get<FileRef>(emitter->value("mesh").base).content;
  setVisible(hasMesh);
  if (!hasMesh) return;
  extent_.ask([emitter, frame = document_.frame()](const Progress&) { return meshExtent(*emitter, frame); });
}

}  // namespace comet
