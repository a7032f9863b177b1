#include "simulation/influences/field_source.h"
#include "simulation/influences/flow.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

const KindSpec& fieldSpec() {
  static const KindSpec kind(
      "field", "Vector field", ItemFamily::Influence,
      "Moves particles by vectors that fill a box: from a file, or made from swirls, whirls, strokes drawn "
      "by hand, or the slopes of a picture.",
      flowParams({"Effect", "field", 6, 3, 0.5}, fieldSourceParams()));
  return kind;
}

}  // namespace

InfluenceKind fieldInfluence() {
  return {
      fieldSpec(), InfluenceGroup::Field,
      [](const Item& item, const FrameTime& time, const Progress&) -> std::unique_ptr<const InfluenceAction> {
        const double frame = time.middleFrame();
        return std::make_unique<StandingFlow<FieldSource>>(FlowEffect(item, frame), FieldSource(item, frame));
      }};
}

}  // namespace comet
