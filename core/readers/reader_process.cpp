#include "readers/reader_process.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <fcntl.h>
#include <fstream>
#include <memory>
#include <seccomp.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <system_error>
#include <tuple>
#include <unistd.h>
#include <utility>

namespace comet {
namespace {

std::pair<int, int> socketPair() {
  std::array<int, 2> ends{};
  if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends.data()) != 0)
    throw std::system_error(errno, std::generic_category(), "no connection to a reader can be made");
  return {ends[0], ends[1]};
}

void limit(__rlimit_resource resource, rlim_t amount) {
  rlimit limits{};
  ::getrlimit(resource, &limits);
  const rlim_t min = std::min(amount, limits.rlim_max);
  limits = {min, min};
  ::setrlimit(resource, &limits);
}

// Bytes of address space that the process has now.
rlim_t addressSpace() {
  std::ifstream file("/proc/self/statm");
  rlim_t pages = 0;
  file >> pages;
  return pages * static_cast<rlim_t>(::sysconf(_SC_PAGESIZE));
}

// What calculating, and answering over a connection that is there already, takes.
constexpr std::array kAllowedCalls{
    SCMP_SYS(read),           SCMP_SYS(write),          SCMP_SYS(readv),        SCMP_SYS(writev),
    SCMP_SYS(sendto),         SCMP_SYS(recvfrom),       SCMP_SYS(sendmsg),      SCMP_SYS(recvmsg),
    SCMP_SYS(poll),           SCMP_SYS(ppoll),          SCMP_SYS(close),        SCMP_SYS(fstat),
    SCMP_SYS(lseek),          SCMP_SYS(mmap),           SCMP_SYS(munmap),       SCMP_SYS(mremap),
    SCMP_SYS(mprotect),       SCMP_SYS(madvise),        SCMP_SYS(brk),          SCMP_SYS(futex),
    SCMP_SYS(rt_sigaction),   SCMP_SYS(rt_sigprocmask), SCMP_SYS(rt_sigreturn), SCMP_SYS(sigaltstack),
    SCMP_SYS(exit),           SCMP_SYS(exit_group),     SCMP_SYS(tgkill),       SCMP_SYS(getpid),
    SCMP_SYS(gettid),         SCMP_SYS(sched_yield),    SCMP_SYS(getrandom),    SCMP_SYS(clock_gettime),
    SCMP_SYS(gettimeofday),   SCMP_SYS(sysinfo),        SCMP_SYS(getcpu),       SCMP_SYS(sched_getaffinity),
    SCMP_SYS(restart_syscall)};

// Throws std::system_error: a reader that is not confined must not read.
void confine() {
  limit(RLIMIT_CORE, 0);
#if !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
  limit(RLIMIT_AS, addressSpace() + kReaderMemory);
#endif
  const std::unique_ptr<void, void (*)(void*)> filter(::seccomp_init(SCMP_ACT_ERRNO(EPERM)),
                                                      ::seccomp_release);
  int problem = filter ? 0 : -ENOMEM;
  for (const int call : kAllowedCalls)
    if (problem == 0) problem = ::seccomp_rule_add(filter.get(), SCMP_ACT_ALLOW, call, 0);
  // Only about what is open already.
  if (problem == 0)
    problem = ::seccomp_rule_add(filter.get(), SCMP_ACT_ALLOW, SCMP_SYS(newfstatat), 1,
                                 SCMP_A3(SCMP_CMP_EQ, AT_EMPTY_PATH));
  if (problem == 0) problem = ::seccomp_load(filter.get());
  if (problem != 0) throw std::system_error(-problem, std::generic_category(), "a reader cannot be confined");
}

// Nothing of the program's own is left open but the connection, and a library's words go nowhere. Returns the
// connection, which may have been moved.
int leaveAllBehind(int kept) {
  if (kept <= STDERR_FILENO) kept = ::fcntl(kept, F_DUPFD_CLOEXEC, STDERR_FILENO + 1);
  const int nothing = ::open("/dev/null", O_RDWR | O_CLOEXEC);
  for (const int standard : {STDIN_FILENO, STDOUT_FILENO, STDERR_FILENO}) ::dup2(nothing, standard);
  ::close_range(STDERR_FILENO + 1, static_cast<unsigned>(kept) - 1, 0);
  ::close_range(static_cast<unsigned>(kept) + 1, ~0U, 0);
  return kept;
}

// Ends with the process before it.
void followParent() {
  ::prctl(PR_SET_PDEATHSIG, SIGKILL);
  // An interrupt is for the program, which ends its readers itself.
  for (const int interrupt : {SIGINT, SIGTERM, SIGHUP, SIGQUIT}) ::signal(interrupt, SIG_IGN);
}

[[noreturn]] void beReader(int socket, void (*work)(Channel&)) {
  int result = 0;
  try {
    followParent();
    Channel channel(leaveAllBehind(socket));
    confine();
    channel.send(char{0});
    work(channel);
  } catch (const std::exception&) {
    result = 1;
  }
  ::_exit(result);
}

// Each byte that comes asks for a reader; its connection and its number go back.
void serve(Channel& program, void (*work)(Channel&)) {
  while (true) {
    program.receive<char>();
    const auto [mine, theirs] = socketPair();
    const pid_t id = ::fork();
    if (id == 0) beReader(theirs, work);
    ::close(theirs);
    program.send(id);
    program.sendFile(mine);
    ::close(mine);
  }
}

[[noreturn]] void beHost(int socket, void (*prepare)(), void (*work)(Channel&)) {
  int result = 0;
  try {
    followParent();
    Channel program(leaveAllBehind(socket));
    // Ended readers are not to be waited for.
    ::signal(SIGCHLD, SIG_IGN);
    prepare();
    serve(program, work);
  } catch (const PeerGone&) {
  } catch (const std::exception&) {
    result = 1;
  }
  ::_exit(result);
}

}  // namespace

ReaderProcess::~ReaderProcess() {
  if (id_ > 0) ::kill(id_, SIGKILL);
}

ReaderProcess::ReaderProcess(ReaderProcess&& other) noexcept
    : channel_(std::move(other.channel_)), id_(std::exchange(other.id_, -1)) {}

ReaderHost::ReaderHost(void (*prepare)(), void (*work)(Channel&)) {
  const auto [mine, theirs] = socketPair();
  id_ = ::fork();
  if (id_ == 0) beHost(theirs, prepare, work);
  ::close(theirs);
  channel_.emplace(mine);
  if (id_ < 0) throw std::system_error(errno, std::generic_category(), "no process for readers can be made");
}

ReaderHost::~ReaderHost() {
  channel_.reset();
  // Its readers follow it.
  ::kill(id_, SIGKILL);
  ::waitpid(id_, nullptr, 0);
}

ReaderProcess ReaderHost::newReader() const {
  const std::lock_guard lock(mutex_);
  channel_->send(char{0});
  const auto id = channel_->receive<pid_t>();
  const int socket = channel_->receiveFile();
  if (id < 0) {
    ::close(socket);
    throw std::system_error(EAGAIN, std::generic_category(), "no process for a reader can be made");
  }
  ReaderProcess reader(Channel(socket), id);
  try {
    reader.channel().receive<char>();
  } catch (const PeerGone&) {
    reader.isGone();
    throw std::system_error(EPERM, std::generic_category(), "a reader cannot be confined");
  }
  return reader;
}

}  // namespace comet
