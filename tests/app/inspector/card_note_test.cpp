// Cards in the real window: chosen as a sprite, and what the inspector and the grid say of them.
#include "app/driver.h"
#include "simulation/influences/influences.h"
#include "support/scenes.h"

#include <QLabel>
#include <algorithm>

namespace comet {
namespace {

class CardNoteTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
    window_.showPage(MainWindow::Shape);
    document().replace(
        test::withInfluence(test::with(test::oneBurst(40), {"emitter.sprite=card"}), "gravity"), {});
    document().select(scene().findByName("emitter")->id);
    QApplication::processEvents();
  }
  bool says(const char* words) {
    return test::eventually([&] {
      const auto notes = inspector().findChildren<QLabel*>("card_note");
      return std::any_of(notes.begin(), notes.end(), [&](const QLabel* note) {
        return note->isVisible() && note->text().contains(words);
      });
    });
  }
};

TEST_F(CardNoteTest, TellsWhatCardsTake) {
  ASSERT_TRUE(row("card_cells_along"));
  EXPECT_TRUE(says("up to 40 cards of 25 points"));
  document().setFrame(20);
  EXPECT_TRUE(says("stretched by at most"));
  document().edit(test::with(scene(), {"emitter.card_stretch_stiffness=0"}), "");
  EXPECT_TRUE(says("raise the stretch stiffness"));
}

TEST_F(CardNoteTest, AnInfluenceThatMovesNoCardsHasNoCell) {
  test::addInfluence(window_, "contact");
  const Item& contact = *scene().find(document().selected());
  EXPECT_EQ(contact.kind->id(), "contact");
  EXPECT_FALSE(canActOn(*scene().findByName("emitter"), *contact.kind));
  EXPECT_TRUE(canActOn(*scene().findByName("emitter"), *scene().findByName("gravity")->kind));
}

}  // namespace
}  // namespace comet
