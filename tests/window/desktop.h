// A screen of its own with a mouse and a keyboard: an X server without a monitor, driven through its test
// extension, so that what a program receives is what a hand would send.
#pragma once

#include <QImage>
#include <QPoint>
#include <QProcess>
#include <QString>
#include <initializer_list>
#include <memory>

struct _XDisplay;

namespace comet::test {

class Desktop {
 public:
  // Starts the server; throws std::runtime_error if there is none. Positions are pixels from the upper left.
  explicit Desktop(const QSize& size = {1280, 800});
  ~Desktop();
  Desktop(const Desktop&) = delete;
  Desktop& operator=(const Desktop&) = delete;

  // As in ":7".
  const QString& name() const { return name_; }

  enum Button { Left = 1, Middle = 2, Right = 3, WheelUp = 4, WheelDown = 5 };
  void move(const QPoint& to);
  void press(Button button = Left);
  void release(Button button = Left);
  void click(const QPoint& at, Button button = Left);
  void doubleClick(const QPoint& at);
  // Presses, moves there in small steps as a hand does, and lets go.
  void drag(const QPoint& from, const QPoint& to);

  // A key by its X name, with others held down, as in key("z", {"Control_L"}).
  void key(const char* name, std::initializer_list<const char*> held = {});
  // Text, letter by letter.
  void type(const QString& text);

  QImage picture() const;

 private:
  void strike(unsigned long symbol);
  void sendKey(unsigned code, bool down);

  QString name_;
  QProcess server_;
  _XDisplay* display_ = nullptr;
};

}  // namespace comet::test
