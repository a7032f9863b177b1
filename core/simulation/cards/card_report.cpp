#include "simulation/cards/card_report.h"

#include "simulation/cards/card_shape.h"
#include "simulation/emission/emission.h"
#include "simulation/frame/cycles.h"

#include <algorithm>
#include <fmt/format.h>

namespace comet {
namespace {

// Measured on two cores, while cards lie on the ground.
constexpr double kNanosecondsAPoint = 90;
// A frame that takes so many times as long as it is shown cannot be worked with.
constexpr double kTooSlow = 10;

std::string problemOf(const CardRule& rule, const CardOutlook& outlook, double frameMilliseconds,
                      double memory) {
  if (rule.stretchStiffness() == 0)
    return "Nothing holds the points of a card together: raise the stretch stiffness";
  if (outlook.bytes > memory)
    return fmt::format(
        "The frames take about {:.0f} MB, more than the scene's frame cache: take fewer cards or cells",
        outlook.bytes / (1 << 20));
  if (outlook.milliseconds > kTooSlow * frameMilliseconds)
    return fmt::format("A frame takes about {:.1f} s: take fewer cards, cells or steps",
                       outlook.milliseconds / 1000);
  return {};
}

}  // namespace

CardOutlook cardOutlook(const Scene& scene, const Item& emitter, double frame, std::size_t memory) {
  const CardRule rule(emitter, frame);
  const FrameRange range = frameRange(scene);
  const double rate = frameRate(scene);
  CardOutlook outlook;
  outlook.points = rule.grid().points();
  double all = 0;
  if (emitter.chooses("birth_trigger", "own"))
    for (const double living : expectedLiving(emitter, range, rate, loops(scene))) {
      outlook.cards = std::max(outlook.cards, living);
      all += living;
    }
  const auto points = static_cast<double>(outlook.points);
  const double steps = rule.steps() * scene.settings().integer("substeps", frame);
  outlook.milliseconds = outlook.cards * points * steps * kNanosecondsAPoint * 1e-6;
  outlook.bytes = all * static_cast<double>(CardBody::numbers(rule.grid()) * sizeof(float));
  outlook.problem = problemOf(rule, outlook, 1000 / rate, static_cast<double>(memory));
  return outlook;
}

std::vector<CardCount> countCards(const Scene& scene, const SceneFrame& frame) {
  std::vector<CardCount> counts;
  for (const Scene::ItemPtr& emitter : scene.itemsOf(ItemFamily::Emitter)) {
    const ParticleGroup* group = frame.particles->find(emitter->id);
    if (!emitter->enabled || !showsCards(*emitter) || !group) continue;
    const CardRule rule(*emitter, frame.number);
    const ParticleStore& cards = group->particles;
    CardCount count{emitter->id, cards.size(), cards.size() * rule.grid().points(), 0};
    // Those of another kind are made anew in the next step.
    const bool haveBodies = cards.bodyNumbers() == CardBody::numbers(rule.grid());
    for (std::size_t i = 0; haveBodies && i < cards.size(); ++i)
      count.largestStretch = std::max(count.largestStretch, cardStretch(rule, cards.ids()[i], cards.body(i)));
    counts.push_back(count);
  }
  return counts;
}

}  // namespace comet
