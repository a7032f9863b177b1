#include "render/trail.h"

#include "base/vector_unit.h"
#include "io/picture_content.h"
#include "render/renderer.h"
#include "support/scenes.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

using test::kGravity;
using test::with;
using test::withChild;
using test::withInfluence;

constexpr const char* kFullTaper = R"(emitter.trail_width_along=[{"at":0,"value":1}])";
constexpr const char* kFullOpacity = R"(emitter.trail_opacity_along=[{"at":0,"value":1}])";

// A frame with what its trails need.
struct Seen {
  Seen(Scene shown, int frame) : scene(std::move(shown)) {
    SceneRun run(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
    past = run.past(frame, pastNeeded(scene, frame));
    now = run.frame(frame);
  }
  Trails trails(const char* emitter = "emitter") {
    const Item& item = *scene.findByName(emitter);
    look.emplace(scene, item, now->number, stamps);
    return Trails(scene, item, *now, past, *look);
  }
  std::vector<LinePoint> points(const char* emitter = "emitter", std::size_t index = 0) {
    std::vector<LinePoint> points;
    if (const Trails all = trails(emitter); index < all.count()) all.points(index, points);
    return points;
  }

  Scene scene;
  Past past;
  SceneFramePtr now;
  StampCache stamps;
  std::optional<Look> look;
};

// One particle thrown up at 3 units a second, with a trail of half a second.
Scene oneTrail() { return with(test::oneBurst(1), {"emitter.trail=ribbon", "emitter.trail_time=0.5"}); }
Scene falling() { return withInfluence(oneTrail(), "gravity"); }
double parabola(double t) { return 3 * t - 0.5 * kGravity * t * t; }

TEST(Trails, LieOnTheParabolaAndAreAsLongAsSet) {
  Seen seen(with(falling(), {"emitter.trail_time=0.51"}), 25);
  const auto points = seen.points();
  ASSERT_GT(points.size(), 12U);
  EXPECT_NEAR(points.front().before, 0, 1e-9);
  EXPECT_NEAR(points.back().before, 0.51, 1e-9);
  for (const LinePoint& point : points)
    EXPECT_LT(glm::length(point.place - Vec3d(0, parabola(1 - point.before), 0)), 1e-4) << point.before;
}

TEST(Trails, BeginWhereAndWhenTheParticleWasBorn) {
  // Born between frames 1 and 2, on a moving emitter.
  const Scene scene =
      with(falling(), {"emitter.bursts=[{\"frame\":1.4,\"count\":1}]", "emitter.trail_time=5",
                       R"(emitter.position={"keys":[{"frame":1,"value":[0,0,0],"to_next":"linear"},
                                                                 {"frame":11,"value":[10,0,0]}]})"});
  for (const int frame : {2, 3, 20}) {
    Seen seen(scene, frame);
    const auto points = seen.points();
    ASSERT_GT(points.size(), 1U) << frame;
    const double age = (frame - 1.4) / 24;
    EXPECT_NEAR(points.back().before, age, 1e-5);
    EXPECT_LT(glm::length(points.back().place - Vec3d(0.4, 0, 0)), 1e-4) << frame;
    for (const LinePoint& point : points) EXPECT_NEAR(point.place.y, parabola(age - point.before), 1e-4);
  }
}

TEST(Trails, OfChildrenBeginOnTheWayOfTheParent) {
  Scene scene = withInfluence(withChild(test::oneBurst(1), "parent_life",
                                        {"child.births_per_second=50", "child.cone=180", "child.speed=1",
                                         "child.trail=ribbon", "child.trail_time=5", "child.lifetime=100"}),
                              "gravity");
  Seen seen(scene, 20);
  const Trails trails = seen.trails("child");
  ASSERT_GT(trails.count(), 30U);
  std::vector<LinePoint> points;
  // The youngest is too young for anybody to know how it was pushed.
  for (std::size_t i = 0; i + 4 < trails.count(); ++i) {
    trails.points(i, points);
    const double born = 19 / 24.0 - points.back().before;
    EXPECT_LT(glm::length(points.back().place - Vec3d(0, parabola(born), 0)), 1e-3) << i;
  }
}

TEST(Trails, LengthByDistanceIsMeasuredAlongTheWay) {
  const Scene scene = with(falling(), {"emitter.trail_length_mode=distance", "emitter.trail_length=1.7"});
  Seen seen(scene, 30);
  const auto points = seen.points();
  EXPECT_NEAR(points.back().along, 1.7, 1e-3);
  // On the way down; it is longer than the way from the peak.
  const double t = 29 / 24.0, peak = 3 / kGravity;
  ASSERT_LT(peak, t);
  const double down = parabola(peak) - parabola(t);
  const double end = points.back().place.y;
  EXPECT_NEAR(down > 1.7 ? end - parabola(t) : down + parabola(peak) - end, 1.7, 1e-3);
}

