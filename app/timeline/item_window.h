// The part of the scene's time in which an item is active: when an emitter emits, when an influence acts.
#pragma once

#include "session/document.h"

#include <optional>

namespace comet {

struct ItemWindow {
  double from = 1, until = 1;  // frames
  double softIn = 0, softOut = 0;
};

// Nothing if it is active always, or has no window.
std::optional<ItemWindow> windowOf(const Item& item, double frame);

// Moves the window's ends; they keep their order. Nothing happens to an item that is active always.
void setWindow(Document& document, ItemId item, double from, double until, const QString& mergeKey);

}  // namespace comet
