// Readers are confined: they calculate and answer, and nothing else.
#include "readers/reader_process.h"

#include <cerrno>
#include <csignal>
#include <fcntl.h>
#include <gtest/gtest.h>
#include <memory>
#include <new>
#include <sys/socket.h>
#include <thread>
#include <unistd.h>
#include <vector>

namespace comet {
namespace {

void prepareNothing() {}

// Tries what it is asked to and tells what came of it: 0 or the number of the error.
void tryThings(Channel& program) {
  const auto tell = [&program](int result) { program.send(result < 0 ? errno : 0); };
  while (true) switch (program.receive<char>()) {
      case 'o':
        tell(::open("/etc/passwd", O_RDONLY));
        break;
      case 'w':
        tell(::open("/tmp/written-by-a-reader", O_WRONLY | O_CREAT, 0600));
        break;
      case 's':
        tell(::socket(AF_INET, SOCK_STREAM, 0));
        break;
      case 'f':
        tell(::fork());
        break;
      case 'k':
        tell(::kill(::getppid(), SIGTERM));
        break;
      case 'x':
        tell(::execl("/bin/true", "true", nullptr));
        break;
      case 't':
        try {
          std::thread([] {}).join();
          program.send(0);
        } catch (const std::system_error& error) {
          program.send(error.code().value());
        }
        break;
      case 'm':
        try {
          // Not touched: what is promised counts.
          std::vector<std::unique_ptr<char[]>> all;
          for (int i = 0; i < 8; ++i) all.emplace_back(new char[kReaderMemory / 4]);
          program.send(0);
        } catch (const std::bad_alloc&) {
          program.send(ENOMEM);
        }
        break;
      case 'a':
        std::abort();
      default:
        program.send(0);
    }
}

class Confined : public ::testing::Test {
 protected:
  int resultOf(ReaderProcess& reader, char thing) {
    reader.channel().send(thing);
    return reader.channel().receive<int>();
  }
  ReaderHost host_{prepareNothing, tryThings};
};

TEST_F(Confined, ToWhatIsOpenAlready) {
  ReaderProcess reader = host_.newReader();
  EXPECT_EQ(resultOf(reader, ' '), 0);
  for (const char thing : {'o', 'w', 's', 'f', 'k', 'x', 't'}) EXPECT_NE(resultOf(reader, thing), 0) << thing;
}

#if !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
TEST_F(Confined, ToItsMemory) {
  ReaderProcess reader = host_.newReader();
  EXPECT_EQ(resultOf(reader, 'm'), ENOMEM);
}
#endif

TEST_F(Confined, ItsEndIsNotThatOfOthers) {
  ReaderProcess one = host_.newReader(), other = host_.newReader();
  EXPECT_THROW((void)resultOf(one, 'a'), PeerGone);
  EXPECT_EQ(resultOf(other, ' '), 0);
  ReaderProcess next = host_.newReader();
  EXPECT_EQ(resultOf(next, ' '), 0);
}

}  // namespace
}  // namespace comet