TEST(Trails, LengthVariesAsFarAsSet) {
  Seen seen(with(test::oneBurst(400), {"emitter.trail=ribbon", "emitter.trail_time=0.5±0.2"}), 40);
  const Trails trails = seen.trails();
  std::vector<LinePoint> points;
  double min = 10, max = 0, sum = 0;
  for (std::size_t i = 0; i < trails.count(); ++i) {
    trails.points(i, points);
    min = std::min(min, points.back().before);
    max = std::max(max, points.back().before);
    sum += points.back().before;
  }
  EXPECT_GE(min, 0.3);
  EXPECT_LE(max, 0.7);
  EXPECT_LT(min, 0.32);
  EXPECT_GT(max, 0.68);
  EXPECT_NEAR(sum / 400, 0.5, 4 * 0.4 / std::sqrt(12 * 400.0));
}

TEST(Trails, StayAndFadeWhereTheParticleDied) {
  const double lifetime = 0.4;
  const Scene scene =
      with(falling(), {"emitter.lifetime=0.4", "emitter.trail_at_death=lingers", "emitter.trail_fade_out=0.5",
                       "emitter.trail_color_source=own", kFullOpacity});
  for (const int frame : {11, 15, 20}) {
    Seen seen(scene, frame);
    ASSERT_EQ(seen.now->report->stats.living, 0U);
    const auto points = seen.points();
    ASSERT_GT(points.size(), 2U) << frame;
    EXPECT_LT(glm::length(points.front().place - Vec3d(0, parabola(lifetime), 0)), 1e-4) << frame;
    EXPECT_LT(glm::length(points.back().place), 1e-4) << frame;
    const double since = (frame - 1) / 24.0 - lifetime;
    EXPECT_NEAR(points.front().opacity, 1 - since / 0.5, 1e-5) << frame;
  }
  Seen after(scene, 24);
  EXPECT_TRUE(after.points().empty());
  EXPECT_EQ(Seen(with(scene, {"emitter.trail_at_death=dies"}), 15).trails().count(), 0U);
}

TEST(Trails, ThroughAllRunFromTheYoungestToTheOldest) {
  const Scene scene =
      with(test::starting(), {"emitter.rate=24", "emitter.speed=1", "emitter.cone=0", "emitter.lifetime=100",
                              "emitter.trail=thread", "emitter.trail_connect=all"});
  Seen seen(scene, 25);
  EXPECT_EQ(pastNeeded(scene, 25), 0);
  ASSERT_EQ(seen.trails().count(), 1U);
  const auto points = seen.points();
  const ParticleStore& particles = test::onlyGroup(seen.now);
  EXPECT_LT(glm::length(points.front().place - particles.position(particles.size() - 1)), 1e-6);
  EXPECT_LT(glm::length(points.back().place - particles.position(0)), 1e-6);
  for (std::size_t i = 1; i < points.size(); ++i) EXPECT_GT(points[i].place.y, points[i - 1].place.y);
  EXPECT_GT(points.front().width, 0.07);
  EXPECT_EQ(points.back().width, 0);
}

// Four points of a ring, each of which gives a birth six times a second, all straight up.
Scene rising(std::initializer_list<std::string> assignments = {}) {
  return with(with(test::starting(), {"emitter.shape=ring", "emitter.birth_points=4", "emitter.rate=24",
                                      "emitter.speed=1", "emitter.cone=0", "emitter.lifetime=100",
                                      "emitter.trail=tube", "emitter.trail_connect=birth_point"}),
              assignments);
}

TEST(Trails, ThroughEachBirthPointFollowItsBirths) {
  Seen seen(rising(), 49);
  const Trails trails = seen.trails();
  ASSERT_EQ(trails.count(), 4U);
  const ParticleStore& particles = test::onlyGroup(seen.now);
  std::vector<LinePoint> points;
  for (std::size_t place = 0; place < 4; ++place) {
    trails.points(place, points);
    // The first birth of the place is the oldest.
    EXPECT_LT(glm::length(points.back().place - particles.position(place)), 1e-6);
    EXPECT_EQ(birthOfId(trails.particle(place)) % 4, place);
    EXPECT_NEAR(points.back().along, 11 / 6.0, 1e-4) << "12 births, a sixth of a unit apart";
    for (std::size_t i = 1; i < points.size(); ++i) {
      EXPECT_GT(points[i].place.y, points[i - 1].place.y);
      EXPECT_NEAR(points[i].place.x, points[0].place.x, 1e-5);
    }
  }
  EXPECT_EQ(Seen(rising({"emitter.birth_points=0"}), 49).trails().count(), 1U);
}

