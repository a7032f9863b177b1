// How long work tells how far it is, and learns that it should stop.
#pragma once

#include "base/error.h"

#include <atomic>
#include <functional>
#include <utility>

namespace comet {

// Handed to every long call. `report` is called from the thread that made the call; `cancel` from any thread.
class Progress {
 public:
  using Report = std::function<void(int done, int total)>;

  Progress() = default;
  explicit Progress(Report report) : report_(std::move(report)) {}
  // Reports by itself, and stops with `outer`, which has to outlive it.
  Progress(const Progress& outer, Report report) : report_(std::move(report)), outer_(&outer) {}

  void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
  bool cancelled() const {
    return cancelled_.load(std::memory_order_relaxed) || (outer_ && outer_->cancelled());
  }

  // Throws Error(Cancelled) once somebody asked for it.
  void step(int done, int total) const {
    stopIfCancelled();
    if (report_) report_(done, total);
  }
  void stopIfCancelled() const {
    if (cancelled()) throw Error(ErrorKind::Cancelled, "", "cancelled");
  }

 private:
  Report report_;
  const Progress* outer_ = nullptr;
  std::atomic<bool> cancelled_{false};
};

}  // namespace comet
