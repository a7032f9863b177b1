#include "base/curl_noise.h"
#include "base/random.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

class Turbulence : public InfluenceAction {
 public:
  Turbulence(const CurlNoise& noise, double strength, double turnsPerSecond, double grip)
      : noise_(noise), strength_(strength), turnsPerSecond_(turnsPerSecond), grip_(grip) {}

  void describe(Hasher& hasher) const override {
    hasher << noise_.scale << noise_.octaves << noise_.seed << strength_ << turnsPerSecond_ << grip_;
  }

  bool readsPositions() const override { return true; }

  void addTo(Forces& forces, const Chunk& chunk, const Substep& substep,
             const Weights& weights) const override {
    Contribution& pushed = grip_ > 0 ? forces.air : forces.force;
    if (grip_ > 0) forces.addWind(Vec3d(0.0), grip_, weights, chunk.count);
    CurlNoise noise = noise_;
    noise.turns = turnsPerSecond_ * substep.middle();
    noise.strength = static_cast<float>(strength_ * (weights.own ? 1 : weights.all));
    const std::array<const float*, 3> places{chunk.middle[0].data(), chunk.middle[1].data(),
                                             chunk.middle[2].data()};
    auto& axes = pushed.own.axes;
    if (!weights.own)
      return addCurlNoise(noise, chunk.count, places, {axes[0].use(), axes[1].use(), axes[2].use()});
    alignas(64) std::array<ChunkArray, 3> swirls;
    for (ChunkArray& axis : swirls) axis.fill(0.0F);
    addCurlNoise(noise, chunk.count, places, {swirls[0].data(), swirls[1].data(), swirls[2].data()});
    for (std::size_t axis = 0; axis < 3; ++axis) {
      float* out = axes[axis].use();
      for (std::size_t i = 0; i < chunk.count; ++i) out[i] += swirls[axis][i] * weights.own[i];
    }
  }

 private:
  CurlNoise noise_;
  double strength_;
  double turnsPerSecond_;
  double grip_;  // 1/s; 0 if it pushes as a force
};

const KindSpec& spec() {
  static const KindSpec kind(
      "turbulence", "Turbulence", ItemFamily::Influence,
      "Pushes particles along swirls of curl noise: they mix without piling up anywhere.",
      influenceParams({
          choice(
              "acts_as", "Acts as",
              {{"force", "Force", "It pushes, and particles gather speed: restless, with wide swings."},
               {"wind", "Moving air", "Particles drift with it at its speed: flowing, without overshoot."}})
              .in("Swirls")
              .tip("How the swirls move particles."),
          number("strength", "Strength", 6)
              .in("Swirls")
              .unit("units/s²")
              .range(-10000, 10000)
              .usual(0, 40)
              .keyed()
              .when("acts_as", {"force"})
              .tip("How hard the swirls push. Embers 3 to 10, smoke 1 to 3."),
          number("air_speed", "Speed", 2)
              .in("Swirls")
              .unit("units/s")
              .range(-10000, 10000)
              .usual(0, 20)
              .keyed()
              .when("acts_as", {"wind"})
              .tip("About how fast the air moves in the swirls."),
          number("grip", "Grip", 4)
              .in("Swirls")
              .unit("/s")
              .range(0.001, 1000)
              .usual(0.1, 20)
              .keyed()
              .when("acts_as", {"wind"})
              .tip("How quickly particles take on the air's speed: at 1, two thirds of the way in a second."),
          number("scale", "Scale", 1)
              .in("Swirls")
              .unit("units")
              .range(0.001, 10000)
              .usual(0.1, 10)
              .keyed()
              .tip("Size of the largest swirls. Small makes particles jitter, large makes them sway "
                   "together."),
          integer("octaves", "Octaves", 2)
              .in("Swirls")
              .range(1, 6)
              .usual(1, 4)
              .tip("How many sizes of swirls are added up, each half as large and half as strong as the one "
                   "before. "
                   "Each takes time of its own."),
          number("evolution", "Evolution", 0.2)
              .in("Swirls")
              .unit("turns/s")
              .range(-100, 100)
              .usual(0, 2)
              .tip("How quickly the swirls change shape. At zero they stand still; at 1 the pattern repeats "
                   "each second."),
          integer("seed", "Seed", 1)
              .in("Swirls")
              .range(0, 1e9)
              .usual(0, 100)
              .tip("Another number gives another pattern of swirls."),
      }));
  return kind;
}

}  // namespace

InfluenceKind turbulenceInfluence() {
  return {spec(), [](const Item& item, const FrameTime& time) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            CurlNoise noise;
            noise.scale = static_cast<float>(item.number("scale", frame));
            noise.octaves = item.integer("octaves", frame);
            noise.seed =
                static_cast<std::uint32_t>(mixBits(static_cast<std::uint64_t>(item.number("seed", frame))));
            const bool isWind = item.chooses("acts_as", "wind");
            return std::make_unique<Turbulence>(noise, item.number(isWind ? "air_speed" : "strength", frame),
                                                item.number("evolution", frame),
                                                isWind ? item.number("grip", frame) : 0);
          }};
}

}  // namespace comet
