#include "simulation/deflectors/deflector_notes.h"
#include "simulation/deflectors/deflector_shape.h"
#include "support/meshes.h"
#include "support/scenes.h"

#include <glm/geometric.hpp>
#include <gmock/gmock.h>
#include <random>

namespace comet {
namespace {

using test::with;
using test::withInfluence;

DeflectorShape shapeOf(std::initializer_list<std::string> settings) {
  const Scene scene = withInfluence(test::starting(), "deflector", settings);
  return DeflectorShape(*scene.findByName("deflector"), 1);
}

std::vector<DeflectorShape> allShapes() {
  std::vector<DeflectorShape> shapes;
  for (const char* shape : {"plane", "rectangle", "disc", "box", "sphere", "cylinder", "capsule"})
    for (const char* inside : {"false", "true"})
      shapes.push_back(
          shapeOf({std::string("deflector.shape=") + shape, std::string("deflector.inside_out=") + inside,
                   "deflector.size=2,3,4", "deflector.radius=1.5", "deflector.height=3"}));
  return shapes;
}

TEST(DeflectorShape, DistancesLeadToThePointOfTheSurfaceThatTheyName) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> place(-4, 4);
  for (const DeflectorShape& shape : allShapes())
    for (int i = 0; i < 500; ++i) {
      const Vec3d from(place(random), place(random), place(random));
      const SurfaceDistance here = shape.at(from);
      ASSERT_NEAR(glm::length(here.normal), 1, 1e-9);
      ASSERT_NEAR(shape.at(from - here.normal * here.distance).distance, 0, 1e-9);
    }
}

TEST(DeflectorShape, NoWayIsShorterThanTheDistance) {
  std::mt19937 random(6);
  std::uniform_real_distribution<double> place(-4, 4);
  for (const DeflectorShape& shape : allShapes())
    for (int i = 0; i < 500; ++i) {
      const Vec3d a(place(random), place(random), place(random)),
          b(place(random), place(random), place(random));
      ASSERT_LE(std::abs(shape.at(a).distance - shape.at(b).distance), glm::length(a - b) + 1e-12);
    }
}

TEST(DeflectorShape, ItsNearestPartIsItsDistance) {
  std::mt19937 random(7);
  std::uniform_real_distribution<double> place(-1.4, 1.4);
  std::array<SurfacePart, DeflectorShape::kMaxParts> parts;
  for (const DeflectorShape& shape : allShapes())
    for (int i = 0; i < 500; ++i) {
      const Vec3d from(place(random), place(random), place(random));
      const SurfaceDistance here = shape.at(from);
      double nearest = 1e300;
      const int count = shape.parts(from, parts);
      for (int part = 0; part < count; ++part)
        nearest = std::min(nearest, parts[static_cast<std::size_t>(part)].distance);
      // In the corners of what is solid outside, several parts stand in for an edge.
      if (here.distance >= 0) {
        ASSERT_NEAR(nearest, here.distance, 1e-9);
      }
    }
}

TEST(DeflectorShape, IsWhatItsNameSays) {
  const DeflectorShape box = shapeOf({"deflector.shape=box", "deflector.size=2,4,6"});
  EXPECT_EQ(box.at({3, 0, 0}).distance, 2);
  EXPECT_EQ(box.at({0, 1.5, 0}).distance, -0.5);
  EXPECT_NEAR(box.at({2, 3, 3}).distance, std::sqrt(2.0), 1e-12);
  const DeflectorShape hollow =
      shapeOf({"deflector.shape=box", "deflector.size=2,4,6", "deflector.inside_out=true"});
  EXPECT_EQ(hollow.at({0.75, 0, 0}).distance, 0.25);
  EXPECT_EQ(hollow.at({0.75, 0, 0}).normal, Vec3d(-1, 0, 0));
  const DeflectorShape disc = shapeOf({"deflector.shape=disc", "deflector.radius=2"});
  EXPECT_EQ(disc.at({1, -3, 0}).distance, 3);
  EXPECT_EQ(disc.at({1, -3, 0}).normal, Vec3d(0, -1, 0));
  EXPECT_EQ(disc.at({5, 4, 0}).distance, 5);
  const DeflectorShape capsule =
      shapeOf({"deflector.shape=capsule", "deflector.radius=1", "deflector.height=4"});
  EXPECT_EQ(capsule.at({0, 5, 0}).distance, 2);
  EXPECT_EQ(capsule.at({3, 1, 0}).distance, 2);
}

// What is said about a deflector of this mesh, as one text.
std::string notesOn(const Mesh& mesh, std::initializer_list<std::string> settings = {}) {
  Scene scene = test::withInfluence(test::starting(), "deflector", {"deflector.shape=mesh"});
  ParamValue file;
  file.base = FileRef{"made here", std::make_shared<const MeshContent>(mesh), {}};
  scene = test::with(scene.withParam(scene.findByName("deflector")->id, "mesh", file), settings);
  std::string text;
  for (const std::string& note : notesOnDeflector(scene, *scene.findByName("deflector"), 1))
    text += note + "\n";
  return text;
}

TEST(DeflectorNotes, SayHowItIsMetAndWhatIsWrong) {
  using testing::HasSubstr;
  const Mesh box = test::boxMesh(Vec3d(2.0));
  EXPECT_EQ(notesOn(box), "collides by rays\n");
  const std::string field =
      notesOn(box, {"deflector.particle_radius=100", "emitter.size=0.01", "deflector.field_resolution=50"});
  // 55³ distances of four bytes.
  EXPECT_THAT(field, HasSubstr("cells of 0.04 units, 0.6 MB"));
  EXPECT_THAT(field, HasSubstr("particles of emitter are smaller"));
  Mesh open = box;
  open.triangles.pop_back();
  open.parts.pop_back();
  EXPECT_THAT(notesOn(open), HasSubstr("3 edges are open, one at 0, 1, 1: it has no inside"));
  EXPECT_THAT(notesOn(open, {"deflector.inside_out=true"}), HasSubstr("cannot hold anything in"));
  EXPECT_THAT(notesOn(open, {"deflector.collision_test=distance_field"}),
              HasSubstr("only a closed mesh has a distance field"));
  Mesh degenerate = box;
  degenerate.triangles.push_back({0, 0, 1});
  degenerate.parts.push_back(0);
  EXPECT_THAT(notesOn(degenerate), HasSubstr("1 faces without area"));
  Mesh two = box;
  for (const Vec3& point : box.points) two.points.push_back(point + Vec3(0.9F, 0.8F, 0.7F));
  for (const Mesh::Triangle& t : box.triangles) two.triangles.push_back({t[0] + 8, t[1] + 8, t[2] + 8});
  two.normals.insert(two.normals.end(), box.normals.begin(), box.normals.end());
  two.parts.insert(two.parts.end(), box.parts.begin(), box.parts.end());
  EXPECT_THAT(notesOn(two), HasSubstr("crosses itself"));
  EXPECT_THAT(notesOn(Mesh()), HasSubstr("it has no faces"));
}

}  // namespace
}  // namespace comet
