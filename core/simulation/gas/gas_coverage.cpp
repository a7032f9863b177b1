#include "simulation/gas/gas_coverage.h"

#include "base/noise.h"
#include "base/parallel.h"
#include "base/random.h"
#include "gas/rows.h"
#include "simulation/emission/shape_distance.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/matrix.hpp>

namespace comet {
namespace {

// At so many moments of a step it is looked where a shape is that moves.
constexpr int kMoments = 4;
// Points that stand for a mesh or for strokes lie about half their radius from each other.
constexpr std::size_t kMaxPoints = 400000;
constexpr int kPiecesOfSpan = 8;

// How much of the gas there is so far beyond the edge: all within, half at it.
double fadeOf(double beyond, double softness) { return std::clamp(0.5 - beyond / softness, 0.0, 1.0); }

// What a source has at a voxel at one moment.
struct Covered {
  double amount = 0;
  Vec3d velocity{0.0};
  Vec3d color{1.0};
};

// A round piece of a source.
struct Blob {
  Vec3d at{0.0};
  Vec3d velocity{0.0};
  double radius = 0;
  double amount = 1;  // of what the source gives

  Vec3d reach(double softness) const { return Vec3d(radius + 0.5 * softness); }
};

struct VoxelRange {
  std::array<std::size_t, 3> begin{}, end{};

  bool isEmpty() const { return begin[0] >= end[0] || begin[1] >= end[1] || begin[2] >= end[2]; }
  GridLayout layout() const { return {{end[0] - begin[0], end[1] - begin[1], end[2] - begin[2]}}; }
  std::size_t size() const { return layout().size(); }
};

// The voxels whose middles may lie in a box of the scene.
VoxelRange voxelsIn(const GasGrid& grid, const Vec3d& min, const Vec3d& max) {
  VoxelRange range;
  for (int axis = 0; axis < 3; ++axis) {
    const auto i = static_cast<std::size_t>(axis);
    const auto last = static_cast<double>(grid.counts[i]);
    const double low = (min[axis] - grid.corner[axis]) / grid.voxel - 0.5;
    const double high = (max[axis] - grid.corner[axis]) / grid.voxel + 0.5;
    range.begin[i] = static_cast<std::size_t>(std::clamp(std::floor(low), 0.0, last));
    range.end[i] = static_cast<std::size_t>(std::clamp(std::ceil(high), 0.0, last));
  }
  return range;
}

class CoverageMaker {
 public:
  CoverageMaker(const SourcePlan& source, const GasGrid& grid, const ParticleState& particles,
                const Progress& progress)
      : source_(source),
        grid_(grid),
        particles_(particles),
        progress_(progress),
        softness_(std::max(source.softness, grid.voxel)) {}

  SourceCoverage run() {
    const bool hasParticles = source_.particlesOf != 0;
    const int moments = hasParticles || source_.path.poses.size() == 1 ? 1 : kMoments;
    for (int i = 0; i < moments; ++i) {
      progress_.stopIfCancelled();
      const double moment = (i + 0.5) / moments;
      if (hasParticles)
        addBlobs(particleBlobs(), 1);
      else if (!source_.strokes.empty())
        addStrokes(moment, 1.0 / moments);
      else if (source_.shape.type == ShapeType::Picture)
        addPicture(moment, 1.0 / moments);
      else if (hasDistance(source_.shape))
        addShape(moment, 1.0 / moments);
      else
        addPoints(moment, 1.0 / moments);
    }
    return finished();
  }

 private:
  // Adds of(x, y, z) for each voxel of a range, by its weight.
  template <typename Of>
  void add(const VoxelRange& range, double weight, const Of& of) {
    if (range.isEmpty()) return;
    growTo(range);
    const GridLayout box = coverage_.layout();
    forRows(range.layout(), [&](std::size_t j, std::size_t k) {
      const std::size_t y = range.begin[1] + j, z = range.begin[2] + k;
      for (std::size_t x = range.begin[0]; x < range.end[0]; ++x) {
        const Covered covered = of(x, y, z);
        if (covered.amount <= 0) continue;
        const std::size_t i =
            box.index(x - coverage_.begin[0], y - coverage_.begin[1], z - coverage_.begin[2]);
        addTo(i, covered, weight);
      }
    });
  }

