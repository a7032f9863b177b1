// A thread that always works on the newest request: what is asked later replaces what was asked before.
#pragma once

#include "base/progress.h"

#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace comet {

// What becomes of the work that runs when a newer request comes.
enum class Running { GivesWay, Ends };

template <typename Request>
class NewestRequestWorker {
 public:
  // `work` runs on the worker's own thread; its progress is cancelled when a newer request comes that it has
  // to give way to. It must not throw.
  using Work = std::function<void(const Request&, const Progress&)>;

  explicit NewestRequestWorker(Work work) : work_(std::move(work)), thread_([this] { run(); }) {}

  ~NewestRequestWorker() {
    {
      const std::lock_guard lock(mutex_);
      stops_ = true;
      if (progress_) progress_->cancel();
    }
    changed_.notify_one();
    thread_.join();
  }
  NewestRequestWorker(const NewestRequestWorker&) = delete;
  NewestRequestWorker& operator=(const NewestRequestWorker&) = delete;

  void ask(Request request, Running running = Running::GivesWay) {
    {
      const std::lock_guard lock(mutex_);
      next_ = std::move(request);
      if (progress_ && running == Running::GivesWay) progress_->cancel();
    }
    changed_.notify_one();
  }

  // Stops the running work. True if there was a request that had not begun and now never will.
  bool cancel() {
    const std::lock_guard lock(mutex_);
    const bool dropped = next_.has_value();
    next_.reset();
    if (progress_) progress_->cancel();
    return dropped;
  }

 private:
  void run() {
    std::unique_lock lock(mutex_);
    while (true) {
      changed_.wait(lock, [this] { return stops_ || next_; });
      if (stops_) return;
      const Request request = std::move(*next_);
      next_.reset();
      const auto progress = std::make_shared<Progress>();
      progress_ = progress;
      lock.unlock();
      work_(request, *progress);
      lock.lock();
      progress_.reset();
    }
  }

  Work work_;
  std::mutex mutex_;
  std::condition_variable changed_;
  std::optional<Request> next_;
  std::shared_ptr<Progress> progress_;
  bool stops_ = false;
  std::thread thread_;  // last, so that all it uses exists
};

}  // namespace comet
