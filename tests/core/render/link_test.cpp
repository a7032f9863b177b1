#include "render/link.h"

#include "render/renderer.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>
#include <map>
#include <set>

namespace comet {
namespace {

using test::onlyGroup;
using test::simulate;
using test::with;

struct Linked {
  explicit Linked(Scene linkedScene, int at = 1) : scene(std::move(linkedScene)), frame(simulate(scene, at)) {
    const Item& emitter = *scene.findByName("emitter");
    look.emplace(scene, emitter, at, stamps);
    links.emplace(scene, emitter, *frame, *look, stamps);
  }
  std::vector<LinePoint> points(std::size_t index) const {
    std::vector<LinePoint> points;
    links->points(index, points);
    return points;
  }

  Scene scene;
  SceneFramePtr frame;
  StampCache stamps;
  std::optional<Look> look;
  std::optional<Links> links;
};

Scene cloud(int count) {
  return with(test::oneBurst(count), {"emitter.shape=sphere", "emitter.radius=2", "emitter.links=near"});
}

TEST(Links, JoinThoseThatAreAmongEachOthersNearest) {
  const std::size_t max = 3;
  const double within = 0.9;
  const Linked linked(with(cloud(150), {"emitter.link_max_length=0.9", "emitter.link_max_count=3"}));
  const ParticleStore& all = onlyGroup(linked.frame);
  // By trying all.
  const auto nearest = [&](std::size_t i) {
    std::vector<std::pair<double, std::size_t>> others;
    for (std::size_t j = 0; j < all.size(); ++j)
      if (const double d = glm::length(all.position(i) - all.position(j)); i != j && d <= within)
        others.emplace_back(d, j);
    std::sort(others.begin(), others.end());
    others.resize(std::min(max, others.size()));
    std::set<std::size_t> found;
    for (const auto& other : others) found.insert(other.second);
    return found;
  };
  std::size_t expected = 0;
  for (std::size_t i = 0; i < all.size(); ++i)
    for (const std::size_t j : nearest(i)) expected += i < j && nearest(j).count(i) > 0 ? 1 : 0;
  ASSERT_GT(expected, 50U);
  ASSERT_EQ(linked.links->count(), expected);
  std::map<double, std::size_t> perEnd;
  for (std::size_t k = 0; k < linked.links->count(); ++k) {
    const auto points = linked.points(k);
    ASSERT_EQ(points.size(), 2U);
    EXPECT_LE(points[1].along, within);
    for (const LinePoint& point : points) ++perEnd[point.place.x];
  }
  for (const auto& [end, count] : perEnd) EXPECT_LE(count, max);
}

TEST(Links, FadeAndThinByDistanceAndTakeTheColoursOfTheirEnds) {
  const Linked linked(with(
      cloud(60),
      {"emitter.link_max_length=1.5", "emitter.link_width=0.2",
       R"(emitter.link_width_by_distance=[{"at":0,"value":1,"to_next":"linear"},{"at":1,"value":0}])",
       R"(emitter.opacity={"value":50,"over_age":[{"at":0,"value":1}]})",
       R"(emitter.color={"value":[{"at":0,"color":[1,0,0]},{"at":1,"color":[0,0,1]}],"follows":"random"})"}));
  ASSERT_GT(linked.links->count(), 20U);
  std::set<double> reds;
  for (std::size_t k = 0; k < linked.links->count(); ++k) {
    const auto points = linked.points(k);
    const double fraction = points[1].along / 1.5;
    for (const LinePoint& point : points) {
      EXPECT_NEAR(point.width, 0.2 * (1 - fraction), 1e-4);
      EXPECT_NEAR(point.opacity, 0.5 * (1 - fraction), 1e-4);
      EXPECT_NEAR(point.color.x + point.color.z, 1, 1e-5);
      reds.insert(point.color.x);
    }
  }
  EXPECT_GT(reds.size(), 10U);
}

TEST(Links, GoToAnotherEmittersParticlesOrToAPlace) {
  Scene scene = cloud(30).withAdded(newItem(*catalog().find("emitter"), "post"));
  scene = with(scene, {"post.rate=0", R"(post.bursts=[{"frame":1,"count":1}])", "post.speed=0",
                       "post.position=0,1,0", "emitter.link_max_length=10", "emitter.link_max_count=1"});
  const Linked others(with(scene, {"emitter.link_emitter=post"}));
  ASSERT_EQ(others.links->count(), 30U);
  const Linked place(with(scene, {"emitter.links=item", "emitter.link_item=post"}));
  ASSERT_EQ(place.links->count(), 30U);
  for (std::size_t k = 0; k < 30; ++k)
    for (const Linked* linked : {&others, &place})
      EXPECT_LT(glm::length(linked->points(k)[1].place - Vec3d(0, 1, 0)), 1e-6);
  EXPECT_EQ(Linked(with(scene, {"emitter.links=item"})).links->count(), 0U) << "no place is named";
}

TEST(Links, AreDrawnWithTheirWidth) {
  // Two particles four units apart, linked by one line a tenth of a unit wide.
  Scene scene = with(test::oneBurst(2),
                     {"emitter.shape=line", "emitter.extent=4,1,1", "emitter.size=0", "emitter.links=near",
                      "emitter.link_max_length=10", "emitter.link_width=0.1", "emitter.link_color_source=own",
                      R"(emitter.link_opacity_by_distance=[{"at":0,"value":1}])"});
  const Linked linked(scene);
  ASSERT_EQ(linked.links->count(), 1U);
  const Camera flat{Camera::Projection::Orthographic, {0, 0, 10}, {0, 0, 0}, 40, 10};
  const Picture picture = Renderer().draw({scene, *linked.frame, {}, flat, {200, 200}});
  double sum = 0;
  for (int y = 0; y < 200; ++y)
    for (int x = 0; x < 200; ++x) sum += picture.at(x, y).w;
  const double pixels = 20 * linked.points(0)[1].along * 20 * 0.1;
  EXPECT_NEAR(sum, pixels, 0.02 * pixels);
}

}  // namespace
}  // namespace comet
