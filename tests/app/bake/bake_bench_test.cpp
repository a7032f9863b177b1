// The bake bench: checks and their remedies, the views of a sheet, several bakes.
#include "app/driver.h"
#include "bake/bake_kind.h"
#include "bake/cell_player.h"
#include "bake/cell_plot.h"
#include "bake/compare_view.h"
#include "bake/game_view.h"
#include "bake/sheet_view.h"
#include "base/file.h"
#include "inspector/packing_board.h"
#include "support/files.h"

#include <QAbstractItemView>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <set>

namespace comet {
namespace {

class BakeBench : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    newSceneAtRest();
    set("cell_width", 32.0);
    set("cell_height", 32.0);
    set("supersampling", 1.0);
    set("frame_range", std::string("own"));
    set("frame_choice", std::string("step"));
    set("trim", false);
    test::click(test::child<QPushButton>(window_, "page.2"));
  }
  Scene::ItemPtr bake() { return scene().itemsOf(ItemFamily::Bake).front(); }
  void set(const char* param, const Value& value) { document().setBase(bake()->id, param, value); }
  template <typename Widget = QPushButton>
  Widget* named(const char* name) {
    return test::child<Widget>(window_, name);
  }
  void bakeSheet() {
    test::click(named("bake_start"));
    ASSERT_TRUE(isDone());
  }
  testing::AssertionResult isDone() {
    return test::eventually(
        [this] { return named("bake_write")->isEnabled() && !named("bake_cancel")->isEnabled(); });
  }
  // The row of a finding; null if there is none. Rows of lists that are about to go do not count.
  QWidget* finding(const char* check) {
    auto* list = named<QScrollArea>("check_list")->widget();
    return list->findChild<QWidget*>(QString("check.%1").arg(check));
  }
  static void choose(QComboBox* box, const QString& label) {
    ASSERT_GE(box->findText(label), 0) << label.toStdString();
    box->setFocus();
    while (box->currentText() != label)
      QTest::keyClick(box, box->findText(label) > box->currentIndex() ? Qt::Key_Down : Qt::Key_Up);
  }
  // Without a button.
  static void moveTo(QWidget& widget, const QPoint& place) {
    QMouseEvent move(QEvent::MouseMove, place, widget.mapToGlobal(place), Qt::NoButton, Qt::NoButton,
                     Qt::NoModifier);
    QApplication::sendEvent(&widget, &move);
  }
  static int colorsIn(QWidget& widget) {
    const QImage image = widget.grab().toImage();
    std::set<QRgb> colors;
    for (int y = 0; y < image.height(); y += 3)
      for (int x = 0; x < image.width(); x += 3) colors.insert(image.pixel(x, y));
    return static_cast<int>(colors.size());
  }
};

TEST_F(BakeBench, ChannelsArePackedByDragging) {
  set("channel_packing", true);
  PackingBoard* board = nullptr;
  ASSERT_TRUE(test::eventually([&] {
    for (auto* each : window_.findChildren<PackingBoard*>())
      if (each->isVisible()) board = each;
    return board != nullptr;
  }));
  const auto held = [this](const char* channel) { return bake()->choice(std::string("pack_") + channel); };
  const auto middleOf = [](const QRect& box) {
    EXPECT_TRUE(box.isValid());
    return box.center();
  };
  test::drag(board, middleOf(board->sourceBox("age")), middleOf(board->channelBox(0)));
  test::drag(board, middleOf(board->sourceBox("alpha")), middleOf(board->channelBox(2)));
  EXPECT_EQ(held("red"), "age");
  EXPECT_EQ(held("blue"), "alpha");
  test::drag(board, middleOf(board->channelBox(0)), middleOf(board->channelBox(2)));
  EXPECT_EQ(held("red"), "alpha") << "two channels change places";
  EXPECT_EQ(held("blue"), "age");
  test::drag(board, middleOf(board->channelBox(2)), middleOf(board->sourceBox("full")));
  EXPECT_EQ(held("blue"), "nothing") << "it was dragged off";
  test::drag(board, middleOf(board->sourceBox("age")), middleOf(board->sourceBox("full")));
  EXPECT_EQ(held("red"), "alpha") << "nowhere";
  test::click(window_.findChild<QToolButton*>("undo"));
  EXPECT_EQ(held("blue"), "age") << "each is one step";
  set("channel_packing", false);
  EXPECT_FALSE(board->isVisible());
}

