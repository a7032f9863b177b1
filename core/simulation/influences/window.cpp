#include "simulation/influences/window.h"

#include <algorithm>
#include <limits>

namespace comet {
namespace {

// From 0 to 1 over `length`, rounded off at both ends; a step if there is no length. `past` is what lies
// behind the beginning.
double softStep(double past, double length) {
  if (length <= 0) return past >= 0 ? 1 : 0;
  const double t = std::clamp(past / length, 0.0, 1.0);
  return t * t * (3 - 2 * t);
}

}  // namespace

double activityAt(const Item& influence, double frame) {
  if (influence.chooses("acts", "always")) return 1;
  const double from = influence.number("acts_from", frame), until = influence.number("acts_until", frame);
  if (frame < from || frame > until) return 0;
  return softStep(frame - from, influence.number("fade_in", frame)) *
         softStep(until - frame, influence.number("fade_out", frame));
}

double activityBetween(const Item& influence, double from, double until) {
  if (until <= from) return activityAt(influence, from);
  if (influence.chooses("acts", "always")) return 1;
  const double middle = 0.5 * (from + until);
  const double first = std::max(from, influence.number("acts_from", middle));
  const double last = std::min(until, influence.number("acts_until", middle));
  return last > first ? activityAt(influence, 0.5 * (first + last)) * (last - first) / (until - from) : 0;
}

AgeWindow::AgeWindow(const Item& influence, double frame) : isOpen_(influence.chooses("age_range", "all")) {
  if (isOpen_) return;
  from_ = {influence.number("age_from", frame), influence.value("age_from").variation};
  until_ = {influence.number("age_until", frame), influence.value("age_until").variation};
  if (influence.chooses("age_range", "from")) until_ = {std::numeric_limits<double>::infinity(), 0};
  if (influence.chooses("age_range", "until")) from_ = {0, 0};
  soft_ = influence.number("age_fade", frame);
  random_ = RandomSource(mixBits(influence.id));
}

float AgeWindow::at(ParticleId id, double age) const {
  if (isOpen_) return 1;
  const auto own = [&](const Varied& varied, Draw draw) {
    return varied.variation > 0 ? varied.pick(random_.signedUnit(id, draw)) : varied.value;
  };
  const double from = own(from_, Draw::AgeFrom), until = own(until_, Draw::AgeUntil);
  // At birth there is nothing to fade in from.
  const double begun = from <= 0 ? 1 : softStep(age - from, soft_);
  return static_cast<float>(begun * softStep(until - age, soft_));
}

void AgeWindow::describe(Hasher& hasher) const {
  hasher << isOpen_;
  if (isOpen_) return;
  hasher << from_.value << from_.variation << until_.value << until_.variation << soft_ << random_.key();
}

std::vector<ParamSpec> windowParams() {
  const auto frameNumber = [](const char* id, const char* label, double value) {
    return number(id, label, value)
        .in("When")
        .range(-100000, 100000)
        .usual(1, 200)
        .when("acts", {"frame_range"});
  };
  const auto seconds = [](const char* id, const char* label, double value) {
    return number(id, label, value).in("When").unit("s").range(0, 100000).usual(0, 10);
  };
  return {
      choice("acts", "Acts",
             {{"always", "Always", "It acts in all frames."},
              {"frame_range", "Frame range", "It acts only from one frame to another."}})
          .in("When")
          .tip("When the influence acts."),
      frameNumber("acts_from", "From frame", 1).frame().tip("The first frame in which it acts."),
      frameNumber("acts_until", "Until frame", 48).frame().tip("The last frame in which it acts."),
      frameNumber("fade_in", "Fade in", 0)
          .unit("frames")
          .range(0, 100000)
          .usual(0, 48)
          .tip("The number of frames over which it grows to its full strength."),
      frameNumber("fade_out", "Fade out", 0)
          .unit("frames")
          .range(0, 100000)
          .usual(0, 48)
          .tip("The number of frames before its end over which it loses its strength."),
      choice("age_range", "Age range",
             {{"all", "All", "It acts at all ages."},
              {"from", "From an age", "It acts on particles of this age and older."},
              {"until", "Until an age", "It acts on particles of this age and younger."},
              {"between", "Between ages", "It acts from one age to another."}})
          .in("When")
          .tip("The ages of the particles on which the influence acts."),
      seconds("age_from", "From age", 0.5)
          .varied()
          .when("age_range", {"from", "between"})
          .tip("Younger particles are left alone. With ±, each particle has its own age."),
      seconds("age_until", "Until age", 1.5)
          .varied()
          .when("age_range", {"until", "between"})
          .tip("Older particles are left alone. With ±, each particle has its own age."),
      seconds("age_fade", "Age fade", 0)
          .when("age_range", {"from", "until", "between"})
          .tip("How long the influence takes to fade in and out as a particle comes into this age range and "
               "leaves it."),
  };
}

}  // namespace comet