  // What is held is held all along the path; what is given is spread over it.
  void addTo(std::size_t i, const Covered& covered, double weight) {
    float& amount = coverage_.amount[i];
    if (source_.isHeld) {
      if (covered.amount <= amount) return;
      amount = static_cast<float>(covered.amount);
      if (source_.velocity.isSet) coverage_.velocity[i] = Vec3(covered.velocity) * amount;
      if (source_.givesPicture) coverage_.color[i] = Vec3(covered.color) * amount;
      return;
    }
    const double more = covered.amount * weight;
    amount += static_cast<float>(more);
    if (source_.velocity.isSet) coverage_.velocity[i] += Vec3(covered.velocity * more);
    if (source_.givesPicture) coverage_.color[i] += Vec3(covered.color * more);
  }

  // The box becomes one that holds the range too.
  void growTo(const VoxelRange& range) {
    SourceCoverage grown;
    const bool isFirst = coverage_.isEmpty();
    for (std::size_t axis = 0; axis < 3; ++axis) {
      grown.begin[axis] = isFirst ? range.begin[axis] : std::min(coverage_.begin[axis], range.begin[axis]);
      grown.end[axis] = isFirst ? range.end[axis] : std::max(coverage_.end[axis], range.end[axis]);
    }
    if (!isFirst && grown.begin == coverage_.begin && grown.end == coverage_.end) return;
    const GridLayout box = grown.layout();
    grown.amount.resize(box.size());
    if (source_.velocity.isSet) grown.velocity.resize(box.size());
    if (source_.givesPicture) grown.color.resize(box.size());
    if (!isFirst) {
      const GridLayout old = coverage_.layout();
      std::size_t from = 0;
      for (std::size_t z = 0; z < old.counts[2]; ++z)
        for (std::size_t y = 0; y < old.counts[1]; ++y)
          for (std::size_t x = 0; x < old.counts[0]; ++x, ++from) {
            const std::size_t to =
                box.index(x + coverage_.begin[0] - grown.begin[0], y + coverage_.begin[1] - grown.begin[1],
                          z + coverage_.begin[2] - grown.begin[2]);
            grown.amount[to] = coverage_.amount[from];
            if (source_.velocity.isSet) grown.velocity[to] = coverage_.velocity[from];
            if (source_.givesPicture) grown.color[to] = coverage_.color[from];
          }
    }
    coverage_ = std::move(grown);
  }

  // Adds a shape that says what it has at each place in its own space, within `half` its size of its middle:
  // at(own, covered) sets the amount and colour and says how far the place is beyond the shape, and `away`
  // from it.
  template <typename At>
  void addPlaces(double moment, double weight, const Vec3d& half, const At& at) {
    const ShapePath::Placement placement = source_.path.at(moment);
    if (std::abs(glm::determinant(placement.frame)) < 1e-12) return;  // shrunk to nothing
    const Mat3d toOwn = glm::inverse(placement.frame);
    // How far the box around the shape reaches in the scene.
    Vec3d reach(source_.thickness + 0.5 * softness_);
    for (int axis = 0; axis < 3; ++axis) reach += glm::abs(placement.frame[axis]) * half[axis];
    const VoxelRange range = voxelsIn(grid_, placement.position - reach, placement.position + reach);
    add(range, weight, [&](std::size_t x, std::size_t y, std::size_t z) -> Covered {
      const Vec3d own = toOwn * (grid_.middleOf(x, y, z) - placement.position);
      Covered covered{1};
      const ShapeDistance found = at(own, covered);
      if (covered.amount <= 0) return covered;
      const double scene = glm::length(placement.frame * (found.away * found.distance));
      covered.amount *= fadeOf(std::copysign(scene, found.distance) - source_.thickness, softness_);
      if (covered.amount > 0 && source_.velocity.isSet)
        covered.velocity = velocityAt(placement, moment, own, found.away);
      return covered;
    });
  }

  void addShape(double moment, double weight) {
    addPlaces(moment, weight, halfSize(source_.shape),
              [this](const Vec3d& own, Covered&) { return shapeDistance(source_.shape, own); });
  }

  // As dense as it is bright or opaque, and as thick as the source is.
  void addPicture(double moment, double weight) {
    const Shape& shape = source_.shape;
    if (!shape.givesBirths()) return;
    const double width = shape.pictureWidth, height = width * shape.pictureSampler->aspect();
    addPlaces(moment, weight, 0.5 * Vec3d(width, height, 0), [&](const Vec3d& own, Covered& covered) {
      const PictureSampler::Spot spot = shape.pictureSampler->at(own.x / width + 0.5, 0.5 - own.y / height);
      covered.amount = spot.amount;
      covered.color = spot.color;
      return ShapeDistance{std::abs(own.z), Vec3d(0, 0, own.z < 0 ? -1 : 1)};
    });
  }

