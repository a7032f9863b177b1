#include "viewport/arrow_overlay.h"

#include "controls/typed_number.h"
#include "simulation/arrivals/arrival_report.h"
#include "simulation/influences/influences.h"
#include "simulation/influences/reach.h"
#include "simulation/push_at.h"
#include "theme/theme.h"
#include "theme/words.h"
#include "viewport/facing_plane.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr int kSpacing = 46;   // pixels between arrows on a slice
constexpr int kBoxArrows = 7;  // along each axis
constexpr double kForcePixels = 90;

// The box that an item is about: its reach, its field, or a part of the scene as large as the view.
struct Neighbourhood {
  Pose pose{};
  Vec3d half{1.0};
};

Neighbourhood neighbourhoodOf(const Item& item, double frame, const Projector& projector, const QRect& area) {
  Neighbourhood around;
  if (const auto place = item.kind->find("position")) around.pose.position = item.vector("position", frame);
  const auto middle = projector.project(around.pose.position);
  around.half = Vec3d(0.25 * area.height() / std::max(1e-9, middle.pixelsPerUnit));
  if (item.kind->family() != ItemFamily::Influence) return around;
  if (const Reach reach(item, frame); !reach.isEverywhere()) return {reach.pose(), reach.half()};
  if (const auto boxOf = influenceKindOf(item).box) {
    const FilledBox box = boxOf(item, frame);
    return {box.pose, 0.5 * box.size};
  }
  return around;
}

std::vector<Vec3d> placesOnSlice(const Vec3d& through, const Projector& projector, const QRect& area) {
  std::vector<Vec3d> places;
  for (int y = area.top() + kSpacing / 2; y < area.bottom(); y += kSpacing)
    for (int x = area.left() + kSpacing / 2; x < area.right(); x += kSpacing)
      places.push_back(pointOnFacingPlane(projector, QPointF(x, y), through));
  return places;
}

std::vector<Vec3d> placesInBox(const Neighbourhood& box) {
  std::vector<Vec3d> places;
  for (int i = 0; i < kBoxArrows * kBoxArrows * kBoxArrows; ++i) {
    const Vec3d step(i % kBoxArrows, i / kBoxArrows % kBoxArrows, i / (kBoxArrows * kBoxArrows));
    places.push_back(box.pose.toScene(((step + 0.5) * (2.0 / kBoxArrows) - 1.0) * box.half));
  }
  return places;
}

struct ForceLabel {
  QPointF at;
  QString text;
  QColor color;
};

// Beside their arrows' heads, over plates that part them from what is drawn; one that would cover another
// moves down.
void paintForceLabels(QPainter& painter, const std::vector<ForceLabel>& labels) {
  std::vector<QRectF> taken;
  for (const ForceLabel& label : labels) {
    QRectF plate(label.at + QPointF(7, -8),
                 QSizeF(painter.fontMetrics().horizontalAdvance(label.text) + 8, 16));
    const auto covers = [&plate](const QRectF& other) { return other.intersects(plate); };
    while (std::any_of(taken.begin(), taken.end(), covers)) plate.translate(0, 17);
    taken.push_back(plate);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::withAlpha(theme::kGround, 215));
    painter.drawRoundedRect(plate, theme::kRadius, theme::kRadius);
    painter.setPen(label.color);
    painter.drawText(plate, Qt::AlignCenter, label.text);
  }
}

}  // namespace

void paintArrow(QPainter& painter, const QPointF& from, const QPointF& to) {
  const QPointF offset = to - from;
  const double length = std::hypot(offset.x(), offset.y());
  painter.drawLine(from, to);
  if (length < 3) return;
  const double head = std::min(6.0, 0.4 * length);
  const QPointF along = offset / length, across(-along.y(), along.x());
  painter.drawLine(to, to - along * head + across * (0.5 * head));
  painter.drawLine(to, to - along * head - across * (0.5 * head));
}

void paintOverlayLabel(QPainter& painter, const QRect& area, const QString& text) {
  painter.setFont(theme::font(11));
  painter.setPen(theme::kText);
  painter.drawText(area.adjusted(10, 0, -10, -24), Qt::AlignLeft | Qt::AlignBottom, text);
}

