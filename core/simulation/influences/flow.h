// What has a vector at each place, and moves particles by it: turbulence, fields, paths.
//
// It pushes them, carries them along as moving air does, or shows them elsewhere than where they are. A kind
// says what its vectors are; this says what becomes of them.
#pragma once

#include "simulation/influences/influence.h"

#include <string>
#include <utility>
#include <vector>

namespace comet {

struct FlowEffect {
  enum class Mode { Push, Carry, Displace };

  Mode mode = Mode::Push;
  double strength = 0;  // of vectors that are 1 long: units/s² at a mass of 1, units/s, or units
  double airDrag = 0;   // of air that carries, 1/s

  // Reads the parameters that flowParams gives.
  FlowEffect(const Item& item, double frame);
};

class Flow : public InfluenceAction {
 public:
  explicit Flow(const FlowEffect& effect) : effect_(effect) {}

  void describe(Hasher& hasher) const override;
  bool readsPositions() const override { return !displaces(); }
  void addTo(Forces& forces, const Samples& samples, const Substep& substep,
             const Weights& weights) const override;
  bool displaces() const override { return effect_.mode == FlowEffect::Mode::Displace; }
  void addDisplacement(Contribution& sum, const Samples& samples, double seconds,
                       const Weights& weights) const override {
    addVectors(sum, effect_.strength, samples, seconds, weights);
  }

 protected:
  // Adds `strength` times the vector at each sample.
  virtual void addVectors(Contribution& sum, double strength, const Samples& samples, double seconds,
                          const Weights& weights) const = 0;

 private:
  FlowEffect effect_;
};

// A flow that does not change in itself: `Source` says its vector at a position, and describes itself.
template <typename Source>
class StandingFlow : public Flow {
 public:
  StandingFlow(const FlowEffect& effect, Source source) : Flow(effect), source_(std::move(source)) {}

  void describe(Hasher& hasher) const override {
    Flow::describe(hasher);
    source_.describe(hasher);
  }

 protected:
  void addVectors(Contribution& sum, double strength, const Samples& samples, double,
                  const Weights& weights) const override {
    sum.addEach(weights, samples.count,
                [&](std::size_t i) { return strength * source_.at(samples.position(i)); });
  }

 private:
  Source source_;
};

// What differs between kinds in the parameters that they share.
struct FlowParams {
  std::string section;
  std::string what;  // in tips: "swirls", "field"
  double strength, speed, amount;
};

// How the flow acts and how strongly, then what is its own, then what all influences have.
std::vector<ParamSpec> flowParams(const FlowParams& params, std::vector<ParamSpec> own);

}  // namespace comet
