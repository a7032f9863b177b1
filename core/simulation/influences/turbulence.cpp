#include "base/curl_noise.h"
#include "base/random.h"
#include "simulation/frame/cycles.h"
#include "simulation/influences/flow.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

class Turbulence : public Flow {
 public:
  Turbulence(const FlowEffect& effect, const CurlNoise& noise, double turnsPerSecond)
      : Flow(effect), noise_(noise), turnsPerSecond_(turnsPerSecond) {}

  void describe(Hasher& hasher) const override {
    Flow::describe(hasher);
    hasher << noise_.scale << noise_.octaves << noise_.seed << turnsPerSecond_;
  }

 protected:
  void addVectors(Contribution& sum, double strength, const Samples& samples, double seconds,
                  const Weights& weights) const override {
    CurlNoise noise = noise_;
    noise.turns = turnsPerSecond_ * seconds;
    noise.strength = static_cast<float>(strength * (weights.own ? 1 : weights.all));
    auto& axes = sum.own.axes;
    if (!weights.own)
      return addCurlNoise(noise, samples.count, samples.positions,
                          {axes[0].use(), axes[1].use(), axes[2].use()});
    alignas(64) std::array<ChunkArray, 3> swirls;
    for (ChunkArray& axis : swirls) axis.fill(0.0F);
    addCurlNoise(noise, samples.count, samples.positions,
                 {swirls[0].data(), swirls[1].data(), swirls[2].data()});
    for (std::size_t axis = 0; axis < 3; ++axis) {
      float* out = axes[axis].use();
      for (std::size_t i = 0; i < samples.count; ++i) out[i] += swirls[axis][i] * weights.own[i];
    }
  }

 private:
  CurlNoise noise_;
  double turnsPerSecond_;
};

const KindSpec& turbulenceSpec() {
  static const KindSpec kind(
      "turbulence", "Turbulence", ItemFamily::Influence,
      "Moves particles along vortices of curl noise: they mix without piling up anywhere.",
      flowParams({"Noise", "turbulence", 6, 2, 0.5},
                 {
                     number("scale", "Noise scale", 1)
                         .in("Noise")
                         .unit("units")
                         .range(0.001, 10000)
                         .usual(0.1, 10)
                         .keyed()
                         .tip("The size of the largest vortices. A small scale makes particles jitter, a "
                              "large one makes them sway together."),
                     integer("octaves", "Octaves", 2)
                         .in("Noise")
                         .range(1, 6)
                         .usual(1, 4)
                         .tip("How many sizes of vortices are added up, each half as large and half as "
                              "strong as the one before. Each takes time of its own."),
                     number("change_rate", "Change rate", 0.2)
                         .in("Noise")
                         .unit("/s")
                         .range(-100, 100)
                         .usual(0, 2)
                         .tip("How quickly the noise changes its pattern: at 0 it stands still, at 1 it "
                              "changes about once a second."),
                     integer("seed", "Seed", 1)
                         .in("Noise")
                         .range(0, 1e9)
                         .usual(0, 100)
                         .tip("Another seed gives another pattern."),
                 }));
  return kind;
}

}  // namespace

InfluenceKind turbulenceInfluence() {
  return {.spec = turbulenceSpec(),
          .group = InfluenceGroup::Field,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            CurlNoise noise;
            noise.scale = static_cast<float>(item.number("scale", frame));
            noise.octaves = item.integer("octaves", frame);
            noise.seed =
                static_cast<std::uint32_t>(mixBits(static_cast<std::uint64_t>(item.number("seed", frame))));
            return std::make_unique<Turbulence>(FlowEffect(item, frame), noise,
                                                wholeCycles(item.number("change_rate", frame), time.period));
          }};
}

}  // namespace comet
