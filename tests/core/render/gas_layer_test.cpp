// Gas in pictures: against closed forms, and with sprites against a picture in which each is laid by itself.
#include "render/gas_layer.h"

#include "core/gas/gas_boxes.h"
#include "render/renderer.h"
#include "simulation/gas/gas_kind.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::gasScene;
using test::simulate;
using test::with;
using test::withInfluence;

constexpr Camera kAhead{Camera::Projection::Orthographic, {0, 2, 20}, {0, 2, 0}, 40, 6};

// Gas of one density in a box 4 units deep, from z = -2 to 2, that sends the ambient light only: a slab.
struct Slab {
  Scene scene;
  double density;

  explicit Slab(double dense, std::initializer_list<std::string> assignments = {})
      : scene(with(
            with(gasScene(), {"gas.position=0,2,0", "gas.size=4,4,4", "gas.resolution=20", "gas.opacity=1",
                              "scene.light_strength=0", "scene.ambient_color=0.5,0.25,1",
                              R"(gas.color=[{"at":0,"color":[1,1,1]}])", "gas.full_density=1"}),
            assignments)),
        density(dense) {}

  Shot shot(Camera camera = kAhead,
            ParticleStatePtr particles = std::make_shared<const ParticleState>()) const {
    const Item& item = *scene.findByName("gas");
    const GasGrid grid = gasGridOf(item);
    GasState state = emptyGas(grid);
    std::fill(state.density.begin(), state.density.end(), static_cast<float>(density));
    for (float& value : state.velocity[0]) value = 3;
    SceneFrame frame;
    frame.number = 1;
    frame.particles = std::move(particles);
    frame.gases = std::make_shared<const GasesState>(
        GasesState{{{item.id, std::make_shared<const PackedGas>(grid, state)}}});
    return {scene, frame, {}, camera, {96, 96}};
  }
};

TEST(GasLayer, SlabCoversByTheLawOfBeerAndLambert) {
  for (const double density : {0.05, 0.3, 0.9}) {
    const Slab slab(density);
    const Picture picture = Renderer().draw(slab.shot());
    const double cover = 1 - std::exp(-4 * slab.density);
    const Vec4 pixel = picture.at(48, 48);
    EXPECT_NEAR(pixel.w, cover, 1e-3);
    EXPECT_NEAR(pixel.x, 0.5 * cover, 1e-3);
    EXPECT_NEAR(pixel.z, cover, 1e-3);
    EXPECT_EQ(picture.at(3, 48), Vec4(0.0F)) << "beside the box there is nothing";
  }
}

TEST(GasLayer, RampsSayOpacityAndColor) {
  const auto pixelOf = [](std::initializer_list<std::string> assignments) {
    return Renderer().draw(Slab(0.5, assignments).shot()).at(48, 48);
  };
  const Vec4 plain = pixelOf({});
  EXPECT_NEAR(pixelOf({"gas.full_density=2"}).w, 1 - std::exp(-4 * 0.25), 2e-3) << "half as far up the ramp";
  EXPECT_NEAR(
      pixelOf({R"(gas.opacity_ramp=[{"at":0,"value":0},{"at":0.5,"value":0.1},{"at":1,"value":1}])"}).w,
      1 - std::exp(-0.4), 0.02);
  const Vec4 red = pixelOf({R"(gas.color=[{"at":0,"color":[0,1,1]},{"at":1,"color":[1,0,0]}])"});
  EXPECT_NEAR(red.x, 0.5 * plain.x, 0.02);
  EXPECT_NEAR(red.z, 0.5 * plain.z, 0.02);
}

// One large soft sprite in the middle of the slab, laid between its halves.
TEST(GasLayer, SpritesInGasAreDimmedAndCoverWhatIsBehind) {
  const auto sprites = [](const Scene& scene, double z) {
    const Scene placed = with(scene, {"emitter.position=0,2," + std::to_string(z)});
    return simulate(placed, 1)->particles;
  };
  const Slab slab(0.3, {"emitter.bursts=[{\"frame\":1,\"count\":1}]", "emitter.shape=point",
                        "emitter.speed=0", "emitter.size=3", "emitter.opacity=60"});
  for (const double z : {-3.0, -1.0, 0.0, 1.5, 3.0}) {
    const ParticleStatePtr particles = sprites(slab.scene, z);
    const Picture both = Renderer().draw(slab.shot(kAhead, particles));
    Shot without = slab.shot(kAhead, particles);
    without.frame.gases = std::make_shared<const GasesState>();
    const Vec4 sprite = Renderer().draw(without).at(48, 48);
    ASSERT_GT(sprite.w, 0.1F);
    const double before = std::clamp(2 - z, 0.0, 4.0), behind = 4 - before;
    const double front = std::exp(-0.3 * before), back = std::exp(-0.3 * behind);
    const Vec3d light(0.5, 0.25, 1);
    const double kept = 1 - static_cast<double>(sprite.w);
    for (int i = 0; i < 3; ++i)
      EXPECT_NEAR(
          both.at(48, 48)[i],
          light[i] * (1 - front) + front * (static_cast<double>(sprite[i]) + kept * light[i] * (1 - back)),
          5e-3)
          << z << " " << i;
    EXPECT_NEAR(both.at(48, 48).w, 1 - front * kept * back, 5e-3) << z;
  }
}

