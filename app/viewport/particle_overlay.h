// What can be drawn of the particles themselves over the effect: where they go, and a number of each as a
// colour.
#pragma once

#include "render/camera.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <QPainter>
#include <QRect>

namespace comet {

struct ParticleOverlay {
  enum class Tint { None, Age, Life, Speed };

  bool showsVelocity = false;
  Tint tint = Tint::None;

  bool isEmpty() const { return !showsVelocity && tint == Tint::None; }
};

// How far a velocity line reaches: as far as the particle comes in this time, in seconds.
constexpr double kVelocitySeconds = 0.1;

// Particles of emitters that are off in `scene` are left out. `area` is the view, for the legend.
void paintParticles(QPainter& painter, const Projector& projector, const Scene& scene,
                    const SceneFrame& frame, const ParticleOverlay& overlay, const QRect& area);

// The range of a tint, at the lower right of the view, which is `area`.
void paintLegend(QPainter& painter, const QRect& area, const QString& label, double min, double max);

// The colour of a fraction of a tint's range, 0 to 1: dark and blue for little, light and warm for much, so
// that it is read by lightness alone too.
QColor tintColor(double fraction);

}  // namespace comet