TEST_F(BakeBench, FindLeadsToAControlOfABake) {
  test::click(named("page.1"));
  auto* find = named<QLineEdit>("find_control");
  find->setFocus();
  QTest::keyClicks(find, "channel packing");
  QTest::keyClick(find, Qt::Key_Return);
  EXPECT_TRUE(test::eventually([this] {
    const QWidget* focused = QApplication::focusWidget();
    return focused && focused->isVisible() && !focused->visibleRegion().isEmpty() &&
           qobject_cast<const QCheckBox*>(focused);
  }));
  QWidget* box = QApplication::focusWidget();
  test::click(box, QPoint(8, box->height() / 2));
  EXPECT_TRUE(bake()->flag("channel_packing"));
}

TEST_F(BakeBench, AFindingIsMendedByItsButton) {
  set("cell_width", 48.0);
  bakeSheet();
  QWidget* row = finding("not_square");
  ASSERT_TRUE(row);
  EXPECT_TRUE(row->findChild<QLabel*>("text")->text().contains("48 × 32"));
  test::click(row->findChild<QPushButton*>("remedy"));
  EXPECT_EQ(bake()->integer("cell_height", 0), 48);
  ASSERT_TRUE(isDone());
  EXPECT_TRUE(test::eventually([this] { return !finding("not_square"); })) << "it was baked again";
  test::click(window_.findChild<QToolButton*>("undo"));
  EXPECT_EQ(bake()->integer("cell_height", 0), 32) << "a remedy is a step like any other";
}

TEST_F(BakeBench, ClippedCellsAreMarkedAndTheViewIsFitted) {
  set("view", std::string("own"));
  set("height", 0.5);
  bakeSheet();
  QWidget* row = finding("clipped");
  ASSERT_TRUE(row);
  auto* sheet = window_.findChild<SheetView*>();
  const QImage before = sheet->grab().toImage();
  test::click(row->findChild<QPushButton*>("title"));
  EXPECT_NE(sheet->grab().toImage(), before) << "its cells are marked on the sheet";
  test::click(row->findChild<QPushButton*>("remedy"));
  EXPECT_TRUE(test::eventually([this] { return !finding("clipped") && isDone(); }));
  EXPECT_GT(bake()->number("height", 0), 1);
}

TEST_F(BakeBench, ASheetOfAnotherSceneSaysSo) {
  bakeSheet();
  const auto message = [this] { return named<QLabel>("bake_message")->text(); };
  set("columns", 5.0);
  EXPECT_TRUE(message().contains("has changed"));
  test::click(window_.findChild<QToolButton*>("undo"));
  EXPECT_TRUE(message().isEmpty()) << "it is the scene that was baked";
}

TEST_F(BakeBench, FitsTheViewFromItsButton) {
  EXPECT_TRUE(bake()->chooses("view", "camera"));
  test::click(named("bake_fit"));
  EXPECT_TRUE(test::eventually([this] { return bake()->chooses("view", "own"); }));
  EXPECT_TRUE(bake()->chooses("projection", "orthographic"));
}

TEST_F(BakeBench, NothingToFitIsTold) {
  document().setBase(scene().findByName("emitter")->id, "rate", 0.0);
  test::click(named("bake_fit"));
  EXPECT_TRUE(test::eventually(
      [this] { return named<QLabel>("bake_message")->text().contains("has nothing to fit"); }));
  EXPECT_TRUE(bake()->chooses("view", "camera"));
}

TEST_F(BakeBench, EmittersAreChosenForEachBake) {
  document().edit(scene().withAdded(newItem(*scene().findByName("emitter")->kind, "smoke")), "add");
  auto* box = named<QCheckBox>("bakes.smoke");
  EXPECT_TRUE(box->isChecked());
  test::click(box, QPoint(8, box->height() / 2));
  EXPECT_FALSE(scene().response(scene().findByName("smoke")->id, bake()->id).percent);
  EXPECT_FALSE(named<QCheckBox>("bakes.smoke")->isChecked());
  test::click(named("bake_add"));
  EXPECT_TRUE(named<QCheckBox>("bakes.smoke")->isChecked()) << "another bake has all of them";
  choose(named<QComboBox>("bakes"), "flipbook");
  EXPECT_FALSE(named<QCheckBox>("bakes.smoke")->isChecked()) << "the first one is shown again";
}

