// Drives the real program on a screen of its own by mouse and keyboard, and asks it where things are.
#pragma once

#include "window/desktop.h"

#include <QLocalSocket>
#include <QProcess>
#include <QTemporaryDir>
#include <functional>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace comet::test {

class WindowTest : public ::testing::Test {
 protected:
  using Json = nlohmann::json;

  // Starts the program with these arguments and waits until its window is there. Once per test.
  void start(const QStringList& arguments = {});
  // Starts it and begins a new scene by the start page's button; playing is stopped.
  void startNewScene();
  // Ends it at once; it may be started again.
  void end();
  void TearDown() override;

  // What the program answers; see the reporter.
  Json ask(Json question);
  Json state() { return ask({{"ask", "state"}}); }
  // The scene as it would be saved.
  Json scene();
  // One of its items by name; null if there is none.
  Json item(const std::string& name);
  // A parameter of an item as it would be saved; null if it has its default.
  Json param(const std::string& item, const std::string& param);

  // Waits until it holds; fails the test if that takes too long.
  void waitFor(const std::function<bool()>& condition, const char* what);
  bool comesTrue(const std::function<bool()>& condition, int milliseconds = 20000);

  // A widget by the names of its ancestors and its own, as in "inspector/param.rate/value".
  Json widget(const std::string& name) { return ask({{"ask", "widget"}, {"name", name}}); }
  bool isShown(const std::string& name);
  std::string textOf(const std::string& name);
  // Its middle, in the part that is seen. Scrolls to it where it is out of sight in a panel.
  QPoint middleOf(const std::string& name);
  QRect rectOf(const std::string& name);
  // What panels draw themselves, as in placeOf({{"of", "cell"}, {"row", 0}, {"column", 1}}).
  QPoint placeOf(Json question);

  void click(const std::string& name) { desktop_.click(middleOf(name)); }
  // Types a number into a field, which is clicked twice for it.
  void typeInto(const std::string& field, const QString& text);
  void choose(const std::string& box, const QString& entry);
  void chooseInMenu(const std::string& entry);
  void addInfluence(const QString& name);
  void undo() { desktop_.key("z", {"Control_L"}); }
  // Stops the program while the hand acts, as if it were busy: it then meets everything at once.
  void whileItIsBusy(const std::function<void()>& act);

  // Does something, and expects one step of undo to bring back the scene as it was before.
  void expectOneUndoStep(const std::function<void()>& act, const char* what);

  const QTemporaryDir& folder() const { return folder_; }
  qint64 processId() const { return program_.processId(); }

  Desktop desktop_;

 private:
  QTemporaryDir folder_;
  QProcess program_;
  QLocalSocket socket_;
};

}  // namespace comet::test
