// Points as an OpenVDB point grid: places in "P", the other columns as attributes under their own names, and
// velocities also together in "v", as programs that read such grids expect.
#include "base/error.h"
#include "io/point_file.h"

#include <openvdb/io/Stream.h>
#include <openvdb/openvdb.h>
#include <openvdb/points/PointAttribute.h>
#include <openvdb/points/PointConversion.h>
#include <openvdb/points/PointDataGrid.h>
#include <sstream>

namespace comet {
namespace {

namespace points = openvdb::points;

// Points of one voxel, on average.
constexpr int kPointsPerVoxel = 8;

// Three columns as vectors; empty if one is missing.
template <typename Vector>
std::vector<Vector> vectorsOf(const PointTable& table, std::string_view x, std::string_view y,
                              std::string_view z) {
  const PointColumn *first = table.find(x), *second = table.find(y), *third = table.find(z);
  std::vector<Vector> all;
  if (!first || !second || !third) return all;
  for (std::size_t i = 0; i < table.count; ++i)
    all.emplace_back(first->numbers[i], second->numbers[i], third->numbers[i]);
  return all;
}

class PointGrid {
 public:
  explicit PointGrid(const std::vector<openvdb::Vec3d>& places) {
    const points::PointAttributeVector<openvdb::Vec3d> wrapped(places);
    const float voxel = places.empty() ? 1.0F : points::computeVoxelSize(wrapped, kPointsPerVoxel);
    const auto transform = openvdb::math::Transform::createLinearTransform(voxel);
    index_ = openvdb::tools::createPointIndexGrid<openvdb::tools::PointIndexGrid>(wrapped, *transform);
    grid_ =
        points::createPointDataGrid<points::NullCodec, points::PointDataGrid>(*index_, wrapped, *transform);
    grid_->setName("particles");
  }

  template <typename Value>
  void add(const std::string& name, const std::vector<Value>& values) {
    points::appendAttribute(grid_->tree(), name, points::TypedAttributeArray<Value>::attributeType());
    const points::PointAttributeVector<Value> wrapped(values);
    points::populateAttribute(grid_->tree(), index_->tree(), name, wrapped);
  }

  std::string bytes() const {
    std::ostringstream stream(std::ios::binary);
    openvdb::io::Stream(stream).write(openvdb::GridCPtrVec{grid_});
    return stream.str();
  }

 private:
  openvdb::tools::PointIndexGrid::Ptr index_;
  points::PointDataGrid::Ptr grid_;
};

bool isPlace(const std::string& name) { return name == "x" || name == "y" || name == "z"; }

}  // namespace

std::string encodeVdbPoints(const PointTable& table) {
  try {
    openvdb::initialize();
    PointGrid grid(vectorsOf<openvdb::Vec3d>(table, "x", "y", "z"));
    if (const auto velocities = vectorsOf<openvdb::Vec3f>(table, "vx", "vy", "vz"); !velocities.empty())
      grid.add("v", velocities);
    for (const PointColumn& column : table.columns) {
      if (isPlace(column.name) || table.count == 0) continue;
      if (column.type == PointColumn::Type::Whole)
        grid.add(column.name, std::vector<std::int64_t>(column.numbers.begin(), column.numbers.end()));
      else
        grid.add(column.name, std::vector<float>(column.numbers.begin(), column.numbers.end()));
    }
    return grid.bytes();
  } catch (const openvdb::Exception& error) {
    throw Error(ErrorKind::Write, "", std::string("the points could not be encoded (") + error.what() + ")");
  }
}

}  // namespace comet
