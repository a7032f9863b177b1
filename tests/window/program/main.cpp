// The application as it is shipped, with somebody beside it who tells a test where things are. The path of
// the socket is in COMET_REPORTER.
#include "window/application.h"
#include "window/program/reporter.h"

#include <QApplication>
#include <ctime>

namespace {

using comet::test::EventTimes;

double threadMilliseconds() {
  timespec now{};
  clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
  return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) * 1e-6;
}

// Measures each event that is not handled within another one.
class TimedApplication : public QApplication {
 public:
  TimedApplication(int& argc, char** argv, EventTimes& times) : QApplication(argc, argv), times_(times) {}

  bool notify(QObject* receiver, QEvent* event) override {
    const QString name = depth_ == 0 ? QString("%1 %2, event %3")
                                           .arg(receiver->metaObject()->className(), receiver->objectName())
                                           .arg(static_cast<int>(event->type()))
                                     : QString();
    const double before = threadMilliseconds();
    ++depth_;
    const bool handled = QApplication::notify(receiver, event);
    --depth_;
    if (depth_ == 0) times_.add(threadMilliseconds() - before, name);
    return handled;
  }

 private:
  EventTimes& times_;
  int depth_ = 0;
};

}  // namespace

int main(int argc, char** argv) {
  EventTimes times;
  TimedApplication application(argc, argv, times);
  return comet::runApplication(application, [&times](comet::MainWindow& window) {
    new comet::test::Reporter(window, times, qEnvironmentVariable("COMET_REPORTER"));
  });
}
