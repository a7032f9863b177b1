// The faces of one mesh as it lies in a part of a picture, drawn at samples on a regular grid within each
// pixel, nearer faces before farther ones.
//
// Faces that fraction an edge leave neither gap nor overlap at it: a sample belongs to the face whose edges
// it lies between, the upper and left edge included, and both faces compute the edge from the same numbers.
// So what a mesh covers of a pixel is counted right at outlines and within, however small its faces are.
#pragma once

#include "render/sprite.h"

#include <cstddef>
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

  // Pixels; right and bottom are not included.
  struct Part {
    int left, top, right, bottom;
  };

  // Draws what of the faces lies in a part of the picture, in place of what was drawn before.
  void draw(const MeshFaceList& faces, const Part& part);

  // Of the pixels of a row of that part: how much of each is covered, 0 to 1, and the light of the faces,
  // times that.
  struct Row {
    float *red, *green, *blue, *cover;
  };
  void resolve(int y, const Row& row) const;

 private:
  struct ShownLevel {
    const Stamp::Level& level;
    bool tints;
  };

  void drawFace(const MeshFace& face, const FacePicture* picture);
  void drawSpan(std::size_t row, int from, int to, float x, const float* values, const float* slopes,
                const float* lowest);
  // The same of a face that shows a picture, whose place in that follows behind its light.
  void drawPictureSpan(std::size_t row, int from, int to, float x, const float* values, const float* slopes,
                       const float* lowest, const ShownLevel& shown);

  Part part_{};
  int width_ = 0, height_ = 0;  // samples
  // Of each sample: how far the nearest face lies there, units along the view, and its light.
  std::vector<float> depth_, red_, green_, blue_;
};

}  // namespace comet
