#include "catalog.h"

#include "bake/bake_kind.h"
#include "render/camera.h"
#include "render/light_kind.h"
#include "scene/scene_file.h"
#include "scene/settings_kind.h"
#include "simulation/emission/emitter_kind.h"
#include "simulation/gas/gas_kind.h"
#include "simulation/gas/source_kind.h"
#include "simulation/influences/influences.h"

namespace comet {

const Catalog& catalog() {
  static const Catalog all = [] {
    std::vector<const KindSpec*> kinds{&settingsKind(), &cameraKind(), &lightKind(),
                                       &emitterKind(),  &gasKind(),    &sourceKind()};
    for (const InfluenceKind& kind : influenceKinds()) kinds.push_back(&kind.spec);
    kinds.push_back(&bakeKind());
    return Catalog(std::move(kinds));
  }();
  return all;
}

Scene startingScene() {
  return bareScene(catalog()).withAdded(newItem(emitterKind(), "emitter")).withAdded(newBake("flipbook"));
}

}  // namespace comet
