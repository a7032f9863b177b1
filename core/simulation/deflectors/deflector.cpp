#include "simulation/deflectors/deflector.h"

#include "particles/rolling.h"
#include "simulation/deflectors/deflector_params.h"
#include "simulation/influences/influences.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/common.hpp>

namespace comet {
namespace {

using OnHit = SurfaceRule::OnHit;

SurfaceRule ruleOf(const Item& item, double frame) {
  SurfaceRule rule;
  rule.onHit =
      item.choiceAs<OnHit>("on_hit", std::array<std::string_view, 4>{"bounce", "slide", "stick", "die"});
  rule.bounce = {item.number("bounce", frame) / 100, item.value("bounce").variation / 100};
  rule.friction = item.number("friction", frame);
  rule.roughness = radians(item.number("roughness", frame));
  rule.pass = item.number("pass_through", frame) / 100;
  rule.stickTime = {item.number("stick_time", frame), item.value("stick_time").variation};
  rule.letGoSpeed = item.number("release_speed", frame);
  rule.hold = item.number("stick_strength", frame);
  rule.ownSize = item.number("particle_radius", frame) / 100;
  rule.isRolledOn = item.flag("rolling") && (rule.onHit == OnHit::Bounce || rule.onHit == OnHit::Slide);
  rule.rollingFriction = item.number("rolling_friction", frame);
  return rule;
}

DeflectorMotion motionOf(const Item& item, const FrameTime& time) {
  const double before = time.length > 0 ? time.frame - 1 : time.frame;
  return DeflectorMotion(item.vector("position", before),
                         rotationFromDegrees(item.vector("rotation", before)),
                         item.vector("position", time.frame),
                         rotationFromDegrees(item.vector("rotation", time.frame)), time.length);
}

// A hundredth of a millimetre where a unit is a metre, and always some steps of the floats that places are
// kept in.
double skinOf(const Item& item, double frame, const DeflectorShape& shape) {
  const Vec3d farthest = glm::abs(item.vector("position", frame)) +
                         (shape.type() == DeflectorShape::Type::Plane ? Vec3d(0.0) : shape.half());
  const double rounding = 2e-6 * std::max({farthest.x, farthest.y, farthest.z});
  // Of a mesh, so much that a way between two hits needs few straight pieces.
  const double fine = shape.mesh() ? 1e-4 * std::max({shape.half().x, shape.half().y, shape.half().z}) : 0;
  return std::max({1e-4, rounding, fine});
}

const KindSpec& deflectorSpec() {
  static const KindSpec kind("deflector", "Deflector", ItemFamily::Influence,
                             "A solid shape that particles collide with: they bounce off it, slide along it, "
                             "stick to it or die. It may move and rotate.",
                             influenceParams(deflectorParams()), {.deflects = true});
  return kind;
}

}  // namespace

void SurfaceRule::describe(Hasher& hasher) const {
  hasher << onHit << friction << roughness << pass << hold << letGoSpeed << ownSize << isRolledOn
         << rollingFriction;
  bounce.describe(hasher);
  stickTime.describe(hasher);
}

Deflector::Deflector(const Item& item, const FrameTime& time, const Progress& progress)
    : shape_(DeflectorShape(item, time.middleFrame()).readyToMeet(progress)),
      motion_(motionOf(item, time)),
      rule_(ruleOf(item, time.middleFrame())),
      random_(combineKeys(item.id, 0x6465666CULL)),
      skin_(skinOf(item, time.middleFrame(), shape_)),
      stepStart_(time.start),
      stepLength_(time.length) {}

FieldSet Deflector::remembers() const {
  FieldSet fields;
  if (rule_.letsGo()) fields |= {ParticleStore::Held};
  if (rule_.isRolledOn) fields |= rollingFields();
  return fields;
}

void Deflector::describe(Hasher& hasher) const {
  shape_.describe(hasher);
  motion_.describe(hasher);
  rule_.describe(hasher);
  hasher << random_.key() << skin_;
}

InfluenceKind deflectorInfluence() {
  return {.spec = deflectorSpec(),
          .group = InfluenceGroup::Deflector,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress& progress) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Deflector>(item, time, progress);
          },
          .feelsMass = false,
          .walls = [](const Item& item, double frame) -> std::vector<PlacedWire> {
            return {{DeflectorShape(item, frame).wire(),
                     {item.vector("position", frame), rotationFromDegrees(item.vector("rotation", frame))}}};
          },
          .notes = {{deflectorSpec().params().front().id, KindNote::About::DeflectorHits}}};
}

}  // namespace comet
