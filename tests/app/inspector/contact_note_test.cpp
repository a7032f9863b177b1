// A contact in the real window: added from the grid, and what the inspector says of it.
#include "app/driver.h"
#include "support/scenes.h"

#include <QLabel>
#include <QRegularExpression>
#include <glm/geometric.hpp>

namespace comet {
namespace {

class ContactNoteTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    window_.showPage(MainWindow::Shape);
    Scene scene =
        test::with(test::oneBurst(60), {"emitter.shape=box", "emitter.speed=0", "emitter.size=0.5"});
    scene = test::withInfluence(scene, "gravity");
    scene = test::withInfluence(
        scene, "deflector",
        {"deflector.shape=box", "deflector.inside_out=true", "deflector.size=2,4,2", "deflector.bounce=0"});
    document().replace(scene, {});
    QApplication::processEvents();
    test::addInfluence(window_, "contact");
    contact_ = document().selected();
  }
  QString note() {
    EXPECT_TRUE(test::eventually([this] { return window_.backgroundRun().isComplete(); }));
    return test::child<QLabel>(window_, "influence_note")->text();
  }

  ItemId contact_ = 0;
};

TEST_F(ContactNoteTest, KeepsParticlesApartAndCountsWhoTouches) {
  EXPECT_EQ(scene().find(contact_)->kind->id(), "contact");
  document().setFrame(60);
  // They lie in a box.
  const QRegularExpression counts("^60 particles, (\\d+) pairs touch");
  EXPECT_TRUE(test::eventually([&] { return counts.match(note()).captured(1).toInt() > 30; }))
      << note().toStdString();
  EXPECT_TRUE(note().contains("of a radius")) << note().toStdString();
  const ParticleStore& now = test::onlyGroup(window_.backgroundRun().frame(60));
  for (std::size_t i = 0; i < now.size(); ++i)
    for (std::size_t j = 0; j < i; ++j)
      EXPECT_GT(glm::length(test::positionOf(now, i) - test::positionOf(now, j)), 0.45);
  const ItemId emitter = scene().findByName("emitter")->id;
  document().edit(scene().withResponse(emitter, contact_, {}), "");
  EXPECT_TRUE(test::eventually([&] { return note().contains("acts on no particles"); }))
      << note().toStdString();
}

}  // namespace
}  // namespace comet
