#include "base/random.h"
#include "simulation/emission/varied.h"
#include "simulation/influences/influences.h"

#include <array>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// Turns sprites, and leaves their way as it is. How far each has been turned has to be remembered, since it
// depends on where the particle has been and when.
class Spin : public InfluenceAction {
 public:
  Spin(const Item& item, double frame)
      : by_(item.choiceAs<By>("spin_mode", std::array<std::string_view, 2>{"time", "distance"})),
        bothWays_(item.chooses("spin_direction", "random")),
        random_(item.id) {
    const char* param = by_ == By::Time ? "rate" : "per_unit";
    rate_ = {radians(item.number(param, frame)), radians(item.value(param).variation)};
  }

  void describe(Hasher& hasher) const override {
    hasher << by_ << bothWays_ << random_.key();
    rate_.describe(hasher);
  }

  FieldSet remembers() const override { return {ParticleStore::Turn}; }
  bool corrects() const override { return true; }

  void correct(Chunk& chunk, const Substep&, const Durations& durations, const Masses&,
               const Weights& weights) const override {
    float* turn = chunk.field(ParticleStore::Turn);
    for (std::size_t i = 0; i < chunk.count; ++i) {
      double angle = rateOf(chunk.ids[i]) * weights.of(i) * durations.of(i);
      if (by_ == By::Way) angle *= glm::length(chunk.velocity(i));
      turn[i] += static_cast<float>(angle);
    }
  }

 private:
  enum class By { Time, Way };

  double rateOf(ParticleId id) const {
    const double rate = rate_.pick(random_.signedUnit(id, Draw::SpinRate));
    return bothWays_ && random_.unit(id, Draw::SpinWay) < 0.5 ? -rate : rate;
  }

  By by_;
  bool bothWays_;
  RandomSource random_;
  Varied rate_;  // radians per second, or per unit
};

const KindSpec& spinSpec() {
  static const KindSpec kind(
      "spin", "Spin", ItemFamily::Influence,
      "Rotates sprites while it acts, without changing their paths. It adds to the sprites' own spin.",
      influenceParams({
          choice("spin_mode", "Spin by",
                 {{"time", "Time", "Sprites rotate by a given angle in each second."},
                  {"distance", "Distance",
                   "Sprites rotate by a given angle for each unit that they travel, as a wheel rolls."}})
              .in("Spin")
              .tip("What the rotation depends on."),
          number("rate", "Rate", 180)
              .in("Spin")
              .unit("°/s")
              .range(-36000, 36000)
              .usual(-720, 720)
              .keyed()
              .varied()
              .when("spin_mode", {"time"})
              .tip("The angular speed of sprites, clockwise in the picture. With ±, each has its own."),
          number("per_unit", "Per unit", 90)
              .in("Spin")
              .unit("°/unit")
              .range(-36000, 36000)
              .usual(-360, 360)
              .keyed()
              .varied()
              .when("spin_mode", {"distance"})
              .tip("The rotation for each unit that a particle travels."),
          choice("spin_direction", "Direction",
                 {{"one", "One", "All rotate in the same direction."},
                  {"random", "Random", "Each rotates one way or the other at random."}})
              .in("Spin")
              .tip("The direction in which sprites rotate."),
      }));
  return kind;
}

}  // namespace

InfluenceKind spinInfluence() {
  return {.spec = spinSpec(),
          .group = InfluenceGroup::Force,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Spin>(item, time.middleFrame());
          },
          .feelsMass = false,
          .movesGas = false,
          .movesCards = false};
}

}  // namespace comet
