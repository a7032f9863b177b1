#include "simulation/emission/emitter_kind.h"

#include "simulation/emission/emitter_params.h"

namespace comet {

const KindSpec& emitterKind() {
  static const KindSpec kind("emitter", "Emitter", ItemFamily::Emitter, "Creates particles.", [] {
    std::vector<ParamSpec> params;
    for (auto&& part : {birthParams(), launchParams(), spriteParams(), cardParams(), courseParams(),
                        colorParams(), trailParams(), linkParams(), surfaceParams(), ruleParams()})
      params.insert(params.end(), part.begin(), part.end());
    return params;
  }());
  return kind;
}

}  // namespace comet
