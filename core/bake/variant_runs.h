// The runs of a bake's variants.
#pragma once

#include "bake/bake_variants.h"
#include "cache/scene_run.h"

#include <utility>
#include <vector>

namespace comet {

// A variant that is the run's own scene is made by that run itself, so that its frames count as asked for by
// it. The run has to outlive this.
class VariantRuns {
 public:
  VariantRuns(SceneRun& run, ItemId bake) : own_(run) {
    for (BakeVariant& variant : bakeVariants(run.scene(), *run.scene().find(bake)))
      runs_.push_back(run.of(std::move(variant.scene)));
  }

  std::size_t size() const { return runs_.size(); }
  SceneRun& at(std::size_t variant) { return runs_[variant].scene() == own_.scene() ? own_ : runs_[variant]; }

 private:
  SceneRun& own_;
  std::vector<SceneRun> runs_;
};

}  // namespace comet
