// The bake view beyond the straight path.
#include "bake/bake_view.h"

#include "app/driver.h"
#include "bake/cell_player.h"
#include "bake/flipbook_file.h"
#include "bake/sheet_view.h"
#include "base/file.h"
#include "support/files.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>

namespace comet {
namespace {

class BakeViewTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
    document().setBase(bake(), "cell_width", 32.0);
    document().setBase(bake(), "cell_height", 32.0);
    test::click(test::child<QPushButton>(window_, "page.2"));
  }
  ItemId bake() { return scene().itemsOf(ItemFamily::Bake).front()->id; }
  void bakeSheet() {
    test::click(test::child<QPushButton>(window_, "bake_start"));
    ASSERT_TRUE(
        test::eventually([this] { return test::child<QPushButton>(window_, "bake_write")->isEnabled(); }));
  }
  QString message() { return test::child<QLabel>(window_, "bake_message")->text(); }
  void setFolder(const QString& folder) {
    auto* edit = test::child<QLineEdit>(window_, "bake_folder");
    edit->selectAll();
    QTest::keyClicks(edit, folder);
  }
};

TEST_F(BakeViewTest, ShowsTheSettingsOfTheBakeAndGivesTheSelectionBack) {
  EXPECT_EQ(document().selected(), bake());
  test::click(test::child<QPushButton>(window_, "page.1"));
  EXPECT_EQ(document().selected(), scene().findByName("emitter")->id);
}

class BakeOnSave : public BakeViewTest {
 protected:
  void SetUp() override {
    BakeViewTest::SetUp();
    setFolder(QString::fromStdString(out().string()));
    document().save(QString::fromStdString((folder_ / "scene.comet").string()));
    test::click(test::child<QCheckBox>(window_, "bake_on_save"));
  }
  std::filesystem::path out() const { return folder_ / "out"; }
  QImage sheet() const { return QImage(QString::fromStdString((out() / "flipbook.png").string())); }
  // As the hand saves, with the effect in view.
  void saveWithRate(const char* rate) {
    test::click(test::child<QPushButton>(window_, "page.1"));
    test::type(field("rate"), rate);
    test::click(test::child<QToolButton>(window_, "save"));
  }

  test::TemporaryFolder folder_;
};

TEST_F(BakeOnSave, FilesFollowTheScene) {
  EXPECT_TRUE(sheet().isNull()) << "before anything is saved";
  saveWithRate("300");
  ASSERT_TRUE(test::eventually([&] { return message().startsWith("Exported "); })) << message().toStdString();
  const QImage first = sheet();
  EXPECT_FALSE(first.isNull());
  // Twice in a row: the second comes while the first is baked.
  saveWithRate("700");
  saveWithRate("50");
  EXPECT_TRUE(test::eventually([&] { return message().startsWith("Exported "); }));
  const Flipbook book = [&] {
    SceneRun run(scene(), std::make_shared<FrameCache>(memoryBudget(scene())));
    return bakeFlipbook(run, flipbookLayout(scene(), *scene().itemsOf(ItemFamily::Bake).front()), {});
  }();
  const test::TemporaryFolder alone;
  writeFlipbook(book, alone.path());
  const QImage right(QString::fromStdString((alone / "flipbook.png").string()));
  EXPECT_TRUE(test::eventually([&] { return sheet() == right; }));
  EXPECT_NE(sheet(), first);
}

TEST_F(BakeOnSave, FailureIsToldWhereTheArtistLooks) {
  // A file where the folder should be.
  writeFileAtomically(out(), "in the way");
  saveWithRate("300");
  const auto* problem = test::child<QLabel>(window_, "problem");
  const QString folder = QString::fromStdString(out().string());
  EXPECT_TRUE(test::eventually([&] { return problem->toolTip().contains(folder); }))
      << problem->toolTip().toStdString();
}

TEST_F(BakeOnSave, EndsWithTheScene) {
  window_.newScene();
  EXPECT_FALSE(test::child<QCheckBox>(window_, "bake_on_save")->isChecked());
}

TEST_F(BakeViewTest, WritesEachFormat) {
  const test::TemporaryFolder folder;
  setFolder(QString::fromStdString(folder.path().string()));
  for (const char* format : {"png8", "png16", "exr"}) {
    document().setBase(bake(), "format", std::string(format));
    bakeSheet();
    test::click(test::child<QPushButton>(window_, "bake_write"));
    EXPECT_TRUE(test::eventually([this] { return message().startsWith("Exported flipbook."); }))
        << message().toStdString();
  }
  EXPECT_TRUE(std::filesystem::exists(folder / "flipbook.png"));
  EXPECT_TRUE(std::filesystem::exists(folder / "flipbook.exr"));
  EXPECT_TRUE(std::filesystem::exists(folder / "flipbook.json"));
}

