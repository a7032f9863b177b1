// A sweep: a scene with several values of one parameter, or of two, to be looked at side by side.
//
//   const Sweep sweep(scene, {axisFromText(scene, "drops.rate=100..400/4")});
//   for (std::size_t i = 0; i < sweep.size(); ++i) … sweep.scene(i), sweep.label(i)
#pragma once

#include "scene/scene.h"

#include <string>
#include <vector>

namespace comet {

struct SweepAxis {
  ItemId item = 0;
  std::string param;
  std::vector<ParamValue> values;
  std::vector<std::string> texts;  // what each value is, for people, without its unit
};

constexpr int kMaxSweepValues = 16;       // of one parameter
constexpr std::size_t kMaxVariants = 64;  // in all

// So many numbers from one to another, both among them, evenly. Rounded to so many digits after the point
// that their differences can be told, and no more.
std::vector<double> evenNumbers(double from, double to, int count);

// An axis with a number parameter's constants: as it is, but for its constant, or, if it is keyed, the key at
// the frame.
SweepAxis axisOfNumbers(const Scene& scene, ItemId item, std::string_view param,
                        const std::vector<double>& numbers, int frame);

// From ITEM.PARAM=VALUES, as on a command line. VALUES are FROM..TO/N for N numbers (5 if it is left out), or
// values as of withOverride, with commas between, or semicolons where values have commas themselves. Throws
// Error(Usage).
SweepAxis axisFromText(const Scene& scene, const std::string& text);

class Sweep {
 public:
  // Of one axis, or of two: the first runs across, the second down. Throws Error(Usage) for axes without
  // values or with too many, and for one parameter twice.
  Sweep(Scene scene, std::vector<SweepAxis> axes);

  std::size_t size() const { return columns() * rows(); }
  // Of the grid of all combinations; one axis is one row.
  std::size_t columns() const { return axes_.front().values.size(); }
  std::size_t rows() const { return axes_.size() > 1 ? axes_[1].values.size() : 1; }

  const std::vector<SweepAxis>& axes() const { return axes_; }
  // Which value of an axis a variant has. Variants are numbered row by row.
  std::size_t indexOn(std::size_t axis, std::size_t variant) const {
    return axis == 0 ? variant % columns() : variant / columns();
  }
  Scene scene(std::size_t variant) const { return on(scene_, variant); }
  // Another version of the scene with a variant's values; the items must be there.
  Scene on(Scene version, std::size_t variant) const;
  // As in "Rate 200 /s" or "Rate 200 · Size 0.4".
  std::string label(std::size_t variant) const;

 private:
  Scene scene_;
  std::vector<SweepAxis> axes_;
};

}  // namespace comet
