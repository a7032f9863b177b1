// Answers questions about the window over a local socket, so that a test in another process knows where
// things are and what happened. It only looks: all input comes through the X server.
//
// A question is a line of JSON, {"ask": WHAT, ...}; the answer is one line of JSON. Runs on the window's
// thread.
#pragma once

#include <QElapsedTimer>
#include <QJsonObject>
#include <QLocalServer>
#include <QWidget>

namespace comet {
class MainWindow;
}

namespace comet::test {

// The longest that handling one event kept the window's thread at work, in milliseconds of its own processor
// time: what other programs do at the same time does not count.
class EventTimes {
 public:
  void add(double milliseconds, const QString& what);
  // The longest since this was called last, and what it was.
  QJsonObject take();

 private:
  double longest_ = 0;
  QString what_;
};

class Reporter : public QObject {
  Q_OBJECT

 public:
  // Listens at the path of a socket that does not exist yet.
  Reporter(MainWindow& window, EventTimes& times, const QString& path);

 private:
  QJsonObject answer(const QJsonObject& question) const;
  QJsonObject describe(const QWidget& widget) const;
  QJsonObject state() const;
  // Positions on the screen of what panels draw themselves.
  QJsonObject place(const QJsonObject& question) const;

  MainWindow& window_;
  EventTimes& times_;
  QLocalServer server_;
};

}  // namespace comet::test
