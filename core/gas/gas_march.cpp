#include "gas/gas_march.h"

#include "base/parallel.h"
#include "gas/light_sweep.h"
#include "gas/smoothed.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <utility>

namespace comet {
namespace {

// Each octave of scattering is so much weaker, sees so much less gas and is so much more alike all around.
constexpr float kOctave = 0.5F;
// Less of a light than this is none.
constexpr double kNoLight = 1e-4;

}  // namespace

float phase(float anisotropy, float cosine) {
  const float g = std::clamp(anisotropy, -0.99F, 0.99F);
  const float squared = 1 + g * g - 2 * g * cosine;
  return (1 - g * g) / (squared * std::sqrt(squared));
}

GasMarch::GasMarch(const GasGrid& grid, const GasState& state, const GasLook& look, std::vector<Light> lights,
                   double stepVoxels)
    : grid_(grid),
      state_(state),
      look_(look),
      lights_(std::move(lights)),
      stepVoxels_(stepVoxels),
      nodes_(grid.cells()) {
  if (look_.glows()) heat_ = smoothed(grid.cells(), state.temperature);
  findBricks();
  if (look_.glows() && look_.fireOnGas > 0) fireLight_ = FireLight(grid, state, look);
  float weights = 0, weight = 1;
  for (std::size_t i = 0; i < octaves(); ++i, weight *= kOctave) weights += weight;
  firstOctave_ = 1 / weights;
  for (Light& light : lights_) {
    light.towards = glm::normalize(light.towards);
    lit_.push_back(light.isShadowed ? lightThrough(grid, state.density, look, light) : GasChannel());
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

template <typename Take>
void GasMarch::eachOctave(float cosine, const Take& take) const {
  float weight = firstOctave_, anisotropy = look_.anisotropy;
  for (std::size_t octave = 0; octave < octaves(); ++octave) {
    take(weight * phase(anisotropy, cosine));
    weight *= kOctave;
    anisotropy *= kOctave;
  }
}

GasPhases GasMarch::phasesAlong(const Vec3d& direction) const {
  GasPhases phases{direction, {}};
  phases.ofFar.reserve(lights_.size() * octaves());
  for (const Light& light : lights_)
    if (!light.point)
      eachOctave(static_cast<float>(glm::dot(light.towards, direction)),
                 [&](float sent) { phases.ofFar.push_back(sent); });
  return phases;
}

float GasMarch::throughTo(std::size_t which, const GasSpot& spot) const {
  return lit_[which].empty() ? 1 : std::max(0.0F, nodes_.valueAt(lit_[which].data(), spot));
}

float GasMarch::sentOn(std::size_t which, const Vec3d& place, const Vec3d& direction) const {
  return sentOn(which, place, nodes_.spotAt(fromFirst((place - grid_.corner) / grid_.voxel)), direction);
}

float GasMarch::sentOn(std::size_t which, const Vec3d& place, const GasSpot& spot,
                       const Vec3d& direction) const {
  const Light::Arriving light = lights_[which].arriving(place);
  if (light.fraction < kNoLight) return 0;
  float through = throughTo(which, spot), sum = 0;
  eachOctave(static_cast<float>(glm::dot(light.towards, direction)), [&](float sent) {
    sum += sent * through;
    through = std::sqrt(through);  // the light of the next octave sees half of the gas
  });
  return static_cast<float>(light.fraction) * sum;
}

// Where the phases are known.
float GasMarch::sentOnOfFar(std::size_t which, const GasSpot& spot, const float* phases) const {
  float through = throughTo(which, spot), sum = phases[0] * through;
  for (std::size_t octave = 1; octave < octaves(); ++octave) {
    through = std::sqrt(through);
    sum += phases[octave] * through;
  }
  return sum;
}

Vec3 GasMarch::scattered(const GasPoint& point, const GasPhases& phases) const {
  if (!(point.density > 0)) return Vec3(0.0F);
  Vec3 sum = look_.ambient;
  if (look_.glows()) sum += fireLight_.at(point.at);
  const float* far = phases.ofFar.data();
  for (std::size_t i = 0; i < lights_.size(); ++i) {
    float sent = 0;
    if (lights_[i].point) {
      sent = sentOn(i, placeOf(point.at), point.spot, phases.direction);
    } else {
      sent = sentOnOfFar(i, point.spot, far);
      far += octaves();
    }
    sum += lights_[i].color * sent;
  }
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
