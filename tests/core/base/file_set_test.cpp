#include "base/file_set.h"

#include "base/file.h"
#include "support/files.h"

#include <fcntl.h>
#include <random>
#include <set>
#include <sys/file.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace comet {
namespace {

namespace fs = std::filesystem;
using test::TemporaryFolder;

std::set<std::string> namesIn(const fs::path& folder) {
  std::set<std::string> names;
  for (const auto& entry : fs::directory_iterator(folder)) names.insert(entry.path().filename().string());
  return names;
}

using Names = std::set<std::string>;

TEST(FileSet, ReplacesAllFilesAtOnceAndOnlyThen) {
  const TemporaryFolder folder;
  writeFileAtomically(folder / "a", "old");
  FileSet files(folder.path());
  writeFileAtomically(files.add("a"), "new a");
  writeFileAtomically(files.add("b"), "new b");
  EXPECT_EQ(readFile(folder / "a", 10), "old");
  EXPECT_FALSE(fs::exists(folder / "b"));
  EXPECT_EQ(files.keep(), (std::vector<fs::path>{folder / "a", folder / "b"}));
  EXPECT_EQ(readFile(folder / "a", 10), "new a");
  EXPECT_EQ(readFile(folder / "b", 10), "new b");
}

TEST(FileSet, LeavesNothingWhenItIsGivenUp) {
  const TemporaryFolder folder;
  writeFileAtomically(folder / "a", "old");
  {
    FileSet files(folder.path());
    writeFileAtomically(files.add("a"), "new");
  }
  EXPECT_EQ(readFile(folder / "a", 10), "old");
  EXPECT_EQ(namesIn(folder.path()), Names{"a"});
}

TEST(FileSet, KeepsLinksAndModes) {
  const TemporaryFolder folder, other;
  writeFileAtomically(other / "real", "old");
  fs::permissions(other / "real", fs::perms::owner_all | fs::perms::group_read);
  fs::create_symlink(other / "real", folder / "link");
  FileSet files(folder.path());
  writeFileAtomically(files.add("link"), "new");
  (void)files.keep();
  EXPECT_TRUE(fs::is_symlink(folder / "link"));
  EXPECT_EQ(readFile(other / "real", 10), "new");
  EXPECT_EQ(fs::status(other / "real").permissions(), fs::perms::owner_all | fs::perms::group_read);
}

TEST(FileSet, ReplacesNoneIfOneIsProtectedOrMissing) {
  const TemporaryFolder folder;
  writeFileAtomically(folder / "a", "old");
  writeFileAtomically(folder / "b", "old");
  fs::permissions(folder / "b", fs::perms::owner_read);
  {
    FileSet files(folder.path());
    writeFileAtomically(files.add("a"), "new");
    EXPECT_THROW(files.add("b"), Error);
  }
  FileSet files(folder.path());
  writeFileAtomically(files.add("a"), "new");
  (void)files.add("c");
  EXPECT_THROW(files.keep(), Error);
  EXPECT_EQ(readFile(folder / "a", 10), "old");
}

TEST(FileSet, SaysWhatWentWrongOfTheFileAsItWillBeNamed) {
  const TemporaryFolder folder;
  FileSet files(folder.path());
  const fs::path staged = files.add("a");
  fs::create_directory(staged);
  try {
    files.write([&] { writeFileAtomically(staged, "content"); });
    FAIL() << "no error";
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Write);
    EXPECT_EQ(error.place(), (folder / "a").string());
  }
}

TEST(FileSet, CleansUpAfterAProgramThatWasKilledAndTouchesNothingElse) {
  const TemporaryFolder folder;
  fs::create_directory(folder / ".partial-abcdef");
  writeFileAtomically(folder / ".partial-abcdef" / "sheet.exr", "half");
  for (const char* name : {"scene.comet.123.partial", "mine.partial", "mine.partial-1", "a.12b.partial"})
    writeFileAtomically(folder / name, "content");
  writeFileAtomically(folder / "busy.7.partial", "content");
  const int busy = ::open((folder / "busy.7.partial").c_str(), O_RDONLY | O_CLOEXEC);
  ASSERT_EQ(::flock(busy, LOCK_EX), 0);
  const FileSet other(folder.path());
  removeAbandonedFiles(folder.path());
  ::close(busy);
  const Names left = namesIn(folder.path());
  EXPECT_EQ(left.size(), 5U) << "that of the other set is one";
  for (const char* name : {"mine.partial", "mine.partial-1", "a.12b.partial", "busy.7.partial"})
    EXPECT_TRUE(left.count(name)) << name;
}

TEST(FileSet, OfSeveralThreadsDoNotTakeEachOthersForAbandoned) {
  const TemporaryFolder folder;
  std::vector<std::thread> threads;
  for (int t = 0; t < 4; ++t)
    threads.emplace_back([&folder, t] {
      for (int i = 0; i < 50; ++i) {
        FileSet files(folder.path());
        writeFileAtomically(files.add(std::to_string(t) + "a"), "a");
        writeFileAtomically(files.add(std::to_string(t) + "b"), "b");
        EXPECT_EQ(files.keep().size(), 2U);
      }
    });
  for (std::thread& thread : threads) thread.join();
  EXPECT_EQ(namesIn(folder.path()).size(), 8U);
}

// Writes sets until it is killed, each of files that say which set they are of.
[[noreturn]] void writeSets(const fs::path& folder) {
  for (int generation = 1;; ++generation) {
    FileSet files(folder);
    for (const char* name : {"a", "b", "c", "d", "whole"})
      writeFileAtomically(files.add(name), std::to_string(generation));
    (void)files.keep();
  }
}

TEST(FileSet, IsWholeWhereItsLastFileIsThereWheneverItsProgramIsKilled) {
  const TemporaryFolder folder;
  std::mt19937 random(5);
  int whole = 0;
  constexpr int kKills = 60;
  for (int i = 0; i < kKills; ++i) {
    const pid_t child = ::fork();
    ASSERT_GE(child, 0);
    if (child == 0) writeSets(folder.path());
    std::this_thread::sleep_for(std::chrono::microseconds(random() % 60000));
    ::kill(child, SIGKILL);
    ::waitpid(child, nullptr, 0);
    if (!fs::exists(folder / "whole")) continue;
    ++whole;
    const std::string of = readFile(folder / "whole", 10);
    for (const char* name : {"a", "b", "c", "d"}) EXPECT_EQ(readFile(folder / name, 10), of);
  }
  EXPECT_GT(whole, 5);
  const FileSet next(folder.path());
  EXPECT_LE(namesIn(folder.path()).size(), 6U) << "what was half is gone";
}

}  // namespace
}  // namespace comet