void paintFieldArrows(QPainter& painter, const Projector& projector, const Scene& scene, ItemId selected,
                      double frame, FieldArrows where, const QRect& area) {
  const Scene::ItemPtr item = scene.find(selected);
  if (where == FieldArrows::None || !item) return;
  const bool isInfluence = item->kind->family() == ItemFamily::Influence;
  if (!isInfluence && item->kind->family() != ItemFamily::Emitter)
    return paintOverlayLabel(painter, area,
                             tr("arrows: select an influence, or an emitter for everything that acts on it"));
  const Neighbourhood around = neighbourhoodOf(*item, frame, projector, area);
  const std::vector<Vec3d> places = where == FieldArrows::Slice
                                        ? placesOnSlice(around.pose.position, projector, area)
                                        : placesInBox(around);
  const PushField field =
      isInfluence ? pushOf(scene, selected, frame, places) : pushOn(scene, selected, frame, places);
  double longest = 0;
  for (const Vec3d& vector : field.vectors) longest = std::max(longest, glm::length(vector));
  const QString of = QString::fromStdString(item->name);
  if (!(longest > 1e-9) || !std::isfinite(longest))
    return paintOverlayLabel(painter, area, tr("arrows of %1: nothing pushes here at this frame").arg(of));
  for (std::size_t i = 0; i < places.size(); ++i) {
    const Projector::Point from = projector.project(places[i]);
    if (!projector.visible(from) || !area.contains(pixel(from).toPoint())) continue;
    // The longest is as long as arrows are apart.
    const double apart = where == FieldArrows::Slice
                             ? kSpacing / from.pixelsPerUnit
                             : 2.0 / kBoxArrows * std::min({around.half.x, around.half.y, around.half.z});
    const Vec3d offset = field.vectors[i] * (apart / longest);
    const Projector::Point to = projector.project(places[i] + offset);
    if (!projector.visible(to)) continue;
    const double fraction = glm::length(field.vectors[i]) / longest;
    painter.setPen(QPen(theme::withAlpha(theme::kWell, static_cast<int>(70 + 170 * fraction)), 1.3));
    paintArrow(painter, pixel(from), pixel(to));
  }
  const QString unit = field.isDisplacement ? tr("units") : tr("units/s²");
  paintOverlayLabel(painter, area,
                    tr("arrows of %1: the longest is %2 %3").arg(of, textFromNumber(longest), unit));
}

void paintClipPlane(QPainter& painter, const Projector& projector, double half) {
  const ClipPlane& plane = *projector.clip();
  Vec3d first, second;
  perpendiculars(plane.direction, first, second);
  QPolygonF square;
  for (const Vec3d& corner : {first + second, first - second, -first - second, second - first}) {
    const Projector::Point at = projector.project(plane.at + corner * half);
    if (!projector.visible(at)) return;
    square << pixel(at);
  }
  painter.setPen(QPen(theme::withAlpha(theme::kAccent, 200), 1.4));
  painter.setBrush(Qt::NoBrush);
  painter.drawPolygon(square);
  const Projector::Point from = projector.project(plane.at);
  const Projector::Point to = projector.project(plane.at + plane.direction * (0.5 * half));
  if (projector.visible(from) && projector.visible(to)) paintArrow(painter, pixel(from), pixel(to));
}

void paintTouches(QPainter& painter, const Projector& projector, const ProbedParticle& particle) {
  const Projector::Point from = projector.project(particle.position);
  if (!projector.visible(from)) return;
  painter.setPen(QPen(theme::kAccent, 1.4));
  for (const ProbedTouch& touch : particle.touches) {
    const Projector::Point at = projector.project(touch.at);
    if (!projector.visible(at)) continue;
    painter.drawLine(pixel(from), pixel(at));
    constexpr double kDot = 2.5;
    painter.setBrush(theme::kAccent);
    painter.drawEllipse(pixel(at), kDot, kDot);
  }
  painter.setBrush(Qt::NoBrush);
}

