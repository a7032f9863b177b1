#include "window/desktop.h"

#include <QThread>
#include <stdexcept>

// X names common words: it comes last.
#include <X11/XKBlib.h>
#include <X11/Xlib.h>
#include <X11/Xutil.h>
#include <X11/extensions/XTest.h>
#include <X11/keysym.h>

namespace comet::test {
namespace {

constexpr int kStartMilliseconds = 20000;
constexpr int kDragSteps = 20;
// Between the steps of a hand; long enough for a program to see each of them.
constexpr unsigned long kStepMilliseconds = 12;

}  // namespace

Desktop::Desktop(const QSize& size) {
  server_.setProcessChannelMode(QProcess::ForwardedErrorChannel);
  // The server says itself which number was free.
  server_.start("Xvfb",
                {"-displayfd", "1", "-screen", "0", QString("%1x%2x24").arg(size.width()).arg(size.height()),
                 "-nolisten", "tcp", "-noreset"});
  if (!server_.waitForStarted(kStartMilliseconds) || !server_.waitForReadyRead(kStartMilliseconds))
    throw std::runtime_error("Xvfb does not start");
  name_ = ":" + QString::fromLatin1(server_.readAllStandardOutput()).trimmed();
  display_ = XOpenDisplay(name_.toLatin1().constData());
  if (!display_) throw std::runtime_error("the display cannot be opened");
}

Desktop::~Desktop() {
  if (display_) XCloseDisplay(display_);
  server_.terminate();
  server_.waitForFinished(kStartMilliseconds);
}

void Desktop::move(const QPoint& to) {
  XTestFakeMotionEvent(display_, -1, to.x(), to.y(), 0);
  XSync(display_, False);
}

void Desktop::press(Button button) {
  XTestFakeButtonEvent(display_, button, True, 0);
  XSync(display_, False);
}

void Desktop::release(Button button) {
  XTestFakeButtonEvent(display_, button, False, 0);
  XSync(display_, False);
}

void Desktop::click(const QPoint& at, Button button) {
  move(at);
  QThread::msleep(kStepMilliseconds);
  press(button);
  QThread::msleep(kStepMilliseconds);
  release(button);
  QThread::msleep(kStepMilliseconds);
}

void Desktop::doubleClick(const QPoint& at) {
  click(at);
  click(at);
}

void Desktop::drag(const QPoint& from, const QPoint& to) {
  move(from);
  QThread::msleep(kStepMilliseconds);
  press();
  for (int i = 1; i <= kDragSteps; ++i) {
    move(from + (to - from) * i / kDragSteps);
    QThread::msleep(kStepMilliseconds);
  }
  release();
  QThread::msleep(kStepMilliseconds);
}

void Desktop::sendKey(unsigned code, bool down) {
  XTestFakeKeyEvent(display_, code, down ? True : False, 0);
  XSync(display_, False);
}

// Symbols that the keyboard has with Shift only, or not at all, are reached as they are by hand.
void Desktop::strike(unsigned long symbol) {
  KeyCode code = XKeysymToKeycode(display_, symbol);
  if (code == 0) {
    // A key that has no symbol yet gets this one.
    int first = 0, last = 0;
    XDisplayKeycodes(display_, &first, &last);
    code = static_cast<KeyCode>(last);
    KeySym symbols[2] = {symbol, symbol};
    XChangeKeyboardMapping(display_, code, 2, symbols, 1);
    XSync(display_, False);
    QThread::msleep(100);
  }
  const bool shifted = XkbKeycodeToKeysym(display_, code, 0, 0) != symbol &&
                       XkbKeycodeToKeysym(display_, code, 0, 1) == symbol;
  const KeyCode shift = XKeysymToKeycode(display_, XK_Shift_L);
  if (shifted) sendKey(shift, true);
  sendKey(code, true);
  sendKey(code, false);
  if (shifted) sendKey(shift, false);
  QThread::msleep(kStepMilliseconds);
}

void Desktop::key(const char* name, std::initializer_list<const char*> held) {
  for (const char* each : held) sendKey(XKeysymToKeycode(display_, XStringToKeysym(each)), true);
  strike(XStringToKeysym(name));
  for (const char* each : held) sendKey(XKeysymToKeycode(display_, XStringToKeysym(each)), false);
}

void Desktop::type(const QString& text) {
  // The symbols of Latin letters are their code points.
  for (const QChar letter : text) strike(letter.unicode());
}

QImage Desktop::picture() const {
  const Window root = DefaultRootWindow(display_);
  const int width = DisplayWidth(display_, DefaultScreen(display_)),
            height = DisplayHeight(display_, DefaultScreen(display_));
  XImage* image = XGetImage(display_, root, 0, 0, static_cast<unsigned>(width), static_cast<unsigned>(height),
                            AllPlanes, ZPixmap);
  if (!image) return {};
  const QImage copy = QImage(reinterpret_cast<const uchar*>(image->data), width, height,
                             image->bytes_per_line, QImage::Format_RGB32)
                          .copy();
  XDestroyImage(image);
  return copy;
}

}  // namespace comet::test
