// How the cards of an emitter look.
#pragma once

#include "base/unit_table.h"
#include "render/course.h"
#include "render/lights.h"
#include "render/mesh_faces.h"
#include "render/stamp_cache.h"
#include "simulation/cards/card_shape.h"

#include <memory>
#include <optional>
#include <vector>

namespace comet {

struct DrawnParticle;
class SpritePaint;

class CardLook {
 public:
  CardLook(const Item& emitter, double frame, StampCache& stamps);

  const CardRule& rule() const { return rule_; }
  std::size_t faces() const { return triangles_.size(); }
  bool hasPictures() const { return front_ || back_; }
  // The colour of the back before anything is done to it; nothing if it is that of the front.
  std::optional<Vec3d> backColor(const ParticleFacts& state, const RandomSource& random) const;

  // The points of a card whose longer side is shown as `size` units.
  void shape(const DrawnParticle& particle, double size, std::vector<CardPoint>& points) const;

  struct Colors {
    Vec3d front, back;
  };
  // Writes the faces that are seen, and the pictures that they show if there are any; false if there is
  // nothing to see. With `paint` what that says in place of light. Sets where the sprite is, and its colour.
  bool draw(const DrawnParticle& particle, double size, const Colors& colors, const SceneLights& lights,
            const Projector& projector, const SpritePaint* paint, Sprite& sprite, MeshView& seen,
            MeshFace* faces, FacePicture* pictures) const;

 private:
  void showPicture(const Mesh::Triangle& face, bool isFront, FacePicture& shown) const;

  CardRule rule_;
  std::vector<Mesh::Triangle> triangles_;
  std::shared_ptr<const StampSet> front_, back_;  // null for none
  bool hasOwnBack_;
  CourseInput backInput_;
  UnitTable<Vec3> backColor_;
};

}  // namespace comet
