#include "gas/advect.h"
#include "simulation/influences/influences.h"

#include <array>
#include <glm/vector_relational.hpp>

namespace comet {
namespace {

// Particles are carried or pushed by the velocity of a gas, as it is when the step begins.
class GasFlow : public InfluenceAction {
 public:
  struct Effect {
    ItemId gas = 0;
    bool carries = true;
    double strength = 0;  // fraction of the gas's velocity that the air has, or 1/s
    double airDrag = 0;   // of air that carries, 1/s
    bool goesOn = false;  // beyond the box, as at its walls
  };

  explicit GasFlow(const Effect& effect, const PackedGas* gas = nullptr) : effect_(effect) {
    if (!gas) return;
    grid_ = gas->grid();
    velocity_ = gas->velocity();
  }

  void describe(Hasher& hasher) const override {
    hasher << effect_.gas << effect_.carries << effect_.strength << effect_.airDrag << effect_.goesOn;
  }
  bool readsPositions() const override { return true; }

  std::shared_ptr<const InfluenceAction> seeing(const Surroundings& around) const override {
    const auto gas = around.gases.find(effect_.gas);
    return gas ? std::make_shared<const GasFlow>(effect_, gas.get()) : nullptr;
  }

  void addTo(Forces& forces, const Samples& samples, const Substep&, const Weights& weights) const override {
    if (velocity_[0].empty()) return;
    ChunkArray inside;
    for (std::size_t i = 0; i < samples.count; ++i)
      inside[i] = isReached(samples.position(i)) ? static_cast<float>(weights.of(i)) : 0.0F;
    const Weights own{0, inside.data()};
    if (effect_.carries) forces.addWind(Vec3d(0.0), effect_.airDrag, own, samples.count);
    const FlowBetweenFaces flow(grid_, velocity_);
    (effect_.carries ? forces.air : forces.force).addEach(own, samples.count, [&](std::size_t i) {
      return effect_.strength * flow.at(samples.position(i));
    });
  }

 private:
  bool isReached(const Vec3d& position) const {
    return effect_.goesOn || (glm::all(glm::greaterThanEqual(position, grid_.corner)) &&
                              glm::all(glm::lessThanEqual(position, grid_.corner + grid_.size())));
  }

  Effect effect_;
  GasGrid grid_;
  GasVelocity velocity_;
};

const KindSpec& gasFlowSpec() {
  const auto own = [](ParamSpec spec) { return std::move(spec.in("Gas flow")); };
  static const KindSpec kind(
      "gas_flow", "Gas flow", ItemFamily::Influence, "Carries particles along with a gas.",
      influenceParams({
          own(reference("gas", "Gas", RefersTo::Gas)).tip("The gas whose velocity moves the particles."),
          own(choice("acts_as", "Acts as",
                     {{"wind", "Moving air", "Particles drift along with the gas."},
                      {"force", "Force", "The gas pushes particles, which gather speed."}}))
              .tip("How the gas moves particles."),
          own(number("carried", "Carried", 100))
              .unit("%")
              .range(-1000, 1000)
              .usual(0, 200)
              .keyed()
              .when("acts_as", {"wind"})
              .tip("The percentage of the gas's velocity with which the air around particles moves."),
          own(number("air_drag", "Air drag", 8))
              .unit("/s")
              .range(0.001, 1000)
              .usual(0.1, 20)
              .keyed()
              .when("acts_as", {"wind"})
              .tip("How quickly particles take on that velocity: at 1, two thirds of it within a second."),
          own(number("strength", "Strength", 4))
              .unit("/s")
              .range(-10000, 10000)
              .usual(0, 40)
              .keyed()
              .when("acts_as", {"force"})
              .tip("How hard the gas pushes, for each unit of its speed."),
          own(choice("outside", "Outside the box",
                     {{"nothing", "Nothing", "Particles outside of the gas's box are left alone."},
                      {"edge", "As at its walls", "Particles outside move as the gas at the nearest wall."}}))
              .tip("What the gas does to particles outside of its box."),
      }));
  return kind;
}

}  // namespace

InfluenceKind gasFlowInfluence() {
  return {.spec = gasFlowSpec(),
          .group = InfluenceGroup::Air,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            GasFlow::Effect effect;
            effect.gas = item.reference("gas");
            effect.carries = item.chooses("acts_as", "wind");
            effect.strength =
                effect.carries ? item.number("carried", frame) / 100 : item.number("strength", frame);
            if (effect.carries) effect.airDrag = item.number("air_drag", frame);
            effect.goesOn = item.chooses("outside", "edge");
            return std::make_unique<GasFlow>(effect);
          },
          .movesGas = false,
          .repeats = false};
}

}  // namespace comet
