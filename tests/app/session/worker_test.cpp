#include "session/worker.h"

#include <atomic>
#include <chrono>
#include <gtest/gtest.h>

namespace comet {
namespace {

using namespace std::chrono_literals;

template <typename Condition>
bool becomesTrue(const Condition& condition) {
  for (int i = 0; i < 2000 && !condition(); ++i) std::this_thread::sleep_for(5ms);
  return condition();
}

TEST(NewestRequestWorker, WorksOffASingleRequest) {
  std::atomic<int> done{0};
  NewestRequestWorker<int> worker([&](const int& request, const Progress&) { done = request; });
  worker.ask(7);
  EXPECT_TRUE(becomesTrue([&] { return done == 7; }));
}

TEST(NewestRequestWorker, ANewerRequestCancelsTheOlderAndSkipsThoseBetween) {
  std::atomic<bool> started{false}, wasCancelled{false};
  std::atomic<int> last{0}, runs{0};
  NewestRequestWorker<int> worker([&](const int& request, const Progress& progress) {
    ++runs;
    if (request == 1) {
      started = true;
      while (!progress.cancelled()) std::this_thread::sleep_for(1ms);
      wasCancelled = true;
    }
    last = request;
  });
  worker.ask(1);
  ASSERT_TRUE(becomesTrue([&] { return started.load(); }));
  for (int request = 2; request <= 50; ++request) worker.ask(request);
  EXPECT_TRUE(becomesTrue([&] { return last == 50; }));
  EXPECT_TRUE(wasCancelled);
  EXPECT_LT(runs, 50);
}

TEST(NewestRequestWorker, WhatRunsMayBeLetEnd) {
  std::atomic<bool> started{false}, mayEnd{false}, wasCancelled{false};
  std::atomic<int> last{0};
  NewestRequestWorker<int> worker([&](const int& request, const Progress& progress) {
    started = true;
    while (!mayEnd && !progress.cancelled()) std::this_thread::sleep_for(1ms);
    wasCancelled = wasCancelled || progress.cancelled();
    last = request;
  });
  worker.ask(1);
  ASSERT_TRUE(becomesTrue([&] { return started.load(); }));
  worker.ask(2, Running::Ends);
  mayEnd = true;
  EXPECT_TRUE(becomesTrue([&] { return last == 2; }));
  EXPECT_FALSE(wasCancelled);
}

TEST(NewestRequestWorker, CancelTellsWhetherARequestWasDropped) {
  std::atomic<bool> started{false};
  NewestRequestWorker<int> worker([&](const int&, const Progress& progress) {
    started = true;
    while (!progress.cancelled()) std::this_thread::sleep_for(1ms);
  });
  EXPECT_FALSE(worker.cancel());
  worker.ask(1);
  ASSERT_TRUE(becomesTrue([&] { return started.load(); }));
  EXPECT_FALSE(worker.cancel()) << "the request had begun";
}

TEST(NewestRequestWorker, EndsWhileItWorks) {
  std::atomic<bool> ended{false};
  {
    std::atomic<bool> started{false};
    NewestRequestWorker<int> worker([&](const int&, const Progress& progress) {
      started = true;
      while (!progress.cancelled()) std::this_thread::sleep_for(1ms);
      ended = true;
    });
    worker.ask(1);
    ASSERT_TRUE(becomesTrue([&] { return started.load(); }));
  }
  EXPECT_TRUE(ended);
}

}  // namespace
}  // namespace comet
