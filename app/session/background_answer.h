// Answers to questions about a scene that take longer than a window may wait: worked out on a thread of its
// own, handed to the window's thread. Only the newest question counts; one that is overtaken is stopped.
#pragma once

#include "base/error.h"
#include "session/worker.h"

#include <QObject>
#include <functional>
#include <new>
#include <optional>
#include <utility>

namespace comet {

template <typename Answer>
class BackgroundAnswer {
 public:
  // Runs on the worker's thread; it must not touch what belongs to the window, and should heed the progress.
  using Question = std::function<Answer(const Progress&)>;
  using Show = std::function<void(const Answer&)>;

  // `show` is called on the thread of `receiver`, which has to outlive this, or own it.
  BackgroundAnswer(QObject* receiver, Show show)
      : receiver_(receiver),
        show_(std::move(show)),
        worker_([this](const Question& question, const Progress& p) { answer(question, p); }) {}

  void ask(Question question) { worker_.ask(std::move(question)); }
  // Lets the question before be answered first, so that what is asked again and again, as with each frame
  // that plays, gets answers at all; of those that wait, only the newest counts. For one answer use either
  // this or ask.
  void askWhenFree(Question question) {
    if (std::exchange(isBusy_, true))
      waiting_ = std::move(question);
    else
      worker_.ask(std::move(question));
  }

 private:
  void settle() {
    isBusy_ = waiting_.has_value();
    if (isBusy_) worker_.ask(*std::exchange(waiting_, std::nullopt));
  }
  void answer(const Question& question, const Progress& progress) {
    try {
      const Answer found = question(progress);
      if (progress.cancelled()) return;
      QMetaObject::invokeMethod(
          receiver_, [show = show_, found] { show(found); }, Qt::QueuedConnection);
    } catch (const Error&) {
      // Overtaken by a newer question, or about what is being edited: what is shown elsewhere says what is
      // wrong.
    } catch (const std::bad_alloc&) {
      // A note that memory is too short for is left out; the run itself reports it.
    }
    QMetaObject::invokeMethod(
        receiver_, [this] { settle(); }, Qt::QueuedConnection);
  }

  QObject* receiver_;
  Show show_;
  bool isBusy_ = false;
  std::optional<Question> waiting_;
  NewestRequestWorker<Question> worker_;  // last: its thread uses all above
};

}  // namespace comet