  void addStrokes(double moment, double weight) {
    const ShapePath::Placement placement = source_.path.at(moment);
    if (glm::length(placement.frame * Vec3d(1.0)) < 1e-9) return;
    const double radius = std::max(source_.thickness, 0.5 * grid_.voxel);
    std::vector<Blob> blobs;
    for (const Stroke& stroke : source_.strokes) {
      const std::vector<StrokeSpot> spots = smoothed(stroke, kPiecesOfSpan);
      for (std::size_t i = 1; i < spots.size(); ++i) {
        const Vec3d from = placement.toScene(spots[i - 1].at), to = placement.toScene(spots[i].at);
        const double length = glm::length(to - from);
        const auto pieces = static_cast<std::size_t>(std::clamp(std::ceil(3 * length / radius), 1.0, 1000.0));
        for (std::size_t piece = 0; piece < pieces && blobs.size() < kMaxPoints; ++piece) {
          const double part = (static_cast<double>(piece) + 0.5) / static_cast<double>(pieces);
          Blob blob{.at = from + (to - from) * part, .radius = radius};
          if (source_.velocity.isSet) blob.velocity = velocityAt(placement, moment, spots[i].at, Vec3d(0.0));
          blobs.push_back(blob);
        }
      }
    }
    addBlobs(blobs, weight);
  }

  Vec3d velocityAt(const ShapePath::Placement& placement, double moment, const Vec3d& own,
                   const Vec3d& normal) const {
    Vec3d velocity = placement.rotation * source_.velocity.own;
    if (source_.velocity.outwards != 0)
      velocity += source_.velocity.outwards * ShapePath::normalInScene(placement, normal);
    if (source_.velocity.inherited != 0)
      velocity += source_.velocity.inherited * source_.path.velocity(own, moment);
    return velocity;
  }

  // How many points stand for a mesh, so that there are no holes.
  std::size_t pointCount(double radius) const {
    const Shape& shape = source_.shape;
    const double apart = 0.5 * radius;
    double pieces = 0;
    const Mesh& mesh = shape.mesh->mesh();
    const Vec3d extent = mesh.bounds().extent();
    if (shape.region.place == MeshPlace::Inside)
      pieces = extent.x * extent.y * extent.z / (apart * apart * apart);
    else
      for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
        pieces += 0.5 * glm::length(mesh.areaVector(t)) / (apart * apart);
    const ShapePath::Placement& placement = source_.path.poses.front();
    const double scale = std::cbrt(std::abs(glm::determinant(placement.frame)));
    return static_cast<std::size_t>(std::clamp(2 * pieces * scale * scale, 16.0, double(kMaxPoints)));
  }

  void addPoints(double moment, double weight) {
    if (!source_.shape.givesBirths()) return;
    const ShapePath::Placement placement = source_.path.at(moment);
    if (glm::length(placement.frame * Vec3d(1.0)) < 1e-9) return;
    const double radius = std::max(source_.thickness, 0.5 * grid_.voxel);
    const RandomSource random(source_.noise.pattern);
    std::vector<Blob> blobs(pointCount(radius));
    parallelFor(blobs.size(), [&](std::size_t i) {
      // Evenly spread (the additive recurrence R3; Roberts 2018).
      constexpr double kA = 0.8191725133961645, kB = 0.6710436067037893, kC = 0.5497004779019703;
      const auto part = [i](double step) {
        const double at = 0.5 + step * static_cast<double>(i + 1);
        return at - std::floor(at);
      };
      const ShapePoint point =
          pointOn(source_.shape, {part(kA), part(kB), part(kC)}, [&](std::uint64_t more) {
            return Vec3d(random.unit(combineKeys(i, more), Draw::ShapeA),
                         random.unit(combineKeys(i, more), Draw::ShapeB),
                         random.unit(combineKeys(i, more), Draw::ShapeC));
          });
      blobs[i].at = placement.toScene(point.at);
      blobs[i].radius = radius;
      if (source_.velocity.isSet) blobs[i].velocity = velocityAt(placement, moment, point.at, point.normal);
    });
    addBlobs(blobs, weight);
  }

