#include "viewport/viewport.h"

#include "controls/file_field.h"
#include "controls/pixel_text.h"
#include "controls/screen_image.h"
#include "presets/preset_tiles.h"
#include "render/effect_box.h"
#include "render/look.h"
#include "render/mesh_pick.h"
#include "scene/item_reference.h"
#include "simulation/emission/shape_path.h"
#include "simulation/influences/influences.h"
#include "theme/theme.h"
#include "viewport/facing_plane.h"
#include "viewport/overlays.h"

#include <QDragEnterEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr int kLargestReduction = 4;
// What a hand that drags takes for at once.
constexpr double kAtOnceMilliseconds = 50;

QString spacingText(double units, double unitsPerMetre) {
  const double metres = units / unitsPerMetre;
  return metres >= 1      ? QString("%1 m").arg(metres)
         : metres >= 0.01 ? QString("%1 cm").arg(metres * 100)
                          : QString("%1 mm").arg(metres * 1000);
}

}  // namespace

Viewport::Viewport(Document& document, BackgroundRun& run, PictureRun& pictures, QWidget* parent)
    : QWidget(parent),
      document_(document),
      run_(run),
      pictures_(pictures),
      painter_(pictures.cache()),
      comparison_(document, run, pictures),
      probe_(document, run),
      gasProbe_(document, run),
      gasOverlay_(document, run),
      strokes_(document),
      motion_(document) {
  setAcceptDrops(true);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(200, 140);
  connect(&document_, &Document::sceneChanged, this, &Viewport::drawAnew);
  connect(&document_, &Document::frameChanged, this, &Viewport::askForPicture);
  connect(&document_, &Document::soloChanged, this, &Viewport::drawAnew);
  // No picture of another scene is looked for again.
  connect(&document_, &Document::replaced, this, [this] {
    comparison_.compareWith(nullptr);
    pictures_.cache().clear();
    reduction_ = 1;
  });
  connect(&document_, &Document::drawingChanged, this, [this] {
    setCursor(document_.isDrawing() ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
  });
  probePanel_ = new ProbePanel(document_, probe_, gasProbe_, this);
  connect(&probe_, &Probe::changed, this, qOverload<>(&QWidget::update));
  connect(&gasProbe_, &GasProbe::changed, this, [this] {
    gasOverlay_.cutAt(gasProbe_.place());
    update();
  });
  connect(&gasOverlay_, &GasOverlayView::changed, this, qOverload<>(&QWidget::update));
  connect(&document_, &Document::selectionChanged, this, qOverload<>(&QWidget::update));
  connect(&run_, &BackgroundRun::changed, this, [this] {
    if (waits_) askForPicture();
  });
  connect(&comparison_, &Comparison::changed, this, [this] {
    comparison_.look(document_.frame(), reduction_);
    update();
  });
  connect(&pixels_, &PixelProbe::changed, this, qOverload<>(&QWidget::update));
  connect(&painter_, &FramePainter::painted, this, &Viewport::show);
  connect(&painter_, &FramePainter::failed, this, [this](const QString& problem) {
    problem_ = problem;
    update();
  });
}

// A picture that was drawn, or kept.
void Viewport::show(const FramePainter::Painted& painted) {
  // A newer one may have been there by the time that this one was drawn.
  if (painted.number < shownWish_) return;
  shownWish_ = painted.number;
  image_ = imageOf(painted.picture);
  leftOut_ = painted.picture->leftOut;
  problem_.clear();
  shownFrame_ = painted.frame;
  shownReduction_ = painted.reduction;
  drawMilliseconds_ = painted.milliseconds;
  if (painted.milliseconds) keepUp(painted);
  lookAtPixels();
  update();
  Q_EMIT shown();
}

// What one picture took decides how many pixels the next one has.
void Viewport::keepUp(const FramePainter::Painted& painted) {
  const double budget = playing_ ? 1000.0 / frameRate(document_.scene()) : kAtOnceMilliseconds;
  // As if every pixel took as long.
  const double all = *painted.milliseconds * painted.reduction * painted.reduction;
  const auto within = [all](double milliseconds) {
    return std::clamp(static_cast<int>(std::ceil(std::sqrt(all / milliseconds))), 1, kLargestReduction);
  };
  // Finer again only with room to spare, so that it does not go back and forth.
  reduction_ = std::clamp(reduction_, within(0.8 * budget), within(0.5 * budget));
}

Camera Viewport::cameraNow() const { return camera_.camera(document_.scene(), document_.frame()); }
Projector Viewport::projector() const {
  return {cameraNow(), width(), height(), clipPlaneOf(document_.scene(), document_.frame())};
}

void Viewport::drawAnew() {
  keys_.reset();
  viewed_.reset();
  askForPicture();
}

// What is compared with is seen from there too; an edit leaves it as it was.
void Viewport::lookAnew() {
  comparison_.see(camera_, pictureSize());
  viewed_.reset();
  askForPicture();
}

PictureSize Viewport::pictureSize() const {
  const double ratio = devicePixelRatioF();
  return {static_cast<int>(width() * ratio), static_cast<int>(height() * ratio)};
}

const ViewedScene& Viewport::viewed() {
  if (!keys_) keys_ = std::make_shared<const PictureKeys>(document_.drawnScene());
  if (!viewed_) {
    viewed_ = std::make_shared<const ViewedScene>(keys_, camera_, pictureSize());
    if (isVisible()) pictures_.follow(viewed_, document_.frame());
  }
  return *viewed_;
}

void Viewport::askForPicture() {
  gasOverlay_.lookAlong(cameraNow().frame().forward);
  update();
  if (width() < 1 || height() < 1) return;
  const auto shot = viewed().shotOf(run_, document_.frame());
  comparison_.look(document_.frame(), reduction_);
  waits_ = !shot;
  if (!shot) return;
  ++wish_;
  if (const ScreenPicturePtr kept = pictures_.cache().find(shot->key))
    show({kept, document_.frame(), 1, {}, wish_});
  else
    painter_.paint({shot->shot, shot->key, reduction_, !playing_, wish_});
}

void Viewport::showEvent(QShowEvent*) { lookAnew(); }

void Viewport::hideEvent(QHideEvent*) { pictures_.rest(); }

void Viewport::look(ViewKind kind) {
  camera_.look(kind, cameraNow());
  lookAnew();
  Q_EMIT viewChanged();
}

void Viewport::setShowsGrid(bool shows) {
  showsGrid_ = shows;
  update();
}

void Viewport::setShowsValue(bool shows) {
  pixels_.setOn(shows);
  lookAtPixels();
  update();
}

// Of a picture that stays.
void Viewport::lookAtPixels() {
  if (!pixels_.isOn() || playing_ || shownReduction_ > 1) return;
  if (const auto shot = viewed().shotOf(run_, document_.frame())) pixels_.look(*shot);
}

QString Viewport::valueText() const {
  if (!pixels_.isOn() || !pointer_) return {};
  const QPointF pixel = *pointer_ * devicePixelRatioF();
  const auto value = pixels_.at({static_cast<int>(pixel.x()), static_cast<int>(pixel.y())}, image_);
  return value ? pixelText(*value) : tr("the value is being drawn");
}

void Viewport::setOverlay(const ParticleOverlay& overlay) {
  overlay_ = overlay;
  update();
}

void Viewport::setSceneOverlay(const SceneOverlay& overlay) {
  sceneOverlay_ = overlay;
  update();
}

void Viewport::fit(FitTo what) {
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!frame || height() < 1) return;
  const auto box =
      effectBox(document_.drawnScene(), *frame, what == FitTo::Selected ? document_.selected() : 0);
  if (!box) return;
  camera_.fit(*box, static_cast<double>(width()) / height(), cameraNow());
  lookAnew();
  Q_EMIT viewChanged();
}

