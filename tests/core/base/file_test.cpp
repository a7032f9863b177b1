#include "base/file.h"

#include "base/error.h"
#include "support/files.h"

#include <fstream>

namespace comet {
namespace {

using test::TemporaryFolder;

std::size_t entriesIn(const std::filesystem::path& folder) {
  return static_cast<std::size_t>(std::distance(std::filesystem::directory_iterator(folder), {}));
}

TEST(File, ContentComesBack) {
  const TemporaryFolder folder;
  const std::string content("a\0b\xFF\n", 5);
  writeFileAtomically(folder / "x", content);
  EXPECT_EQ(readFile(folder / "x", 100), content);
  EXPECT_EQ(entriesIn(folder.path()), 1U);
}

TEST(File, OverLimitIsRefusedBeforeItIsRead) {
  const TemporaryFolder folder;
  writeFileAtomically(folder / "x", "123456");
  EXPECT_EQ(readFile(folder / "x", 6), "123456");
  EXPECT_THROW(readFile(folder / "x", 5), Error);
}

TEST(File, FailedWriteNamesTheFileAndLeavesTheOldOne) {
  const TemporaryFolder folder;
  writeFileAtomically(folder / "x", "old");
  // A folder cannot be replaced by a file, not even by the administrator.
  std::filesystem::create_directory(folder / "taken");
  try {
    writeFileAtomically(folder / "taken", "new");
    FAIL() << "no error";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Write);
    EXPECT_NE(std::string(error.what()).find("taken"), std::string::npos);
  }
  EXPECT_EQ(entriesIn(folder.path()), 2U) << "a partial file was left";
}

TEST(File, FullDiskIsAnErrorAndLeavesNothing) {
  if (!std::filesystem::exists("/dev/full")) GTEST_SKIP() << "no device that is always full";
  const TemporaryFolder folder;
  // The partial file's name is known, so it can be led to the full device.
  const auto partial = folder.path() / ("x." + std::to_string(::getpid()) + ".partial");
  std::filesystem::create_symlink("/dev/full", partial);
  EXPECT_THROW(writeFileAtomically(folder / "x", "content"), Error);
  EXPECT_FALSE(std::filesystem::exists(folder / "x"));
  EXPECT_EQ(entriesIn(folder.path()), 0U);
}

TEST(File, MissingFolderIsAnError) {
  EXPECT_THROW(writeFileAtomically("/nowhere/at/all/x", "content"), Error);
  EXPECT_THROW(readFile("/nowhere/at/all/x", 10), Error);
  EXPECT_THROW(readFile("/", 10), Error);
}

TEST(WriteFile, GoesWhereALinkLeadsAndKeepsTheMode) {
  namespace fs = std::filesystem;
  const test::TemporaryFolder folder;
  writeFileAtomically(folder / "real", "old");
  fs::permissions(folder / "real", fs::perms::owner_all | fs::perms::group_read);
  fs::create_symlink("real", folder / "link");
  writeFileAtomically(folder / "link", "new");
  EXPECT_TRUE(fs::is_symlink(folder / "link"));
  EXPECT_EQ(readFile(folder / "real", 10), "new");
  EXPECT_EQ(fs::status(folder / "real").permissions(), fs::perms::owner_all | fs::perms::group_read);
}

TEST(WriteFile, LeavesAWriteProtectedFileAlone) {
  namespace fs = std::filesystem;
  const test::TemporaryFolder folder;
  writeFileAtomically(folder / "x", "old");
  fs::permissions(folder / "x", fs::perms::owner_read);
  try {
    writeFileAtomically(folder / "x", "new");
    FAIL();
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Write);
    EXPECT_EQ(error.problem(), "is write-protected");
  }
  EXPECT_EQ(readFile(folder / "x", 10), "old");
  EXPECT_EQ(std::distance(fs::directory_iterator(folder.path()), {}), 1);
}

}  // namespace
}  // namespace comet
