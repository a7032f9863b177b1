#include "viewport/overlays.h"

#include "simulation/emission/emission.h"
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

std::vector<std::vector<Vec3d>> boxEdges(const Vec3d& extent) {
  std::vector<std::vector<Vec3d>> edges;
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

// So many edges that a large mesh is recognised and still drawn at once.
std::vector<std::vector<Vec3d>> meshEdges(const MeshContent& content) {
  constexpr std::size_t kMostEdges = 4000;
  struct Lines {
    std::vector<std::vector<Vec3d>> all;
  };
  const auto lines = content.derived<Lines>((Hasher() << "edges to draw").digest(), [&content] {
    auto made = std::make_shared<Lines>();
    const auto edges = edgesOf(content.mesh());
    const std::size_t step = edges.size() / kMostEdges + 1;
    for (std::size_t i = 0; i < edges.size(); i += step)
      made->all.push_back(
          {Vec3d(content.mesh().points[edges[i][0]]), Vec3d(content.mesh().points[edges[i][1]])});
    return std::shared_ptr<const Lines>(std::move(made));
  });
  return lines->all;
}

std::vector<std::vector<Vec3d>> outline(const Shape& shape) {
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
      return shape.mesh ? meshEdges(*shape.mesh) : std::vector<std::vector<Vec3d>>();
    case ShapeType::Picture: {
      if (!shape.pictureSampler) return {};
      const double height = shape.pictureWidth * shape.pictureSampler->aspect();
      return boxEdges({shape.pictureWidth, height, 0});
    }
    case ShapeType::Sphere:
      return {circle(shape.radius, 0, 1), circle(shape.radius, 0, 2), circle(shape.radius, 1, 2)};
  }
  return {};
}

}  // namespace

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

void paintEmitter(QPainter& painter, const Projector& projector, const Scene& scene, const Item& emitter,
                  double frame, bool selected) {
  const Shape shape = shapeOf(emitter, frame);
  const ShapePath::Pose pose =
      poseAt(emitter, frame, frameRate(scene), wanderKey(emissionKey(emitter, sceneSeed(scene), frame)));
  // A mesh has many edges: drawn as strongly as other outlines they would hide the effect.
  const int strength = shape.type == ShapeType::Mesh ? (selected ? 70 : 0) : selected ? 230 : 130;
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
