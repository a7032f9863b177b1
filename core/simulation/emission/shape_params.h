// The parameters of shapes that particles are born on, or gas comes from.
#pragma once

#include "params/schema.h"

#include <string>
#include <vector>

namespace comet {

// What shapeOf reads. `giving` says what happens there: "particles are born"; `where` is the label of what
// says on which part of the shape.
std::vector<ParamSpec> shapeParams(const std::string& giving, const std::string& where = "Emit from");
// What shapePath reads: where the shape is, and how it moves.
std::vector<ParamSpec> shapeMotionParams();
// From which frame to which; `more` are other ways to give, which the caller adds.
std::vector<ParamSpec> emitWindowParams(const std::string& section, const std::string& giving,
                                        std::vector<ChoiceOption> more = {});

}  // namespace comet
