// What a command tells while it runs: progress on standard error, and Ctrl+C as a wish to stop.
#pragma once

#include "base/progress.h"

#include <atomic>
#include <chrono>
#include <string>
#include <thread>

namespace comet::cli {

// Turns SIGINT and SIGTERM into Progress::cancel while it lives. Make it before other threads start: they
// inherit that the signals are blocked, so that only the waiting thread takes them.
class CancelOnSignal {
 public:
  explicit CancelOnSignal(Progress& progress);
  ~CancelOnSignal();
  CancelOnSignal(const CancelOnSignal&) = delete;
  CancelOnSignal& operator=(const CancelOnSignal&) = delete;

 private:
  std::atomic<bool> done_{false};
  std::thread waiter_;
};

// One line that is written over and over, with the time left; nothing unless standard error is a terminal.
class ProgressLine {
 public:
  ProgressLine(std::string what, bool quiet);
  void show(int done, int total);

 private:
  std::string what_;
  bool shown_;
  std::chrono::steady_clock::time_point start_;
};

}  // namespace comet::cli
