#include "gas/gas_detail.h"
#include "simulation/gas/gas_kind.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace comet {
namespace {

using test::with;

class DetailedPlume : public testing::Test {
 protected:
  static Scene plume(std::initializer_list<std::string> settings = {}) {
    return with(with(test::gasScene(), {"gas.resolution=24", "gas.detail=2"}), settings);
  }
  static std::shared_ptr<const PackedGas> gasAt(const Scene& scene, int frame) {
    return test::simulate(scene, frame)->gases->gases.front().content;
  }
};

TEST_F(DetailedPlume, TheLargeShapesStay) {
  const auto gas = gasAt(plume(), 40);
  ASSERT_TRUE(gas->detail());
  const GasChannel own = gas->density();
  const GasChannel means = averagedDown(gas->detail()->grid(), gas->detail()->density(), gas->grid());
  const double range = *std::max_element(own.begin(), own.end());
  ASSERT_GT(range, 0.5);
  double squares = 0, most = 0;
  std::size_t filled = 0;
  for (std::size_t i = 0; i < own.size(); ++i) {
    const double apart = std::abs(static_cast<double>(own[i] - means[i]));
    most = std::max(most, apart);
    if (own[i] <= 0) continue;
    squares += apart * apart;
    ++filled;
  }
  EXPECT_LT(std::sqrt(squares / static_cast<double>(filled)), 0.02 * range);
  EXPECT_LT(most, 0.1 * range);
}

TEST_F(DetailedPlume, NothingActsBackOnTheGas) {
  const auto plain = gasAt(plume({"gas.detail=none"}), 20), detailed = gasAt(plume(), 20);
  EXPECT_FALSE(plain->detail());
  EXPECT_EQ(plain->density(), detailed->density());
  EXPECT_EQ(plain->temperature(), detailed->temperature());
  EXPECT_EQ(plain->velocity(), detailed->velocity());
}

TEST_F(DetailedPlume, ShowsMoreThanItsVoxelsHold) {
  const auto roughness = [](const char* swirls) {
    const auto gas = gasAt(plume({swirls}), 40);
    const PackedGas& fine = *gas->detail();
    const GasChannel density = fine.density();
    const GasChannel means = averagedDown(fine.grid(), density, gas->grid());
    const GridLayout cells = fine.grid().cells(), coarse = gas->grid().cells();
    double squares = 0, all = 0;
    for (std::size_t i = 0; i < density.size(); ++i) {
      const std::size_t x = i % cells.row(), y = i % cells.plane() / cells.row(), z = i / cells.plane();
      squares += std::pow(static_cast<double>(density[i] - means[coarse.index(x / 2, y / 2, z / 2)]), 2);
      all += std::pow(static_cast<double>(density[i]), 2);
    }
    return std::sqrt(squares / all);
  };
  const double plain = roughness("gas.detail_turbulence=0"),
               swirling = roughness("gas.detail_turbulence=300");
  EXPECT_GT(plain, 0.2) << "within voxels";
  EXPECT_GT(swirling, plain);
}

TEST_F(DetailedPlume, IsKeptAndTakenAgainWithEverything) {
  const auto gas = gasAt(plume({"gas.burning=on", "gas.color_by=age", "source.fuel=2"}), 12);
  std::string bytes;
  gas->put(bytes);
  ByteReader reader(bytes);
  const PackedGas again = PackedGas::take(reader);
  ASSERT_TRUE(again.detail());
  EXPECT_EQ(again.detail()->density(), gas->detail()->density());
  EXPECT_EQ(again.detail()->age(), gas->detail()->age());
  EXPECT_EQ(again.detail()->fuel(), gas->detail()->fuel());
  EXPECT_EQ((Hasher() << again.bytes()).digest(), (Hasher() << gas->bytes()).digest());
  for (std::size_t cut = 0; cut < bytes.size(); cut += 997) {
    ByteReader damaged(std::string_view(bytes).substr(0, cut));
    EXPECT_THROW(PackedGas::take(damaged), DamagedBytes) << cut;
  }
}

TEST_F(DetailedPlume, IsTheSameOnAllThreadsAndAfterAResumedRun) {
  test::expectTheSameHoweverRun(plume({"gas.burning=on", "source.fuel=2"}), 10);
}

TEST_F(DetailedPlume, IsNotInThePreview) {
  const Scene preview = atPreviewResolution(plume());
  EXPECT_EQ(preview.findByName("gas")->choice("detail"), "none");
  EXPECT_EQ(gasExtrasOf(preview, *preview.findByName("gas")).detail, 1);
}

TEST_F(DetailedPlume, FlatGasHasItToo) {
  const auto gas = gasAt(plume({"gas.dimensions=2d", "gas.resolution=48"}), 20);
  ASSERT_TRUE(gas->detail());
  EXPECT_EQ(gas->detail()->grid().counts[2], 1U);
  EXPECT_GT(gas->detail()->filled(), gas->filled());
}

}  // namespace
}  // namespace comet
