#include "grid/cell_tip.h"

#include "controls/typed_number.h"
#include "simulation/influences/influences.h"
#include "simulation/influences/window.h"
#include "theme/words.h"

#include <QStringList>

namespace comet {
namespace {

// Where and when it acts, if that is not everywhere and always.
QStringList limitsOf(const Item& influence, double frame) {
  QStringList limits;
  if (!influence.chooses("reach", "everywhere")) {
    const bool outside = influence.flag("reach_invert", frame);
    limits << (outside ? tr("outside a %1") : tr("inside a %1")).arg(text(influence.choice("reach")));
  }
  if (influence.chooses("acts", "frame_range")) {
    const double now = activityAt(influence, frame);
    limits << tr("from frame %1 to %2 (now %3 %)")
                  .arg(textFromNumber(influence.number("acts_from", frame)),
                       textFromNumber(influence.number("acts_until", frame)),
                       textFromNumber(std::round(100 * now)));
  }
  if (!influence.chooses("age_range", "all")) limits << tr("at some ages only");
  return limits;
}

}  // namespace

QString cellTip(const Scene& scene, const Item& emitter, const Item& influence, double frame) {
  const Response response = scene.response(emitter.id, influence.id);
  const QString names[2] = {text(influence.name), text(emitter.name)};
  if (!response.acts()) return tr("%1 does not act on %2.").arg(names[0], names[1]);
  if (influenceKindOf(influence).group == InfluenceGroup::Deflector)
    return tr("%2 collides with %1. Clear the cell to let it through.").arg(names[0], names[1]);
  QString tip = response.formula.empty()
                    ? tr("%1 acts on %2 at %3 %").arg(names[0], names[1], textFromNumber(*response.percent))
                    : tr("%1 acts on %2 by a formula for each particle, %3")
                          .arg(names[0], names[1], text(response.formula));
  if (*response.percent < 0) tip += tr(", reversed");
  if (response.overAge) tip += tr(", changing over life");
  for (const QString& limit : limitsOf(influence, frame)) tip += ", " + limit;
  tip += ". ";
  if (!influence.enabled) tip += tr("It is off. ");
  tip += influenceKindOf(influence).feelsMass ? tr("Heavier particles respond less to it.")
                                              : tr("Particles of all masses respond alike.");
  return tip;
}

}  // namespace comet