void Viewport::takeOverView() {
  document_.edit(withCamera(document_.scene(), cameraNow()), tr("set camera"));
  look(ViewKind::Camera);
}

void Viewport::setPlaying(bool playing) {
  playing_ = playing;
  if (!playing) askForPicture();
}

const char* Viewport::gizmoParam() const {
  const Scene::ItemPtr item = document_.scene().find(document_.selected());
  if (!item || !(canBeOff(item->kind->family()) || item->kind->family() == ItemFamily::Settings))
    return nullptr;
  for (const char* param : {"position", "reach_position", "clip_position"})
    if (const auto index = item->kind->find(param); index && item->applies(*index)) return param;
  return nullptr;
}

const char* Viewport::directionParam() const {
  const Scene::ItemPtr item = document_.scene().find(document_.selected());
  if (!item || !canBeOff(item->kind->family())) return nullptr;
  for (const char* param : {"direction", "axis"})
    if (const auto index = item->kind->find(param); index && item->applies(*index)) return param;
  return nullptr;
}

// What is everywhere has its arrow in the middle of the view.
std::optional<DirectionGizmo::Arrow> Viewport::directionArrow() const {
  const char* param = directionParam();
  if (!param) return std::nullopt;
  const Vec3d own = document_.scene().find(document_.selected())->vector(param, document_.frame());
  return DirectionGizmo::Arrow{gizmoParam() ? gizmoPlace() : cameraNow().aim,
                               ownRotation() * unitOr(own, Vec3d(0, 1, 0))};
}

