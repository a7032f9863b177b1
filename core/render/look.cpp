#include "render/look.h"

#include "base/color.h"
#include "particles/arrival.h"
#include "particles/rolling.h"
#include "scene/item_reference.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>
#include <glm/matrix.hpp>
#include <limits>

namespace comet {
namespace {

SpriteProfile profileOf(const Item& emitter, double frame, StampCache& stamps) {
  SpriteProfile profile;
  if (emitter.chooses("sprite", "dot")) profile.type = SpriteProfile::Type::Dot;
  if (emitter.chooses("sprite", "ring")) profile.type = SpriteProfile::Type::Ring;
  if (emitter.chooses("sprite", "star")) profile.type = SpriteProfile::Type::Star;
  profile.starPoints = emitter.integer("star_points", frame);
  profile.starEdge = starEdge(profile.starPoints, emitter.number("pointedness", frame) / 100.0);
  profile.blend = blendOf(emitter);
  profile.hardness = static_cast<float>(emitter.number("hardness", frame) / 100.0);
  profile.innerRadius = static_cast<float>(1.0 - emitter.number("ring_width", frame) / 100.0);
  profile.stamps = stamps.stampsOf(emitter, frame);
  if (profile.stamps && !profile.stamps->empty()) profile.type = SpriteProfile::Type::Stamp;
  if (emitter.chooses("sprite", "mesh") || showsCards(emitter)) profile.type = SpriteProfile::Type::Mesh;
  const bool stretches = emitter.number("stretch", frame) > 0 || emitter.value("stretch").variation > 0;
  const bool isTurnedAlways =
      profile.type == SpriteProfile::Type::Star || profile.type == SpriteProfile::Type::Stamp;
  profile.turned = profile.type != SpriteProfile::Type::Mesh &&
                   (isTurnedAlways || stretches || emitter.number("aspect_ratio", frame) != 1 ||
                    facingOf(emitter) == Facing::Plane || facingOf(emitter) == Facing::Tumble);
  return profile;
}

// From one value to another by a fraction of the way.
template <typename Amount>
Amount mixed(const Amount& from, const Amount& to, double fraction) {
  return from * (1 - fraction) + to * fraction;
}

bool isAlways(const Course& course, double value) {
  return course.isConstant() && course.constant() == value;
}

// A right angle clockwise in the picture, whose y goes down.
Vec2d rightAngle(const Vec2d& v) { return {-v.y, v.x}; }

}  // namespace

Blend blendOf(const Item& emitter) {
  return emitter.choiceAs<Blend>("blend",
                                 std::array<std::string_view, 4>{"normal", "additive", "screen", "multiply"});
}

ColorMix colorMixOf(const Item& emitter) {
  return emitter.choiceAs<ColorMix>("color_blend_space",
                                    std::array<std::string_view, 3>{"linear", "oklab", "hsv"});
}

double lifeFraction(float age, float lifetime) {
  return std::clamp(static_cast<double>(age) / static_cast<double>(lifetime), 0.0, 1.0);
}

DrawnParticle drawnParticle(const ParticleStore& particles, std::size_t index) {
  DrawnParticle particle;
  particle.state.position = particles.shownPosition(index);
  particle.velocity = particles.velocity(index);
  particle.state.age = particles.field(ParticleStore::Age)[index];
  particle.state.lifetime = particles.field(ParticleStore::Lifetime)[index];
  particle.state.id = particles.ids()[index];
  particle.state.fraction = lifeFraction(particles.field(ParticleStore::Age)[index],
                                         particles.field(ParticleStore::Lifetime)[index]);
  particle.state.speed = glm::length(particle.velocity);
  if (const float* turns = particles.field(ParticleStore::Turn)) particle.turn = turns[index];
  if ((particle.bodyNumbers = particles.bodyNumbers()) > 0) {
    particle.body = particles.body(index);
    particle.bodyMiddle = particles.position(index);
  }
  if (particles.fields().has(ParticleStore::ArriveBy)) {
    const Arrival arrival = arrivalOf(particles, index);
    particle.state.arrival = arrival.travelled();
    particle.state.arrivalBy = arrival.influence;
    particle.state.arrivalPoint = arrival.point;
  }
  if (particles.fields().has(ParticleStore::OrientX)) particle.rolled = orientationOf(particles, index);
  if (particles.fields().has(ParticleStore::Lineage)) particle.state.lineage = lineageOf(particles, index);
  return particle;
}

Look::Look(const Scene& scene, const Item& emitter, double frame, StampCache& stamps)
    : profile_(profileOf(emitter, frame, stamps)),
      random_(lookRandom(emitter, frame)),
      size_(emitter, frame),
      sizeCourse_(emitter, "size", frame, Draw::Size, Draw::SizeFollows),
      opacity_(emitter, "opacity", frame, Draw::Opacity, Draw::OpacityFollows, 0.01),
      stretch_(emitter, "stretch", frame, Draw::Stretch, Draw::StretchFollows),
      rotation_(emitter, "sprite_rotation", frame, Draw::Rotation, Draw::Rotation, kPi / 180),
      spin_(emitter, "spin", frame, Draw::Spin, Draw::SpinFollows, kPi / 180),
      glow_(emitter, "glow", frame, Draw::Glow, Draw::GlowFollows, 0.01),
      book_(emitter, "flipbook_cell", frame, Draw::BookStart, Draw::BookFollows, 0.01),
      aspect_(emitter.number("aspect_ratio", frame)),
      facing_(facingOf(emitter)),
      groundFade_(emitter.number("ground_fade", frame)),
      colorInput_(emitter.value("color"), Draw::ColorFollows),
      hue_(emitter, "hue", frame, Draw::ColorHue, Draw::ColorHue, 1 / 360.0),
      saturation_(emitter, "saturation", frame, Draw::ColorSaturation, Draw::ColorSaturation, 0.01),
      value_(emitter, "value", frame, Draw::ColorValue, Draw::ColorValue, 0.01),
      brightness_(emitter.number("brightness", frame)),
      isBook_(emitter.chooses("sprite", "flipbook")),
      isPuff_(emitter.chooses("sprite", "puff")),
      bookMixes_(emitter.flag("flipbook_blend", frame)),
      bookStartsAnywhere_(emitter.chooses("flipbook_start", "random")),
      bookRate_(emitter.number("flipbook_rate", frame)),
      bookVariants_(static_cast<std::size_t>(emitter.integer("flipbook_variants", frame))),
      colorFromBirth_(emitter.chooses("color_source", "picture")),
      arrivalColors_(emitter.chooses("color_source", "arrival") ? arrivalColors(scene, emitter.id, frame)
                                                                : ArrivalColors()),
      inherits_(inheritanceOf(scene, emitter, frame, stamps)) {
  const auto& gradient = std::get<Gradient>(emitter.value("color").base);
  const ColorMix mix = colorMixOf(emitter);
  color_.fill([&](double x) { return Vec3(gradient.at(x, mix)); });
  isLit_ = emitter.flag("lit", frame);
  adjustsColor_ = !isAlways(hue_, 0) || !isAlways(saturation_, 1) || !isAlways(value_, 1);
  bookPlay_ = emitter.choiceAs<BookPlay>("flipbook_play_mode",
                                         std::array<std::string_view, 3>{"life", "rate", "one"});
  if (facing_ == Facing::Plane) {
    up_ = planeNormalOf(emitter, frame);
    perpendiculars(up_, planeAcross_, planeDown_);
  }
  if (showsCards(emitter)) {
    card_.emplace(emitter, frame, stamps);
    profile_.hasPictures = card_->hasPictures();
  } else if (profile_.type == SpriteProfile::Type::Mesh) {
    const auto mesh = emitter.content<MeshContent>("sprite_mesh");
    // Without a mesh there is nothing to see, rather than something else.
    model_ = mesh ? modelOf(*mesh) : std::make_shared<const MeshModel>(MeshContent(Mesh()));
    isFlatShaded_ = emitter.chooses("shading", "flat");
  }
  if (isBook_ || emitter.chooses("sprite", "picture"))
    pivot_ = Vec2d(emitter.number("pivot_x", frame), emitter.number("pivot_y", frame)) / 50.0 - 1.0;
  // The way of a launch that was turned with a parent cannot be told any more.
  if (facing_ == Facing::Launch && emitter.applies(emitter.kind->indexOf("shape_orientation")) &&
      !emitter.chooses("shape_orientation", "world"))
    facing_ = Facing::Motion;
  if (facing_ == Facing::Launch || colorFromBirth_) births_.emplace(scene, emitter, frame);
}

std::optional<Look::Inheritance> Look::inheritanceOf(const Scene& scene, const Item& emitter, double frame,
                                                     StampCache& stamps) {
  const auto fraction = [&](const char* param) {
    return emitter.applies(emitter.kind->indexOf(param)) ? emitter.number(param, frame) / 100 : 0.0;
  };
  Inheritance inherits;
  inherits.size = fraction("inherit_size");
  inherits.opacity = fraction("inherit_opacity");
  inherits.color = fraction("inherit_color");
  if (inherits.size + inherits.opacity + inherits.color == 0) return std::nullopt;
  for (const ItemId id : sourcesOf(scene, emitter))
    if (const Scene::ItemPtr parent = scene.find(id))
      inherits.looks[id] = std::make_unique<const Look>(scene, *parent, frame, stamps);
  return inherits;
}

const Look* Look::Inheritance::lookOf(const ParticleFacts& parent) const {
  const auto found = looks.find(emitterOfId(parent.id));
  return found == looks.end() ? nullptr : found->second.get();
}

ParticleFacts Look::Inheritance::parentOf(const ParticleFacts& child) {
  const Ancestor& ancestor = child.lineage.front();
  ParticleFacts parent;
  parent.id = ancestor.id;
  parent.age = ancestor.age;
  parent.lifetime = ancestor.lifetime;
  parent.fraction = lifeFraction(ancestor.age, ancestor.lifetime);
  parent.speed = ancestor.speed;
  parent.position = child.position;
  parent.lineage = lineageOfParent(child.lineage);
  return parent;
}

double Look::diameter(const ParticleFacts& state) const {
  double own = size_.diameter(state.id);
  if (inherits_ && inherits_->size > 0) {
    const ParticleFacts parent = Inheritance::parentOf(state);
    if (const Look* look = inherits_->lookOf(parent))
      own = mixed(own, look->diameter(parent), inherits_->size);
  }
  return std::max(0.0, sizeCourse_.computed(state, own * sizeCourse_.course(state, random_)));
}

double Look::opacity(const ParticleFacts& state) const {
  const double own = std::clamp(opacity_.of(state, random_), 0.0, 1.0);
  if (!inherits_ || inherits_->opacity == 0) return own;
  const ParticleFacts parent = Inheritance::parentOf(state);
  const Look* look = inherits_->lookOf(parent);
  return look ? own * mixed(1.0, look->opacity(parent), inherits_->opacity) : own;
}

Vec3d Look::color(const ParticleFacts& state, double age) const {
  Vec3d color =
      colorFromBirth_ ? births_->of(state.id, age).color : Vec3d(color_.at(colorInput_.of(state, random_)));
  if (const auto there = arrivalColors_.find(state.arrivalBy); there != arrivalColors_.end())
    color = mixed(color, there->second.color(state.arrivalPoint), state.arrival);
  color = finished(color, state);
  if (!inherits_ || inherits_->color == 0) return color;
  const ParticleFacts parent = Inheritance::parentOf(state);
  const Look* look = inherits_->lookOf(parent);
  // The parent's own birth lies as far back as it was old when it gave birth.
  return look ? mixed(color, look->color(parent, parent.age + age), inherits_->color) : color;
}

Vec3d Look::backColor(const ParticleFacts& state, double age) const {
  const std::optional<Vec3d> own = card_ ? card_->backColor(state, random_) : std::nullopt;
  return own ? finished(*own, state) : color(state, age);
}

Vec3d Look::finished(Vec3d color, const ParticleFacts& state) const {
  if (adjustsColor_)
    color = adjustColor(color, hue_.of(state, random_), std::max(0.0, saturation_.of(state, random_)),
                        value_.of(state, random_));
  return color * brightness_;
}

double Look::rotation(const DrawnParticle& particle) const {
  const double angle = rotation_.of(particle.state, random_) + particle.turn;
  if (isAlways(spin_, 0)) return angle;
  // A spin that changes over life adds up; one that follows something else is taken as it is now.
  const double course =
      spin_.isByAge() ? spin_.meanUntil(particle.state.fraction) : spin_.course(particle.state, random_);
  return angle + spin_.own(particle.state.id, random_) * course * particle.state.age;
}

void Look::axes(const DrawnParticle& particle, const std::optional<Mat3d>& tumble, const Projector& projector,
                double pixelsPerUnit, double width, double height, Vec2d& across, Vec2d& down) const {
  if (tumble) {
    across = projector.directionInPicture((*tumble)[0]) * (0.5 * width * pixelsPerUnit);
    down = projector.directionInPicture(-(*tumble)[1]) * (0.5 * height * pixelsPerUnit);
    return;
  }
  const double angle = rotation(particle);
  const double cosine = std::cos(angle), sine = std::sin(angle);
  if (facing_ == Facing::Plane) {
    const Vec3d acrossScene = planeAcross_ * cosine + planeDown_ * sine;
    const Vec3d downScene = planeDown_ * cosine - planeAcross_ * sine;
    across = projector.directionInPicture(acrossScene) * (0.5 * width * pixelsPerUnit);
    down = projector.directionInPicture(downScene) * (0.5 * height * pixelsPerUnit);
    return;
  }
  Vec2d up(0, -1);
  if (facing_ != Facing::Camera) {
    const Vec3d direction = facing_ == Facing::Motion
                                ? particle.velocity
                                : births_->of(particle.state.id, particle.state.age).launch;
    const Vec2d seen = projector.directionInPicture(direction);
    if (const double length = glm::length(seen); length > 1e-9) up = seen / length;
  }
  const Vec2d upright = -up, side = -rightAngle(upright);
  across = (side * cosine + upright * sine) * (0.5 * width * pixelsPerUnit);
  down = (upright * cosine - side * sine) * (0.5 * height * pixelsPerUnit);
}

void Look::setCell(const DrawnParticle& particle, std::size_t stamps, SpriteTurn& turn) const {
  const std::size_t cells = std::max<std::size_t>(1, stamps / bookVariants_), variants = stamps / cells;
  const auto count = static_cast<double>(cells);
  const ParticleId id = particle.state.id;
  const auto variant =
      static_cast<std::size_t>(random_.unit(id, Draw::Variant) * static_cast<double>(variants));
  const bool loops = bookPlay_ == BookPlay::Rate;
  double cell = 0;
  if (bookPlay_ == BookPlay::One)
    cell = random_.unit(id, Draw::BookStart) * count;
  else if (loops)
    cell = std::fmod((bookStartsAnywhere_ ? random_.unit(id, Draw::BookStart) * count : 0) +
                         bookRate_ * particle.state.age,
                     count);
  else
    cell = std::clamp(book_.of(particle.state, random_), 0.0, 1.0) * count;
  // Ages are sums of many small steps: a cell that is due at a frame must not come at the next one.
  constexpr double kSlack = 1e-3;
  const auto whole = static_cast<std::size_t>(cell + kSlack);
  const std::size_t first = loops ? whole % cells : std::min(whole, cells - 1);
  const std::size_t next = loops ? (first + 1) % cells : std::min(first + 1, cells - 1);
  turn.stamp = static_cast<std::uint16_t>(variant * cells + first);
  turn.nextStamp = static_cast<std::uint16_t>(variant * cells + next);
  if (bookMixes_ && bookPlay_ != BookPlay::One)
    turn.mix = static_cast<float>(std::clamp(cell - static_cast<double>(whole), 0.0, 1.0));
}

void Look::setStamps(const DrawnParticle& particle, SpriteTurn& turn) const {
  turn.stamp = turn.nextStamp = 0;
  turn.mix = 0;
  if (profile_.type != SpriteProfile::Type::Stamp) return;
  const std::size_t count = profile_.stamps->size();
  if (isBook_) setCell(particle, count, turn);
  if (isPuff_)
    turn.stamp = turn.nextStamp = static_cast<std::uint16_t>(random_.unit(particle.state.id, Draw::Variant) *
                                                             static_cast<double>(count));
}

bool Look::setTurn(const DrawnParticle& particle, const std::optional<Mat3d>& tumble,
                   const Projector& projector, double pixelsPerUnit, double diameter, Sprite& sprite,
                   SpriteTurn& turn) const {
  setStamps(particle, turn);
  double aspect = aspect_;
  if (profile_.type == SpriteProfile::Type::Stamp) {
    const Stamp& stamp = (*profile_.stamps)[turn.stamp];
    // A streak is as thin as its stamp; pictures keep their proportions.
    aspect *= static_cast<double>(stamp.width()) / stamp.height();
  }
  const double width = diameter * std::min(1.0, aspect);
  double height = diameter * std::min(1.0, 1 / aspect);
  if (!isAlways(stretch_, 0)) {
    double speed = particle.state.speed;
    if (facing_ == Facing::Motion) speed = glm::length(projector.directionInPicture(particle.velocity));
    height += std::max(0.0, stretch_.of(particle.state, random_)) * speed;
  }
  Vec2d across, down;
  axes(particle, tumble, projector, pixelsPerUnit, width, height, across, down);
  // Thinner than a pixel's radius it is drawn fainter instead, so that its light stays the same.
  for (Vec2d* axis : {&across, &down}) {
    const double length = glm::length(*axis);
    if (length <= 1e-6) return false;
    if (length >= kSmallestRadius) continue;
    sprite.opacity *= static_cast<float>(length / kSmallestRadius);
    *axis *= kSmallestRadius / length;
  }
  const double area = across.x * down.y - across.y * down.x;
  const double lengths = glm::length(across) * glm::length(down);
  if (std::abs(area) < 1e-3 * lengths) return false;  // a plane seen edge-on
  turn.uAcross = static_cast<float>(down.y / area);
  turn.uDown = static_cast<float>(-down.x / area);
  turn.vAcross = static_cast<float>(-across.y / area);
  turn.vDown = static_cast<float>(across.x / area);
  // Half a pixel more for the soft edge.
  turn.reachX = static_cast<float>(std::abs(across.x) + std::abs(down.x) + 1);
  turn.reachY = static_cast<float>(std::abs(across.y) + std::abs(down.y) + 1);
  turn.pixelsWide = static_cast<float>(2 * std::abs(area) / glm::length(down));
  turn.pixelsHigh = static_cast<float>(2 * std::abs(area) / glm::length(across));
  sprite.radius = static_cast<float>(std::sqrt(std::abs(area)));
  sprite.x -= static_cast<float>(across.x * pivot_.x + down.x * pivot_.y);
  sprite.y -= static_cast<float>(across.y * pivot_.x + down.y * pivot_.y);
  return true;
}

double Look::fadeAt(const Vec3d& position) const {
  return groundFade_ > 0 ? std::clamp(position.y / groundFade_, 0.0, 1.0) : 1.0;
}

Mat3d Look::meshTurn(const DrawnParticle& particle) const {
  if (tumbles(facing_)) return tumbled(particle);
  Vec3d up = up_;
  if (facing_ == Facing::Motion) up = unitOr(particle.velocity, up_);
  if (facing_ == Facing::Launch) up = births_->of(particle.state.id, particle.state.age).launch;
  return Mat3d(glm::mat3_cast(particle.rolled)) * standing(up, rotation(particle));
}

Mat3d Look::tumbled(const DrawnParticle& particle) const {
  const glm::dquat own = glm::angleAxis(rotation(particle), tumblingAxis(particle.state.id, random_));
  return Mat3d(glm::mat3_cast(particle.rolled * own));
}

Vec3d Look::lightOnSeenSide(const Vec3d& place, const Vec3d& normal, const SceneLights& lights,
                            const Projector& projector, const Projector::Point& point) {
  Vec3d from, along;
  projector.ray(point.x, point.y, from, along);
  return lights.on(place, glm::dot(normal, along) < 0 ? normal : -normal);
}

bool Look::drawMesh(const DrawnParticle& particle, const SceneLights& lights, const Projector& projector,
                    const SpritePaint* paint, Sprite& sprite, MeshView& seen, MeshFace* faces,
                    FacePicture* pictures) const {
  const double size = diameter(particle.state);
  sprite.opacity = static_cast<float>(opacity(particle.state) * fadeAt(particle.state.position));
  if (!(size > 0) || !(sprite.opacity > 0)) return false;
  if (!card_) return drawModel(particle, size, lights, projector, sprite, seen, faces);
  const double age = particle.state.age;
  return card_->draw(particle, size, {color(particle.state, age), backColor(particle.state, age)}, lights,
                     projector, paint, sprite, seen, faces, pictures);
}

namespace {

// How many pixels the longest side of a mesh is long at most where it comes nearest to the viewer; infinitely
// many if it reaches the viewer.
double pixelsAcross(const Vec3d& middle, double longest, const Projector& projector) {
  const Projector::Point place = projector.project(middle);
  Vec3d from, along;
  projector.ray(place.x, place.y, from, along);
  // Half the diagonal of a cube.
  constexpr double kReach = 0.867;
  const double scale = projector.pixelsPerUnitAt(middle - kReach * longest * along);
  return scale > 0 ? longest * scale : std::numeric_limits<double>::infinity();
}

}  // namespace

bool Look::drawModel(const DrawnParticle& particle, double size, const SceneLights& lights,
                     const Projector& projector, Sprite& sprite, MeshView& seen, MeshFace* faces) const {
  const Mat3d turn = meshTurn(particle);
  const MeshModel::Level& level = model_->levelFor(pixelsAcross(particle.state.position, size, projector));
  thread_local std::vector<MeshCorner> corners;
  thread_local std::vector<Vec3> fromFront;
  corners.clear();
  fromFront.clear();
  for (const MeshModel::Point& point : level.points) {
    const Vec3d at = particle.state.position + turn * (point.at * size);
    corners.emplace_back(at, projector);
    fromFront.push_back(isFlatShaded_ ? Vec3(0.0F) : Vec3(lights.on(at, turn * point.normal)));
  }
  MeshFaces shown(corners, seen, faces);
  for (const MeshModel::Face& face : level.faces) {
    const MeshFaces::Side side = shown.offer(face.points, model_->isClosed());
    if (side == MeshFaces::Side::None) continue;
    const bool isFront = side == MeshFaces::Side::Front;
    std::array<Vec3, 3>& light = shown.last().light;
    if (isFlatShaded_) {
      const Vec3d middle =
          (corners[face.points[0]].at + corners[face.points[1]].at + corners[face.points[2]].at) / 3.0;
      light.fill(Vec3(lights.on(middle, turn * (isFront ? face.normal : -face.normal))));
      continue;
    }
    // Seen from behind, the surface is lit from behind.
    for (std::size_t i = 0; i < 3; ++i) {
      const std::uint32_t point = face.points[i];
      light[i] =
          isFront ? fromFront[point] : Vec3(lights.on(corners[point].at, turn * -level.points[point].normal));
    }
  }
  if (!shown.finish(sprite)) return false;
  const Vec3 color(this->color(particle.state, particle.state.age));
  sprite.red = color.x;
  sprite.green = color.y;
  sprite.blue = color.z;
  return true;
}

bool Look::draw(const DrawnParticle& particle, const SceneLights& lights, const Projector& projector,
                const Projector::Point& point, Sprite& sprite, SpriteTurn& turn) const {
  const double diameter = this->diameter(particle.state);
  if (!(diameter > 0)) return false;
  sprite.opacity = static_cast<float>(opacity(particle.state) * fadeAt(particle.state.position));
  if (sprite.opacity <= 0) return false;
  sprite.x = static_cast<float>(point.x);
  sprite.y = static_cast<float>(point.y);
  const std::optional<Mat3d> tumble =
      facing_ == Facing::Tumble ? std::optional(tumbled(particle)) : std::nullopt;
  if (profile_.turned) {
    if (!setTurn(particle, tumble, projector, point.pixelsPerUnit, diameter, sprite, turn)) return false;
  } else {
    sprite.radius = static_cast<float>(0.5 * diameter * point.pixelsPerUnit);
    keepVisible(sprite);
  }
  Vec3d light = color(particle.state, particle.state.age);
  const Vec3d& place = particle.state.position;
  if (isLit_)
    light *= tumble ? lightOnSeenSide(place, (*tumble)[2], lights, projector, point) : lights.at(place);
  sprite.red = static_cast<float>(light.x);
  sprite.green = static_cast<float>(light.y);
  sprite.blue = static_cast<float>(light.z);
  return true;
}

namespace {

// Also refuses what is not a number.
bool meetsPicture(const Sprite& sprite, float reachX, float reachY, int width, int height) {
  return sprite.x + reachX > 0 && sprite.y + reachY > 0 && sprite.x - reachX < static_cast<float>(width) &&
         sprite.y - reachY < static_cast<float>(height);
}

// By what a sprite is sorted, larger first.
float sortingDepth(SpriteOptions::Order order, const DrawnParticle& particle, double depth) {
  switch (order) {
    case SpriteOptions::Order::Depth:
      return static_cast<float>(depth);
    case SpriteOptions::Order::Oldest:
      return static_cast<float>(particle.state.age);
    case SpriteOptions::Order::Youngest:
      return static_cast<float>(-particle.state.age);
  }
  return 0;
}

void paintOver(Sprite& sprite, const Vec2d& value, bool isLight) {
  const Vec3 color(painted(value, {sprite.red, sprite.green, sprite.blue}, isLight));
  sprite.red = color.x;
  sprite.green = color.y;
  sprite.blue = color.z;
}

// Goes on along its velocity for a while; false if it does not live then.
bool goOn(DrawnParticle& particle, double seconds) {
  particle.state.age += seconds;
  if (particle.state.age < 0 || particle.state.age >= particle.state.lifetime) return false;
  particle.state.position += particle.velocity * seconds;
  particle.later = seconds;
  particle.state.fraction = std::clamp(particle.state.age / particle.state.lifetime, 0.0, 1.0);
  return true;
}

}  // namespace

bool isLightOnly(Blend blend) { return blend == Blend::Additive || blend == Blend::Screen; }

Vec3d painted(const Vec2d& value, const Vec3d& color, bool isLight) {
  return Vec3d(value, 1) * (isLight ? std::clamp(luminance(color), 0.0, 1.0) : 1.0);
}

std::optional<Vec2d> SpritePaint::ofGas(const GasPlace&, const Projector&) const { return std::nullopt; }

Vec2d SpritePaint::ofCard(const CardCorner& corner, const Projector::Point& point,
                          const Projector& projector) const {
  DrawnParticle there = corner.card;
  there.state.position = corner.at;
  there.velocity = corner.velocity;
  Sprite sprite{};
  sprite.x = static_cast<float>(point.x);
  sprite.y = static_cast<float>(point.y);
  sprite.radius = kSmallestRadius;
  return of(there, sprite, point, projector);
}

void SpritePaint::ofTrail(const std::vector<LinePoint>& points, const Projector&,
                          std::vector<Vec2d>& values) const {
  values.assign(points.size(), Vec2d(0.0));
}

SpriteProfile paintProfile(SpriteProfile profile) {
  profile.blend = isLightOnly(profile.blend) ? Blend::Additive : Blend::Normal;
  if (profile.stamps && !profile.stamps->empty() && profile.stamps->front().kind() == Stamp::Kind::Color)
    profile.stamps = std::make_shared<const StampSet>(coverageOf(*profile.stamps));
  return profile;
}

namespace {

// Offers the sprite of a particle in the room's places of this number; false if there is nothing to see.
bool offer(const Look& look, const SceneLights& lights, const SpriteOptions& options,
           const DrawnParticle& particle, const Projector& projector, const Projector::Point& point,
           const SpriteRoom& room, std::size_t place, std::size_t& usedFaces, Vec2& reach) {
  if (projector.isClipped(particle.state.position)) return false;
  Sprite& sprite = room.sprites[place];
  if (look.profile().type == SpriteProfile::Type::Mesh) {
    MeshView& seen = room.meshes[place];
    FacePicture* pictures = look.profile().hasPictures ? room.pictures + usedFaces : nullptr;
    if (!look.drawMesh(particle, lights, projector, options.paint, sprite, seen, room.faces + usedFaces,
                       pictures))
      return false;
    seen.firstFace = options.firstFace + static_cast<std::uint32_t>(usedFaces);
    reach = seen.reach;
    return true;
  }
  SpriteTurn spare{};
  SpriteTurn& turn = look.profile().turned ? room.turns[place] : spare;
  if (!projector.visible(point) || !look.draw(particle, lights, projector, point, sprite, turn)) return false;
  // Beyond its rim a disc reaches a little further than its radius.
  reach = look.profile().turned ? Vec2(turn.reachX, turn.reachY) : Vec2(1.5F * sprite.radius + 1);
  return true;
}

}  // namespace

std::size_t makeSprites(const Look& look, const SceneLights& lights, const SpriteOptions& options,
                        const ParticleStore& particles, std::size_t first, std::size_t count,
                        const Projector& projector, int width, int height, const SpriteRoom& room) {
  const bool isMesh = look.profile().type == SpriteProfile::Type::Mesh;
  std::size_t made = 0, usedFaces = 0;
  for (std::size_t i = first; i < first + count; ++i) {
    DrawnParticle particle = drawnParticle(particles, i);
    if (options.later != 0 && !goOn(particle, options.later)) continue;
    const Projector::Point point = projector.project(particle.state.position);
    Vec2 reach;
    if (!offer(look, lights, options, particle, projector, point, room, made, usedFaces, reach)) continue;
    Sprite& sprite = room.sprites[made];
    if (!meetsPicture(sprite, reach.x, reach.y, width, height)) continue;
    sprite.distance = static_cast<float>(point.depth);
    sprite.depth = sortingDepth(options.order, particle, sprite.distance);
    sprite.profile = options.profile;
    sprite.turn = options.firstTurn + static_cast<std::uint32_t>(made);
    if (options.paint && !look.cards()) {
      paintOver(sprite, options.paint->of(particle, sprite, point, projector), options.isLight);
      // What is said is the same in light and shadow.
      if (isMesh)
        for (std::size_t f = 0; f < room.meshes[made].faces; ++f)
          room.faces[usedFaces + f].light.fill(Vec3(1.0F));
    }
    if (options.light != SpriteOptions::Light::All) {
      const float given = options.fraction(look.glow(particle.state));
      sprite.red *= given;
      sprite.green *= given;
      sprite.blue *= given;
    }
    if (isMesh) usedFaces += room.meshes[made].faces;
    ++made;
  }
  return made;
}

}  // namespace comet