  std::vector<Blob> particleBlobs() const {
    std::vector<Blob> blobs;
    const ParticleGroup* group = particles_.find(source_.particlesOf);
    if (!group) return blobs;
    const ParticleStore& particles = group->particles;
    blobs.reserve(particles.size());
    const float *ages = particles.field(ParticleStore::Age),
                *lives = particles.field(ParticleStore::Lifetime);
    for (std::size_t i = 0; i < particles.size(); ++i) {
      const double amount = source_.puff.amountAt(ages[i], lives[i]);
      if (amount <= 0) continue;
      blobs.push_back({particles.position(i),
                       source_.velocity.own + source_.velocity.inherited * particles.velocity(i),
                       source_.puff.radiusOf(particles.ids()[i]), amount});
    }
    return blobs;
  }

  void addBlobs(const std::vector<Blob>& blobs, double weight) {
    if (blobs.empty()) return;
    std::vector<VoxelRange> ranges(blobs.size());
    VoxelRange all{grid_.counts, {}};
    for (std::size_t i = 0; i < blobs.size(); ++i) {
      const Vec3d reach = blobs[i].reach(softness_);
      ranges[i] = voxelsIn(grid_, blobs[i].at - reach, blobs[i].at + reach);
      if (ranges[i].isEmpty()) continue;
      for (std::size_t axis = 0; axis < 3; ++axis) {
        all.begin[axis] = std::min(all.begin[axis], ranges[i].begin[axis]);
        all.end[axis] = std::max(all.end[axis], ranges[i].end[axis]);
      }
    }
    if (all.isEmpty()) return;
    // What covers a voxel most counts; of two alike, the first.
    const GridLayout box = all.layout();
    std::vector<float> amounts(box.size());
    std::vector<std::uint32_t> nearest(box.size());
    const std::vector<std::vector<std::uint32_t>> slices = byPlanes(ranges, all);
    parallelFor(box.counts[2], [&](std::size_t k) {
      const std::size_t z = all.begin[2] + k;
      for (const std::uint32_t i : slices[k])
        for (std::size_t y = ranges[i].begin[1]; y < ranges[i].end[1]; ++y)
          for (std::size_t x = ranges[i].begin[0]; x < ranges[i].end[0]; ++x) {
            const double beyond = glm::length(grid_.middleOf(x, y, z) - blobs[i].at) - blobs[i].radius;
            const auto amount = static_cast<float>(blobs[i].amount * fadeOf(beyond, softness_));
            const std::size_t at = box.index(x - all.begin[0], y - all.begin[1], k);
            if (amount <= amounts[at]) continue;
            amounts[at] = amount;
            nearest[at] = i;
          }
    });
    add(all, weight, [&](std::size_t x, std::size_t y, std::size_t z) -> Covered {
      const std::size_t at = box.index(x - all.begin[0], y - all.begin[1], z - all.begin[2]);
      return {amounts[at], blobs[nearest[at]].velocity};
    });
  }

  // For each plane of voxels across z, what reaches into it.
  static std::vector<std::vector<std::uint32_t>> byPlanes(const std::vector<VoxelRange>& ranges,
                                                          const VoxelRange& all) {
    std::vector<std::vector<std::uint32_t>> planes(all.end[2] - all.begin[2]);
    for (std::size_t i = 0; i < ranges.size(); ++i) {
      if (ranges[i].isEmpty()) continue;
      for (std::size_t z = ranges[i].begin[2]; z < ranges[i].end[2]; ++z)
        planes[z - all.begin[2]].push_back(static_cast<std::uint32_t>(i));
    }
    return planes;
  }

  // Velocities on average, and amounts with noise.
  SourceCoverage finished() {
    if (coverage_.isEmpty()) return {};
    const GridLayout box = coverage_.layout();
    forRows(box, [&](std::size_t y, std::size_t z) {
      for (std::size_t x = 0; x < box.counts[0]; ++x) {
        const std::size_t i = box.index(x, y, z);
        float& amount = coverage_.amount[i];
        if (amount <= 0) continue;
        if (source_.velocity.isSet) coverage_.velocity[i] /= amount;
        if (source_.givesPicture) coverage_.color[i] /= amount;
        if (source_.noise.amount > 0)
          amount *=
              noiseAt(grid_.middleOf(x + coverage_.begin[0], y + coverage_.begin[1], z + coverage_.begin[2]));
      }
    });
    return std::move(coverage_);
  }