Mat3d Viewport::ownRotation() const {
  const Scene::ItemPtr item = document_.scene().find(document_.selected());
  return item->kind->family() == ItemFamily::Emitter ? keyedPose(*item, document_.frame()).rotation
                                                     : Mat3d(1.0);
}

void Viewport::turnTo(const Vec3d& direction) {
  document_.setBase(document_.selected(), directionParam(),
                    rounded(glm::transpose(ownRotation()) * direction), "direction");
}

std::optional<BoxGizmo::Box> Viewport::gizmoBox() const {
  const Scene::ItemPtr item = document_.scene().find(document_.selected());
  if (!item || item->kind->family() != ItemFamily::Gas) return std::nullopt;
  return BoxGizmo::Box{item->vector("position", 0), item->vector("size", 0)};
}

void Viewport::setBox(const BoxGizmo::Box& box) {
  document_.setBases(document_.selected(), {{"position", rounded(box.middle)}, {"size", rounded(box.size)}},
                     tr("change box"), "box");
}

// Legends keep clear of the probe's panel.
QRect Viewport::overlayArea() const {
  return rect().adjusted(0, 0, probePanel_->isVisible() ? -probePanel_->width() : 0, 0);
}

bool Viewport::looksThroughSelected() const {
  return camera_.kind() == ViewKind::Camera && document_.selected() == document_.scene().camera().id;
}

Vec3d Viewport::gizmoPlace() const {
  return document_.scene().find(document_.selected())->vector(gizmoParam(), document_.frame());
}

QPointF Viewport::handle(int axis) const {
  return axis < 0 ? gizmo_.centre(projector(), gizmoPlace()) : gizmo_.tip(projector(), gizmoPlace(), axis);
}

