// The faces of one mesh as it lies in a part of a picture, drawn at samples on a regular grid within each
// pixel, nearer faces before farther ones.
//
// Faces with an edge in common leave neither gap nor overlap at it: a sample belongs to the face whose edges
// it lies between, the upper and left edge included, and both faces compute the edge from the same numbers.
// So what a mesh covers of a pixel is counted right at outlines and within, however small its faces are.
#pragma once

#include "render/sprite.h"

#include <array>
#include <cstddef>
#include <limits>
#include <vector>

namespace comet {

// Faces, and the pictures that they show; null for none.
struct MeshFaceList {
  const MeshFace* faces;
  const FacePicture* pictures;
  std::size_t count;
};

class MeshSamples {
 public:
  static constexpr int kPerSide = 4;  // samples along each side of a pixel
  static constexpr std::size_t kCount = std::size_t{kPerSide} * kPerSide;

  // Pixels; right and bottom are not included.
  struct Part {
    int left, top, right, bottom;
  };

  // So many rows of a part that is so wide stay in cache while they are drawn.
  static int rowsAtOnce(int width);

  // Draws what of the faces lies in a part of the picture, in place of what was drawn before.
  void draw(const MeshFaceList& faces, const Part& part);

  // Of the pixels of a row of that part: how much of each is covered, 0 to 1, and the light of the faces,
  // times that.
  struct Row {
    float *red, *green, *blue, *cover;
  };
  void resolve(int y, const Row& row) const;

  // The samples of a pixel, row by row: how far the nearest face lies there, units along the view, kNothing
  // if none does; and its light, which means nothing where there is none.
  struct alignas(64) Pixel {
    std::array<float, kCount> depth, red, green, blue;
  };
  static constexpr float kNothing = std::numeric_limits<float>::infinity();

 private:
  std::vector<Pixel> pixels_;
  Part part_{};
};

}  // namespace comet
