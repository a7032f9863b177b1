// From particles to sprites: everything that is derived when drawing.
//
// Size, turn, opacity and colour come from a particle's identity, its age and speed, and the emitter's
// parameters; nothing of it is stored with the particles, so a change of looks never simulates anything
// again.
#pragma once

#include "render/camera.h"
#include "render/card_look.h"
#include "render/course.h"
#include "render/lights.h"
#include "render/lines.h"
#include "render/mesh_faces.h"
#include "render/mesh_model.h"
#include "render/sprite.h"
#include "render/stamp_cache.h"
#include "scene/scene.h"
#include "simulation/arrivals/arrival_colors.h"
#include "simulation/birth_recall.h"
#include "simulation/emission/facing.h"
#include "simulation/emission/size.h"
#include "simulation/frame/scene_frame.h"

#include <glm/gtc/quaternion.hpp>
#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace comet {

// A particle as it is drawn.
struct DrawnParticle {
  ParticleFacts state;
  Vec3d velocity{0.0};
  double turn = 0;                // by influences, radians clockwise
  glm::dquat rolled{1, 0, 0, 0};  // how it has turned by rolling
  // Its body, if it has one, and where the particle is of which that is told.
  const float* body = nullptr;
  std::size_t bodyNumbers = 0;
  Vec3d bodyMiddle{0.0};
  double later = 0;  // seconds that it has gone on since
};

// An emitter's look at one frame, evaluated. Read from any thread.
class Look {
 public:
  Look(const Scene& scene, const Item& emitter, double frame, StampCache& stamps);

  const SpriteProfile& profile() const { return profile_; }
  // Whether glow is the same fraction of the light for all particles, and that fraction.
  bool hasConstantGlow() const { return glow_.isConstant(); }
  double constantGlow() const { return glow_.constant(); }

  double diameter(const ParticleFacts& state) const;
  double opacity(const ParticleFacts& state) const;
  // Linear light, brightness included. `age` in seconds.
  Vec3d color(const ParticleFacts& state, double age) const;
  double glow(const ParticleFacts& state) const { return std::max(0.0, glow_.of(state, random_)); }

  // How many faces a particle's mesh or card has; none if it shows something else.
  std::size_t facesPerParticle() const { return card_ ? card_->faces() : model_ ? model_->triangles() : 0; }
  // Null if particles show no cards.
  const CardLook* cards() const { return card_ ? &*card_ : nullptr; }
  // The colour of a card's back, as color().
  Vec3d backColor(const ParticleFacts& state, double age) const;

  // The sprite of a particle, at a place in the picture where a unit is so many pixels; false if there is
  // nothing to see. `turn` is set if the profile is turned. The sprite's place, size, colour and opacity are
  // set, not its depth and indices.
  bool draw(const DrawnParticle& particle, const SceneLights& lights, const Projector& projector,
            const Projector::Point& point, Sprite& sprite, SpriteTurn& turn) const;
  // The same of one that shows a mesh or a card: writes its faces that are seen, at most facesPerParticle,
  // and the pictures that they show if the profile has any, and sets how many they are and how far they
  // reach. What `paint` says of cards is drawn in place of their light.
  bool drawMesh(const DrawnParticle& particle, const SceneLights& lights, const Projector& projector,
                const SpritePaint* paint, Sprite& sprite, MeshView& seen, MeshFace* faces,
                FacePicture* pictures) const;

 private:
  // What a child takes over from the particle that it comes from.
  struct Inheritance {
    std::map<ItemId, std::unique_ptr<const Look>> looks;  // of the emitters that parents are of
    double size = 0, opacity = 0, color = 0;              // fractions

    // Null if the parent's emitter gives births no more.
    const Look* lookOf(const ParticleFacts& parent) const;

    // The parent as it was at the birth.
    static ParticleFacts parentOf(const ParticleFacts& child);
  };
  static std::optional<Inheritance> inheritanceOf(const Scene& scene, const Item& emitter, double frame,
                                                  StampCache& stamps);

  // What a sprite's light is multiplied with by the place of its particle.
  double fadeAt(const Vec3d& position) const;
  Mat3d meshTurn(const DrawnParticle& particle) const;
  // Of what tumbles; x goes across a sprite, y up, z to the one who sees its front.
  Mat3d tumbled(const DrawnParticle& particle) const;
  // On a thin sheet at a place of the picture.
  static Vec3d lightOnSeenSide(const Vec3d& place, const Vec3d& normal, const SceneLights& lights,
                               const Projector& projector, const Projector::Point& point);
  // Radians, clockwise in the picture.
  double rotation(const DrawnParticle& particle) const;
  // Half of the sprite's width and height, as vectors in the picture, pixels. `tumble` is set if it tumbles.
  void axes(const DrawnParticle& particle, const std::optional<Mat3d>& tumble, const Projector& projector,
            double pixelsPerUnit, double width, double height, Vec2d& across, Vec2d& down) const;
  bool setTurn(const DrawnParticle& particle, const std::optional<Mat3d>& tumble, const Projector& projector,
               double pixelsPerUnit, double diameter, Sprite& sprite, SpriteTurn& turn) const;
  bool drawModel(const DrawnParticle& particle, double size, const SceneLights& lights,
                 const Projector& projector, Sprite& sprite, MeshView& seen, MeshFace* faces) const;
  Vec3d finished(Vec3d color, const ParticleFacts& state) const;
  void setStamps(const DrawnParticle& particle, SpriteTurn& turn) const;
  void setCell(const DrawnParticle& particle, std::size_t stamps, SpriteTurn& turn) const;

