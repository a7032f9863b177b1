#include "particles/rolling.h"
#include "simulation/contacts/contact.h"
#include "simulation/influences/influences.h"

#include <algorithm>

namespace comet {
namespace {

// What a grain of half the full stiffness gives way in, seconds.
constexpr double kSoftTime = 0.02;
constexpr double kPercent = 0.01;

class ParticleContact : public InfluenceAction {
 public:
  ParticleContact(const Item& item, double frame) {
    rule_.isBetweenAll = item.chooses("neighbours", "all");
    rule_.radius = kPercent * item.number("contact_radius", frame);
    rule_.friction = item.number("friction", frame);
    rule_.staticFriction = std::max(rule_.friction, item.number("static_friction", frame));
    rule_.bounce = kPercent * item.number("bounce", frame);
    const double stiffness = kPercent * item.number("stiffness", frame);
    rule_.softness = (1 / stiffness - 1) * kSoftTime * kSoftTime;
    rule_.support = kPercent * item.number("support", frame);
    rule_.steps = item.integer("contact_steps", frame);
  }

  void describe(Hasher& hasher) const override {
    hasher << rule_.isBetweenAll << rule_.radius << rule_.friction << rule_.staticFriction << rule_.bounce
           << rule_.softness << rule_.support << rule_.steps;
  }

  const ContactRule* contact() const override { return &rule_; }

  FieldSet remembers() const override { return rollingFields(); }

 private:
  ContactRule rule_;
};

std::vector<ParamSpec> contactParams() {
  return {
      choice("neighbours", "Neighbours",
             {{"all", "All emitters", "Particles of all emitters that answer to it push each other."},
              {"own", "Own emitter", "Each particle is pushed by those of its own emitter only."}})
          .in("Contact")
          .tip("Which particles push each other. How firmly is said by the emitters' percentages: of two "
               "particles the lower one counts."),
      number("contact_radius", "Radius", 100)
          .in("Contact")
          .unit("%")
          .range(1, 1000)
          .usual(20, 200)
          .keyed()
          .tip("How large particles are to each other; at 100 % they touch where their sizes at birth do."),
      number("friction", "Friction", 0.3)
          .in("Contact")
          .range(0, 10)
          .usual(0, 1)
          .keyed()
          .tip(
              "How strongly particles that slide along each other are slowed; heaps become steeper with it."),
      number("static_friction", "Static friction", 0.4)
          .in("Contact")
          .range(0, 10)
          .usual(0, 1)
          .keyed()
          .tip("How strongly particles at rest hold on to each other before they begin to slide; at least as "
               "strongly as \"Friction\"."),
      number("bounce", "Bounce", 0)
          .in("Contact")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How much of the speed with which particles meet is left as they part."),
      number("stiffness", "Stiffness", 100)
          .in("Contact")
          .unit("%")
          .range(1, 100)
          .usual(10, 100)
          .keyed()
          .tip("How firmly particles keep apart: grains at 100 %, soft things that give way below."),
      number("support", "Support from below", 80)
          .in("Contact")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How much less a particle at rest gives way to what lies on it than that to it, so that high "
               "heaps do not sink."),
      integer("contact_steps", "Contact steps", 10)
          .in("Contact")
          .range(1, 64)
          .usual(1, 20)
          .tip("Into how many steps a substep is divided for all that touch. More steps make fast particles "
               "and high heaps firmer, and take longer."),
  };
}

const KindSpec& contactSpec() {
  static const KindSpec kind("contact", "Contact", ItemFamily::Influence,
                             "Makes particles push each other apart, so that they pile up.",
                             influenceParams(contactParams()));
  return kind;
}

}  // namespace

InfluenceKind contactInfluence() {
  return {.spec = contactSpec(),
          .group = InfluenceGroup::Contact,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<ParticleContact>(item, time.middleFrame());
          },
          .feelsMass = false,
          .movesGas = false,
          .movesCards = false,
          .repeats = false,
          .notes = {{"contact_radius", KindNote::About::Contacts}}};
}

}  // namespace comet