void Viewport::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::kNeutral);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.setRenderHint(QPainter::Antialiasing);
  if (comparison_.isOn())
    comparison_.paint(painter, rect(), image_, shownFrame_);
  else if (!image_.isNull())
    painter.drawImage(rect(), image_);
  if (!comparison_.isSideBySide()) paintOverlays(painter);
  paintValue(painter);
  if (hasFocus()) {
    painter.setPen(theme::withAlpha(theme::kAccent, 160));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

void Viewport::paintValue(QPainter& painter) const {
  const QString words = comparison_.isOn() ? QString() : valueText();
  if (words.isEmpty()) return;
  painter.setFont(theme::font(11));
  const QRect room = overlayArea().adjusted(10, 0, -10, -28);
  constexpr int kFlags = Qt::AlignLeft | Qt::AlignBottom;
  painter.fillRect(painter.boundingRect(room, kFlags, words).adjusted(-5, -2, 5, 2),
                   theme::withAlpha(theme::kGround, 220));
  painter.setPen(theme::kText);
  painter.drawText(room, kFlags, words);
}

void Viewport::paintOverlays(QPainter& painter) {
  const Projector view = projector();
  double spacing = 0;
  if (showsGrid_) spacing = paintGroundGrid(painter, view, cameraNow(), size());
  // What is said of particles belongs to the picture below it.
  const SceneFramePtr shown = run_.frame(shownFrame_);
  if (shown) paintParticles(painter, view, document_.drawnScene(), *shown, overlay_, overlayArea());
  gasOverlay_.paint(painter, view, overlayArea());
  for (const Scene::ItemPtr& emitter : document_.scene().itemsOf(ItemFamily::Emitter))
    if (emitter->enabled)
      paintEmitter(painter, view, document_.scene(), *emitter, document_.frame(),
                   emitter->id == document_.selected());
  for (const Scene::ItemPtr& gas : document_.scene().itemsOf(ItemFamily::Gas))
    if (gas->enabled) paintGasBox(painter, view, *gas, gas->id == document_.selected());
  for (const Scene::ItemPtr& source : document_.scene().itemsOf(ItemFamily::Source))
    if (source->enabled)
      paintSource(painter, view, document_.scene(), *source, document_.frame(),
                  source->id == document_.selected());
  // Where it follows particles, a light is where they are.
  for (const Scene::ItemPtr& light : document_.scene().itemsOf(ItemFamily::Light))
    if (light->enabled)
      paintLight(painter, view, document_.scene(), *light,
                 shown ? shown->as(document_.frame()) : SceneFrame{document_.frame()},
                 light->id == document_.selected());
  for (const Scene::ItemPtr& influence : document_.scene().itemsOf(ItemFamily::Influence))
    if (influence->enabled || influence->id == document_.selected())
      paintInfluence(painter, view, *followingItem(document_.scene(), influence), document_.frame(),
                     influence->id == document_.selected());
  paintFieldArrows(painter, view, document_.scene(), document_.selected(), document_.frame(),
                   sceneOverlay_.field, rect());
  strokes_.paint(painter, view);
  // Seen through itself, a camera's own way says nothing.
  if (!looksThroughSelected()) motion_.paint(painter, view);
  if (shown && sceneOverlay_.showsHits) paintHits(painter, view, *shown, rect());
  if (sceneOverlay_.showsBakeFrame)
    paintBakeFrame(painter, view, document_.scene(), document_.selected(), document_.frame(), rect(),
                   camera_.kind() == ViewKind::Camera);
  if (const auto box = gizmoBox()) boxGizmo_.paint(painter, view, *box, hoveredFace_);
  if (view.clip() && document_.selected() == document_.scene().settings().id)
    paintClipPlane(painter, view, 0.3 * cameraNow().heightAtAim());
  if (const Scene::ItemPtr selected = document_.item(document_.selected(), ItemFamily::Influence);
      shown && selected && influenceKindOf(*selected).group == InfluenceGroup::Arrival)
    paintArrivals(painter, view, *selected, *shown);
  if (const auto arrow = directionArrow()) direction_.paint(painter, view, *arrow, hoversDirection_);
  if (gizmoParam()) gizmo_.paint(painter, view, gizmoPlace(), hovered_);
  paintProbe(painter, view);
  paintNotes(painter, spacing);
}

void Viewport::paintNotes(QPainter& painter, double gridSpacing) {
  painter.setFont(theme::font(11));
  painter.setPen(theme::kQuietText);
  QStringList notes;
  if (gridSpacing > 0)
    notes << tr("grid %1").arg(
        spacingText(gridSpacing, document_.scene().settings().number("units_per_metre", 0)));
  if (shownReduction_ > 1) notes << tr("drawn at 1/%1 resolution to keep up").arg(shownReduction_);
  if (!problem_.isEmpty()) notes << tr("not drawn: %1").arg(problem_);
  if (leftOut_ > 0)
    notes << tr("%L1 particles not drawn: their meshes have too many triangles in all").arg(leftOut_);
  const auto notSolo = [this](bool (*isMeant)(ItemFamily)) {
    const auto& items = document_.scene().items();
    return std::count_if(items.begin(), items.end(), [&](const Scene::ItemPtr& item) {
      return isMeant(item->kind->family()) && item->enabled && !document_.isSolo(item->id);
    });
  };
  if (const auto hidden = notSolo(responds); document_.anySolo(Document::SoloOf::Drawn) && hidden > 0)
    notes << (hidden == 1 ? tr("solo: one emitter or gas is not shown")
                          : tr("solo: %1 emitters and gases are not shown").arg(hidden));
  const auto isInfluence = [](ItemFamily family) { return family == ItemFamily::Influence; };
  if (const auto resting = notSolo(isInfluence);
      document_.anySolo(Document::SoloOf::Influences) && resting > 0)
    notes << (resting == 1 ? tr("solo: one influence does not act")
                           : tr("solo: %1 influences do not act").arg(resting));
  if (document_.isDrawing()) notes << tr("drag to draw a stroke");
  if (!run_.frame(document_.frame())) notes << tr("simulating frame %1").arg(document_.frame());
  painter.drawText(rect().adjusted(10, 0, -10, -8), Qt::AlignLeft | Qt::AlignBottom, notes.join("   "));
  QStringList troubles = caughtNotes();
  if (!run_.problem().isEmpty()) troubles.prepend(run_.problem());
  if (troubles.isEmpty()) return;
  constexpr int kFlags = Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap;
  const QRect room = rect().adjusted(10, 8, -10, -10);
  const QRect words = painter.boundingRect(room, kFlags, troubles.join("\n"));
  // Over a plate, or an effect behind it would make it unreadable.
  painter.fillRect(words.adjusted(-6, -3, 6, 3), theme::withAlpha(theme::kGround, 220));
  painter.setPen(theme::kTrouble);
  painter.drawText(room, kFlags, troubles.join("\n"));
}

QStringList Viewport::caughtNotes() const {
  QStringList notes;
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!frame) return notes;
  for (const DeflectionStats& stats : frame->report->deflections)
    if (const Scene::ItemPtr deflector = document_.scene().find(stats.deflector);
        deflector && stats.caught > 0)
      notes << tr("%L1 particles were inside %2 in this frame and were pushed out: move it away from the "
                  "emitter, or slow it down")
                   .arg(stats.caught)
                   .arg(QString::fromStdString(deflector->name));
  return notes;
}

