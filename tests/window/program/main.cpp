// The application as it is shipped, with somebody beside it who tells a test where things are. The path of
// the socket is in COMET_REPORTER.
#include "window/application.h"
#include "window/program/reporter.h"

#include <QApplication>
#include <ctime>
#include <fstream>
#include <memory>
#include <string>
#include <unistd.h>

namespace {

using comet::test::EventTimes;

double threadMilliseconds() {
  timespec now{};
  clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
  return static_cast<double>(now.tv_sec) * 1e3 + static_cast<double>(now.tv_nsec) * 1e-6;
}

// Time that the machine's host took from all its processors. It is counted as time of the threads that ran.
double stolenMilliseconds() {
  std::ifstream file("/proc/stat");
  std::string name;
  double each[8] = {};
  file >> name;
  for (double& number : each) file >> number;
  constexpr int kStolen = 7;
  return each[kStolen] * 1000 / static_cast<double>(sysconf(_SC_CLK_TCK));
}

// Measures each event that is not handled within another one, and names those within that took long.
class TimedApplication : public QApplication {
 public:
  TimedApplication(int& argc, char** argv, EventTimes& times) : QApplication(argc, argv), times_(times) {}

  bool notify(QObject* receiver, QEvent* event) override {
    const QString name = QString("%1 %2, event %3")
                             .arg(receiver->metaObject()->className(), receiver->objectName())
                             .arg(static_cast<int>(event->type()));
    const double stolen = depth_ == 0 ? stolenMilliseconds() : 0;
    const double before = threadMilliseconds();
    ++depth_;
    const bool handled = QApplication::notify(receiver, event);
    --depth_;
    const double taken = threadMilliseconds() - before;
    if (taken > kNamedMilliseconds) long_.prepend(QString("%1: %2 ms").arg(name).arg(taken));
    if (depth_ > 0) return handled;
    times_.add(taken > kNamedMilliseconds ? taken - (stolenMilliseconds() - stolen) : taken,
               long_.join(" > "));
    long_.clear();
    return handled;
  }

 private:
  static constexpr double kNamedMilliseconds = 20;

  EventTimes& times_;
  QStringList long_;
  int depth_ = 0;
};

}  // namespace

int main(int argc, char** argv) {
  const auto files = std::make_shared<const comet::FileReader>();
  EventTimes times;
  TimedApplication application(argc, argv, times);
  return comet::runApplication(application, files, [&times](comet::MainWindow& window) {
    new comet::test::Reporter(window, times, qEnvironmentVariable("COMET_REPORTER"));
  });
}
