// What is drawn over the effect in the viewport: the ground grid with its unit, and the shapes of emitters.
#pragma once

#include "render/camera.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <QPainter>
#include <QSize>

namespace comet {

// The grid on the plane y = 0; its spacing follows the view. Returns the spacing in scene units.
double paintGroundGrid(QPainter& painter, const Projector& projector, const Camera& camera,
                       const QSize& size);

// What a cell of the selected flipbook, or the scene's first, takes in. Seen by the camera: of its picture,
// with the rest dimmed, if `isCameraView`; `area` is the view. With a view of its own: where that lies in the
// scene.
void paintBakeFrame(QPainter& painter, const Projector& projector, const Scene& scene, ItemId selected,
                    double frame, const QRect& area, bool isCameraView);

// The outline of the shape that an emitter gives births from, and its launch direction.
void paintEmitter(QPainter& painter, const Projector& projector, const Scene& scene, const Item& emitter,
                  double frame, bool selected);

// The edges of a box along the axes, with the pen that is set.
void paintBox(QPainter& painter, const Projector& projector, const Vec3d& middle, const Vec3d& size);

// The box of a gas.
void paintGasBox(QPainter& painter, const Projector& projector, const Item& gas, bool selected);

// The outline of the shape that a source gives gas from. Nothing for one that sits on particles.
void paintSource(QPainter& painter, const Projector& projector, const Scene& scene, const Item& source,
                 double frame, bool selected);

// Where a light is, or from where it comes; of the selected one, how far it reaches too.
void paintLight(QPainter& painter, const Projector& projector, const Scene& scene, const Item& light,
                const SceneFrame& frame, bool selected);

// What can be seen of an influence: its reach, its axis or walls. Nothing if it acts alike everywhere.
void paintInfluence(QPainter& painter, const Projector& projector, const Item& influence, double frame,
                    bool selected);

}  // namespace comet
