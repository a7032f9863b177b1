#include "base/curl_noise.h"
#include "base/random.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

class Turbulence : public InfluenceAction {
 public:
  Turbulence(const CurlNoise& noise, double strength, double turnsPerSecond)
      : noise_(noise), strength_(strength), turnsPerSecond_(turnsPerSecond) {}

  void describe(Hasher& hasher) const override {
    hasher << noise_.scale << noise_.octaves << noise_.seed << strength_ << turnsPerSecond_;
  }

  bool readsPositions() const override { return true; }

  void addTo(Forces& forces, const Chunk& chunk, const Substep& substep, double response) const override {
    auto& own = forces.vary();
    CurlNoise noise = noise_;
    noise.turns = turnsPerSecond_ * substep.middle();
    noise.strength = static_cast<float>(strength_ * response);
    addCurlNoise(noise, chunk.count, {chunk.middle[0].data(), chunk.middle[1].data(), chunk.middle[2].data()},
                 {own[0].data(), own[1].data(), own[2].data()});
  }

 private:
  CurlNoise noise_;
  double strength_;
  double turnsPerSecond_;
};

const KindSpec& spec() {
  static const KindSpec kind(
      "turbulence", "Turbulence", ItemFamily::Influence,
      "Pushes particles along swirls of curl noise: they mix without piling up anywhere.",
      {
          number("strength", "Strength", 6)
              .in("Swirls")
              .unit("units/s²")
              .range(-10000, 10000)
              .usual(0, 40)
              .keyed()
              .tip("How hard the swirls push. Embers 3 to 10, smoke 1 to 3."),
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
      });
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
            return std::make_unique<Turbulence>(noise, item.number("strength", frame),
                                                item.number("evolution", frame));
          }};
}

}  // namespace comet
