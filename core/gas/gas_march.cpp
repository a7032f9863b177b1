#include "gas/gas_march.h"

#include "base/parallel.h"
#include "gas/gas_spot.h"
#include "gas/smoothed.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <utility>

namespace comet {
namespace {

// Each octave of scattering is so much weaker, sees so much less gas and is so much more alike all around.
constexpr float kOctave = 0.5F;

std::size_t longestAxis(const Vec3d& v) {
  const Vec3d size = glm::abs(v);
  return size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
}

// The planes of a grid across an axis, and what of them lies where light goes through from one to the next.
struct Sweep {
  std::size_t axis, one, other;      // along the light, and across it
  std::array<std::size_t, 3> steps;  // of the grid
  bool isUpward;                     // whether the light is at the upper end of the axis
  double shiftOne, shiftOther;       // towards the light, in voxels, from plane to plane
  double length;                     // of the way between two planes, units

  Sweep(const GasGrid& grid, const Vec3d& towards) {
    axis = longestAxis(towards);
    one = (axis + 1) % 3;
    other = (axis + 2) % 3;
    const GridLayout cells = grid.cells();
    for (std::size_t i = 0; i < 3; ++i) steps[i] = stepAlong(cells, i);
    const double along = towards[static_cast<int>(axis)];
    isUpward = along > 0;
    shiftOne = towards[static_cast<int>(one)] / std::abs(along);
    shiftOther = towards[static_cast<int>(other)] / std::abs(along);
    length = grid.voxel / std::abs(along);
  }
};

// Four values of a plane around a point that may lie beyond its rim, where a value is `beyond`.
class PlaneSpot {
 public:
  PlaneSpot(const GasGrid& grid, const Sweep& sweep, double atOne, double atOther) {
    const double lowOne = std::floor(atOne), lowOther = std::floor(atOther);
    one_ = static_cast<float>(atOne - lowOne);
    other_ = static_cast<float>(atOther - lowOther);
    for (std::size_t i = 0; i < 4; ++i) {
      const double x = lowOne + (i % 2 == 1 ? 1 : 0), y = lowOther + (i > 1 ? 1 : 0);
      isThere_[i] = x >= 0 && y >= 0 && x < static_cast<double>(grid.counts[sweep.one]) &&
                    y < static_cast<double>(grid.counts[sweep.other]);
      if (isThere_[i])
        nodes_[i] = static_cast<std::size_t>(x) * sweep.steps[sweep.one] +
                    static_cast<std::size_t>(y) * sweep.steps[sweep.other];
    }
  }
  template <typename Of>
  float mix(std::size_t plane, float beyond, const Of& of) const {
    std::array<float, 4> v{};
    for (std::size_t i = 0; i < 4; ++i) v[i] = isThere_[i] ? of(plane + nodes_[i]) : beyond;
    const float low = v[0] + (v[1] - v[0]) * one_, high = v[2] + (v[3] - v[2]) * one_;
    return low + (high - low) * other_;
  }