TEST_F(BakeBench, ShowsTheChannelsThatWereBaked) {
  bakeSheet();
  auto* channel = named<QComboBox>("bake_channel");
  EXPECT_EQ(channel->findText("Motion"), -1);
  set("motion_vectors", std::string("eight"));
  set("normal_sheet", true);
  bakeSheet();
  auto* sheet = window_.findChild<SheetView*>();
  const QImage color = sheet->grab().toImage();
  choose(channel, "Motion");
  const QImage motion = sheet->grab().toImage();
  EXPECT_NE(motion, color);
  choose(channel, "Normals");
  EXPECT_NE(sheet->grab().toImage(), motion);
  bakeSheet();
  EXPECT_EQ(channel->currentText(), "Normals") << "a new bake is looked at as the one before";
}

TEST_F(BakeBench, TellsThePixelUnderThePointerAndZoomsToIt) {
  bakeSheet();
  auto* sheet = window_.findChild<SheetView*>();
  auto* hover = named<QLabel>("bake_hover");
  const int side = std::min(sheet->width(), sheet->height()) - 24;
  const QPoint corner((sheet->width() - side) / 2, (sheet->height() - side) / 2);
  moveTo(*sheet, corner + QPoint(side * 3 / 8 + 3, side / 8 + 3));
  EXPECT_TRUE(hover->text().startsWith("cell 2, frame 12, pixel 16 × 16")) << hover->text().toStdString();
  moveTo(*sheet, QPoint(2, 2));
  EXPECT_TRUE(hover->text().isEmpty());
  sheet->setFocus();
  const QImage before = sheet->grab().toImage();
  QTest::keyClick(sheet, Qt::Key_Plus);
  EXPECT_NE(sheet->grab().toImage(), before);
  QTest::keyClick(sheet, Qt::Key_0);
  EXPECT_EQ(sheet->grab().toImage(), before);
}

TEST_F(BakeBench, TheCellsPlayAndThePlotChoosesOne) {
  bakeSheet();
  test::click(named("bake_page.1"));
  EXPECT_TRUE(named("bake_play")->isChecked());
  auto* plot = window_.findChild<CellPlot*>();
  ASSERT_TRUE(plot->isVisible());
  test::click(plot, QPoint(plot->width() / 2 + 4, plot->height() / 2));
  EXPECT_FALSE(named("bake_play")->isChecked()) << "a chosen cell stands";
  const QImage chosen = plot->grab().toImage();
  test::click(plot, QPoint(12, plot->height() / 2));
  EXPECT_NE(plot->grab().toImage(), chosen);
}

TEST_F(BakeBench, AVariantPlaysByItself) {
  set("columns", 3.0);
  set("rows", 1.0);
  set("step", 4.0);
  set("first", 20.0);
  set("last", 28.0);
  set("variants", std::string("seeds"));
  set("variant_count", 2.0);
  bakeSheet();
  auto* sheet = window_.findChild<SheetView*>();
  named<QPushButton>("bake_play")->setChecked(false);
  // The second cell of the second row.
  QTest::mouseClick(sheet, Qt::LeftButton, {}, sheet->cellRect(4).center().toPoint());
  auto* player = window_.findChild<CellPlayer*>();
  std::set<int> shown;
  QObject::connect(player, &CellPlayer::cellShown, player, [&shown](int cell) { shown.insert(cell); });
  test::click(named("bake_play"));
  ASSERT_TRUE(test::eventually([&] { return shown.size() >= 3; }));
  EXPECT_EQ(shown, (std::set<int>{3, 4, 5}));
  // The pointer tells which it is.
  moveTo(*sheet, sheet->cellRect(5).center().toPoint());
  EXPECT_TRUE(
      test::eventually([this] { return named<QLabel>("bake_hover")->text().startsWith("Seed +1, cell 3"); }));
}

TEST_F(BakeBench, TheGameShowsSpritesAndHowOftenPixelsAreDrawn) {
  bakeSheet();
  test::click(named("bake_play"));
  test::click(named("bake_page.2"));
  auto* picture = window_.findChild<GamePicture*>();
  EXPECT_GT(colorsIn(*picture), 20);
  const auto fill = [this] { return named<QLabel>("game_fill")->text().section(' ', 6, 6).toDouble(); };
  const double before = fill();
  EXPECT_GT(before, 0.1);
  test::type(named<NumberField>("game_births"), "40");
  picture->grab();
  EXPECT_GT(fill(), 3 * before) << "five times as many sprites";
  const QImage effect = picture->grab().toImage();
  test::click(named<QCheckBox>("game_overdraw"), QPoint(8, named<QCheckBox>("game_overdraw")->height() / 2));
  EXPECT_NE(picture->grab().toImage(), effect);
}