void Viewport::resizeEvent(QResizeEvent*) {
  probePanel_->setGeometry(width() - probePanel_->width(), 0, probePanel_->width(), height());
  lookAnew();
}

void Viewport::paintProbe(QPainter& painter, const Projector& view) const {
  if (const auto& voxel = gasProbe_.voxel()) {
    painter.setPen(QPen(theme::kAccent, 1.4));
    paintBox(painter, view, voxel->middle, Vec3d(voxel->edge));
    const auto middle = view.project(voxel->middle);
    if (view.visible(middle)) painter.drawEllipse(pixel(middle), 8, 8);
  }
  if (!probe_.particle()) return;
  painter.setBrush(Qt::NoBrush);
  QPolygonF line;
  const auto mark = [&painter](const Projector::Point& point, double size) {
    painter.drawEllipse(QPointF(point.x, point.y), size, size);
  };
  painter.setPen(QPen(theme::withAlpha(theme::kAccent, 200), 1.4));
  for (const PathPoint& step : probe_.path()) {
    const auto point = view.project(step.position);
    if (view.visible(point)) line << QPointF(point.x, point.y);
    if (view.visible(point)) mark(point, 1.2);
  }
  painter.drawPolyline(line);
  const auto now = view.project(probe_.particle()->position);
  painter.setPen(QPen(theme::kAccent, 1.8));
  if (view.visible(now)) mark(now, 8);
  paintTouches(painter, view, *probe_.particle());
  if (sceneOverlay_.showsForces) paintForces(painter, view, document_.scene(), *probe_.particle());
  painter.setPen(QPen(theme::kAccent, 1.8));
  const PathPoint highest = highestPoint(probe_.path());
  const auto top = view.project(highest.position);
  painter.setFont(theme::font(11));
  if (view.visible(top))
    painter.drawText(QPointF(top.x + 6, top.y - 6), tr("highest, frame %1").arg(highest.frame));
}