  SpriteProfile profile_;
  RandomSource random_;
  BirthSize size_;
  Course sizeCourse_, opacity_, stretch_, rotation_, spin_, glow_, book_;  // angles in radians
  double aspect_;
  Facing facing_;
  Vec3d planeAcross_{1, 0, 0}, planeDown_{0, 0, 1};
  Vec2d pivot_{0.0};  // in the sprite's own coordinates, -1 to 1
  double groundFade_;
  CourseInput colorInput_;
  UnitTable<Vec3> color_;
  bool adjustsColor_;
  Course hue_, saturation_, value_;  // turns, fraction, fraction
  double brightness_;
  enum class BookPlay { Age, Rate, One } bookPlay_ = BookPlay::Age;
  bool isBook_ = false, isPuff_ = false, bookMixes_ = false, bookStartsAnywhere_ = false;
  double bookRate_ = 0;
  std::size_t bookVariants_ = 1;
  std::optional<BirthRecall> births_;  // if the launch or the birth picture is asked for
  bool colorFromBirth_ = false;
  ArrivalColors arrivalColors_;
  std::shared_ptr<const MeshModel> model_;
  std::optional<CardLook> card_;
  bool isFlatShaded_ = false;
  Vec3d up_{0, 1, 0};  // of meshes that lie in a plane: its normal
  bool isLit_ = false;
  std::optional<Inheritance> inherits_;
};

// Whether what is blended so only adds light and covers nothing.
bool isLightOnly(Blend blend);
// A profile for painting: of a picture, coverage alone is left.
SpriteProfile paintProfile(SpriteProfile profile);
// What `value` becomes for light, or a cover, of this colour.
Vec3d painted(const Vec2d& value, const Vec3d& color, bool isLight);

// How an emitter's sprites are laid over what is behind them.
Blend blendOf(const Item& emitter);

// How an emitter's colours between two stops are made.
ColorMix colorMixOf(const Item& emitter);

// Fraction of its life that a particle has behind it, 0 to 1.
double lifeFraction(float age, float lifetime);

DrawnParticle drawnParticle(const ParticleStore& particles, std::size_t index);

class GasPlace;

// A point of a card as it is drawn.
struct CardCorner {
  const DrawnParticle& card;
  std::size_t point;
  Vec3d at, velocity;
  Vec3d normal;  // of the side that is seen
};

// What is drawn of particles in place of their light, so that a picture says for each pixel what is true of
// the particles that are seen there. Called from many threads.
class SpritePaint {
 public:
  SpritePaint() = default;
  virtual ~SpritePaint() = default;
  SpritePaint(const SpritePaint&) = delete;
  SpritePaint& operator=(const SpritePaint&) = delete;

  // The sprite has its place and size by then.
  virtual Vec2d of(const DrawnParticle& particle, const Sprite& sprite, const Projector::Point& point,
                   const Projector& projector) const = 0;
  // Of a point of a card; as of a particle that is there, unless it says anything else.
  virtual Vec2d ofCard(const CardCorner& corner, const Projector::Point& point,
                       const Projector& projector) const;
  // Of the points of a trail, into `values`: zeros unless it says something of them. Of other lines nothing
  // is drawn.
  virtual void ofTrail(const std::vector<LinePoint>& points, const Projector& projector,
                       std::vector<Vec2d>& values) const;
  // Of a place in a gas; nothing if it has nothing to say of gas, which then only hides what is behind it.
  virtual std::optional<Vec2d> ofGas(const GasPlace& place, const Projector& projector) const;
};

// How sprites are made from particles.
struct SpriteOptions {
  std::uint32_t profile = 0;    // index
  std::uint32_t firstTurn = 0;  // index of the first turn or mesh that may be used
  std::uint32_t firstFace = 0;  // the same of faces
  double later = 0;             // seconds that each particle goes on along its velocity
  // With all of their light, with what they give to the glow, or as what hides others' light.
  enum class Light { All, Glow, None } light = Light::All;
  enum class Order { Depth, Oldest, Youngest } order = Order::Depth;
  // Red and green are what it says, blue is 1; all times how bright the light is, if it is only added to what
  // is behind it.
  const SpritePaint* paint = nullptr;
  bool isLight = false;  // only adds

  // What is drawn of light of which `glow` is given to the glow.
  float fraction(double glow) const {
    return light == Light::All ? 1 : light == Light::Glow ? static_cast<float>(glow) : 0;
  }
};

// Where sprites are written to: room for one of each particle; also for a turn if the look's profile is
// turned; if it shows meshes, for one, and for as many faces as each of them has.
struct SpriteRoom {
  Sprite* sprites;
  SpriteTurn* turns = nullptr;
  MeshView* meshes = nullptr;
  MeshFace* faces = nullptr;
  FacePicture* pictures = nullptr;  // as many, if the look's profile has pictures
};

// The sprites of particles `first` to `first + count` of a group that can be seen; returns how many.
std::size_t makeSprites(const Look& look, const SceneLights& lights, const SpriteOptions& options,
                        const ParticleStore& particles, std::size_t first, std::size_t count,
                        const Projector& projector, int width, int height, const SpriteRoom& room);

}  // namespace comet
