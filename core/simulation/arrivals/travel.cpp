#include "simulation/arrivals/travel.h"

#include "base/noise.h"

#include <algorithm>
#include <array>
#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr double kShortestTravel = 1e-3;  // seconds

}  // namespace

Travel::Travel(const Item& influence, double frame)
    : random_(mixBits(influence.id)),
      seconds_{influence.number("travel_time", frame), influence.value("travel_time").variation},
      easing_(influence.choiceAs<Easing>(
          "easing", std::array<std::string_view, 4>{"ease_in_out", "linear", "ease_in", "ease_out"})),
      arc_(influence.number("arc", frame) / 100),
      arcDirection_(unitOr(influence.vector("arc_direction", frame), Vec3d(0, 1, 0))),
      noise_(influence.number("path_noise", frame)),
      noiseRate_(influence.number("path_noise_rate", frame)) {}

double Travel::secondsOf(ParticleId id) const {
  return std::max(kShortestTravel, seconds_.pick(random_.signedUnit(id, Draw::ArriveTime)));
}

double Travel::eased(double travelled) const {
  const double s = travelled;
  switch (easing_) {
    case Easing::Both:
      return s * s * (3 - 2 * s);
    case Easing::None:
      return s;
    case Easing::In:
      return s * s;
    case Easing::Out:
      return s * (2 - s);
  }
  return s;
}

Vec3d Travel::at(ParticleId id, const Arrival& arrival, const Vec3d& point) const {
  const double s = arrival.travelled();
  if (s >= 1) return point;
  const double done = eased(s), seconds = s * secondsOf(id);
  // Nothing at both ends of the way.
  const double aside = 4 * done * (1 - done);
  Vec3d at = glm::mix(arrival.from + arrival.speed * seconds, point, done);
  if (arc_ != 0) at += arcDirection_ * (arc_ * aside * glm::length(point - arrival.from));
  if (noise_ > 0)
    at +=
        smoothNoise3(Vec3d(seconds * noiseRate_, 0.37, 0.71), combineKeys(random_.key(), withoutCycle(id))) *
        (noise_ * aside);
  return at;
}

void Travel::describe(Hasher& hasher) const {
  hasher << random_.key() << easing_ << arc_ << arcDirection_ << noise_ << noiseRate_;
  seconds_.describe(hasher);
}

}  // namespace comet
