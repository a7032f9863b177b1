#include "simulation/cards/card_rule.h"

#include <algorithm>
#include <cmath>
#include <glm/gtc/quaternion.hpp>
#include <limits>

namespace comet {
namespace {

// Where a unit is a metre: writing paper of 80 g/m² has about this bending stiffness, in N m.
constexpr double kPaperBending = 5e-4;
// Newtons along each unit at a stiffness of 50 %.
constexpr double kHalfStiff = 10;
// Of air at rest near the ground, kg/m³.
constexpr double kAirDensity = 1.2;

double fractionOf(const Item& emitter, const char* param, double frame) {
  return emitter.number(param, frame) / 100;
}

// From percent, of which 100 gives way to nothing.
double stiffnessOf(const Item& emitter, const char* param, double frame) {
  const double fraction = fractionOf(emitter, param, frame);
  return fraction < 1 ? kHalfStiff * fraction / (1 - fraction) : std::numeric_limits<double>::infinity();
}

Varied angleOf(const Item& emitter, const char* param, double frame) {
  return {radians(emitter.number(param, frame)), radians(emitter.value(param).variation)};
}

}  // namespace

CardGrid cardGridOf(const Item& emitter) {
  return {emitter.integer("card_cells_across", 0), emitter.integer("card_cells_along", 0)};
}

CardRule::CardRule(const Item& emitter, double frame)
    : grid_(cardGridOf(emitter)),
      size_(emitter, frame),
      random_(lookRandom(emitter, frame)),
      width_(std::min(1.0, emitter.number("aspect_ratio", frame))),
      length_(std::min(1.0, 1 / emitter.number("aspect_ratio", frame))),
      thickness_(emitter.number("card_thickness", frame)),
      massByArea_(emitter.number("card_mass", frame) / 1000),
      stretch_(stiffnessOf(emitter, "card_stretch_stiffness", frame)),
      shear_(stiffnessOf(emitter, "card_shear_stiffness", frame)),
      bending_(kPaperBending * fractionOf(emitter, "card_bending_stiffness", frame)),
      airDensity_(kAirDensity * fractionOf(emitter, "card_air_resistance", frame)),
      steps_(emitter.integer("card_steps", frame)),
      curl_(angleOf(emitter, "card_curl", frame)),
      facing_(facingOf(emitter)),
      planeNormal_(planeNormalOf(emitter, frame)),
      rotation_(angleOf(emitter, "sprite_rotation", frame)),
      spin_(angleOf(emitter, "spin", frame)) {}

std::vector<Vec3d> CardRule::restPoints(double size, double curl) const {
  const double cellWide = width_ * size / grid_.across, cellLong = length_ * size / grid_.along;
  const double turn = curl / grid_.along;
  // Row by row along the arc, each cell turned by as much against the one before it.
  std::vector<Vec2d> rows(1, Vec2d(0.0));
  Vec2d middle(0.0);
  for (int row = 0; row < grid_.along; ++row) {
    const double angle = turn * (row - 0.5 * (grid_.along - 1));
    rows.push_back(rows.back() + cellLong * Vec2d(std::cos(angle), std::sin(angle)));
  }
  for (std::size_t row = 0; row < rows.size(); ++row)
    middle += rows[row] * (grid_.areaOf(grid_.at(1, row)) * grid_.across);
  std::vector<Vec3d> points;
  for (const Vec2d& row : rows)
    for (std::size_t column = 0; column < grid_.columns(); ++column)
      points.emplace_back(cellWide * (static_cast<double>(column) - 0.5 * grid_.across), row.y - middle.y,
                          row.x - middle.x);
  return points;
}

Mat3d CardRule::rotation(ParticleId id, const Vec3d& velocity, const Vec3d& launch) const {
  const double angle = rotation_.pick(random_.signedUnit(id, Draw::Rotation));
  if (tumbles(facing_)) return glm::mat3_cast(glm::angleAxis(angle, tumblingAxis(id, random_)));
  if (facing_ == Facing::Plane) return standing(planeNormal_, angle);
  // Along its way.
  const Vec3d path = unitOr(facing_ == Facing::Motion ? velocity : launch, Vec3d(0, 1, 0));
  return standing(path, angle) * Mat3d(Vec3d(1, 0, 0), Vec3d(0, 0, -1), Vec3d(0, 1, 0));
}

Vec3d CardRule::spin(ParticleId id, const Mat3d& rotation) const {
  const double rate = spin_.pick(random_.signedUnit(id, Draw::Spin));
  return rate * (tumbles(facing_)           ? tumblingAxis(id, random_)
                 : facing_ == Facing::Plane ? planeNormal_
                                            : rotation * Vec3d(0, 0, 1));
}

void CardRule::place(ParticleId id, const Vec3d& position, const Vec3d& velocity, const Vec3d& launch,
                     float* body) const {
  const Mat3d rotation = this->rotation(id, velocity, launch);
  const Vec3d spin = this->spin(id, rotation);
  const std::vector<Vec3d> rest = restPoints(size(id), curl(id));
  for (std::size_t point = 0; point < rest.size(); ++point) {
    const Vec3d from = rotation * rest[point];
    const Vec3d at = position + from, moves = velocity + glm::cross(spin, from);
    for (int axis = 0; axis < 3; ++axis) {
      const auto number = static_cast<std::size_t>(axis);
      body[(CardBody::PositionX + number) * rest.size() + point] = static_cast<float>(at[axis]);
      body[(CardBody::VelocityX + number) * rest.size() + point] = static_cast<float>(moves[axis]);
    }
    body[CardBody::Held * rest.size() + point] = 0;
  }
  body[CardBody::kCount * rest.size()] = static_cast<float>(grid_.across);
}

void CardRule::describe(Hasher& hasher) const {
  hasher << grid_.across << grid_.along << width_ << length_ << thickness_ << massByArea_ << stretch_
         << shear_ << bending_ << airDensity_ << steps_ << facing_;
  size_.describe(hasher);
  for (int axis = 0; axis < 3; ++axis) hasher << planeNormal_[axis];
  for (const Varied* varied : {&curl_, &rotation_, &spin_}) varied->describe(hasher);
}

}  // namespace comet
