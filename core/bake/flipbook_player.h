// A page that plays a flipbook in a browser, for looking at it and as an example of how a game reads one.
#pragma once

#include "bake/flipbook_file.h"

#include <string>

namespace comet {

// One page without anything beside it: pictures and description are in it, in eight bits whatever the files
// have. Colours and alpha are apart, since browsers change colours that alpha covers little of. Throws
// Error(Cancelled).
std::string flipbookPlayer(const Flipbook& book, const Progress& progress = {});

}  // namespace comet
