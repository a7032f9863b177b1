#include "viewport/overlays.h"

#include "render/lights.h"
#include "simulation/emission/emission.h"
#include "simulation/frame/cycles.h"
#include "simulation/gas/gas_kind.h"
#include "simulation/influences/influences.h"
#include "simulation/influences/reach.h"
#include "simulation/plan.h"
#include "theme/theme.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <vector>

namespace comet {
namespace {

// Draws the part of the line in front of the viewer.
void line(QPainter& painter, const Projector& projector, Vec3d a, Vec3d b) {
  auto pa = projector.project(a), pb = projector.project(b);
  if (!projector.visible(pa) && !projector.visible(pb)) return;
  for (const bool swap : {false, true}) {
    auto& behind = swap ? pb : pa;
    const auto& front = swap ? pa : pb;
    if (projector.visible(behind)) continue;
    Vec3d& moved = swap ? b : a;
    const Vec3d& other = swap ? a : b;
    const double t = (front.depth - 2 * Projector::kNearest) / (front.depth - behind.depth);
    moved = other + (moved - other) * t;
    behind = projector.project(moved);
  }
  painter.drawLine(QPointF(pa.x, pa.y), QPointF(pb.x, pb.y));
}

void polyline(QPainter& painter, const Projector& projector, const std::vector<Vec3d>& points) {
  for (std::size_t i = 1; i < points.size(); ++i) line(painter, projector, points[i - 1], points[i]);
}

void draw(QPainter& painter, const Projector& projector, const Wire& wire, const Pose& pose) {
  for (const std::vector<Vec3d>& piece : wire) {
    std::vector<Vec3d> placed;
    placed.reserve(piece.size());
    for (const Vec3d& point : piece) placed.push_back(pose.toScene(point));
    polyline(painter, projector, placed);
  }
}

void draw(QPainter& painter, const Projector& projector, const std::vector<PlacedWire>& wires) {
  for (const PlacedWire& each : wires) draw(painter, projector, each.wire, each.pose);
}

// The plane through the aim of a bake's own view, as large as a cell takes in.
void paintOwnView(QPainter& painter, const Projector& projector, const Item& bake, double frame) {
  const Camera view = viewOf(bake, frame);
  const Camera::Frame axes = view.frame();
  const double height = view.heightAtAim();
  const Vec3d up = axes.up * (0.5 * height);
  const Vec3d right =
      axes.right * (0.5 * height * bake.number("cell_width", 0) / bake.number("cell_height", 0));
  painter.setPen(QPen(theme::kText, 1, Qt::DashLine));
  polyline(painter, projector,
           {view.aim - right - up, view.aim + right - up, view.aim + right + up, view.aim - right + up,
            view.aim - right - up});
  const auto corner = projector.project(view.aim - right + up);
  if (!projector.visible(corner)) return;
  painter.setFont(theme::font(11));
  painter.drawText(QPointF(corner.x + 6, corner.y + 14), QString::fromStdString(bake.name));
}

}  // namespace

void paintInfluence(QPainter& painter, const Projector& projector, const Item& influence, double frame,
                    bool selected) {
  const QColor ink = selected ? theme::kAccent : theme::kQuietText;
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::withAlpha(ink, selected ? 220 : 90), 1.2));
  const Reach reach(influence, frame);
  draw(painter, projector, reach.wire(), reach.pose());
  if (selected && reach.soft() > 0 && reach.soft() < 1) {
    painter.setPen(QPen(theme::withAlpha(ink, 90), 1, Qt::DashLine));
    draw(painter, projector, reach.wire(1 - reach.soft()), reach.pose());
  }
  const InfluenceKind& kind = influenceKindOf(influence);
  const bool isWire =
      !influence.kind->find("viewport_display") || influence.chooses("viewport_display", "wire");
  if (kind.walls && (selected || isWire)) draw(painter, projector, kind.walls(influence, frame));
  if (!kind.hints || !selected) return;
  painter.setPen(QPen(theme::withAlpha(ink, 200), 1.2, Qt::DotLine));
  draw(painter, projector, kind.hints(influence, frame));
}

double paintGroundGrid(QPainter& painter, const Projector& projector, const Camera& camera,
                       const QSize& size) {
  // The power of ten that is nearest to an eighth of the picture's height.
  const double pixelsPerUnit = std::max(1e-9, projector.project(camera.aim).pixelsPerUnit);
  const double spacing = std::pow(10.0, std::round(std::log10(size.height() / 8.0 / pixelsPerUnit)));
  constexpr int kLines = 20;
  const double reach = kLines * spacing;
  const Vec3d middle(std::round(camera.aim.x / spacing) * spacing, 0,
                     std::round(camera.aim.z / spacing) * spacing);
  for (int i = -kLines; i <= kLines; ++i) {
    for (const bool alongX : {true, false}) {
      const double offset = i * spacing;
      const bool isAxis = std::abs((alongX ? middle.z : middle.x) + offset) < 0.5 * spacing;
      const int fade = 60 - 60 * std::abs(i) / (kLines + 1);
      painter.setPen(QPen(theme::withAlpha(theme::kQuietText, isAxis ? 110 : fade), 1));
      const Vec3d side = alongX ? Vec3d(0, 0, offset) : Vec3d(offset, 0, 0);
      const Vec3d along = alongX ? Vec3d(reach, 0, 0) : Vec3d(0, 0, reach);
      line(painter, projector, middle + side - along, middle + side + along);
    }
  }
  return spacing;
}

