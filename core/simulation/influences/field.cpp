#include "simulation/influences/field_source.h"
#include "simulation/influences/flow.h"
#include "simulation/influences/influences.h"

namespace comet {
namespace {

const KindSpec& fieldSpec() {
  static const KindSpec kind("field", "Vector field", ItemFamily::Influence,
                             "Moves particles by vectors that fill a box: from a file, or made from noise, "
                             "vortices, strokes or the slopes of a picture.",
                             flowParams({"Effect", "field", 6, 3, 0.5}, fieldSourceParams()));
  return kind;
}

FilledBox filledBoxOf(const Item& item, double frame) {
  const FieldSource field(item, frame);
  return {field.size(), field.pose()};
}

}  // namespace

InfluenceKind fieldInfluence() {
  return {.spec = fieldSpec(),
          .group = InfluenceGroup::Field,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            return std::make_unique<StandingFlow<FieldSource>>(FlowEffect(item, frame),
                                                               FieldSource(item, frame));
          },
          .hints = [](const Item& item, double frame) -> std::vector<PlacedWire> {
            const FilledBox box = filledBoxOf(item, frame);
            return {{boxWire(box.size), box.pose}};
          },
          .box = filledBoxOf};
}

}  // namespace comet
