#include "io/point_file.h"

#include <cstring>
#include <gmock/gmock.h>

namespace comet {
namespace {

PointTable table() {
  PointTable t;
  t.count = 2;
  t.columns = {{"id", PointColumn::Type::Whole, {3298534883329.0, 2}, {}},
               {"emitter", PointColumn::Type::Text, {0, 1}, {"reed fluff", "moths, grey"}},
               {"x", PointColumn::Type::Float, {0.1F, -2.5}, {}}};
  return t;
}

TEST(PointFile, CsvKeepsEveryDigit) {
  EXPECT_EQ(encodePoints(table(), PointFormat::Csv),
            "id,emitter,x\n3298534883329,reed fluff,0.100000001\n2,\"moths, grey\",-2.5\n");
}

TEST(PointFile, PlyHasItsHeaderAndBytes) {
  const std::string ply = encodePoints(table(), PointFormat::Ply);
  EXPECT_THAT(ply, testing::StartsWith("ply\nformat binary_little_endian 1.0\n"));
  EXPECT_THAT(ply,
              testing::HasSubstr("comment emitter 1 is moths, grey\nelement vertex 2\nproperty double id\n"
                                 "property int emitter\nproperty float x\nend_header\n"));
  const std::size_t body = ply.find("end_header\n") + 11;
  ASSERT_EQ(ply.size() - body, 2U * (8 + 4 + 4));
  float x = 0;
  std::memcpy(&x, ply.data() + body + 16 + 12, 4);
  EXPECT_EQ(x, -2.5F);
}

}  // namespace
}  // namespace comet
