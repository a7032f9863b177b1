// Stamps that looks ask for again and again.
#pragma once

#include "base/digest.h"
#include "io/picture_content.h"
#include "render/stamp.h"
#include "scene/item.h"

#include <functional>
#include <memory>
#include <utility>
#include <vector>

namespace comet {

// How the pictures of an emitter's sprite are stored.
StoredAlpha storedAlphaOf(const Item& emitter);

// Keeps the stamps that were asked for last; those of a picture are kept with that. Belongs to one thread at
// a time; what it gives out may be read from any.
class StampCache {
 public:
  // The stamps of an emitter's sprite at a frame; null if it needs none, or has no picture to make them of.
  std::shared_ptr<const StampSet> stampsOf(const Item& emitter, double frame);
  // A whole picture, as at a frame.
  std::shared_ptr<const StampSet> ofWhole(const PictureContent& content, int frame,
                                          StoredAlpha alpha = StoredAlpha::Straight);

 private:
  std::shared_ptr<const StampSet> kept(const Digest& key, const std::function<StampSet()>& make);
  std::shared_ptr<const StampSet> fromPicture(const Item& emitter, double frame);

  std::vector<std::pair<Digest, std::shared_ptr<const StampSet>>> kept_;
};

}  // namespace comet
