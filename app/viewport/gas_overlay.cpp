#include "viewport/gas_overlay.h"

#include "controls/typed_number.h"
#include "theme/theme.h"
#include "theme/words.h"
#include "viewport/arrow_overlay.h"
#include "viewport/facing_plane.h"
#include "viewport/overlays.h"
#include "viewport/particle_overlay.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr std::size_t kArrowsAlong = 20;
// The picture stays to be seen through the slice, most where there is nothing.
constexpr int kMinAlpha = 70, kMaxAlpha = 225;

QString nameOf(GasQuantity quantity) {
  switch (quantity) {
    case GasQuantity::Density:
      break;
    case GasQuantity::Temperature:
      return tr("temperature above the air's, K");
    case GasQuantity::Speed:
      return tr("speed, units/s");
    case GasQuantity::Age:
      return tr("age, s");
    case GasQuantity::Fuel:
      return tr("fuel");
  }
  return tr("density");
}

QImage pictureOf(const GasSlice& slice) {
  const auto width = static_cast<int>(slice.counts[0]), height = static_cast<int>(slice.counts[1]);
  QImage image(width, height, QImage::Format_ARGB32);
  const double range = static_cast<double>(slice.max - slice.min);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) {
      const float value =
          slice.values[static_cast<std::size_t>(y) * slice.counts[0] + static_cast<std::size_t>(x)];
      const double fraction = range > 0 ? static_cast<double>(value - slice.min) / range : 0;
      const double shown = value == 0 ? 0 : std::min(1.0, 0.4 + fraction);
      image.setPixelColor(
          x, y,
          theme::withAlpha(tintColor(fraction),
                           static_cast<int>(std::lround(kMinAlpha + (kMaxAlpha - kMinAlpha) * shown))));
    }
  return image;
}

}  // namespace

GasOverlayView::GasOverlayView(Document& document, BackgroundRun& run, QObject* parent)
    : QObject(parent), document_(document), run_(run), answer_(this, [this](const Shown& shown) {
        shown_ = overlay_.isEmpty() ? Shown() : shown;
        Q_EMIT changed();
      }) {
  connect(&document_, &Document::frameChanged, this, &GasOverlayView::ask);
  connect(&document_, &Document::sceneChanged, this, &GasOverlayView::ask);
  connect(&document_, &Document::selectionChanged, this, &GasOverlayView::ask);
  connect(&run_, &BackgroundRun::changed, this, &GasOverlayView::ask);
}

void GasOverlayView::set(const GasOverlay& overlay) {
  overlay_ = overlay;
  ask();
}

void GasOverlayView::cutAt(std::optional<Vec3d> place) {
  if (place_ == place) return;
  place_ = place;
  ask();
}

void GasOverlayView::lookAlong(const Vec3d& forward) {
  const Vec3d size = glm::abs(forward);
  const std::size_t axis = size.x > size.y && size.x > size.z ? 0 : size.y > size.z ? 1 : 2;
  if (std::exchange(axis_, axis) != axis) ask();
}

std::optional<std::size_t> GasOverlayView::slicePlane() const {
  return shown_.slice ? std::optional(shown_.slice->plane) : std::nullopt;
}

std::shared_ptr<const PackedGas> GasOverlayView::gas() const {
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!frame || frame->gases->gases.empty()) return nullptr;
  if (const Scene::ItemPtr item = document_.scene().find(document_.selected())) {
    const bool isSource = item->kind->family() == ItemFamily::Source;
    if (auto found = frame->gases->find(isSource ? item->reference("gas") : item->id)) return found;
  }
  return frame->gases->gases.front().content;
}

void GasOverlayView::ask() {
  const auto content = overlay_.isEmpty() ? nullptr : gas();
  if (!content) {
    shown_ = {};
    return Q_EMIT changed();
  }
  answer_.askWhenFree([content, overlay = overlay_, axis = axis_, place = place_](const Progress&) {
    return made(*content, overlay, axis, place);
  });
}

GasOverlayView::Shown GasOverlayView::made(const PackedGas& gas, const GasOverlay& overlay, std::size_t axis,
                                           const std::optional<Vec3d>& place) {
  const GasGrid& grid = gas.grid();
  const auto component = static_cast<int>(axis);
  const double at = (place.value_or(grid.middle())[component] - grid.corner[component]) / grid.voxel;
  const auto plane =
      static_cast<std::size_t>(std::clamp(std::floor(at), 0.0, static_cast<double>(grid.counts[axis] - 1)));
  Shown shown;
  if (overlay.slice) {
    shown.slice = gasSlice(gas, *overlay.slice, axis, plane);
    shown.image = pictureOf(*shown.slice);
  }
  if (overlay.showsVelocity) shown.arrows = gasArrows(gas, axis, plane, kArrowsAlong);
  if (overlay.showsBricks) shown.bricks = filledBricks(gas);
  return shown;
}

void GasOverlayView::paint(QPainter& painter, const Projector& projector, const QRect& area) const {
  if (shown_.slice) paintSlice(painter, projector, area);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(theme::withAlpha(theme::kWell, 90), 1));
  for (const GasBrick& brick : shown_.bricks)
    paintBox(painter, projector, 0.5 * (brick.min + brick.max), brick.max - brick.min);
  paintArrows(painter, projector, area);
}

void GasOverlayView::paintSlice(QPainter& painter, const Projector& projector, const QRect& area) const {
  const GasSlice& slice = *shown_.slice;
  QPolygonF corners;
  for (const Vec3d& place : {slice.corner, slice.corner + slice.along,
                             slice.corner + slice.along + slice.across, slice.corner + slice.across}) {
    const Projector::Point point = projector.project(place);
    if (!projector.visible(point)) return;
    corners << pixel(point);
  }
  QTransform placed;
  const QPolygonF picture(QRectF(QPointF(0, 0), QSizeF(shown_.image.size())));
  if (!QTransform::quadToQuad(picture.mid(0, 4), corners, placed)) return;
  painter.save();
  painter.setTransform(placed, true);
  painter.drawImage(0, 0, shown_.image);
  painter.restore();
  paintLegend(painter, area.adjusted(0, 0, 0, -44), nameOf(*overlay_.slice), static_cast<double>(slice.min),
              static_cast<double>(slice.max));
}

void GasOverlayView::paintArrows(QPainter& painter, const Projector& projector, const QRect& area) const {
  if (shown_.arrows.empty()) return;
  double fastest = 0;
  for (const GasArrow& arrow : shown_.arrows) fastest = std::max(fastest, glm::length(arrow.velocity));
  const double apart =
      shown_.arrows.size() > 1 ? glm::length(shown_.arrows[1].place - shown_.arrows[0].place) : 0;
  if (!(fastest > 1e-9) || !std::isfinite(fastest))
    return paintOverlayLabel(painter, area, tr("the gas does not move here at this frame"));
  // The longest is as long as arrows are apart.
  for (const GasArrow& arrow : shown_.arrows) {
    const double fraction = glm::length(arrow.velocity) / fastest;
    const Projector::Point from = projector.project(arrow.place);
    const Projector::Point to = projector.project(arrow.place + arrow.velocity * (1.5 * apart / fastest));
    if (fraction < 0.01 || !projector.visible(from) || !projector.visible(to)) continue;
    painter.setPen(QPen(theme::withAlpha(theme::kText, static_cast<int>(90 + 160 * fraction)), 1.2));
    paintArrow(painter, pixel(from), pixel(to));
  }
  paintOverlayLabel(painter, area,
                    tr("velocity of the gas: the longest arrow is %1 units/s").arg(fastest, 0, 'g', 3));
}

}  // namespace comet