std::optional<ParticleId> Viewport::particleAt(const QPointF& position) const {
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!frame) return std::nullopt;
  constexpr double kReach = 12;
  const Projector view = projector();
  const Scene scene = document_.drawnScene();
  double nearest = kReach;
  std::optional<ParticleId> found;
  for (const ParticleGroup& group : frame->particles->groups) {
    const Scene::ItemPtr emitter = scene.find(group.emitter);
    if (!emitter || !emitter->enabled) continue;
    for (std::size_t i = 0; i < group.particles.size(); ++i) {
      const Vec3d place = group.particles.shownPosition(i);
      const auto point = view.project(place);
      const double away = std::hypot(point.x - position.x(), point.y - position.y());
      if (!view.visible(point) || away >= nearest || view.isClipped(place)) continue;
      nearest = away;
      found = group.particles.ids()[i];
    }
  }
  return found;
}

void Viewport::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasFormat(PresetTiles::kMimeType)) return event->acceptProposedAction();
  const QList<QUrl> urls = event->mimeData()->urls();
  if (!urls.isEmpty() && urls.front().isLocalFile() && fileKindOf(urls.front().toLocalFile()))
    event->acceptProposedAction();
}

void Viewport::dropEvent(QDropEvent* event) {
  event->acceptProposedAction();
  if (const QByteArray preset = event->mimeData()->data(PresetTiles::kMimeType); !preset.isEmpty())
    return dropPreset(preset.toULongLong(), event->position());
  Q_EMIT dropped(event->mimeData()->urls().front().toLocalFile(), mapToGlobal(event->position().toPoint()));
}

// On the mesh that is seen there, or else on the ground; above the horizon, as far away as what is looked at.
void Viewport::dropPreset(std::size_t preset, const QPointF& position) {
  Vec3d from, direction;
  projector().ray(position.x(), position.y(), from, direction);
  const auto mesh = meshAlong(document_.scene(), document_.frame(), from, direction);
  const double toGround = -from.y / direction.y;
  const Camera camera = cameraNow();
  const double toAim = glm::distance(camera.place, camera.aim);
  const bool isOnGround = std::isfinite(toGround) && toGround > 0 && toGround < 10 * toAim;
  const Vec3d place = mesh ? mesh->position : from + (isOnGround ? toGround : toAim) * direction;
  Q_EMIT presetDropped(preset, rounded(place), mesh ? mesh->item : 0);
}