TEST(Trails, AreResampledAtEvenDistances) {
  Seen seen(rising({"emitter.trail_point_spacing=0.1"}), 49);
  const auto points = seen.points();
  // 11 / 6 units in 18 even pieces.
  ASSERT_EQ(points.size(), 19U);
  for (std::size_t i = 0; i < points.size(); ++i)
    EXPECT_NEAR(points[i].along, static_cast<double>(i) * 11 / 6 / 18, 1e-4);
}

TEST(Trails, SmoothingMovesPointsBetweenTheirNeighbours) {
  // One line that goes to and fro between two places: once smoothed, it runs along their middle.
  const Scene zigzag = rising({"emitter.birth_points=2", "emitter.birth_point_spread=even",
                               "emitter.trail_connect=all", "emitter.trail_smoothing=1"});
  Seen seen(zigzag, 25);
  const auto points = seen.points();
  const ParticleStore& particles = test::onlyGroup(seen.now);
  const Vec3d middle = 0.5 * (particles.position(0) + particles.position(1));
  EXPECT_LT(glm::length(points.back().place - particles.position(0)), 1e-6) << "the ends stay";
  int along = 0;
  for (const LinePoint& point : points) {
    if (point.before < 2 || point.before > 21) continue;
    EXPECT_NEAR(point.place.x, middle.x, 1e-5);
    EXPECT_NEAR(point.place.z, middle.z, 1e-5);
    ++along;
  }
  EXPECT_GT(along, 18);
}

TEST(Trails, WidthAndColourRunAlongAsSet) {
  Seen seen(with(oneTrail(), {"emitter.trail_color_source=own",
                              R"(emitter.trail_color=[{"at":0,"color":[1,0,0]},{"at":1,"color":[0,0,1]}])",
                              "emitter.trail_width=0.4"}),
            25);
  for (const LinePoint& point : seen.points()) {
    EXPECT_NEAR(point.fraction, point.before / 0.5, 1e-5) << "it goes steadily";
    EXPECT_NEAR(point.width, 0.4 * (1 - point.fraction), 1e-5);
    EXPECT_NEAR(point.color.x, 1 - point.fraction, 1e-5);
    EXPECT_NEAR(point.color.z, point.fraction, 1e-5);
  }
  Seen offset(with(oneTrail(), {"emitter.trail_color_source=path", "emitter.lifetime=2",
                                R"(emitter.color=[{"at":0,"color":[1,0,0]},{"at":1,"color":[0,0,1]}])"}),
              25);
  for (const LinePoint& point : offset.points())
    EXPECT_NEAR(point.color.z, (1 - point.before) / 2, 1e-3) << "as it was there";
}

TEST(Trails, SmoothnessTakesBendsAway) {
  const Scene rough = withInfluence(with(oneTrail(), {"emitter.trail_time=1", "emitter.speed=2"}), "kicks",
                                    {"kicks.rate=20", "kicks.strength=4"});
  const auto bends = [](const std::vector<LinePoint>& points) {
    double sum = 0;
    for (std::size_t i = 2; i < points.size(); ++i) {
      const Vec3d a = points[i - 1].place - points[i - 2].place, b = points[i].place - points[i - 1].place;
      if (glm::length(a) > 0 && glm::length(b) > 0)
        sum += std::acos(std::clamp(glm::dot(glm::normalize(a), glm::normalize(b)), -1.0, 1.0));
    }
    return sum;
  };
  Seen plain(rough, 40), smooth(with(rough, {"emitter.trail_smoothness=0.8"}), 40);
  const auto before = plain.points(), after = smooth.points();
  EXPECT_LT(bends(after), 0.6 * bends(before));
  EXPECT_LT(glm::length(before.front().place - after.front().place), 1e-6) << "the ends stay";
}

TEST(Trails, WithoutAPastTheyAreShorterAndNothingElse) {
  Seen seen(falling(), 25);
  seen.past.resize(3);
  EXPECT_NEAR(seen.points().back().before, 3 / 24.0, 1e-6);
  seen.past.clear();
  EXPECT_TRUE(seen.points().empty());
}

