// Points over time, in the text form of the open scene-description standard.
#pragma once

#include "io/point_file.h"

#include <string>
#include <vector>

namespace comet {

// Collects the frames of one file.
class UsdPoints {
 public:
  // `rate` in frames per second.
  explicit UsdPoints(double rate) : rate_(rate) {}

  // Reads the columns id, x, y, z, vx, vy, vz, size, red, green, blue and opacity, as far as there are any.
  void add(int frame, const PointTable& table);
  std::string text() const;

 private:
  // The samples of one attribute so far, as lines of text.
  struct Attribute {
    std::string declaration, metadata;
    std::vector<std::string> columns;  // one, or three of a vector
    std::string samples{};
  };
  static std::vector<Attribute> attributes();

  double rate_;
  int first_ = 1, last_ = 1;
  bool isEmpty_ = true;
  std::vector<Attribute> attributes_ = attributes();
};

}  // namespace comet