void paintBakeFrame(QPainter& painter, const Projector& projector, const Scene& scene, ItemId selected,
                    double frame, const QRect& area, bool isCameraView) {
  Scene::ItemPtr bake = scene.find(selected);
  if (!bake || bake->kind->family() != ItemFamily::Bake) {
    const auto bakes = scene.itemsOf(ItemFamily::Bake);
    if (bakes.empty()) return;
    bake = bakes.front();
  }
  if (bake->chooses("view", "own")) return paintOwnView(painter, projector, *bake, frame);
  if (!isCameraView) return;
  // The camera's picture fills a cell from bottom to top.
  const double width = area.height() * bake->number("cell_width", 0) / bake->number("cell_height", 0);
  const QRectF cell(area.center().x() - 0.5 * width, area.top() + 0.5, width, area.height() - 1.0);
  const QColor shade = theme::withAlpha(theme::kField, 150);
  painter.fillRect(QRectF(QPointF(area.left(), area.top()), QPointF(cell.left(), area.bottom() + 1)), shade);
  painter.fillRect(QRectF(QPointF(cell.right(), area.top()), QPointF(area.right() + 1, area.bottom() + 1)),
                   shade);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::kText, 1));
  painter.drawRect(cell);
  painter.setFont(theme::font(11));
  painter.drawText(cell.adjusted(8, 6, -8, 0), Qt::AlignTop | Qt::AlignLeft,
                   QString::fromStdString(bake->name));
}

namespace {

// The outline of the shape of an emitter or a source. Returns where it is.
ShapePath::Placement paintShape(QPainter& painter, const Projector& projector, const Scene& scene,
                                const Item& item, double frame, bool selected) {
  const Shape shape = shapeOf(item, frame);
  ShapePath::Placement pose =
      poseAt(item, frame, frameRate(scene), wanderKey(emissionKey(item, sceneSeed(scene), frame)),
             loopPeriod(scene));
  // A mesh has many edges: drawn as strongly as other outlines they would hide the effect.
  const int strength = shape.type == ShapeType::Mesh ? (selected ? 70 : 24) : selected ? 230 : 130;
  painter.setPen(QPen(theme::withAlpha(selected ? theme::kAccent : theme::kQuietText, strength), 1.2));
  for (std::vector<Vec3d>& piece : shape.wire()) {
    for (Vec3d& point : piece) point = pose.toScene(point);
    polyline(painter, projector, piece);
  }
  return pose;
}

// An arrow through what the camera aims at, the way the light goes.
void paintLightDirection(QPainter& painter, const Item& light, double frame, const Projector& projector) {
  const Vec3d towards = unitOr(light.vector("direction", frame), Vec3d(0, 1, 0));
  const Vec2d way = -projector.directionInPicture(towards);
  const QRectF area = painter.viewport();
  const QPointF middle = area.center(), half = QPointF(way.x, way.y) * (0.18 * area.height());
  const QPointF tip = middle + half, back = -half * 0.2, side(back.y(), -back.x());
  painter.drawLine(middle - half, tip);
  painter.drawLine(tip, tip + back + side * 0.5);
  painter.drawLine(tip, tip + back - side * 0.5);
}

}  // namespace

void paintLight(QPainter& painter, const Projector& projector, const Scene& scene, const Item& light,
                const SceneFrame& frame, bool selected) {
  const QColor ink = selected ? theme::kAccent : theme::kQuietText;
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::withAlpha(ink, selected ? 230 : 150), 1.2));
  if (light.chooses("type", "directional")) {
    if (selected) paintLightDirection(painter, light, frame.number, projector);
    return;
  }
  const auto place = lightPlace(scene, light, frame);
  const auto at = place ? projector.project(*place) : Projector::Point{0, 0, 0, 0};
  if (!place || !projector.visible(at)) return;
  constexpr double kCore = 3.5, kInner = 6, kOuter = 9;
  const QPointF middle(at.x, at.y);
  painter.drawEllipse(middle, kCore, kCore);
  for (int i = 0; i < 8; ++i) {
    const QPointF ray(std::cos(i * kPi / 4), std::sin(i * kPi / 4));
    painter.drawLine(middle + ray * kInner, middle + ray * kOuter);
  }
  if (!selected) return;
  const auto circle = [&](const char* param) {
    const double radius = light.number(param, frame.number) * at.pixelsPerUnit;
    painter.drawEllipse(middle, radius, radius);
  };
  painter.setPen(QPen(theme::withAlpha(ink, 120), 1, Qt::DashLine));
  if (!light.chooses("falloff", "none")) circle("full_distance");
  if (light.chooses("falloff", "linear")) circle("range");
}

void paintBox(QPainter& painter, const Projector& projector, const Vec3d& middle, const Vec3d& size) {
  draw(painter, projector, boxWire(size), Pose{middle, Mat3d(1.0)});
}

void paintGasBox(QPainter& painter, const Projector& projector, const Item& gas, bool selected) {
  const GasGrid grid = gasGridOf(gas);
  painter.setPen(
      QPen(theme::withAlpha(selected ? theme::kAccent : theme::kQuietText, selected ? 200 : 90), 1.2));
  paintBox(painter, projector, grid.middle(), grid.size());
}

void paintSource(QPainter& painter, const Projector& projector, const Scene& scene, const Item& source,
                 double frame, bool selected) {
  if (!source.chooses("emits_by", "shape")) return;
  paintShape(painter, projector, scene, source, frame, selected);
}

void paintEmitter(QPainter& painter, const Projector& projector, const Scene& scene, const Item& emitter,
                  double frame, bool selected) {
  const ShapePath::Placement pose = paintShape(painter, projector, scene, emitter, frame, selected);
  const auto centre = projector.project(pose.position);
  if (!projector.visible(centre)) return;
  if (!selected) painter.drawEllipse(QPointF(centre.x, centre.y), 3, 3);
}

}  // namespace comet
