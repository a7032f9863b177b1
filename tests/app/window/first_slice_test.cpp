// A whole job through the real window: from a new scene to a flipbook on disk.
#include "app/driver.h"
#include "catalog.h"
#include "grid/influence_grid.h"
#include "scene/scene_file.h"
#include "support/files.h"

#include <QComboBox>
#include <QImage>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <set>

namespace comet {
namespace {

class FirstSlice : public test::WindowTest {};

TEST_F(FirstSlice, FromNewSceneToFlipbook) {
  const test::TemporaryFolder folder;
  test::click(test::child<QPushButton>(window_, "start_new"));

  auto* shape = test::child<QComboBox>(*row("shape"), "choice");
  shape->setFocus();
  QTest::keyClick(shape, 'b');
  test::type(field("rate"), "240");

  test::addInfluence(window_, "Gravity");
  auto* grid = test::child<InfluenceGrid>(window_, "influence_grid");
  const QPoint cell = grid->cellRect(0, 0).center();
  test::drag(grid, cell, cell - QPoint(50, 0));
  test::click(test::child<QToolButton>(window_, "preset.opacity.fade_in_out"));

  // A new scene plays from the start; so long as it does, it comes to frame 40.
  ASSERT_TRUE(test::eventually([this] { return document().frame() >= 40; }));
  test::click(test::child<QToolButton>(window_, "play"));

  const QString file = QString::fromStdString((folder / "first.comet").string());
  test::nameNextFile(file);
  test::click(test::child<QToolButton>(window_, "save"));
  const Scene saved = readScene(folder / "first.comet", catalog());
  EXPECT_EQ(saved, scene());
  const Item& emitter = *saved.findByName("emitter");
  EXPECT_EQ(emitter.choice("shape"), "box");
  EXPECT_EQ(emitter.number("rate", 1), 240);
  EXPECT_NEAR(*saved.response(emitter.id, saved.findByName("gravity")->id).percent, 50, 4);
  EXPECT_EQ(emitter.value("opacity").overAge->at(0), 0);

  test::click(test::child<QPushButton>(window_, "page.2"));
  auto* bakeFolder = test::child<QLineEdit>(window_, "bake_folder");
  bakeFolder->selectAll();
  QTest::keyClicks(bakeFolder, QString::fromStdString(folder.path().string()));
  test::click(test::child<QPushButton>(window_, "bake_start"));
  auto* write = test::child<QPushButton>(window_, "bake_write");
  ASSERT_TRUE(test::eventually([write] { return write->isEnabled(); }));
  test::click(write);
  const auto* message = test::child<QLabel>(window_, "bake_message");
  EXPECT_TRUE(test::eventually([message] { return message->text().contains("flipbook.png"); }));

  const QImage sheet(QString::fromStdString((folder / "flipbook.png").string()));
  ASSERT_EQ(sheet.size(), QSize(4 * 128, 4 * 128));
  std::set<QByteArray> different;
  for (int i = 0; i < 16; ++i) {
    const QImage picture =
        sheet.copy(i % 4 * 128, i / 4 * 128, 128, 128).convertToFormat(QImage::Format_RGBA8888);
    const QByteArray bytes(reinterpret_cast<const char*>(picture.constBits()), picture.sizeInBytes());
    EXPECT_TRUE(
        std::any_of(bytes.begin(), bytes.end(), [](char byte) { return static_cast<uchar>(byte) > 40; }))
        << "cell " << i << " is empty";
    different.insert(bytes);
  }
  EXPECT_EQ(different.size(), 16U);
}

TEST_F(FirstSlice, CancelledBakeLeavesTheViewReady) {
  newSceneAtRest();
  test::click(test::child<QPushButton>(window_, "page.2"));
  document().setBase(scene().findByName("flipbook")->id, "supersampling", 8.0);
  document().setBase(scene().findByName("emitter")->id, "rate", 200000.0);
  auto* start = test::child<QPushButton>(window_, "bake_start");
  test::click(start);
  EXPECT_FALSE(start->isEnabled());
  test::click(test::child<QPushButton>(window_, "bake_cancel"));
  EXPECT_TRUE(test::eventually([start] { return start->isEnabled(); }));
  EXPECT_TRUE(test::child<QLabel>(window_, "bake_message")->text().contains("Cancelled"));
}

TEST_F(FirstSlice, ImpossibleFlipbookIsToldBeforeBaking) {
  newSceneAtRest();
  test::click(test::child<QPushButton>(window_, "page.2"));
  document().setBase(scene().findByName("flipbook")->id, "frame_choice", std::string("step"));
  document().setBase(scene().findByName("flipbook")->id, "trim", false);
  document().setBase(scene().findByName("flipbook")->id, "step", 1.0);
  EXPECT_FALSE(test::child<QPushButton>(window_, "bake_start")->isEnabled());
}

}  // namespace
}  // namespace comet