void Viewport::mousePressEvent(QMouseEvent* event) {
  lastPosition_ = pressedAt_ = event->position();
  // Side by side, nothing is where it seems.
  if (event->button() != Qt::LeftButton || comparison_.isSideBySide()) return;
  if (comparison_.press(rect(), event->position())) return;
  const Projector view = projector();
  if (document_.isDrawing() && strokes_.press(view, event->position())) return update();
  if (strokes_.press(view, event->position())) return;
  if (!looksThroughSelected() && motion_.press(view, event->position())) return;
  const auto arrow = directionArrow();
  if (arrow && direction_.isTipAt(view, *arrow, event->position())) return direction_.start(*arrow);
  if (!gizmoParam()) return;
  const auto box = gizmoBox();
  const auto face = box ? boxGizmo_.faceAt(view, *box, event->position()) : std::nullopt;
  const MoveGizmo::Grip grip = gizmo_.gripAt(view, gizmoPlace(), event->position());
  if (face)
    boxGizmo_.start(*face, view, *box, event->position());
  else if (grip != MoveGizmo::Grip::None)
    gizmo_.start(grip, view, gizmoPlace(), event->position());
  update();
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton) strokes_.doubleClick(projector(), event->position());
}

void Viewport::leaveEvent(QEvent*) {
  pointer_.reset();
  update();
}

void Viewport::mouseMoveEvent(QMouseEvent* event) {
  pointer_ = event->position();
  if (pixels_.isOn()) update();
  if (comparison_.move(rect(), event->position())) return;
  if (gizmo_.held() != MoveGizmo::Grip::None) {
    const Vec3d place = gizmo_.moved(projector(), event->position());
    document_.setBase(document_.selected(), gizmoParam(), rounded(place), "gizmo");
    return;
  }
  if (direction_.isHeld()) return turnTo(direction_.turned(projector(), event->position()));
  if (boxGizmo_.isHeld()) return setBox(boxGizmo_.moved(projector(), event->position()));
  if (strokes_.move(projector(), event->position()) || motion_.move(projector(), event->position()))
    return update();
  if (event->buttons() == Qt::NoButton) return hover(event->position());
  const QPointF moved = event->position() - lastPosition_;
  lastPosition_ = event->position();
  if (event->buttons() & Qt::LeftButton)
    camera_.orbit(moved, cameraNow());
  else
    camera_.pan(moved, height(), cameraNow());
  lookAnew();
  Q_EMIT viewChanged();
}

void Viewport::hover(const QPointF& position) {
  const Projector view = projector();
  const auto box = gizmoBox();
  const auto face = box ? boxGizmo_.faceAt(view, *box, position) : std::nullopt;
  const auto grip =
      gizmoParam() && !face ? gizmo_.gripAt(view, gizmoPlace(), position) : MoveGizmo::Grip::None;
  const auto arrow = directionArrow();
  const bool isAtTip = arrow && direction_.isTipAt(view, *arrow, position);
  if (face == hoveredFace_ && grip == hovered_ && isAtTip == hoversDirection_) return;
  hoversDirection_ = isAtTip;
  hoveredFace_ = face;
  hovered_ = grip;
  update();
}

// A particle, or else the gas that is seen there.
void Viewport::probeAt(const QPointF& position) {
  const std::optional<ParticleId> particle = particleAt(position);
  probe_.pick(particle);
  if (particle) return gasProbe_.end();
  Vec3d from, direction;
  projector().ray(position.x(), position.y(), from, direction);
  gasProbe_.pick(from, direction);
}

void Viewport::mouseReleaseEvent(QMouseEvent* event) {
  if (comparison_.release()) return;
  // A click that moved nothing probes.
  const bool drewStroke = strokes_.release(projector()), movedKey = motion_.release();
  const bool drew = drewStroke || movedKey || boxGizmo_.isHeld() || direction_.isHeld();
  const bool isClick = event->button() == Qt::LeftButton && !comparison_.isSideBySide() &&
                       gizmo_.held() == MoveGizmo::Grip::None && !drew &&
                       (event->position() - pressedAt_).manhattanLength() < 3;
  if (isClick) probeAt(event->position());
  gizmo_.stop();
  boxGizmo_.stop();
  direction_.stop();
  document_.endMerge();
  update();
}

void Viewport::wheelEvent(QWheelEvent* event) {
  camera_.zoom(std::pow(1.0015, event->angleDelta().y()), cameraNow());
  lookAnew();
  Q_EMIT viewChanged();
}

}  // namespace comet