TEST_F(BakeViewTest, TheSheetIsUsedInANewScene) {
  const test::TemporaryFolder folder;
  setFolder(QString::fromStdString(folder.path().string()));
  // In the new scene other items bear the ids that the settings of the bake were made for.
  document().setBase(bake(), "channel_packing", true);
  EXPECT_FALSE(test::child<QPushButton>(window_, "bake_use")->isEnabled());
  bakeSheet();
  document().save(QString::fromStdString((folder / "effect.comet").string()));
  test::click(test::child<QPushButton>(window_, "bake_use"));
  ASSERT_TRUE(test::eventually([this] { return document().displayName() == "flipbook in use"; }))
      << message().toStdString();
  EXPECT_EQ(window_.page(), MainWindow::Shape);
  const Scene::ItemPtr player = scene().findByName("flipbook");
  ASSERT_TRUE(player);
  EXPECT_TRUE(player->chooses("sprite", "flipbook"));
  EXPECT_TRUE(std::get<FileRef>(player->value("picture").base).content) << "its sheet was read";
  EXPECT_TRUE(std::filesystem::exists(folder / "flipbook.json"));
  EXPECT_EQ(document().path(), "") << "it has a file of its own only once it is saved";
}

TEST_F(BakeViewTest, AFolderThatCannotBeWrittenIsToldAndTheSheetStays) {
  const test::TemporaryFolder folder;
  writeFileAtomically(folder / "taken", "a file");
  bakeSheet();
  setFolder(QString::fromStdString((folder / "taken").string()));
  test::click(test::child<QPushButton>(window_, "bake_write"));
  EXPECT_TRUE(test::eventually([this] { return message().contains("taken"); })) << message().toStdString();
  EXPECT_TRUE(message().contains("Choose another folder"));
  EXPECT_TRUE(test::child<QPushButton>(window_, "bake_write")->isEnabled());
}

TEST_F(BakeViewTest, SaysWhenTheSceneHasChangedSince) {
  bakeSheet();
  document().setBase(scene().findByName("emitter")->id, "rate", 50.0);
  EXPECT_TRUE(message().contains("changed since"));
}

TEST_F(BakeViewTest, AnotherBakeCanBeAddedAndChosen) {
  auto* bakes = test::child<QComboBox>(window_, "bakes");
  ASSERT_EQ(bakes->count(), 1);
  for (QPushButton* button : bakes->parentWidget()->findChildren<QPushButton*>())
    if (button->toolTip().startsWith("Another")) test::click(button);
  EXPECT_EQ(bakes->count(), 2);
  EXPECT_EQ(scene().find(document().selected())->name, "flipbook 2");
  bakes->setFocus();
  QTest::keyClick(bakes, Qt::Key_Up);
  EXPECT_EQ(document().selected(), bake());
}

TEST_F(BakeViewTest, ClickingACellShowsIt) {
  bakeSheet();
  auto* sheet = window_.findChild<SheetView*>();
  auto* player = window_.findChild<CellPlayer*>();
  int shown = -1;
  QObject::connect(player, &CellPlayer::cellShown, sheet, [&shown](int cell) { shown = cell; });
  // The second cell of the second row of four by four, in a square in the middle of the view.
  const int side = std::min(sheet->width(), sheet->height()) - 24;
  const QPoint corner((sheet->width() - side) / 2, (sheet->height() - side) / 2);
  QTest::mouseClick(sheet, Qt::LeftButton, Qt::NoModifier, corner + QPoint(side * 3 / 8, side * 3 / 8));
  EXPECT_EQ(shown, 5);
}

TEST_F(BakeViewTest, TheSheetPlaysAtItsRate) {
  bakeSheet();
  auto* player = window_.findChild<CellPlayer*>();
  int changes = 0;
  QObject::connect(player, &CellPlayer::cellShown, player, [&changes] { ++changes; });
  EXPECT_TRUE(test::eventually([&changes] { return changes >= 3; }));
}

TEST_F(BakeViewTest, WritesTrailsAsDataIntoTheSameFolder) {
  const test::TemporaryFolder folder;
  setFolder(QString::fromStdString(folder.path().string()));
  auto* what = test::child<QComboBox>(window_, "data_what");
  auto* format = test::child<QComboBox>(window_, "data_format");
  auto* message = test::child<QLabel>(window_, "data_message");
  const auto choose = [](QComboBox* box, const QString& label) {
    box->setFocus();
    while (box->currentText() != label)
      QTest::keyClick(box, box->findText(label) > box->currentIndex() ? Qt::Key_Down : Qt::Key_Up);
  };
  choose(what, "Trails");
  choose(format, "USDA");
  test::type(test::child<NumberField>(window_, "data_first"), "20");
  test::type(test::child<NumberField>(window_, "data_last"), "22");
  test::click(test::child<QPushButton>(window_, "data_write"));
  ASSERT_TRUE(test::eventually([&] { return message->text().startsWith("Exported "); }));
  const auto fileOf = [&] { return folder / message->text().section(' ', 1).chopped(1).toStdString(); };
  EXPECT_NE(readFile(fileOf(), 1 << 24).find("22: [],"), std::string::npos) << "no emitter has trails yet";
  const ItemId emitter = scene().findByName("emitter")->id;
  document().setBase(emitter, "trail", std::string("ribbon"));
  EXPECT_EQ(test::child<NumberField>(window_, "data_first")->value(), 20) << "an edit left it alone";
  test::click(test::child<QPushButton>(window_, "data_write"));
  ASSERT_TRUE(test::eventually([&] { return message->text().startsWith("Exported "); }));
  EXPECT_NE(readFile(fileOf(), 1 << 24).find("22: [("), std::string::npos);
  choose(what, "Surfaces");
  test::click(test::child<QPushButton>(window_, "data_write"));
  EXPECT_TRUE(test::eventually([&] { return message->text().startsWith("Nothing to export"); }));
}

}  // namespace
}  // namespace comet
