#include "render/card_look.h"

#include "render/look.h"

#include <cmath>

namespace comet {
namespace {

std::shared_ptr<const StampSet> pictureOf(const Item& emitter, const char* param, double frame,
                                          StampCache& stamps) {
  const auto content = emitter.content<PictureContent>(param);
  if (!content) return nullptr;
  return stamps.ofWhole(*content, static_cast<int>(std::lround(frame)), storedAlphaOf(emitter));
}

}  // namespace

CardLook::CardLook(const Item& emitter, double frame, StampCache& stamps)
    : rule_(emitter, frame),
      triangles_(cardTriangles(rule_.grid())),
      front_(pictureOf(emitter, "picture", frame, stamps)),
      back_(pictureOf(emitter, "card_back_picture", frame, stamps)),
      hasOwnBack_(emitter.chooses("card_back", "own")),
      backInput_(emitter.value("card_back_color"), Draw::ColorFollows) {
  const auto& gradient = std::get<Gradient>(emitter.value("card_back_color").base);
  const ColorMix mix = colorMixOf(emitter);
  backColor_.fill([&](double x) { return Vec3(gradient.at(x, mix)); });
}

std::optional<Vec3d> CardLook::backColor(const ParticleFacts& state, const RandomSource& random) const {
  if (!hasOwnBack_) return std::nullopt;
  return Vec3d(backColor_.at(backInput_.of(state, random)));
}

void CardLook::shape(const DrawnParticle& particle, double size, std::vector<CardPoint>& points) const {
  const ParticleFacts& state = particle.state;
  const double born = rule_.size(state.id);
  shapeCard(rule_,
            {state.id, particle.bodyMiddle, particle.velocity, state.position, particle.body,
             particle.bodyNumbers, born > 0 ? size / born : 0},
            points);
  if (particle.later == 0) return;
  for (CardPoint& point : points) point.at += (point.velocity - particle.velocity) * particle.later;
}

void CardLook::showPicture(const Mesh::Triangle& face, bool isFront, FacePicture& shown) const {
  const bool hasOwn = !isFront && back_;
  const std::shared_ptr<const StampSet>& picture = hasOwn ? back_ : front_;
  shown.picture = picture ? &picture->front() : nullptr;
  for (std::size_t i = 0; i < 3; ++i) {
    shown.at[i] = pictureSpot(rule_.grid(), face[i]);
    // Seen from behind, left is right.
    if (hasOwn) shown.at[i].x = 1 - shown.at[i].x;
  }
}

bool CardLook::draw(const DrawnParticle& particle, double size, const Colors& colors,
                    const SceneLights& lights, const Projector& projector, const SpritePaint* paint,
                    Sprite& sprite, MeshView& seen, MeshFace* faces, FacePicture* pictures) const {
  thread_local std::vector<CardPoint> points;
  thread_local std::vector<MeshCorner> corners;
  shape(particle, size, points);
  corners.clear();
  for (const CardPoint& point : points) corners.emplace_back(point.at, projector);
  MeshFaces shown(corners, seen, faces);
  for (const Mesh::Triangle& face : triangles_) {
    const MeshFaces::Side side = shown.offer(face, false);
    if (side == MeshFaces::Side::None) continue;
    const bool isFront = side == MeshFaces::Side::Front;
    for (std::size_t i = 0; i < 3; ++i) {
      const CardPoint& point = points[face[i]];
      const Vec3d normal = isFront ? point.normal : -point.normal;
      shown.last().light[i] =
          paint ? Vec3(Vec3d(paint->ofCard({particle, face[i], point.at, point.velocity, normal},
                                           corners[face[i]].place, projector),
                             1))
                : Vec3(lights.on(point.at, normal) * (isFront ? colors.front : colors.back));
    }
    if (!pictures) continue;
    showPicture(face, isFront, pictures[shown.lastIndex()]);
    pictures[shown.lastIndex()].tints = !paint;
  }
  sprite.red = sprite.green = sprite.blue = 1;
  return shown.finish(sprite);
}

}  // namespace comet
