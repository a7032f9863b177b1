// Finishing: what is done to a drawn picture before it is shown or baked.
//
// All of it in premultiplied linear light, so that a pixel half as covered gives half the glow.
#pragma once

#include "base/picture.h"
#include "base/progress.h"
#include "params/schema.h"
#include "scene/item.h"

#include <vector>

namespace comet {

struct Finish {
  double exposure = 0;  // stops: 1 is twice as bright
  bool glows = false;
  double glowThreshold = 0.8;  // colours less bright than this do not glow
  double glowSize = 0.05;      // standard deviation of the widest part, as a fraction of the picture's height
  double glowStrength = 0.5;
  double rollOff = 0;  // 0 to 1: how early bright light is held back on its way to white
  double shutter = 0;  // how long the shutter is open, as a fraction of a frame
  int shutterSamples = 8;

  bool blursMotion() const { return shutter > 0 && shutterSamples > 1; }
};

// The parameters of a finish, for every kind of item that has one; `affected` is what they change.
std::vector<ParamSpec> finishParams(Affects affected);
Finish finishOf(const Item& item, double frame);

// Changes `picture` as asked, except for motion blur, which is a matter of drawing. `glowSource` is the light
// that may glow; usually the picture itself, which may be passed for both.
// Throws Error(Cancelled), and so does the next.
void applyFinish(const Finish& finish, const Picture& glowSource, Picture& picture,
                 const Progress& progress = {});

// What `glowSource` adds to a picture by its glow, exposure included; nothing if the finish does not glow.
Picture glowOf(const Finish& finish, const Picture& glowSource, const Progress& progress = {});

// Blurred by a Gaussian of the given standard deviation, in pixels; beyond the edges there is nothing.
Picture blurred(const Picture& picture, double deviation, const Progress& progress = {});

}  // namespace comet
