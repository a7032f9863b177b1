// The menu that says what is drawn over the effect in the viewport.
#pragma once

#include "viewport/viewport.h"

#include <QMenu>

namespace comet {

// `viewport` has to outlive it.
QMenu* makeOverlayMenu(Viewport& viewport, QWidget* parent);

}  // namespace comet
