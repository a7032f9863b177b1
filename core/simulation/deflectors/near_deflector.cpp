#include "simulation/deflectors/near_deflector.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>

namespace comet {
namespace {

// Half the size along each axis, in single floats.
struct Half {
  float x, y, z;
};

// Each tells whether a place, in the deflector's own space, is within `r` of what is solid. No roots: a box
// around the exact answer will do.
struct NearPlane {
  static bool test(const Half&, float, float y, float, float r) { return y <= r; }
};
struct NearFlat {
  static bool test(const Half& h, float x, float y, float z, float r) {
    return (std::abs(y) <= r) & (std::abs(x) <= h.x + r) & (std::abs(z) <= h.z + r);
  }
};
struct NearBox {
  static bool test(const Half& h, float x, float y, float z, float r) {
    return (std::abs(x) <= h.x + r) & (std::abs(y) <= h.y + r) & (std::abs(z) <= h.z + r);
  }
};
struct NearSphere {
  static bool test(const Half& h, float x, float y, float z, float r) {
    return x * x + y * y + z * z <= (h.x + r) * (h.x + r);
  }
};
struct NearCylinder {
  static bool test(const Half& h, float x, float y, float z, float r) {
    return (x * x + z * z <= (h.x + r) * (h.x + r)) & (std::abs(y) <= h.y + r);
  }
};
struct NearHollowBox {
  static bool test(const Half& h, float x, float y, float z, float r) {
    return (std::abs(x) >= h.x - r) | (std::abs(y) >= h.y - r) | (std::abs(z) >= h.z - r);
  }
};
struct NearHollowSphere {
  static bool test(const Half& h, float x, float y, float z, float r) {
    const float inner = std::max(0.0F, h.x - r);
    return x * x + y * y + z * z >= inner * inner;
  }
};
struct NearHollowCylinder {
  static bool test(const Half& h, float x, float y, float z, float r) {
    const float inner = std::max(0.0F, h.x - r);
    return (x * x + z * z >= inner * inner) | (std::abs(y) >= h.y - r);
  }
};

// From the scene to the deflector's own space in the middle of the substep, and how much farther than itself
// a particle must be looked for.
struct Frame {
  float turn[3][3];
  float place[3];
  float more, perUnit;  // of range: in all, and per unit of distance from the deflector's place
};

// Calls `visit(i, x, y, z, r)` for each place, in the deflector's own space, and how far from it the particle
// may be.
template <typename Visit>
void forEachPlace(const Frame& frame, const Ranges& ranges, std::size_t count, const Visit& visit) {
  const float *px = ranges.middle[0], *py = ranges.middle[1], *pz = ranges.middle[2];
  const auto& m = frame.turn;
  for (std::size_t i = 0; i < count; ++i) {
    const float wx = px[i] - frame.place[0], wy = py[i] - frame.place[1], wz = pz[i] - frame.place[2];
    const float x = m[0][0] * wx + m[0][1] * wy + m[0][2] * wz;
    const float y = m[1][0] * wx + m[1][1] * wy + m[1][2] * wz;
    const float z = m[2][0] * wx + m[2][1] * wy + m[2][2] * wz;
    const float range = ranges.range[i];
    const float r = range + frame.more + frame.perUnit * (std::abs(x) + std::abs(y) + std::abs(z) + range);
    visit(i, x, y, z, r);
  }
}

template <typename Near>
void mark(const Frame& frame, const Half& half, const Ranges& ranges, std::size_t count, std::uint32_t bit,
          DeflectorMasks& masks) {
  // Copies, which nothing that is written to can be.
  forEachPlace(frame, ranges, count, [half, bit, &masks](std::size_t i, float x, float y, float z, float r) {
    masks[i] |= Near::test(half, x, y, z, r) ? bit : 0;
  });
}

// Who is in the midst of a mesh has to be put out, too.
void markMesh(const Frame& frame, const DeflectorShape& shape, const Ranges& ranges, std::size_t count,
              std::uint32_t bit, DeflectorMasks& masks) {
  ChunkArray places[4];
  const Vec3 centre(shape.centre());
  const auto scale = static_cast<float>(1 / shape.meshScale());
  forEachPlace(frame, ranges, count, [&](std::size_t i, float x, float y, float z, float r) {
    places[0][i] = (x + centre.x) * scale;
    places[1][i] = (y + centre.y) * scale;
    places[2][i] = (z + centre.z) * scale;
    places[3][i] = r * scale;
  });
  std::array<bool, kChunkSize> near;
  shape.mayBeNear({places[0].data(), places[1].data(), places[2].data(), places[3].data(), count},
                  near.data());
  for (std::size_t i = 0; i < count; ++i) masks[i] |= near[i] ? bit : 0;
}

Frame frameOf(const Deflector& deflector, double clearance, double middleFraction, double seconds) {
  const DeflectorMotion& motion = deflector.motion();
  const Pose pose = motion.at(middleFraction);
  const Mat3d toOwn = glm::transpose(pose.rotation);
  Frame frame{};
  for (int row = 0; row < 3; ++row) {
    for (int column = 0; column < 3; ++column)
      frame.turn[row][column] = static_cast<float>(toOwn[column][row]);
    frame.place[row] = static_cast<float>((pose.position + pose.rotation * deflector.shape().centre())[row]);
  }
  // What single floats may lose on the way from the scene's space, with room to spare.
  constexpr double kRounding = 4e-6;
  const double still = motion.maxSpeed(glm::length(deflector.shape().centre()));
  // No moment is farther from the middle.
  const double half = 0.5 * seconds;
  frame.more = static_cast<float>(clearance + deflector.skin() + still * half +
                                  kRounding * (1 + glm::length(pose.position)));
  frame.perUnit = static_cast<float>((motion.maxSpeed(1) - motion.maxSpeed(0)) * half + kRounding);
  return frame;
}

}  // namespace

void markNear(const Deflector& deflector, double clearance, double middleFraction, double seconds,
              const Ranges& ranges, std::size_t count, std::uint32_t bit, DeflectorMasks& masks) {
  const DeflectorShape& shape = deflector.shape();
  const Frame frame = frameOf(deflector, clearance, middleFraction, seconds);
  Half half{static_cast<float>(shape.half().x), static_cast<float>(shape.half().y),
            static_cast<float>(shape.half().z)};
  const bool isHollow = shape.isInsideOut();
  switch (shape.type()) {
    case DeflectorShape::Type::Mesh:
      if (!shape.mesh()) return;
      return markMesh(frame, shape, ranges, count, bit, masks);
    case DeflectorShape::Type::Plane:
      return mark<NearPlane>(frame, half, ranges, count, bit, masks);
    case DeflectorShape::Type::Rectangle:
    case DeflectorShape::Type::Disc:
      return mark<NearFlat>(frame, half, ranges, count, bit, masks);
    case DeflectorShape::Type::Box:
      return isHollow ? mark<NearHollowBox>(frame, half, ranges, count, bit, masks)
                      : mark<NearBox>(frame, half, ranges, count, bit, masks);
    case DeflectorShape::Type::Sphere:
      return isHollow ? mark<NearHollowSphere>(frame, half, ranges, count, bit, masks)
                      : mark<NearSphere>(frame, half, ranges, count, bit, masks);
    case DeflectorShape::Type::Capsule:
      // Within the cylinder that holds it; hollow, the one that it holds.
      if (!isHollow) half.y += half.x;
      [[fallthrough]];
    case DeflectorShape::Type::Cylinder:
      return isHollow ? mark<NearHollowCylinder>(frame, half, ranges, count, bit, masks)
                      : mark<NearCylinder>(frame, half, ranges, count, bit, masks);
  }
}

}  // namespace comet
