// What the rasteriser draws: sprites in picture space, and the profiles that say what they look like.
#pragma once

#include "base/vec.h"
#include "render/stamp.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <memory>
#include <vector>

namespace comet {

// Smaller sprites are drawn this large and as much fainter, so that their light stays the same. In pixels.
constexpr float kSmallestRadius = 1.0F;

// Relative luminance of red, green and blue (Rec. 709).
constexpr float kLuminance[3] = {0.2126F, 0.7152F, 0.0722F};

enum class Blend : std::uint8_t { Normal, Additive, Screen, Multiply };

struct SpriteProfile {
  enum class Type : std::uint8_t { Dot, SoftDisc, Ring, Star, Stamp, Ribbon, Mesh };

  Type type = Type::SoftDisc;
  Blend blend = Blend::Normal;
  bool turned = false;       // whether its sprites have a turn; stars and stamps always do
  float hardness = 0;        // soft disc, ribbon: fraction of the radius that is full
  bool isRound = false;      // ribbon: shaded as a thread
  bool hasPictures = false;  // mesh: whether its faces show pictures
  float innerRadius = 0;     // ring: fraction of the radius that is open
  int starPoints = 0;
  Vec2 starEdge{0.0F};  // the outward normal of the edge beside a point, across the point and along it
  std::shared_ptr<const StampSet> stamps;

  // Whether it matters what was drawn before.
  bool needsOrder() const { return blend != Blend::Additive; }
};

// The edge of a star, or of a polygon if `pointedness`, 0 to 1, is 0. Its points lie on the unit circle.
inline Vec2 starEdge(int points, double pointedness) {
  // A polygon's edges lie as far in as the cosine says; a star's valleys up to a fifth of the radius.
  const double edge = std::cos(kPi / points), valley = edge + (0.2 - edge) * pointedness;
  const double across = 1 - valley * edge, along = valley * std::sin(kPi / points);
  return Vec2(Vec2d(across, along) / std::hypot(across, along));
}

struct Sprite {
  float x, y;              // centre, pixels
  float radius;            // pixels, at least kSmallestRadius; of turned sprites, that of a disc as large;
                           // of meshes, that of the disc around them
  float depth;             // larger is drawn earlier: usually the distance
  float red, green, blue;  // linear light, not multiplied with opacity
  float opacity;           // 0 to 1
  std::uint32_t profile;   // index into the list of profiles
  std::uint32_t turn = 0;  // index into the list of turns, if the profile is turned, of pieces, or of meshes
  float distance = 0;      // from the viewer along its axis, units: what is nearer hides it
};

// How a sprite lies in the picture. Its own coordinates u and v go from -1 to 1, v downwards.
struct SpriteTurn {
  float uAcross, uDown;          // du/dx, du/dy: per pixel to the right, per pixel down
  float vAcross, vDown;          // dv/dx, dv/dy
  float reachX, reachY;          // half the size of its box in the picture, pixels
  float pixelsWide, pixelsHigh;  // its own width and height
  std::uint16_t stamp, nextStamp;
  float mix;  // how much of the next stamp there is, 0 to 1
};

// A face of a mesh as it lies in the picture: pixels to the right and down, and units along the view.
struct MeshFace {
  std::array<Vec3, 3> at;
  std::array<Vec3, 3> light;  // on its corners, linear
};

// The picture that a face shows, by which its light is multiplied; where that is transparent, it has a hole.
struct FacePicture {
  const Stamp* picture = nullptr;  // of colour; null for none
  bool tints = true;               // else it only cuts holes
  std::array<Vec2, 3> at;  // of its corners, from the picture's upper left corner to its lower right, 0 to 1
};

// What is seen of one particle's mesh.
struct MeshView {
  std::uint32_t firstFace = 0, faces = 0;  // of the list of faces
  Vec2 reach{0.0F};                        // half the size of its box in the picture, pixels
};

// A piece of a ribbon between two lines at which it is cut, beyond which the pieces before and behind it go
// on, so that nothing is drawn twice. Its sprite lies in its middle.
struct RibbonPiece {
  Vec2 half;                   // from the middle to the end, pixels
  Vec2 beginCut, endCut;       // across the cuts, forwards, of length one
  float beginWidth, endWidth;  // half of them, pixels
  Vec3 beginLight, endLight;   // linear, not multiplied with opacity
  float beginOpacity, endOpacity;
  bool beginJoins, endJoins;           // whether another piece goes on there
  float beginAlong = 0, endAlong = 0;  // where the ends lie along the profile's picture, in its lengths

  // Half the size of its box in the picture, pixels.
  Vec2 reach() const {
    const float wide = 1.5F * std::max(beginWidth, endWidth) + 1.5F;
    return {std::abs(half.x) + wide, std::abs(half.y) + wide};
  }
};

// Brings a sprite of any radius to at least kSmallestRadius, keeping the light it gives.
inline void keepVisible(Sprite& sprite) {
  if (sprite.radius >= kSmallestRadius) return;
  const float fraction = sprite.radius / kSmallestRadius;
  sprite.opacity *= fraction * fraction;
  sprite.radius = kSmallestRadius;
}

}  // namespace comet