TEST(Trails, AreTheSameFromACacheUnderPressure) {
  const Scene scene = with(test::busyScene(), {"emitter.trail=ribbon"});
  Seen seen(scene, 30);
  const auto cache = std::make_shared<FrameCache>(4 * seen.now->bytes());
  SceneRun run(scene, cache);
  (void)run.frame(30);
  const Past past = run.past(30, pastNeeded(scene, 30));
  ASSERT_EQ(past.size(), seen.past.size());
  for (std::size_t i = 0; i < past.size(); ++i) EXPECT_EQ(past[i]->digest(), seen.past[i]->digest());
}

// Looks along z at 10 units of height.
const Camera kFlat{Camera::Projection::Orthographic, {0, 0, 10}, {0, 0, 0}, 40, 10};

// How far a place in the picture is from a line.
double pixelsBetween(const Vec3d& place, const std::vector<LinePoint>& line, const Projector& projector) {
  const auto inPicture = [&](const Vec3d& at) {
    const Projector::Point point = projector.project(at);
    return Vec2d(point.x, point.y);
  };
  const Vec2d at = inPicture(place);
  double nearest = 1e9;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const Vec2d from = inPicture(line[i].place), along = inPicture(line[i + 1].place) - from;
    const double square = glm::dot(along, along);
    const double fraction = square > 0 ? std::clamp(glm::dot(at - from, along) / square, 0.0, 1.0) : 0.0;
    nearest = std::min(nearest, glm::length(from + along * fraction - at));
  }
  return nearest;
}

TEST(Trails, LeaveOutFramesBetweenWhichNothingIsToBeSeen) {
  Scene scene = with(test::oneBurst(50), {"emitter.trail=ribbon", "emitter.trail_time=2", "emitter.cone=180",
                                          "emitter.speed=0.6±0.5"});
  scene = withInfluence(scene, "turbulence", {"turbulence.strength=0.5"});
  // Twenty pixels to a unit: less than one for each frame.
  const Projector projector(kFlat, 200, 200);
  Seen seen(scene, 60), next(scene, 61);
  const Trails trails = seen.trails(), later = next.trails();
  std::vector<LinePoint> all, few, after;
  std::size_t left = 0, count = 0;
  for (std::size_t i = 0; i < trails.count(); ++i) {
    trails.points(i, all);
    trails.points(i, few, &projector);
    for (const LinePoint& point : all) ASSERT_LT(pixelsBetween(point.place, few, projector), 0.4) << i;
    EXPECT_NEAR(few.back().before, 2, 1e-9);
    count += all.size();
    left += few.size();
    // It lies as it lay before, so that nothing trembles.
    later.points(i, after, &projector);
    for (const LinePoint& point : few)
      if (point.before > 0.5 && point.before < 1.5) {
        ASSERT_LT(pixelsBetween(point.place, after, projector), 0.1) << i;
      }
  }
  EXPECT_LT(left, count / 2);
}

Picture trailsOf(const Scene& scene, int frame, int size) {
  Seen seen(scene, frame);
  return Renderer().draw({seen.scene, *seen.now, seen.past, kFlat, {size, size}});
}

double sumOf(const Picture& picture) {
  double sum = 0;
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x) sum += picture.at(x, y).w;
  return sum;
}

Scene plainRibbon(const char* width) {
  return with(oneTrail(),
              {std::string("emitter.trail_width=") + width, "emitter.trail_hide_sprites=true",
               "emitter.trail_color_source=own", "emitter.trail_softness=0", "emitter.direction=1,0.3,0",
               "emitter.cone=0", "emitter.speed=6", "emitter.trail_time=0.5", kFullTaper, kFullOpacity});
}

TEST(Ribbons, CoverExactlyTheirArea) {
  // 3 units long; 20 pixels a unit.
  for (const auto& [width, pixels] : {std::pair{"0.8", 16.0}, {"0.2", 4.0}, {"0.01", 0.2}})
    EXPECT_NEAR(sumOf(trailsOf(plainRibbon(width), 14, 200)), 60 * pixels, 0.01 * 60 * pixels) << width;
}

TEST(Ribbons, ArcsHaveNeitherGapsNorSeams) {
  const Scene scene = withInfluence(
      with(plainRibbon("1"), {"emitter.trail_opacity=50", "emitter.speed=5", "emitter.direction=1,1,0",
                              "emitter.position=-3,0,0", "emitter.trail_time=1"}),
      "gravity");
  const Picture picture = trailsOf(scene, 25, 200);
  std::size_t full = 0;
  for (int y = 0; y < 200; ++y)
    for (int x = 0; x < 200; ++x) {
      EXPECT_LE(picture.at(x, y).w, 0.5F + 1e-5F) << x << ' ' << y;
      full += picture.at(x, y).w > 0.4999F ? 1 : 0;
    }
  // All but the edges, which are two pixels of its twenty.
  EXPECT_GT(static_cast<double>(full), 0.85 * sumOf(picture) / 0.5);
}

