#include "viewport/overlays.h"

#include "simulation/deflectors/deflector_shape.h"
#include "simulation/emission/emission.h"
#include "simulation/influences/field_source.h"
#include "simulation/influences/reach.h"
#include "simulation/loop.h"
#include "simulation/plan.h"
#include "theme/theme.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <vector>

namespace comet {
namespace {

constexpr int kCirclePieces = 48;

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

// A circle in the plane of two of the axes.
std::vector<Vec3d> circle(double radius, int first, int second) {
  std::vector<Vec3d> points;
  for (int i = 0; i <= kCirclePieces; ++i) {
    const double angle = 2 * kPi * i / kCirclePieces;
    Vec3d point(0.0);
    point[first] = radius * std::cos(angle);
    point[second] = radius * std::sin(angle);
    points.push_back(point);
  }
  return points;
}

// Lines that make up an outline.
using Pieces = std::vector<std::vector<Vec3d>>;

Pieces sphereCircles(double radius) {
  return {circle(radius, 0, 1), circle(radius, 0, 2), circle(radius, 1, 2)};
}

Pieces boxEdges(const Vec3d& extent) {
  Pieces edges;
  for (int corner = 0; corner < 8; ++corner)
    for (int axis = 0; axis < 3; ++axis) {
      if ((corner >> axis) & 1) continue;
      const auto at = [&extent](int c) {
        return Vec3d(c & 1 ? 0.5 : -0.5, c & 2 ? 0.5 : -0.5, c & 4 ? 0.5 : -0.5) * extent;
      };
      edges.push_back({at(corner), at(corner | (1 << axis))});
    }
  return edges;
}

// So many edges that a large mesh is recognised and still drawn at once: all of a small one, of a large one
// those of some of its triangles.
Pieces meshEdges(const MeshContent& content) {
  constexpr std::size_t kMostEdges = 4000;
  struct Lines {
    Pieces all;
  };
  const auto lines = content.derived<Lines>((Hasher() << "edges to draw").digest(), [&content] {
    auto made = std::make_shared<Lines>();
    const Mesh& mesh = content.mesh();
    const auto add = [&](std::uint32_t from, std::uint32_t to) {
      made->all.push_back({Vec3d(mesh.points[from]), Vec3d(mesh.points[to])});
    };
    const std::size_t step = 3 * mesh.triangles.size() / kMostEdges;
    if (step <= 1)
      for (const auto& edge : edgesOf(mesh)) add(edge[0], edge[1]);
    else
      for (std::size_t t = 0; t < mesh.triangles.size(); t += step)
        for (std::size_t i = 0; i < 3; ++i) add(mesh.triangles[t][i], mesh.triangles[t][(i + 1) % 3]);
    return std::shared_ptr<const Lines>(std::move(made));
  });
  return lines->all;
}

Pieces outline(const Shape& shape) {
  switch (shape.type) {
    case ShapeType::Point:
      return {};
    case ShapeType::Line:
      return {{{-0.5 * shape.extent.x, 0, 0}, {0.5 * shape.extent.x, 0, 0}}};
    case ShapeType::Ring:
    case ShapeType::Disc:
      return {circle(shape.radius, 0, 2)};
    case ShapeType::Rectangle:
      return boxEdges({shape.extent.x, 0, shape.extent.z});
    case ShapeType::Box:
      return boxEdges(shape.extent);
    case ShapeType::Mesh:
      return shape.mesh ? meshEdges(*shape.mesh) : Pieces();
    case ShapeType::Picture: {
      if (!shape.pictureSampler) return {};
      const double height = shape.pictureWidth * shape.pictureSampler->aspect();
      return boxEdges({shape.pictureWidth, height, 0});
    }
    case ShapeType::Sphere:
      return sphereCircles(shape.radius);
  }
  return {};
}

// Half the size along each axis, standing along y.
Pieces cylinderEdges(const Vec3d& half) {
  Pieces pieces;
  for (const double side : {-1.0, 1.0}) {
    std::vector<Vec3d> rim = circle(half.x, 0, 2);
    for (Vec3d& point : rim) point.y = side * half.y;
    pieces.push_back(std::move(rim));
    pieces.push_back({{side * half.x, -half.y, 0}, {side * half.x, half.y, 0}});
    pieces.push_back({{0, -half.y, side * half.z}, {0, half.y, side * half.z}});
  }
  return pieces;
}

Pieces reachOutline(const Reach& reach, double scale) {
  switch (reach.shape()) {
    case Reach::Shape::Everywhere:
      break;
    case Reach::Shape::Sphere:
      return sphereCircles(reach.half().x * scale);
    case Reach::Shape::Box:
      return boxEdges(2 * scale * reach.half());
    case Reach::Shape::Cylinder:
      return cylinderEdges(scale * reach.half());
  }
  return {};
}

void drawPieces(QPainter& painter, const Projector& projector, const Pieces& pieces, const Vec3d& place,
                const Mat3d& turn) {
  for (const std::vector<Vec3d>& piece : pieces) {
    std::vector<Vec3d> placed;
    placed.reserve(piece.size());
    for (const Vec3d& point : piece) placed.push_back(place + turn * point);
    polyline(painter, projector, placed);
  }
}

// A capsule standing along y: its rims and the halves of circles over them.
Pieces capsuleLines(const Vec3d& half) {
  Pieces pieces = cylinderEdges(half);
  for (const double side : {-1.0, 1.0})
    for (const int across : {0, 2}) {
      std::vector<Vec3d> arch;
      for (int i = 0; i <= kCirclePieces / 2; ++i) {
        const double angle = 2 * kPi * i / kCirclePieces;
        Vec3d point(0, side * (half.y + half.x * std::sin(angle)), 0);
        point[across] = half.x * std::cos(angle);
        arch.push_back(point);
      }
      pieces.push_back(std::move(arch));
    }
  return pieces;
}

// A piece of an endless plane, large enough to be seen as one, with its upper side marked.
Pieces planeLines() {
  constexpr double kHalf = 5, kTick = 0.5;
  Pieces pieces = boxEdges({2 * kHalf, 0, 2 * kHalf});
  for (const double step : {-0.5, 0.0, 0.5}) {
    pieces.push_back({{-kHalf, 0, step * kHalf}, {kHalf, 0, step * kHalf}});
    pieces.push_back({{step * kHalf, 0, -kHalf}, {step * kHalf, 0, kHalf}});
  }
  pieces.push_back({{0, 0, 0}, {0, kTick, 0}});
  return pieces;
}

Pieces deflectorLines(const DeflectorShape& shape) {
  switch (shape.type()) {
    case DeflectorShape::Type::Plane:
      return planeLines();
    case DeflectorShape::Type::Rectangle:
      return boxEdges({2 * shape.half().x, 0, 2 * shape.half().z});
    case DeflectorShape::Type::Disc:
      return {circle(shape.half().x, 0, 2)};
    case DeflectorShape::Type::Box:
      return boxEdges(2.0 * shape.half());
    case DeflectorShape::Type::Sphere:
      return sphereCircles(shape.half().x);
    case DeflectorShape::Type::Cylinder:
      return cylinderEdges(shape.half());
    case DeflectorShape::Type::Capsule:
      return capsuleLines(shape.half());
    case DeflectorShape::Type::Mesh: {
      if (!shape.mesh()) return {};
      Pieces edges = meshEdges(*shape.mesh());
      for (std::vector<Vec3d>& edge : edges)
        for (Vec3d& point : edge) point *= shape.meshScale();
      return edges;
    }
  }
  return {};
}

bool has(const Item& item, const char* param) {
  const auto index = item.kind->find(param);
  return index && item.applies(*index);
}

// The axis that the influence is about, and the circle within which a vortex turns like a solid body.
void drawAxis(QPainter& painter, const Projector& projector, const Item& influence, double frame) {
  const Vec3d place = influence.vector("place", frame);
  const Vec3d axis = unitOr(influence.vector("axis", frame), Vec3d(0, 1, 0));
  const double core = std::max(0.5, influence.number("core", frame));
  line(painter, projector, place - axis * (2 * core), place + axis * (2 * core));
  Vec3d first, second;
  perpendiculars(axis, first, second);
  drawPieces(painter, projector, {circle(influence.number("core", frame), 0, 2)}, place,
             Mat3d(second, axis, first));
}

// A flock's target as a small cross of circles, and from where it is seen; the circle about it, if they go
// round it.
void drawTarget(QPainter& painter, const Projector& projector, const Item& flock, double frame) {
  if (flock.chooses("target", "none")) return;
  const Vec3d place = flock.vector("place", frame);
  constexpr double kMark = 0.15;
  drawPieces(painter, projector, sphereCircles(kMark), place, Mat3d(1.0));
  drawPieces(painter, projector, sphereCircles(flock.number("target_sight", frame)), place, Mat3d(1.0));
  if (!flock.chooses("target", "circle")) return;
  Vec3d first, second;
  const Vec3d axis = unitOr(flock.vector("axis", frame), Vec3d(0, 1, 0));
  perpendiculars(axis, first, second);
  drawPieces(painter, projector, {circle(flock.number("circle_radius", frame), 0, 2)}, place,
             Mat3d(second, axis, first));
}

// The plane through the aim of a bake's own view, as large as a cell takes in.
void paintOwnView(QPainter& painter, const Projector& projector, const Item& bake, double frame) {
  const Camera view = viewOf(bake, frame);
  const Camera::Frame axes = view.frame();
  const bool isPerspective = view.projection == Camera::Projection::Perspective;
  const double height =
      isPerspective ? 2 * glm::length(view.aim - view.place) * std::tan(0.5 * radians(view.fieldOfView))
                    : view.height;
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

namespace {

void drawEnclosure(QPainter& painter, const Projector& projector, const Item& influence, double frame) {
  const bool isSphere = influence.chooses("shape", "sphere");
  drawPieces(
      painter, projector,
      isSphere ? sphereCircles(influence.number("radius", frame)) : boxEdges(influence.vector("size", frame)),
      influence.vector("place", frame), Mat3d(1.0));
}

}  // namespace

void paintInfluence(QPainter& painter, const Projector& projector, const Item& influence, double frame,
                    bool selected) {
  const QColor ink = selected ? theme::kAccent : theme::kQuietText;
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::withAlpha(ink, selected ? 220 : 90), 1.2));
  const Reach reach(influence, frame);
  drawPieces(painter, projector, reachOutline(reach, 1), reach.centre(), reach.turn());
  if (selected && reach.soft() > 0 && reach.soft() < 1) {
    painter.setPen(QPen(theme::withAlpha(ink, 90), 1, Qt::DashLine));
    drawPieces(painter, projector, reachOutline(reach, 1 - reach.soft()), reach.centre(), reach.turn());
  }
  if (influence.kind->id() == "deflector" && (selected || influence.chooses("in_view", "wire")))
    drawPieces(painter, projector, deflectorLines(DeflectorShape(influence, frame)),
               influence.vector("place", frame), rotationFromDegrees(influence.vector("turn", frame)));
  if (influence.kind->id() == "enclosure") drawEnclosure(painter, projector, influence, frame);
  if (!selected) return;
  painter.setPen(QPen(theme::withAlpha(ink, 200), 1.2, Qt::DotLine));
  if (has(influence, "place") && has(influence, "axis") && has(influence, "core"))
    drawAxis(painter, projector, influence, frame);
  if (influence.kind->id() == "field") {
    const FieldSource field(influence, frame);
    drawPieces(painter, projector, boxEdges(field.size()), field.centre(), field.turn());
  }
  if (influence.kind->id() == "flock") drawTarget(painter, projector, influence, frame);
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

void paintEmitter(QPainter& painter, const Projector& projector, const Scene& scene, const Item& emitter,
                  double frame, bool selected) {
  const Shape shape = shapeOf(emitter, frame);
  const ShapePath::Pose pose =
      poseAt(emitter, frame, frameRate(scene), wanderKey(emissionKey(emitter, sceneSeed(scene), frame)),
             loopPeriod(scene));
  // A mesh has many edges: drawn as strongly as other outlines they would hide the effect.
  const int strength = shape.type == ShapeType::Mesh ? (selected ? 70 : 24) : selected ? 230 : 130;
  painter.setPen(QPen(theme::withAlpha(selected ? theme::kAccent : theme::kQuietText, strength), 1.2));
  for (std::vector<Vec3d>& piece : outline(shape)) {
    for (Vec3d& point : piece) point = pose.toScene(point);
    polyline(painter, projector, piece);
  }
  const auto centre = projector.project(pose.place);
  if (!projector.visible(centre)) return;
  constexpr double kArrowPixels = 34;
  const Vec3d direction = pose.turn * unitOr(emitter.vector("direction", frame), Vec3d(0, 1, 0));
  const auto end = projector.project(pose.place + direction * (kArrowPixels / centre.pixelsPerUnit));
  if (!selected) {
    painter.drawEllipse(QPointF(centre.x, centre.y), 3, 3);
    return;
  }
  painter.setPen(QPen(theme::withAlpha(theme::kAccent, 230), 1.2, Qt::DashLine));
  painter.drawLine(QPointF(centre.x, centre.y), QPointF(end.x, end.y));
}

}  // namespace comet