void paintArrivals(QPainter& painter, const Projector& projector, const Item& influence,
                   const SceneFrame& frame) {
  constexpr std::size_t kMaxDrawn = 5000;
  constexpr double kDot = 1.6;
  const ArrivalMap map = mapArrivals(influence, frame);
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::kAccent);
  for (std::size_t i = 0; i < map.points.size(); i += map.points.size() / kMaxDrawn + 1)
    if (const Projector::Point at = projector.project(map.points[i]); projector.visible(at))
      painter.drawEllipse(pixel(at), kDot, kDot);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::withAlpha(theme::kWell, 150), 1));
  for (std::size_t i = 0; i < map.travelling.size(); i += map.travelling.size() / kMaxDrawn + 1) {
    const Projector::Point from = projector.project(map.travelling[i].from);
    const Projector::Point to = projector.project(map.travelling[i].to);
    if (projector.visible(from) && projector.visible(to)) painter.drawLine(pixel(from), pixel(to));
  }
}

void paintForces(QPainter& painter, const Projector& projector, const Scene& scene,
                 const ProbedParticle& particle) {
  double longest = 0;
  for (const ProbedInfluence& influence : particle.influences)
    longest = std::max(longest, glm::length(influence.acceleration));
  const Projector::Point from = projector.project(particle.position);
  if (!(longest > 1e-9) || !projector.visible(from)) return;
  painter.setFont(theme::font(11));
  std::vector<ForceLabel> labels;
  int index = -1;
  for (const ProbedInfluence& influence : particle.influences) {
    ++index;
    const Scene::ItemPtr item = scene.find(influence.influence);
    const double strength = glm::length(influence.acceleration);
    if (!item || strength < 1e-3 * longest) continue;
    const Vec3d offset = influence.acceleration * (kForcePixels / longest / from.pixelsPerUnit);
    const Projector::Point to = projector.project(particle.position + offset);
    if (!projector.visible(to)) continue;
    const QColor color = theme::kSeries[index % theme::kSeriesCount];
    painter.setPen(QPen(color, 2));
    paintArrow(painter, pixel(from), pixel(to));
    const QString label = QString("%1 %2").arg(QString::fromStdString(item->name)).arg(strength, 0, 'f', 2);
    labels.push_back({pixel(to), label, color});
  }
  paintForceLabels(painter, labels);
}

void paintHits(QPainter& painter, const Projector& projector, const SceneFrame& frame, const QRect& area) {
  constexpr std::size_t kMaxDrawn = 4000;
  constexpr double kShortest = 5, kLongest = 26, kDot = 1.8;  // pixels
  float hardest = 1e-6F;
  for (const SurfaceHit& hit : frame.report->hits) hardest = std::max(hardest, hit.speed);
  const std::size_t drawn = std::min(kMaxDrawn, frame.report->hits.size());
  for (std::size_t i = 0; i < drawn; ++i) {
    const SurfaceHit& hit = frame.report->hits[i];
    const auto point = projector.project(Vec3d(hit.position));
    if (!projector.visible(point)) continue;
    const double length = kShortest + (kLongest - kShortest) * hit.speed / hardest;
    const Vec2d offset = projector.directionInPicture(Vec3d(hit.normal)) * length;
    const QPointF at(point.x, point.y);
    painter.setPen(QPen(theme::withAlpha(theme::kAccent, 210), 1.2));
    painter.drawLine(at, at + QPointF(offset.x, offset.y));
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kAccent);
    painter.drawEllipse(at, kDot, kDot);
  }
  std::uint64_t all = 0;
  for (const DeflectionStats& stats : frame.report->deflections) all += stats.hits;
  QString text = tr("%L1 hits in this frame").arg(all);
  if (drawn < all) text += tr(", %L1 of them drawn").arg(drawn);
  if (drawn > 0) text += tr("; the longest line is %1 units/s").arg(hardest, 0, 'g', 3);
  paintOverlayLabel(painter, area, text);
}

}  // namespace comet
