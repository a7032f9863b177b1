#include "session/document.h"

#include "app/driver.h"
#include "base/error.h"
#include "base/file.h"
#include "io/picture_file.h"
#include "scene/scene_file.h"
#include "scene_files.h"
#include "session/recovery.h"
#include "support/files.h"
#include "support/scenes.h"

#include <QDir>
#include <QFile>
#include <QLockFile>
#include <QStandardPaths>
#include <rapidcheck.h>

namespace comet {
namespace {

class DocumentTest : public testing::Test {
 protected:
  ItemId emitter() const { return document_.scene().findByName("emitter")->id; }
  double rate() const { return document_.scene().find(emitter())->number("rate", 1); }
  void setRate(double rate, const QString& mergeKey = {}) {
    document_.setBase(emitter(), "rate", rate, mergeKey);
  }

  Document document_{test::reader()};
};

TEST_F(DocumentTest, UndoAndRedoGoThroughEveryStep) {
  for (const double rate : {1.0, 2.0, 3.0}) setRate(rate);
  document_.undo();
  document_.undo();
  EXPECT_EQ(rate(), 1);
  document_.redo();
  EXPECT_EQ(rate(), 2);
  setRate(9);
  EXPECT_FALSE(document_.canRedo());
  for (int i = 0; i < 9; ++i) document_.undo();
  EXPECT_EQ(rate(), 120);
  EXPECT_FALSE(document_.hasUnsavedChanges());
}

TEST_F(DocumentTest, ADragIsOneStep) {
  for (int i = 0; i < 50; ++i) setRate(i, "drag");
  document_.endMerge();
  for (int i = 50; i < 60; ++i) setRate(i, "drag");
  document_.undo();
  EXPECT_EQ(rate(), 49);
  document_.undo();
  EXPECT_EQ(rate(), 120);
}

// Any sequence of edits, undos and redos goes through the states of a plain list.
TEST_F(DocumentTest, HistoryIsAListOfScenes) {
  EXPECT_TRUE(rc::check([](const std::vector<int>& moves) {
    Document document(test::reader());
    std::vector<Scene> states{document.scene()};
    std::size_t at = 0;
    for (const int move : moves) {
      if (move % 3 == 0 && at > 0) {
        document.undo();
        --at;
      } else if (move % 3 == 1 && at + 1 < states.size()) {
        document.redo();
        ++at;
      } else {
        const double rate = 1 + std::abs(move % 1000);
        if (document.scene().find(document.selectedEmitter())->number("rate", 1) == rate) continue;
        document.setBase(document.selectedEmitter(), "rate", rate);
        states.resize(at + 1);
        states.push_back(document.scene());
        ++at;
      }
      RC_ASSERT(document.scene() == states[at]);
      RC_ASSERT(document.canUndo() == (at > 0));
      RC_ASSERT(document.canRedo() == (at + 1 < states.size()));
    }
  }));
}

TEST_F(DocumentTest, ValuesOutsideTheirRangeAreBroughtIn) {
  setRate(-5);
  EXPECT_EQ(rate(), 0);
  document_.setBase(document_.scene().settings().id, "substeps", 1e9);
  EXPECT_EQ(document_.scene().settings().integer("substeps", 1), 32);
}

TEST_F(DocumentTest, FrameStaysInTheRange) {
  document_.setFrame(100000);
  EXPECT_EQ(document_.frame(), 96);
  document_.setFrame(-100000);
  EXPECT_EQ(document_.frame(), 1);
}

TEST_F(DocumentTest, EditingAKeyedValueSetsAKey) {
  document_.setFrame(5);
  ParamValue keyed = document_.scene().find(emitter())->value("rate");
  keyed.keys = withKey({}, {1, 10.0});
  document_.setParam(emitter(), "rate", keyed);
  setRate(50);
  const KeyTrack& keys = document_.scene().find(emitter())->value("rate").keys;
  ASSERT_EQ(keys.size(), 2U);
  EXPECT_EQ(keys[1].frame, 5);
  EXPECT_EQ(std::get<double>(keys[1].value), 50);
}

TEST_F(DocumentTest, SelectionIsAlwaysAnItemOfTheScene) {
  const Scene two = document_.scene().withAdded(newItem(*catalog().find("emitter"), "second"));
  document_.edit(two, "add");
  document_.select(two.items().back()->id);
  EXPECT_EQ(document_.selectedEmitter(), two.items().back()->id);
  document_.undo();
  EXPECT_EQ(document_.selected(), emitter());
}

TEST_F(DocumentTest, SavedIsSavedUntilTheNextEdit) {
  const test::TemporaryFolder folder;
  const QString path = QString::fromStdString((folder / "a.comet").string());
  setRate(77);
  EXPECT_TRUE(document_.hasUnsavedChanges());
  document_.save(path);
  EXPECT_FALSE(document_.hasUnsavedChanges());
  setRate(78);
  document_.undo();
  EXPECT_FALSE(document_.hasUnsavedChanges());
  document_.replace(test::starting(), {});
  document_.open(path);
  EXPECT_EQ(rate(), 77);
}

TEST_F(DocumentTest, AFileThatCannotBeReadChangesNothing) {
  const test::TemporaryFolder folder;
  writeFileAtomically(folder / "bad.comet", "{");
  setRate(5);
  EXPECT_THROW(document_.open(QString::fromStdString((folder / "bad.comet").string())), Error);
  EXPECT_EQ(rate(), 5);
  EXPECT_TRUE(document_.canUndo());
}

TEST(Recovery, KeepsACopyThatOthersLeaveAloneAndOffersAbandonedOnes) {
  Document document(test::reader());
  const QDir folder(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/recovery");
  {
    Recovery recovery(document);
    document.setBase(document.selectedEmitter(), "rate", 33.0);
    ASSERT_TRUE(test::eventually([&] { return !folder.entryList({"*.comet"}).isEmpty(); }));
    EXPECT_TRUE(Recovery::abandonedCopies().empty()) << "the copy of a running program was offered";
    // What a crash leaves: the copy without anyone who holds its lock.
    ASSERT_TRUE(QFile::copy(folder.filePath(folder.entryList({"*.comet"}).front()),
                            folder.filePath("crashed.comet")));
    writeFileAtomically(folder.filePath("damaged.comet").toStdString(), "{\"format\":");
    writeFileAtomically(folder.filePath("wrong.comet").toStdString(),
                        R"({"format":"tawny-comet-recovery","path":7,"name":"a","scene":"{}"})");
    const std::vector<RecoveryCopy> copies = Recovery::abandonedCopies();
    ASSERT_EQ(copies.size(), 1U) << "a damaged one is not offered";
    EXPECT_EQ(copies[0].name, document.displayName());
    EXPECT_EQ(Recovery::read(copies[0], test::reader()), document.scene());
    Recovery::discard(folder.filePath("damaged.comet"));
    Recovery::discard(folder.filePath("wrong.comet"));
    Recovery::discard(folder.filePath("crashed.comet"));
  }
  EXPECT_TRUE(folder.entryList({"*.comet"}).isEmpty()) << "a copy was left after an orderly end";
}

TEST(Recovery, IsWrittenWhileEditsGoOnAndFindsTheFilesOfItsScene) {
  const test::TemporaryFolder scenes;
  writePicture(scenes / "cloud.png", Picture(4, 4), PictureFormat::Png8, PictureChannels::Rgba);
  writeScene(scenes / "a.comet",
             test::with(test::starting(), {"emitter.sprite=picture", "emitter.picture=cloud.png"}));
  Document document(test::reader());
  const QDir folder(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/recovery");
  Recovery recovery(document);
  document.open(QString::fromStdString((scenes / "a.comet").string()));
  // Edits that never rest as long as the copy waits.
  double rate = 1;
  EXPECT_TRUE(test::eventually([&] {
    document.setBase(document.selectedEmitter(), "rate", rate += 1);
    return !folder.entryList({"*.comet"}).isEmpty();
  }));
  ASSERT_TRUE(
      QFile::copy(folder.filePath(folder.entryList({"*.comet"}).front()), folder.filePath("crashed.comet")));
  const std::vector<RecoveryCopy> copies = Recovery::abandonedCopies();
  ASSERT_EQ(copies.size(), 1U);
  EXPECT_EQ(copies[0].path.toStdString(), (scenes / "a.comet").string());
  EXPECT_TRUE(missingFiles(Recovery::read(copies[0], test::reader())).empty());
  Recovery::discard(copies[0].file);
}

TEST_F(DocumentTest, NoticesThatItsFileWasChangedByOthers) {
  const test::TemporaryFolder folder;
  const QString path = QString::fromStdString((folder / "a.comet").string());
  document_.save(path);
  EXPECT_FALSE(document_.isChangedOnDisk());
  writeFileAtomically(folder / "a.comet", "{}");
  EXPECT_TRUE(document_.isChangedOnDisk());
  document_.save(path);
  EXPECT_FALSE(document_.isChangedOnDisk());
}

}  // namespace
}  // namespace comet
