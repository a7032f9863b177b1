// The table of an emitter's parameters, in the order of the work.
#pragma once

#include "params/schema.h"

#include <vector>

namespace comet {

std::vector<ParamSpec> birthParams();
std::vector<ParamSpec> launchParams();
std::vector<ParamSpec> spriteParams();
std::vector<ParamSpec> cardParams();
std::vector<ParamSpec> courseParams();
std::vector<ParamSpec> colorParams();
std::vector<ParamSpec> trailParams();
std::vector<ParamSpec> linkParams();
std::vector<ParamSpec> surfaceParams();
std::vector<ParamSpec> ruleParams();

}  // namespace comet