 private:
  float one_ = 0, other_ = 0;
  std::array<bool, 4> isThere_{};
  std::array<std::size_t, 4> nodes_{};
};

}  // namespace

float phase(float anisotropy, float cosine) {
  const float g = std::clamp(anisotropy, -0.99F, 0.99F);
  const float squared = 1 + g * g - 2 * g * cosine;
  return (1 - g * g) / (squared * std::sqrt(squared));
}

GasMarch::GasMarch(const GasGrid& grid, const GasState& state, const GasLook& look,
                   std::vector<GasLight> lights, double stepVoxels)
    : grid_(grid),
      state_(state),
      look_(look),
      lights_(std::move(lights)),
      stepVoxels_(stepVoxels),
      nodes_(grid.cells()) {
  if (look_.glows()) heat_ = smoothed(grid.cells(), state.temperature);
  findBricks();
  if (look_.glows() && look_.fireOnGas > 0) fireLight_ = FireLight(grid, state, look);
  for (GasLight& light : lights_) {
    light.towards = glm::normalize(light.towards);
    lit_.push_back(lightThrough(light));
  }
}

void GasMarch::findBricks() {
  const GridLayout cells = grid_.cells();
  for (std::size_t axis = 0; axis < 3; ++axis)
    bricks_.counts[axis] = (cells.counts[axis] + kBrick - 1) / kBrick;
  holdsGas_.assign(bricks_.size(), 0);
  parallelFor(bricks_.counts[2], [&](std::size_t z) {
    for (std::size_t y = 0; y < bricks_.counts[1]; ++y)
      for (std::size_t x = 0; x < bricks_.counts[0]; ++x) {
        // What lies half a voxel beyond a brick is mixed with what is in it.
        const std::array<std::size_t, 3> at{x, y, z};
        std::array<std::size_t, 3> begin{}, end{};
        for (std::size_t axis = 0; axis < 3; ++axis) {
          begin[axis] = at[axis] > 0 ? at[axis] * kBrick - 1 : 0;
          end[axis] = std::min((at[axis] + 1) * kBrick + 1, cells.counts[axis]);
        }
        const auto isSeen = [&](std::size_t voxel) {
          return look_.extinction.at(state_.density[voxel]) > 0 ||
                 (look_.glows() && heat_[voxel] > look_.glowsFrom);
        };
        bool holds = false;
        for (std::size_t k = begin[2]; k < end[2] && !holds; ++k)
          for (std::size_t j = begin[1]; j < end[1] && !holds; ++j)
            for (std::size_t i = begin[0]; i < end[0] && !holds; ++i) holds = isSeen(cells.index(i, j, k));
        holdsGas_[bricks_.index(x, y, z)] = holds ? 1 : 0;
      }
  });
}

GasChannel GasMarch::lightThrough(const GasLight& light) const {
  const GridLayout cells = grid_.cells();
  const Sweep sweep(grid_, light.towards);
  GasChannel lit(cells.size(), 1.0F);
  const auto extinctionAt = [&](std::size_t i) {
    return look_.shadow * look_.extinction.at(state_.density[i]);
  };
  const auto litAt = [&](std::size_t i) { return lit[i]; };
  const auto length = static_cast<float>(sweep.length);
  const std::size_t planes = grid_.counts[sweep.axis];
  for (std::size_t n = 0; n < planes; ++n) {
    const std::size_t plane = (sweep.isUpward ? planes - 1 - n : n) * sweep.steps[sweep.axis];
    const std::size_t before =
        n == 0 ? plane : plane + sweep.steps[sweep.axis] * (sweep.isUpward ? 1 : std::size_t(-1));
    parallelFor(grid_.counts[sweep.other], [&](std::size_t other) {
      for (std::size_t one = 0; one < grid_.counts[sweep.one]; ++one) {
        const std::size_t i = plane + one * sweep.steps[sweep.one] + other * sweep.steps[sweep.other];
        if (n == 0) {
          // From the wall to the first voxels' middles.
          lit[i] = std::exp(-0.5F * length * extinctionAt(i));
          continue;
        }
        const PlaneSpot spot(grid_, sweep, static_cast<double>(one) + sweep.shiftOne,
                             static_cast<double>(other) + sweep.shiftOther);
        const float between = 0.5F * (extinctionAt(i) + spot.mix(before, 0, extinctionAt));
        lit[i] = spot.mix(before, 1, litAt) * std::exp(-length * between);
      }
    });
  }
  return lit;
}

GasMarch::Span GasMarch::within(const Vec3d& from, const Vec3d& direction, double farthest) const {
  Span span{0, farthest};
  for (int axis = 0; axis < 3; ++axis) {
    const double low = grid_.corner[axis];
    const double high = low + grid_.voxel * static_cast<double>(grid_.counts[static_cast<std::size_t>(axis)]);
    if (direction[axis] == 0) {
      if (from[axis] < low || from[axis] > high) return {};
      continue;
    }
    const double a = (low - from[axis]) / direction[axis], b = (high - from[axis]) / direction[axis];
    span.begin = std::max(span.begin, std::min(a, b));
    span.end = std::min(span.end, std::max(a, b));
  }
  return span;
}

Vec3 GasMarch::colorAt(const GasSpot& spot, float density) const {
  if (look_.colorBy == GasColorBy::Temperature)
    return look_.color.at(nodes_.valueAt(state_.temperature.data(), spot));
  if (look_.colorBy == GasColorBy::Age && state_.hasAge())
    return look_.color.at(nodes_.valueAt(state_.age.data(), spot) / density);
  if (look_.colorBy != GasColorBy::Source || !state_.hasColor()) return look_.color.at(density);
  Vec3 color;
  for (int i = 0; i < 3; ++i)
    color[i] = std::max(0.0F, nodes_.valueAt(state_.color[static_cast<std::size_t>(i)].data(), spot));
  return color / density;
}

void GasMarch::addPhases(std::size_t which, const Vec3d& direction, GasPhases& phases) const {
  const auto cosine = static_cast<float>(glm::dot(lights_[which].towards, direction));
  float weight = 1, anisotropy = look_.anisotropy, weights = 0;
  for (std::size_t octave = 0; octave < octaves(); ++octave) {
    phases.push_back(weight * phase(anisotropy, cosine));
    weights += weight;
    weight *= kOctave;
    anisotropy *= kOctave;
  }
  for (std::size_t i = phases.size() - octaves(); i < phases.size(); ++i) phases[i] /= weights;
}

GasPhases GasMarch::phasesAlong(const Vec3d& direction) const {
  GasPhases phases;
  phases.reserve(lights_.size() * octaves());
  for (std::size_t i = 0; i < lights_.size(); ++i) addPhases(i, direction, phases);
  return phases;
}

float GasMarch::sentOn(std::size_t which, const GasSpot& spot, std::span<const float> octaves) const {
  float through = std::max(0.0F, nodes_.valueAt(lit_[which].data(), spot)), sum = 0;
  for (std::size_t octave = 0; octave < octaves.size(); ++octave) {
    if (octave > 0) through = std::sqrt(through);  // the light of the next octave sees half of the gas
    sum += octaves[octave] * through;
  }
  return sum;
}

float GasMarch::sentOn(std::size_t which, const Vec3d& place, const Vec3d& direction) const {
  GasPhases phases;
  addPhases(which, direction, phases);
  return sentOn(which, nodes_.spotAt(fromFirst((place - grid_.corner) / grid_.voxel)), phases);
}

Vec3 GasMarch::scattered(const GasPoint& point, const GasPhases& phases) const {
  if (!(point.density > 0)) return Vec3(0.0F);
  Vec3 sum = look_.ambient;
  if (look_.glows()) sum += fireLight_.at(point.at);
  for (std::size_t i = 0; i < lights_.size(); ++i)
    sum += lights_[i].color * sentOn(i, point.spot, std::span(phases).subspan(i * octaves(), octaves()));
  return colorAt(point.spot, point.density) * sum;
}

GasRay GasMarch::along(const Vec3d& from, const Vec3d& direction, double farthest) const {
  GasRay ray;
  float weights = 0;
  const GasPhases phases = phasesAlong(direction);
  eachSeen(from, direction, farthest,
           [&](const GasPoint& point, float extinction, double distance, float length) {
             const float through = std::exp(-extinction * length);
             const float stopped = ray.transmittance * (1 - through);
             float weight = stopped;
             ray.light += stopped * scattered(point, phases);
             if (look_.glows()) {
               const Vec3 glow = ray.transmittance * litLength(extinction, length, through) * point.glow;
               ray.light += glow;
               weight += glowWeight(glow);
             }
             ray.depth += weight * static_cast<float>(distance);
             weights += weight;
             ray.transmittance *= through;
             return ray.transmittance > kOpaque;
           });
  ray.depth = weights > 0 ? ray.depth / weights : 0;
  return ray;
}

float GasMarch::transmittanceTo(const Vec3d& from, const Vec3d& direction, double distance) const {
  float thickness = 0;
  eachStep(from, direction, distance, [&](const Four& at, double, float length) {
    const GasSpot spot = nodes_.spotAt(at);
    thickness += length * look_.extinction.at(nodes_.valueAt(state_.density.data(), spot));
    return true;
  });
  return std::exp(-thickness);
}

}  // namespace comet
