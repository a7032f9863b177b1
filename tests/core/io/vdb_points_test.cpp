// Read again by the library.
#include "io/point_file.h"

#include <gtest/gtest.h>
#include <map>
#include <openvdb/io/Stream.h>
#include <openvdb/openvdb.h>
#include <openvdb/points/PointConversion.h>
#include <openvdb/points/PointDataGrid.h>
#include <sstream>

namespace comet {
namespace {

PointTable scattered(std::size_t count) {
  PointTable table;
  table.count = count;
  table.columns = {
      {"id", PointColumn::Type::Whole, {}, {}}, {"emitter", PointColumn::Type::Text, {}, {"moths"}},
      {"x", PointColumn::Type::Float, {}, {}},  {"y", PointColumn::Type::Float, {}, {}},
      {"z", PointColumn::Type::Float, {}, {}},  {"vx", PointColumn::Type::Float, {}, {}},
      {"vy", PointColumn::Type::Float, {}, {}}, {"vz", PointColumn::Type::Float, {}, {}}};
  for (std::size_t i = 0; i < count; ++i) {
    const auto n = static_cast<double>(i);
    const double row[] = {1099511627776.0 + n, 0, std::cos(n), 0.25 * n, std::sin(n), 1, n, -n};
    for (std::size_t c = 0; c < table.columns.size(); ++c) table.columns[c].numbers.push_back(row[c]);
  }
  return table;
}

openvdb::points::PointDataGrid::Ptr readBack(const std::string& bytes) {
  std::istringstream stream(bytes);
  const auto grids = openvdb::io::Stream(stream, false).getGrids();
  return openvdb::gridPtrCast<openvdb::points::PointDataGrid>(grids->front());
}

TEST(VdbPoints, HoldPlacesVelocitiesAndWholeIdentities) {
  namespace points = openvdb::points;
  const PointTable table = scattered(300);
  const auto grid = readBack(encodePoints(table, PointFormat::Vdb));
  ASSERT_TRUE(grid);
  std::map<std::int64_t, std::pair<openvdb::Vec3d, openvdb::Vec3f>> found;
  for (auto leaf = grid->tree().cbeginLeaf(); leaf; ++leaf) {
    const points::AttributeHandle<openvdb::Vec3f> place(leaf->constAttributeArray("P"));
    const points::AttributeHandle<openvdb::Vec3f> velocity(leaf->constAttributeArray("v"));
    const points::AttributeHandle<std::int64_t> id(leaf->constAttributeArray("id"));
    for (auto index = leaf->beginIndexOn(); index; ++index)
      found[id.get(*index)] = {grid->transform().indexToWorld(place.get(*index) + index.getCoord().asVec3d()),
                               velocity.get(*index)};
  }
  ASSERT_EQ(found.size(), 300U);
  for (std::size_t i = 0; i < 300; ++i) {
    const auto n = static_cast<double>(i);
    const auto& [place, velocity] = found.at(static_cast<std::int64_t>(table.columns[0].numbers[i]));
    EXPECT_NEAR(place.x(), std::cos(n), 1e-5);
    EXPECT_NEAR(place.y(), 0.25 * n, 1e-5);
    EXPECT_EQ(velocity.y(), static_cast<float>(n));
  }
}

TEST(VdbPoints, NoPointsAreAnEmptyGrid) {
  const auto grid = readBack(encodePoints(scattered(0), PointFormat::Vdb));
  ASSERT_TRUE(grid);
  EXPECT_EQ(grid->tree().leafCount(), 0U);
}

}  // namespace
}  // namespace comet
