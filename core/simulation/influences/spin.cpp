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
      : by_(item.choiceAs<By>("turns_by", std::array<std::string_view, 2>{"time", "way"})),
        bothWays_(item.chooses("ways", "both")),
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
      "Turns sprites while it acts, and leaves their way as it is. It adds to the spin of their own.",
      influenceParams({
          choice("turns_by", "Turns",
                 {{"time", "As time goes", "So far in each second."},
                  {"way", "As they go", "So far for each unit of their way, as a wheel rolls."}})
              .in("Spin")
              .tip("What the turning goes by."),
          number("rate", "Rate", 180)
              .in("Spin")
              .unit("°/s")
              .range(-36000, 36000)
              .usual(-720, 720)
              .keyed()
              .varied()
              .when("turns_by", {"time"})
              .tip("How fast sprites turn, clockwise in the picture. With ±, each has its own."),
          number("per_unit", "Per unit", 90)
              .in("Spin")
              .unit("°/unit")
              .range(-36000, 36000)
              .usual(-360, 360)
              .keyed()
              .varied()
              .when("turns_by", {"way"})
              .tip("How far sprites turn for each unit that they move."),
          choice("ways", "Ways",
                 {{"one", "All the same", "All turn the same way."},
                  {"both", "Either way", "Each turns one way or the other, by chance."}})
              .in("Spin")
              .tip("Which way sprites turn."),
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
          .feelsMass = false};
}

}  // namespace comet
