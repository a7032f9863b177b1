#include "simulation/influences/flow.h"

#include <array>
#include <iterator>

namespace comet {

FlowEffect::FlowEffect(const Item& item, double frame)
    : mode(item.choiceAs<Mode>("acts_as", std::array<std::string_view, 3>{"force", "wind", "displacement"})) {
  static constexpr std::array<const char*, 3> kStrengths{"strength", "air_speed", "amount"};
  strength = item.number(kStrengths[static_cast<std::size_t>(mode)], frame);
  if (mode == Mode::Carry) airDrag = item.number("air_drag", frame);
}

void Flow::describe(Hasher& hasher) const { hasher << effect_.mode << effect_.strength << effect_.airDrag; }

void Flow::addTo(Forces& forces, const Samples& samples, const Substep& substep,
                 const Weights& weights) const {
  if (displaces()) return;
  const bool carries = effect_.mode == FlowEffect::Mode::Carry;
  if (carries) forces.addWind(Vec3d(0.0), effect_.airDrag, weights, samples.count);
  addVectors(carries ? forces.air : forces.force, effect_.strength, samples, substep.middle(), weights);
}

std::vector<ParamSpec> flowParams(const FlowParams& params, std::vector<ParamSpec> own) {
  const auto strength = [&params](const char* id, const char* label, double value, const char* unit,
                                  const char* path) {
    return number(id, label, value)
        .in(params.section)
        .unit(unit)
        .range(-10000, 10000)
        .usual(0, 40)
        .keyed()
        .when("acts_as", {path});
  };
  std::vector<ParamSpec> all{
      choice(
          "acts_as", "Acts as",
          {{"force", "Force", "It pushes particles, which gather speed: restless, with wide swings."},
           {"wind", "Moving air", "Particles drift with it as with moving air: flowing, without overshoot."},
           {"displacement", "Displacement",
            "Particles are drawn aside from their paths and go on as without it: nothing adds up, so that "
            "they never stray far."}})
          .in(params.section)
          .tip("How it moves particles."),
      strength("strength", "Strength", params.strength, "units/s²", "force")
          .tip("How hard the " + params.what + " pushes."),
      strength("air_speed", "Air speed", params.speed, "units/s", "wind")
          .usual(0, 20)
          .tip("About how fast the air of the " + params.what + " moves."),
      number("air_drag", "Air drag", 4)
          .in(params.section)
          .unit("/s")
          .range(0.001, 1000)
          .usual(0.1, 20)
          .keyed()
          .when("acts_as", {"wind"})
          .tip("How quickly particles take on the air's velocity: at 1, two thirds of it within a second."),
      strength("amount", "Amount", params.amount, "units", "displacement")
          .usual(0, 5)
          .tip("About how far the " + params.what + " shows particles from where they are."),
  };
  all.insert(all.end(), std::make_move_iterator(own.begin()), std::make_move_iterator(own.end()));
  return influenceParams(std::move(all));
}

}  // namespace comet