TEST_F(BakeBench, ComparesWithTheBakeBefore) {
  bakeSheet();
  test::click(named("bake_play"));
  test::click(named("bake_page.3"));
  auto* view = window_.findChild<CompareView*>();
  const int before = colorsIn(*view);
  document().setBase(scene().findByName("emitter")->id, "brightness", 3.0);
  bakeSheet();
  EXPECT_GT(colorsIn(*view), 2 * before) << "before, there was nothing to compare with";
  const QImage parted = view->grab().toImage();
  view->setFocus();
  for (int i = 0; i < 8; ++i) QTest::keyClick(view, Qt::Key_Left);
  EXPECT_NE(view->grab().toImage(), parted) << "the line moves";
  auto* difference = named<QCheckBox>("bake_difference");
  const QImage wiped = view->grab().toImage();
  test::click(difference, QPoint(8, difference->height() / 2));
  EXPECT_NE(view->grab().toImage(), wiped);
}

TEST_F(BakeBench, ShowsTheSheetBesideItsTexture) {
  bakeSheet();
  test::click(named("bake_page.3"));
  auto* view = window_.findChild<CompareView*>();
  choose(named<QComboBox>("bake_compare_with"), "GPU texture");
  const int before = colorsIn(*view);
  set("texture", std::string("bc"));
  bakeSheet();
  EXPECT_GT(colorsIn(*view), 2 * before) << "before, there was no texture";
  EXPECT_TRUE(named<QLabel>("bake_facts")->text().contains("GPU texture: BC")) << "and how near it comes";
  test::click(named("bake_page.0"));
  const QImage sheet = test::settledPicture(*window_.findChild<SheetView*>());
  choose(named<QComboBox>("bake_channel"), "GPU texture");
  EXPECT_NE(test::settledPicture(*window_.findChild<SheetView*>()), sheet)
      << "blocks are not quite the sheet";
}

TEST_F(BakeBench, WritesAllBakesAndWhatGoesWithThem) {
  const test::TemporaryFolder folder;
  set("web_player", true);
  set("video", std::string("apng"));
  test::click(named("bake_add"));
  const ItemId second = document().selected();
  document().setBase(second, "cell_width", 16.0);
  document().setBase(second, "cell_height", 16.0);
  auto* edit = named<QLineEdit>("bake_folder");
  edit->selectAll();
  QTest::keyClicks(edit, QString::fromStdString(folder.path().string()));
  test::click(named("bake_write_all"));
  ASSERT_TRUE(
      test::eventually([this] { return named<QLabel>("bake_message")->text().startsWith("Exported "); }));
  for (const char* file :
       {"flipbook.png", "flipbook.json", "flipbook.apng", "flipbook.html", "flipbook 2.png"})
    EXPECT_TRUE(std::filesystem::exists(folder / file)) << file;
}

TEST_F(BakeBench, TheSceneSaysHowItsLoopWarmsUpAndWhatIsInTheWay) {
  test::click(named("page.1"));
  document().select(scene().settings().id);
  auto* note = test::child<QLabel>(inspector(), "loop_note");
  EXPECT_FALSE(note->isVisible());
  const ItemId settings = scene().settings().id;
  document().setBase(settings, "exact_loop", true);
  document().setBase(settings, "last_frame", 24.0);
  EXPECT_TRUE(note->isVisible());
  EXPECT_TRUE(note->text().contains("cycles before the first frame")) << note->text().toStdString();
  document().setBase(scene().findByName("emitter")->id, "lifetime_mode", std::string("endless"));
  EXPECT_TRUE(note->text().contains("has endless particles")) << note->text().toStdString();
}

TEST_F(BakeBench, ALoopThatCannotBeExactIsToldBeforeItIsBaked) {
  set("loop", std::string("exact"));
  auto* plan = named<QLabel>("bake_plan");
  EXPECT_TRUE(plan->text().contains("Turn on Exact loop")) << plan->text().toStdString();
  EXPECT_FALSE(named("bake_start")->isEnabled());
  const ItemId settings = scene().settings().id;
  document().setBase(settings, "exact_loop", true);
  document().setBase(scene().findByName("emitter")->id, "lifetime_mode", std::string("endless"));
  EXPECT_TRUE(plan->text().contains("has endless particles")) << plan->text().toStdString();
  document().setBase(scene().findByName("emitter")->id, "lifetime_mode", std::string("lifetime"));
  set("frame_choice", std::string("time"));
  bakeSheet();
  EXPECT_TRUE(named<QLabel>("bake_facts")->text().contains("The loop is exact"));
}

}  // namespace
}  // namespace comet