// Many sprites in many depths, against the law for each of them in turn.
TEST(GasLayer, ManySpritesAreWithinTwoPercentOfEachByItself) {
  const Slab slab(0.4, {"emitter.bursts=[{\"frame\":1,\"count\":400}]", "emitter.shape=box",
                        "emitter.extent=0.02,0.02,3.9", "emitter.position=0,2,0", "emitter.speed=0",
                        "emitter.size=2", "emitter.opacity=2"});
  const ParticleStatePtr particles = simulate(slab.scene, 1)->particles;
  const Picture both = Renderer().draw(slab.shot(kAhead, particles));
  // One sprite's light and cover at the middle.
  Shot one = slab.shot(kAhead, particles);
  one.frame.gases = std::make_shared<const GasesState>();
  const ParticleStore& store = particles->groups.front().particles;
  std::vector<double> depths;
  for (std::size_t i = 0; i < store.size(); ++i) depths.push_back(store.position(i).z);
  std::sort(depths.begin(), depths.end());
  const Vec4 all = Renderer().draw(one).at(48, 48);
  // Alike sprites: each keeps the same part of what is behind it.
  const double kept = std::pow(1 - static_cast<double>(all.w), 1.0 / static_cast<double>(depths.size()));
  const double own = static_cast<double>(all.x) / static_cast<double>(all.w) * (1 - kept);
  double expected = 0, last = -2;
  const auto gas = [&](double to) {
    const double through = std::exp(-0.4 * (to - last));
    expected = expected * through + 0.5 * (1 - through);
    last = to;
  };
  for (const double z : depths) {
    gas(z);
    expected = expected * kept + own;
  }
  gas(2);
  EXPECT_NEAR(both.at(48, 48).x / expected, 1, 0.02);
}

TEST(GasLayer, DeflectorsHideGasBehindThem) {
  const Slab slab(0.5);
  Slab hidden = slab;
  hidden.scene = withInfluence(slab.scene, "deflector",
                               {"deflector.shape=box", "deflector.size=2,2,1", "deflector.position=0,2,0",
                                "deflector.render_display=holdout"});
  const Picture picture = Renderer().draw(hidden.shot());
  // From its front at z = 0.5 on there are 1.5 units of gas.
  EXPECT_NEAR(picture.at(48, 48).w, 1 - std::exp(-0.5 * 1.5), 0.01);
  EXPECT_NEAR(picture.at(70, 70).w, 1 - std::exp(-0.5 * 4), 0.01) << "beside it all of the gas is seen";
}

TEST(GasLayer, WhatIsLeftOutOrOffIsNotDrawn) {
  Shot shot = Slab(0.5).shot();
  shot.leftOut = {shot.scene.findByName("gas")->id};
  EXPECT_EQ(Renderer().draw(shot).at(48, 48), Vec4(0.0F));
  Shot off = Slab(0.5).shot();
  off.scene = off.scene.withEnabled(off.scene.findByName("gas")->id, false);
  EXPECT_EQ(Renderer().draw(off).at(48, 48), Vec4(0.0F));
}

// In a large picture rays lie farther apart than pixels, and what is between them is mixed; in a small one
// each pixel has its own.
TEST(GasLayer, RaysFarApartShowTheSameAsRaysAtEachPixel) {
  const SceneFramePtr frame = simulate(gasScene(), 20);
  Shot shot{
      gasScene(), *frame, {}, {Camera::Projection::Orthographic, {0, 3, 20}, {0, 3, 0}, 40, 7}, {400, 400}};
  const Picture coarse = Renderer().draw(shot);
  shot.size = {40, 40};
  const Picture fine = Renderer().draw(shot);
  double worst = 0, max = 0, all = 0;
  for (int y = 0; y < 40; ++y)
    for (int x = 0; x < 40; ++x) {
      double sum = 0;
      for (int j = 4; j < 6; ++j)
        for (int i = 4; i < 6; ++i) sum += static_cast<double>(coarse.at(10 * x + i, 10 * y + j).w) / 4;
      const double off = std::abs(sum - static_cast<double>(fine.at(x, y).w));
      worst = std::max(worst, off);
      all += off;
      max = std::max(max, sum);
    }
  EXPECT_GT(max, 0.5);
  EXPECT_LT(worst, 0.04) << "at the sharpest edge";
  EXPECT_LT(all / 1600, 0.002) << "on average";
}

TEST(GasLayer, NearerGasIsSeenInFrontOfFartherGas) {
  const Slab slab(20);
  Shot shot = slab.shot();
  shot.scene = test::with(shot.scene, {R"(gas.color=[{"at":0,"color":[1,0,0]}])"});
  // A second gas, green, nearer to the camera.
  Scene two = shot.scene.withDuplicate(shot.scene.findByName("gas")->id, *shot.scene.findByName("gas"));
  const std::string name = two.items().back()->name;
  two = test::with(two, {name + R"(.color=[{"at":0,"color":[0,1,0]}])", name + ".position=0,2,5"});
  const Item& near = *two.items().back();
  const GasGrid grid = gasGridOf(near);
  GasState state = emptyGas(grid);
  std::fill(state.density.begin(), state.density.end(), 20.0F);
  GasesState gases = *shot.frame.gases;
  gases.gases.push_back({near.id, std::make_shared<const PackedGas>(grid, state)});
  shot.scene = test::with(two, {"scene.ambient_color=1,1,1", "gas.opacity=20", name + ".opacity=20"});
  shot.frame.gases = std::make_shared<const GasesState>(gases);
  const Vec4 pixel = Renderer().draw(shot).at(48, 48);
  EXPECT_NEAR(pixel.y, 1, 0.01);
  EXPECT_NEAR(pixel.x, 0, 0.01);
}

}  // namespace
}  // namespace comet
