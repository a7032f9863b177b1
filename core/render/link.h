// Links: lines from particles to others that are near, or to a place.
#pragma once

#include "render/lines.h"
#include "render/look.h"
#include "scene/scene.h"
#include "simulation/frame/scene_frame.h"

#include <optional>

namespace comet {

// The links of one emitter's particles at one frame.
class Links : public Lines {
 public:
  // `look` is the emitter's; kept as long as the links.
  Links(const Scene& scene, const Item& emitter, const SceneFrame& frame, const Look& look,
        StampCache& stamps);

  static bool hasAny(const Item& emitter) { return !emitter.chooses("links", "none"); }

  std::size_t count() const override { return pairs_.size(); }
  double age(std::size_t index) const override;

 private:
  double find(std::size_t index, std::vector<LinePoint>& points, const Projector* seenBy) const override;
  struct Pair {
    std::size_t from = 0, to = 0;  // indices of particles; `to` does not matter for a link to a place
  };
  void pairWithNear(const ParticleStore& others, bool areOwn);

  const Look& look_;
  std::optional<Look> otherLook_;  // of the emitter at the other end, if it is another one
  const ParticleStore* from_ = nullptr;
  const ParticleStore* to_ = nullptr;  // null for a place
  Vec3d place_{0.0};
  double within_;
  std::size_t max_;
  double width_, opacity_;
  UnitTable<float> widthBy_, opacityBy_;
  bool hasOwnColor_;
  Vec3d color_;
  std::vector<Pair> pairs_;
};

}  // namespace comet
