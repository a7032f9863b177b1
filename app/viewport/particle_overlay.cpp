#include "viewport/particle_overlay.h"

#include "controls/typed_number.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <limits>
#include <vector>

namespace comet {
namespace {

// Of more, evenly spread ones are drawn: what they say is the same, and the view stays quick.
constexpr std::size_t kMaxDrawn = 30000;
constexpr double kDot = 1.8;

struct Drawn {
  Projector::Point place;
  Vec3d position, velocity;
  double number;
};

double numberOf(const ParticleStore& particles, std::size_t i, ParticleOverlay::Tint tint) {
  const double age = particles.field(ParticleStore::Age)[i];
  switch (tint) {
    case ParticleOverlay::Tint::None:
      break;
    case ParticleOverlay::Tint::Age:
      return age;
    case ParticleOverlay::Tint::Life:
      return 100 * std::clamp(age / particles.field(ParticleStore::Lifetime)[i], 0.0, 1.0);
    case ParticleOverlay::Tint::Speed:
      return glm::length(particles.velocity(i));
  }
  return 0;
}

std::vector<Drawn> particlesToDraw(const Projector& projector, const Scene& scene, const SceneFrame& frame,
                                   ParticleOverlay::Tint tint) {
  std::vector<Drawn> drawn;
  const std::size_t step = frame.particles->count() / kMaxDrawn + 1;
  for (const ParticleGroup& group : frame.particles->groups) {
    const Scene::ItemPtr emitter = scene.find(group.emitter);
    if (!emitter || !emitter->enabled) continue;
    for (std::size_t i = 0; i < group.particles.size(); i += step) {
      const Vec3d position = group.particles.shownPosition(i);
      const Projector::Point place = projector.project(position);
      if (projector.visible(place))
        drawn.push_back({place, position, group.particles.velocity(i), numberOf(group.particles, i, tint)});
    }
  }
  return drawn;
}

void paintVelocities(QPainter& painter, const Projector& projector, const std::vector<Drawn>& drawn) {
  QVector<QLineF> lines;
  lines.reserve(static_cast<int>(drawn.size()));
  for (const Drawn& particle : drawn) {
    const Projector::Point end = projector.project(particle.position + kVelocitySeconds * particle.velocity);
    if (projector.visible(end)) lines << QLineF(particle.place.x, particle.place.y, end.x, end.y);
  }
  painter.setPen(QPen(theme::withAlpha(theme::kWell, 200), 1));
  painter.drawLines(lines);
}

void paintTint(QPainter& painter, const std::vector<Drawn>& drawn, const QRect& area, const QString& label) {
  double min = std::numeric_limits<double>::infinity(), max = -min;
  for (const Drawn& particle : drawn) {
    min = std::min(min, particle.number);
    max = std::max(max, particle.number);
  }
  if (drawn.empty()) return;
  painter.setPen(Qt::NoPen);
  for (const Drawn& particle : drawn) {
    painter.setBrush(tintColor(max > min ? (particle.number - min) / (max - min) : 0.5));
    painter.drawEllipse(QPointF(particle.place.x, particle.place.y), kDot, kDot);
  }
  paintLegend(painter, area, label, min, max);
}

}  // namespace

void paintLegend(QPainter& painter, const QRect& area, const QString& label, double min, double max) {
  constexpr int kWidth = 150, kHeight = 8, kMargin = 12;
  const QRect bar(area.right() - kMargin - kWidth, area.bottom() - 30, kWidth, kHeight);
  // Over a plate, or what lies behind it would make it unreadable.
  painter.fillRect(bar.adjusted(-6, -20, 6, 18), theme::withAlpha(theme::kGround, 200));
  for (int x = 0; x < kWidth; ++x)
    painter.fillRect(QRect(bar.left() + x, bar.top(), 1, kHeight), tintColor(x / (kWidth - 1.0)));
  painter.setFont(theme::font(11));
  painter.setPen(theme::kText);
  painter.drawText(bar.adjusted(0, -18, 0, -10), Qt::AlignLeft | Qt::AlignTop, label);
  const QRect numbers = bar.adjusted(0, kHeight + 1, 0, kHeight + 10);
  painter.setPen(theme::kQuietText);
  const int flags = Qt::AlignTop | Qt::TextDontClip;
  painter.drawText(numbers, Qt::AlignLeft | flags, textFromNumber(min));
  painter.drawText(numbers, Qt::AlignRight | flags, textFromNumber(max));
}

QColor tintColor(double fraction) {
  // Lightness rises evenly from end to end.
  const QColor ends[] = {{0x24, 0x3A, 0x5E}, {0x3E, 0x7C, 0x8A}, {0xB8, 0x9A, 0x5A}, {0xFF, 0xE6, 0xB0}};
  const double place = std::clamp(fraction, 0.0, 1.0) * 3;
  const int below = std::min(2, static_cast<int>(place));
  const double t = place - below;
  const auto mix = [t](int a, int b) { return static_cast<int>(std::lround(a + (b - a) * t)); };
  const QColor &a = ends[below], &b = ends[below + 1];
  return {mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue())};
}

void paintParticles(QPainter& painter, const Projector& projector, const Scene& scene,
                    const SceneFrame& frame, const ParticleOverlay& overlay, const QRect& area) {
  if (overlay.isEmpty()) return;
  const std::vector<Drawn> drawn = particlesToDraw(projector, scene, frame, overlay.tint);
  if (overlay.showsVelocity) paintVelocities(painter, projector, drawn);
  switch (overlay.tint) {
    case ParticleOverlay::Tint::None:
      return;
    case ParticleOverlay::Tint::Age:
      return paintTint(painter, drawn, area, tr("age, s"));
    case ParticleOverlay::Tint::Life:
      return paintTint(painter, drawn, area, tr("fraction of life, %"));
    case ParticleOverlay::Tint::Speed:
      return paintTint(painter, drawn, area, tr("speed, units/s"));
  }
}

}  // namespace comet
