// What the notes say of particles that have no room.
#include "simulation/contacts/contact_notes.h"

#include "support/meshes.h"
#include "support/scenes.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

using test::with;
using test::withInfluence;
using testing::HasSubstr;

// 100 balls of radius 0.1 in a hollow deflector, of which they fill 0.419 units³.
std::string notesOn(std::initializer_list<std::string> hold) {
  const Scene balls = with(test::oneBurst(100), {"emitter.size=0.2", "emitter.speed=0"});
  const Scene scene =
      with(withInfluence(withInfluence(balls, "contact"), "deflector", {"deflector.inside_out=true"}), hold);
  std::string text;
  for (const std::string& note :
       notesOnContact(scene, *scene.findByName("contact"), *test::simulate(scene, 1)))
    text += note + "\n";
  return text;
}

TEST(ContactNotes, TellHowMuchRoomThereIs) {
  // 0.6366 of 0.6 units³ is less, and of 0.8 units³ is more.
  EXPECT_THAT(notesOn({"deflector.shape=box", "deflector.size=1,1,0.6"}),
              HasSubstr("100 particles fill 0.419 units³, and deflector has room for 0.382 units³ of them"));
  EXPECT_EQ(notesOn({"deflector.shape=box", "deflector.size=1,1,0.8"}), "");
  EXPECT_EQ(notesOn({"deflector.shape=sphere", "deflector.radius=0.6"}), "");
  EXPECT_THAT(notesOn({"deflector.shape=cylinder", "deflector.radius=0.5", "deflector.height=0.8"}),
              HasSubstr("has room for 0.4 units³"));
  EXPECT_THAT(notesOn({"deflector.shape=capsule", "deflector.radius=0.4", "deflector.height=0.6"}),
              HasSubstr("has room for 0.363 units³"));
}

TEST(ContactNotes, TellWhichParticleIsTooLarge) {
  EXPECT_THAT(notesOn({"deflector.shape=box", "deflector.size=4,4,0.15"}),
              HasSubstr("a particle of emitter has a radius of 0.1, and deflector has room for 0.075"));
  EXPECT_EQ(notesOn({"deflector.shape=box", "deflector.size=4,4,0.25"}), "");
}

TEST(ContactNotes, SayNothingOfWhatHoldsNothing) {
  EXPECT_EQ(notesOn({"deflector.shape=box", "deflector.size=0.1,0.1,0.1", "deflector.inside_out=false"}), "");
  EXPECT_EQ(notesOn({"deflector.shape=rectangle", "deflector.size=0.1,0.1,0.1"}), "");
}

TEST(ContactNotes, MeasureMeshes) {
  Scene scene = withInfluence(withInfluence(with(test::oneBurst(100), {"emitter.size=0.2"}), "contact"),
                              "deflector", {"deflector.shape=mesh", "deflector.inside_out=true"});
  ParamValue mesh;
  mesh.base =
      FileRef{"made by the test", std::make_shared<const MeshContent>(test::boxMesh({0.5, 0.5, 0.3})), {}};
  scene = with(scene.withParam(scene.findByName("deflector")->id, "mesh", mesh), {"deflector.mesh_scale=2"});
  const auto notes = notesOnContact(scene, *scene.findByName("contact"), *test::simulate(scene, 1));
  ASSERT_EQ(notes.size(), 1U);
  EXPECT_THAT(notes[0], HasSubstr("has room for 0.382 units³"));
}

}  // namespace
}  // namespace comet