TEST(Ribbons, ThreadsAreDarkerAtTheirEdges) {
  const Picture picture =
      trailsOf(with(plainRibbon("2"), {"emitter.trail=thread", "emitter.direction=1,0,0"}), 10, 200);
  // The particle is at 2.25 units; the trail reaches back from there. 40 pixels wide.
  const int x = 100 + 30;
  EXPECT_NEAR(picture.at(x, 100).x, 1, 0.01);
  EXPECT_NEAR(picture.at(x, 100).w, 1, 1e-5);
  EXPECT_LT(picture.at(x, 82).x, 0.75);
  EXPECT_NEAR(picture.at(x, 82).w, 1, 1e-5);
}

// Left half red, right half transparent blue.
Scene withPictureAlong(const Scene& scene) {
  Picture picture(64, 8);
  for (int y = 0; y < 8; ++y)
    for (int x = 0; x < 64; ++x) picture.at(x, y) = x < 32 ? Vec4(1, 0, 0, 1) : Vec4(0, 0, 0.5F, 0.5F);
  ParamValue file;
  file.base = FileRef{"made here", std::make_shared<const PictureContent>(picture), {}};
  return scene.withParam(scene.findByName("emitter")->id, "trail_picture", file);
}

TEST(Ribbons, APictureLiesAlongThem) {
  const Scene scene = withPictureAlong(with(plainRibbon("2"), {"emitter.direction=1,0,0"}));
  // From 3.25 units, where the particle is, back to 0.25; 20 pixels a unit.
  const Picture whole = trailsOf(scene, 14, 200);
  const auto at = [](const Picture& drawn, double unit) {
    return drawn.at(100 + static_cast<int>(20 * unit), 100);
  };
  EXPECT_NEAR(at(whole, 2.5).x, 1, 1e-3) << "its left edge is at the particle";
  EXPECT_NEAR(at(whole, 2.5).w, 1, 1e-3);
  EXPECT_NEAR(at(whole, 1).z, 0.5, 1e-3);
  EXPECT_NEAR(at(whole, 1).w, 0.5, 1e-3);
  // Repeated each unit.
  const Picture repeated = trailsOf(with(scene, {"emitter.trail_picture_length=1"}), 14, 200);
  for (const double unit : {3.0, 2.0, 1.0}) {
    EXPECT_NEAR(at(repeated, unit).x, 1, 1e-3) << unit;
    EXPECT_NEAR(at(repeated, unit - 0.5).z, 0.5, 1e-3) << unit;
  }
}

// A half of each value, everywhere.
class Halves : public SpritePaint {
 public:
  Vec2d of(const DrawnParticle&, const Sprite&, const Projector::Point&, const Projector&) const override {
    return Vec2d(0.5);
  }
  void ofTrail(const std::vector<LinePoint>& points, const Projector&,
               std::vector<Vec2d>& values) const override {
    values.assign(points.size(), Vec2d(0.5));
  }
};

TEST(Ribbons, WhatIsPaintedIsAsMuchAsThePictureCovers) {
  Seen seen(withPictureAlong(with(plainRibbon("2"), {"emitter.direction=1,0,0"})), 14);
  Renderer renderer;
  renderer.prepare({seen.scene, *seen.now, seen.past, kFlat, {200, 200}});
  const Picture painted = renderer.paint(Halves());
  EXPECT_NEAR(painted.at(100 + 50, 100).z, 1, 1e-3);
  EXPECT_NEAR(painted.at(100 + 20, 100).z, 0.5, 1e-3);
  EXPECT_NEAR(painted.at(100 + 20, 100).x, 0.25, 1e-3);
}

TEST(Ribbons, VectorUnitDoesNotMatter) {
  const Scene scene = withInfluence(
      with(plainRibbon("0.3"), {"emitter.trail=thread", "emitter.trail_softness=40"}), "turbulence");
  const Picture best = trailsOf(scene, 30, 128);
  useBaselineVectorUnit();
  const Picture baseline = trailsOf(scene, 30, 128);
  useBestVectorUnit();
  EXPECT_GT(sumOf(best), 10);
  for (int y = 0; y < 128; ++y)
    for (int x = 0; x < 128; ++x) EXPECT_EQ(best.at(x, y), baseline.at(x, y));
}

}  // namespace
}  // namespace comet
