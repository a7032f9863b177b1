// Lines that are drawn as ribbons: trails and links.
#pragma once

#include "base/vec.h"
#include "render/camera.h"

#include <cstddef>
#include <vector>

namespace comet {

struct LinePoint {
  Vec3d place{0.0};
  double before = 0;    // seconds before the line's head; only of trails
  double along = 0;     // units from the head
  double fraction = 0;  // of the line's length, 0 to 1
  double width = 0;     // units
  Vec3d color{1.0};     // linear light
  double opacity = 1;
};

// The point at a fraction of the way from one to the next.
inline LinePoint pointBetween(const LinePoint& from, const LinePoint& to, double fraction) {
  const auto mixed = [fraction](const auto& a, const auto& b) { return a + (b - a) * fraction; };
  return {mixed(from.place, to.place),       mixed(from.before, to.before), mixed(from.along, to.along),
          mixed(from.fraction, to.fraction), mixed(from.width, to.width),   mixed(from.color, to.color),
          mixed(from.opacity, to.opacity)};
}

// Read from any thread.
class Lines {
 public:
  Lines() = default;
  virtual ~Lines() = default;
  Lines(const Lines&) = delete;
  Lines& operator=(const Lines&) = delete;

  virtual std::size_t count() const = 0;
  // From the head of a line to its end; fewer than two if there is nothing to see. `seenBy`: points without
  // which the line would look the same from there may be left out. Returns how much of its light it gives to
  // the glow.
  double points(std::size_t index, std::vector<LinePoint>& points, const Projector* seenBy = nullptr) const {
    return find(index, points, seenBy);
  }
  // How old the particle is that a line belongs to, seconds.
  virtual double age(std::size_t index) const = 0;

 private:
  virtual double find(std::size_t index, std::vector<LinePoint>& points, const Projector* seenBy) const = 0;
};

}  // namespace comet