  float noiseAt(const Vec3d& place) const {
    const Vec3d at = (place - Vec3d(0, source_.noise.drift, 0)) / source_.noise.size;
    const double fraction = std::clamp(0.5 + smoothNoise(at, source_.noise.pattern), 0.0, 1.0);
    return static_cast<float>(1 - source_.noise.amount * fraction);
  }

  const SourcePlan& source_;
  const GasGrid& grid_;
  const ParticleState& particles_;
  const Progress& progress_;
  double softness_;
  SourceCoverage coverage_;
};

}  // namespace

SourceCoverage coverageOf(const SourcePlan& source, const GasGrid& grid, const ParticleState& particles,
                          const Progress& progress) {
  return source.activity > 0 ? CoverageMaker(source, grid, particles, progress).run() : SourceCoverage();
}

void giveGas(const SourcePlan& source, const SourceCoverage& coverage, const GasGrid& grid, double seconds,
             double timeScale, GasState& state, GasChannel& expansion) {
  if (coverage.isEmpty()) return;
  const GridLayout cells = grid.cells(), box = coverage.layout();
  const auto given = static_cast<float>(seconds * source.activity);
  const auto density = static_cast<float>(source.density), heat = static_cast<float>(source.temperature);
  const auto fuel = static_cast<float>(source.fuel);
  const auto swell = static_cast<float>(source.expansion * source.activity);
  forRows(box, [&](std::size_t y, std::size_t z) {
    const std::size_t row = cells.index(coverage.begin[0], y + coverage.begin[1], z + coverage.begin[2]);
    for (std::size_t x = 0; x < box.counts[0]; ++x) {
      const float amount = coverage.amount[box.index(x, y, z)];
      if (amount <= 0) continue;
      float &dense = state.density[row + x], &warm = state.temperature[row + x];
      const float more = density * amount * given;
      if (source.isHeld) {
        dense = std::max(dense, density * amount);
        warm = heat >= 0 ? std::max(warm, heat * amount) : std::min(warm, heat * amount);
      } else {
        dense += more;
        warm += heat * amount * given;
      }
      if (state.hasFuel()) {
        float& own = state.fuel[row + x];
        own = source.isHeld ? std::max(own, fuel * amount) : own + fuel * amount * given;
      }
      if (swell != 0) expansion[row + x] += swell * amount;
      if (state.hasAge() && source.isHeld) state.age[row + x] *= 1 - std::min(amount, 1.0F);
      if (!state.hasColor()) continue;
      const Vec3 color = coverage.color.empty() ? Vec3(source.color) : coverage.color[box.index(x, y, z)];
      for (std::size_t c = 0; c < 3; ++c) {
        float& colored = state.color[c][row + x];
        const float own = color[static_cast<int>(c)];
        colored += source.isHeld ? (dense * own - colored) * std::min(amount, 1.0F) : own * more;
      }
    }
  });
  // What only goes along with a gas has no velocity of its own.
  if (!source.velocity.isSet || state.velocity[0].empty()) return;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const GridLayout faces = grid.faces(axis);
    const std::size_t step = stepAlong(box, axis);
    // A face takes on what the voxels beside it have, by how much of each the source fills.
    std::array<std::size_t, 3> count = box.counts;
    ++count[axis];
    forRows({count}, [&](std::size_t y, std::size_t z) {
      for (std::size_t x = 0; x < count[0]; ++x) {
        const std::array<std::size_t, 3> at{x, y, z};
        const bool hasAbove = at[axis]<box.counts[axis], hasBelow = at[axis]> 0;
        const std::size_t above = box.index(x, y, z), below = hasBelow ? above - step : 0;
        const float more = hasAbove ? coverage.amount[above] : 0,
                    less = hasBelow ? coverage.amount[below] : 0;
        if (more + less <= 0) continue;
        const auto component = static_cast<int>(axis);
        const float wanted = ((hasAbove ? more * coverage.velocity[above][component] : 0) +
                              (hasBelow ? less * coverage.velocity[below][component] : 0)) /
                             ((more + less) * static_cast<float>(timeScale));
        float& now = state.velocity[axis][faces.index(x + coverage.begin[0], y + coverage.begin[1],
                                                      z + coverage.begin[2])];
        now += (wanted - now) * std::min(1.0F, 0.5F * (more + less) * static_cast<float>(source.activity));
      }
    });
  }
}

}  // namespace comet
