// Arrows over the effect: where influences push at places of the scene, and what pushes the probed particle.
#pragma once

#include "render/camera.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"
#include "simulation/probe.h"

#include <QPainter>
#include <QRect>

namespace comet {

// Where arrows of a field stand.
enum class FieldArrows {
  None,
  Slice,  // on a plane that faces the viewer, through what is selected
  Box,    // all through a box around it
};

struct SceneOverlay {
  FieldArrows field = FieldArrows::None;
  bool showsForces = false;     // on the probed particle
  bool showsBakeFrame = false;  // what a flipbook's cell takes in
  bool showsHits = false;       // on deflectors
};

// In pixels.
void paintArrow(QPainter& painter, const QPointF& from, const QPointF& to);

// Words at the lower left of the view, which is `area`.
void paintOverlayLabel(QPainter& painter, const QRect& area, const QString& text);

// Of the selected influence, or of all that the selected emitter responds to. `area` is the view.
void paintFieldArrows(QPainter& painter, const Projector& projector, const Scene& scene, ItemId selected,
                      double frame, FieldArrows where, const QRect& area);

// Where particles hit deflectors in the step that led to the frame, with the surface's normal; the lines are
// longer for harder hits.
void paintHits(QPainter& painter, const Projector& projector, const SceneFrame& frame, const QRect& area);

// The plane that cuts the scene open, as a square so far to all sides of its point, and which side it takes
// away.
void paintClipPlane(QPainter& painter, const Projector& projector, double half);

// A line to each place where others touch the particle.
void paintTouches(QPainter& painter, const Projector& projector, const ProbedParticle& particle);

// Of an influence that brings particles to points of their own: the points, and a line from each particle
// that is on its way to its point.
void paintArrivals(QPainter& painter, const Projector& projector, const Item& influence,
                   const SceneFrame& frame);

// One arrow for each influence, named and told by its number in the order of the scene.
void paintForces(QPainter& painter, const Projector& projector, const Scene& scene,
                 const ProbedParticle& particle);

}  // namespace comet
