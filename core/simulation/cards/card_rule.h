// The cards of one emitter at one frame, evaluated: what they are made of, and how they are born.
//
// A card's own axes are x from side to side, y away from its front, and z along it; at rest it lies in the
// plane of x and z, its middle at zero, or is bent about x by its curl.
#pragma once

#include "base/digest.h"
#include "base/random.h"
#include "scene/item.h"
#include "simulation/cards/card_grid.h"
#include "simulation/emission/facing.h"
#include "simulation/emission/size.h"
#include "simulation/emission/varied.h"

#include <vector>

namespace comet {

inline bool showsCards(const Item& emitter) { return emitter.chooses("sprite", "card"); }

CardGrid cardGridOf(const Item& emitter);

class CardRule {
 public:
  CardRule(const Item& emitter, double frame);

  const CardGrid& grid() const { return grid_; }
  // The length of the longer side, units.
  double size(ParticleId id) const { return size_.diameter(id); }
  // Of a card whose longer side is one: its sides.
  double width() const { return width_; }
  double length() const { return length_; }
  double thickness() const { return thickness_; }  // units

  double massByArea() const { return massByArea_; }  // kg/unit²
  // Newtons along each unit of width for stretching a card to twice its length, or for shearing it; infinite
  // if it does neither.
  double stretchStiffness() const { return stretch_; }
  double shearStiffness() const { return shear_; }
  double bendingStiffness() const { return bending_; }  // by width, N units
  double airDensity() const { return airDensity_; }     // kg/unit³
  int steps() const { return steps_; }                  // of a substep

  // The angle by which a card is bent at rest over all of its length, radians.
  bool isCurled() const { return curl_.value != 0 || curl_.variation != 0; }
  double curl(ParticleId id) const { return curl_.pick(random_.signedUnit(id, Draw::CardCurl)); }

  // The points of a card of this size and curl at rest, in its own axes.
  std::vector<Vec3d> restPoints(double size, double curl) const;

  // How a card stands that is born with this velocity and launch, and how fast it spins, rad/s about each
  // axis.
  Mat3d rotation(ParticleId id, const Vec3d& velocity, const Vec3d& launch) const;
  Vec3d spin(ParticleId id, const Mat3d& rotation) const;

  // Sets the body of a card at its birth; also of one that is there already and has none.
  void place(ParticleId id, const Vec3d& position, const Vec3d& velocity, const Vec3d& launch,
             float* body) const;

  void describe(Hasher& hasher) const;

 private:
  CardGrid grid_;
  BirthSize size_;
  RandomSource random_;
  double width_, length_, thickness_;
  double massByArea_, stretch_, shear_, bending_, airDensity_;
  int steps_;
  Varied curl_;  // radians
  Facing facing_;
  Vec3d planeNormal_;
  Varied rotation_, spin_;  // radians, rad/s
};

}  // namespace comet
