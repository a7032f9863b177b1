#include "console.h"

#include <csignal>
#include <cstdio>
#include <fmt/format.h>
#include <unistd.h>

namespace comet::cli {
namespace {

sigset_t stopSignals() {
  sigset_t signals;
  sigemptyset(&signals);
  sigaddset(&signals, SIGINT);
  sigaddset(&signals, SIGTERM);
  return signals;
}

}  // namespace

CancelOnSignal::CancelOnSignal(Progress& progress) {
  const sigset_t signals = stopSignals();
  pthread_sigmask(SIG_BLOCK, &signals, nullptr);
  waiter_ = std::thread([this, &progress, signals] {
    int signal = 0;
    while (sigwait(&signals, &signal) == 0 && !done_) progress.cancel();
  });
}

CancelOnSignal::~CancelOnSignal() {
  done_ = true;
  // Wakes it, so that no run has to wait for its end.
  pthread_kill(waiter_.native_handle(), SIGTERM);
  waiter_.join();
}

ProgressLine::ProgressLine(std::string what, bool quiet)
    : what_(std::move(what)),
      shown_(!quiet && isatty(STDERR_FILENO) != 0),
      start_(std::chrono::steady_clock::now()) {}

void ProgressLine::show(int done, int total) {
  if (!shown_) return;
  const double passed = std::chrono::duration<double>(std::chrono::steady_clock::now() - start_).count();
  const std::string left =
      done > 0 && done < total ? fmt::format(", {:.0f} s left", passed / done * (total - done)) : "";
  fmt::print(stderr, "\r{}: {} of {}{}\033[K", what_, done, total, left);
  if (done == total) fmt::print(stderr, "\n");
  std::fflush(stderr);
}

}  // namespace comet::cli
