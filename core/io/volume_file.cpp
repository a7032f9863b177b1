#include "io/volume_file.h"

#include "base/error.h"
#include "base/file.h"
#include "gas/voxel_vectors.h"

#include <cmath>
#include <fmt/format.h>
#include <new>
#include <openvdb/io/Stream.h>
#include <openvdb/openvdb.h>
#include <openvdb/util/logging.h>
#include <sstream>

namespace comet {
namespace {

constexpr std::int64_t kMaxVoxels = std::int64_t{32} << 20;

Vec3d toVec(const openvdb::Vec3d& v) { return {v.x(), v.y(), v.z()}; }

// The size of a voxel and where voxel 0 lies, of a grid whose axes are those of the scene.
struct Placing {
  Vec3d voxel{1.0}, origin{0.0};
};

Placing placingOf(const openvdb::GridBase& grid) {
  const openvdb::math::Transform& transform = grid.transform();
  if (!transform.isLinear())
    refuseInput(grid.getName(), "is shaped like a frustum", "Export it on a straight grid");
  Placing placing;
  placing.origin = toVec(transform.indexToWorld(openvdb::Vec3d(0, 0, 0)));
  for (int axis = 0; axis < 3; ++axis) {
    openvdb::Vec3d step(0, 0, 0);
    step[axis] = 1;
    const Vec3d moved = toVec(transform.indexToWorld(step)) - placing.origin;
    const double size = moved[axis];
    const double others = std::abs(moved.x) + std::abs(moved.y) + std::abs(moved.z) - std::abs(size);
    if (!(size > 0) || !std::isfinite(size) || others > 1e-6 * size)
      refuseInput(grid.getName(), "is turned, mirrored or sheared",
                  "Export it with its axes along those of the scene; here it can be turned");
    placing.voxel[axis] = size;
  }
  return placing;
}

Vec3 finite(const Vec3& vector) {
  return std::isfinite(vector.x + vector.y + vector.z) ? vector : Vec3(0.0F);
}

template <typename Grid>
VectorVolume volumeOf(const Grid& grid) {
  const Placing placing = placingOf(grid);
  const openvdb::CoordBBox box = grid.evalActiveVoxelBoundingBox();
  if (box.empty()) refuseInput(grid.getName(), "holds no vectors: all its voxels are off");
  const openvdb::Coord min = box.min(), max = box.max();
  VectorGrid::Counts counts{};
  std::int64_t voxels = 1;
  for (int axis = 0; axis < 3; ++axis) {
    const std::int64_t count = static_cast<std::int64_t>(max[axis]) - min[axis] + 1;
    if (count > kMaxVoxels || (voxels *= count) > kMaxVoxels)
      refuseInput(grid.getName(), fmt::format("has a box of more than {} million voxels", kMaxVoxels >> 20),
                  "Export it with larger voxels, or a part of it");
    counts[axis] = static_cast<int>(count);
  }
  VectorVolume volume;
  volume.name = grid.getName();
  volume.grid = VectorGrid(counts);
  for (auto value = grid.cbeginValueOn(); value; ++value) {
    openvdb::CoordBBox filled;
    value.getBoundingBox(filled);
    filled.intersect(box);
    const auto held = value.getValue();
    const Vec3 vector = finite(
        Vec3(static_cast<float>(held.x()), static_cast<float>(held.y()), static_cast<float>(held.z())));
    for (const openvdb::Coord& at : filled)
      volume.grid.at(at.x() - min.x(), at.y() - min.y(), at.z() - min.z()) = vector;
  }
  const Vec3d cells(counts[0], counts[1], counts[2]);
  volume.size = cells * placing.voxel;
  volume.centre = placing.origin + (Vec3d(min.x(), min.y(), min.z()) - 0.5 + 0.5 * cells) * placing.voxel;
  return volume;
}

std::vector<VectorVolume> volumesIn(std::istream& stream) {
  prepareVolumes();
  const openvdb::GridPtrVecPtr grids = openvdb::io::Stream(stream, false).getGrids();
  std::vector<VectorVolume> volumes;
  std::string others;
  for (const openvdb::GridBase::Ptr& grid : *grids) {
    if (const auto single = openvdb::gridPtrCast<openvdb::Vec3SGrid>(grid))
      volumes.push_back(volumeOf(*single));
    else if (const auto twice = openvdb::gridPtrCast<openvdb::Vec3DGrid>(grid))
      volumes.push_back(volumeOf(*twice));
    else
      others += fmt::format("{}\"{}\" ({})", others.empty() ? "" : ", ", grid->getName(), grid->valueType());
  }
  if (volumes.empty())
    refuseInput("", "has no grid of vectors" + (others.empty() ? "" : ", but " + others),
                "Export a grid of type vec3s, such as a velocity");
  return volumes;
}

// Voxels of a size along each axis, the first of which has its middle there.
openvdb::math::Transform::Ptr transformOf(const Vec3d& voxel, const Vec3d& first) {
  const auto transform = openvdb::math::Transform::createLinearTransform();
  transform->preScale({voxel.x, voxel.y, voxel.z});
  transform->postTranslate({first.x, first.y, first.z});
  return transform;
}

std::string bytesOf(const openvdb::GridPtrVec& grids) {
  std::ostringstream stream(std::ios_base::binary);
  openvdb::io::Stream(stream).write(grids);
  return stream.str();
}

// Sets of(index) at each voxel at which it is not `nothing`.
template <typename Grid, typename Of>
typename Grid::Ptr gridOf(const char* name, const GasGrid& box, const typename Grid::ValueType& nothing,
                          const Of& of) {
  auto grid = Grid::create(nothing);
  grid->setName(name);
  grid->setTransform(transformOf(Vec3d(box.voxel), box.corner + 0.5 * box.voxel));
  auto accessor = grid->getAccessor();
  const GridLayout cells = box.cells();
  std::size_t i = 0;
  for (std::size_t z = 0; z < cells.counts[2]; ++z)
    for (std::size_t y = 0; y < cells.counts[1]; ++y)
      for (std::size_t x = 0; x < cells.counts[0]; ++x, ++i) {
        const auto value = of(i);
        if (value == nothing) continue;
        accessor.setValue({static_cast<int>(x), static_cast<int>(y), static_cast<int>(z)}, value);
      }
  return grid;
}

bool startsAsVolume(std::string_view bytes) {
  // A number of eight bytes whose lower four are these letters.
  return bytes.size() >= 8 && bytes.substr(0, 4) == " BDV";
}

}  // namespace

std::vector<VectorVolume> vectorVolumesFromBytes(std::string_view bytes, const std::string& name) {
  try {
    if (!startsAsVolume(bytes)) refuseInput("", "is not a volume file", "Use an OpenVDB file (.vdb)");
    std::istringstream stream{std::string(bytes)};
    // The library does not look whether it got what it read.
    stream.exceptions(std::ios_base::failbit | std::ios_base::badbit);
    return volumesIn(stream);
  } catch (const Error& error) {
    throw error.within(name);
  } catch (const std::bad_alloc&) {
    refuseInput(name, "asks for more memory than there is",
                "Export it again, in smaller parts if it is large");
  } catch (const std::ios_base::failure&) {
    refuseInput(name, "is cut short", "Export it again");
  } catch (const std::exception& error) {
    // The library's own, and what the standard library says to the sizes that a damaged file claims.
    refuseInput(name, fmt::format("cannot be read as a volume ({})", error.what()), "Export it again");
  }
}

void prepareVolumes() {
  openvdb::initialize();
  // What is wrong is said by errors of ours.
  openvdb::logging::setLevel(openvdb::logging::Level::Fatal);
}

void writeVectorVolume(const std::filesystem::path& path, const VectorVolume& volume) {
  openvdb::initialize();
  const auto grid = openvdb::Vec3SGrid::create();
  const VectorGrid::Counts& counts = volume.grid.counts();
  const Vec3d voxel = volume.size / Vec3d(counts[0], counts[1], counts[2]);
  const Vec3d first = volume.centre - 0.5 * volume.size + 0.5 * voxel;
  grid->setTransform(transformOf(voxel, first));
  grid->setName(volume.name);
  auto accessor = grid->getAccessor();
  for (int z = 0; z < counts[2]; ++z)
    for (int y = 0; y < counts[1]; ++y)
      for (int x = 0; x < counts[0]; ++x) {
        const Vec3& vector = volume.grid.at(x, y, z);
        accessor.setValue({x, y, z}, {vector.x, vector.y, vector.z});
      }
  writeFileAtomically(path, bytesOf({grid}));
}

std::string encodeGas(const PackedGas& gas) {
  openvdb::initialize();
  // Its contents may be in finer voxels than its velocity.
  const PackedGas& seen = gas.finest();
  const GasGrid& box = seen.grid();
  const GasChannel density = seen.density(), temperature = seen.temperature();
  const VoxelVectors velocity = middleVelocities(gas.grid(), gas.velocity());
  const auto dense =
      gridOf<openvdb::FloatGrid>("density", box, 0.0F, [&](std::size_t i) { return density[i]; });
  dense->setGridClass(openvdb::GRID_FOG_VOLUME);
  const auto warm =
      gridOf<openvdb::FloatGrid>("temperature", box, 0.0F, [&](std::size_t i) { return temperature[i]; });
  const auto moving = gridOf<openvdb::Vec3SGrid>(
      "velocity", gas.grid(), openvdb::Vec3s(0.0F),
      [&](std::size_t i) { return openvdb::Vec3s(velocity[0][i], velocity[1][i], velocity[2][i]); });
  moving->setVectorType(openvdb::VEC_CONTRAVARIANT_RELATIVE);
  openvdb::GridPtrVec grids{dense, warm, moving};
  if (const GasChannel fuel = seen.fuel(); !fuel.empty())
    grids.push_back(gridOf<openvdb::FloatGrid>("fuel", box, 0.0F, [&](std::size_t i) { return fuel[i]; }));
  return bytesOf(grids);
}

}  // namespace comet
