// Drives the real window with real events.
#pragma once

#include "controls/number_field.h"
#include "controls/param_row.h"
#include "inspector/inspector.h"
#include "support/reader.h"
#include "window/main_window.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QDialogButtonBox>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QMouseEvent>
#include <QPushButton>
#include <QTest>
#include <QTimer>
#include <functional>
#include <gtest/gtest.h>
#include <memory>
#include <vector>

namespace comet::test {

// Processes events until the condition holds; fails the test if it does not within the time.
inline ::testing::AssertionResult eventually(const std::function<bool()>& condition,
                                             int milliseconds = 20000) {
  return QTest::qWaitFor(condition, milliseconds)
             ? ::testing::AssertionSuccess()
             : ::testing::AssertionFailure() << "did not come true in time";
}

// What a widget shows once it shows the same for a moment.
inline QImage settledPicture(QWidget& widget) {
  constexpr int kMoment = 150;  // milliseconds
  QImage last;
  EXPECT_TRUE(eventually([&] {
    const QImage now = widget.grab().toImage();
    const bool isSame = now == last;
    last = now;
    QTest::qWait(kMoment);
    return isSame;
  }));
  return last;
}

template <typename Widget>
Widget* child(QWidget& parent, const QString& name) {
  auto* found = parent.findChild<Widget*>(name);
  if (!found) ADD_FAILURE() << "there is no " << name.toStdString();
  return found;
}

inline void click(QWidget* widget) { QTest::mouseClick(widget, Qt::LeftButton); }

inline void click(QWidget* widget, const QPoint& place) {
  QTest::mouseClick(widget, Qt::LeftButton, Qt::NoModifier, place);
}

// Presses at the first point, moves through all others, and lets go at the last one.
inline void dragAlong(QWidget* widget, const std::vector<QPoint>& points,
                      Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
  QTest::mousePress(widget, Qt::LeftButton, modifiers, points.front());
  for (std::size_t i = 1; i < points.size(); ++i) {
    const QPoint position = points[i];
    QMouseEvent move(QEvent::MouseMove, position, widget->mapToGlobal(position), Qt::NoButton, Qt::LeftButton,
                     modifiers);
    QApplication::sendEvent(widget, &move);
  }
  QTest::mouseRelease(widget, Qt::LeftButton, modifiers, points.back());
}

inline void drag(QWidget* widget, const QPoint& from, const QPoint& to,
                 Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
  constexpr int kSteps = 8;
  std::vector<QPoint> points{from};
  for (int i = 1; i <= kSteps; ++i) points.push_back(from + (to - from) * i / kSteps);
  dragAlong(widget, points, modifiers);
}

// Carries it into the widget, which must want it, and lets go there.
inline void drop(QWidget& widget, const QMimeData& carried, const QPoint& place) {
  QDragEnterEvent enter(place, Qt::CopyAction, &carried, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&widget, &enter);
  ASSERT_TRUE(enter.isAccepted());
  QDropEvent event(place, Qt::CopyAction, &carried, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&widget, &event);
}

inline void type(NumberField* field, const QString& text) {
  QTest::mouseDClick(field, Qt::LeftButton);
  auto* editor = field->findChild<QLineEdit*>();
  editor->selectAll();
  QTest::keyClicks(editor, text);
  QTest::keyClick(editor, Qt::Key_Return);
}

// Looks every few moments whether it is there, and then acts once. For what opens while an event is
// handled: the event does not return before the menu or dialog that it opened has its answer.
inline std::shared_ptr<const bool> once(const std::function<bool()>& isThere,
                                        const std::function<void()>& act) {
  const auto isDone = std::make_shared<bool>(false);
  auto* timer = new QTimer(qApp);
  QObject::connect(timer, &QTimer::timeout, qApp, [isThere, act, timer, isDone] {
    if (!isThere()) return;
    timer->deleteLater();
    timer->stop();
    *isDone = true;
    act();
  });
  timer->start(10);
  return isDone;
}

// Chooses the entry of the menu that opens next; what it may still have to look up is waited for.
inline std::shared_ptr<const bool> chooseInNextMenu(const QString& entry) {
  const auto open = [] { return qobject_cast<QMenu*>(QApplication::activePopupWidget()); };
  return once([open] { return open() != nullptr; },
              [open, entry] {
                QMenu* menu = open();
                for (QAction* action : menu->actions())
                  if (action->text() == entry) {
                    // By the keyboard: a menu does not heed clicks where it has just opened.
                    menu->setActiveAction(action);
                    QTest::keyClick(menu, Qt::Key_Return);
                    return;
                  }
                ADD_FAILURE() << "no entry " << entry.toStdString();
                menu->close();
              });
}

// Presses the button of the question that is asked next.
inline void answerNextQuestion(const QString& answer) {
  const auto open = [] { return qobject_cast<QMessageBox*>(QApplication::activeModalWidget()); };
  once([open] { return open() != nullptr; },
       [open, answer] {
         QMessageBox* box = open();
         for (QAbstractButton* button : box->buttons())
           if (QString(button->text()).remove('&') == answer)
             return QTest::mouseClick(button, Qt::LeftButton);
         ADD_FAILURE() << "no answer " << answer.toStdString();
         box->reject();
       });
}

// Types the path into the next dialog that asks where to save, and presses its button. While it still reads
// the folder it may offer files in a popup, which has to go first. One that does not take the path at all is
// left.
inline void nameNextFile(const QString& path) {
  const auto tries = std::make_shared<int>(0);
  const auto open = [] { return qobject_cast<QFileDialog*>(QApplication::activeModalWidget()); };
  once(
      [open, path, tries] {
        QFileDialog* dialog = open();
        if (!dialog) return *tries > 0;
        auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
        if (!name->isVisible()) return false;
        constexpr int kEnough = 1000;
        if (++*tries > kEnough) return true;
        if (QWidget* popup = QApplication::activePopupWidget()) {
          popup->close();
        } else if (name->text() != path) {
          name->selectAll();
          QTest::keyClicks(name, path);
        } else {
          click(dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Save));
        }
        return false;
      },
      [open] {
        if (!open()) return;
        ADD_FAILURE() << "the dialog does not take the path";
        open()->reject();
      });
}

// Until the menu is gone again. Some do not wait for their answer.
inline void expectChosen(const std::shared_ptr<const bool>& isDone) {
  EXPECT_TRUE(
      eventually([&] { return *isDone && !qobject_cast<QMenu*>(QApplication::activePopupWidget()); }));
}

// Presses the button and chooses the entry of the menu that it opens.
inline void chooseFromMenu(QWidget* button, const QString& entry) {
  const auto isDone = chooseInNextMenu(entry);
  click(button);
  expectChosen(isDone);
}

inline void chooseFromContextMenu(QWidget* widget, const QPoint& place, const QString& entry) {
  const auto isDone = chooseInNextMenu(entry);
  QContextMenuEvent ask(QContextMenuEvent::Mouse, place, widget->mapToGlobal(place));
  QApplication::sendEvent(widget, &ask);
  expectChosen(isDone);
}

// Adds an influence by typing its name into the window that the button opens.
inline void addInfluence(QWidget& window, const QString& name) {
  click(child<QPushButton>(window, "add_influence"));
  auto* search = child<QLineEdit>(window, "influence_search");
  QTest::keyClicks(search, name);
  QTest::keyClick(search, Qt::Key_Return);
  // The next one opens a popup of its own.
  QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
}

// The main window on screen, with a scene already open.
class WindowTest : public ::testing::Test {
 protected:
  void SetUp() override {
    window_.show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(&window_));
  }
  // A new scene at its first frame, with playing stopped.
  void newSceneAtRest() {
    window_.newScene();
    document().holdFrame();
    document().setFrame(1);
  }
  // Closing must not ask about unsaved changes.
  void TearDown() override { document().replace(document().scene(), {}); }

  Document& document() { return window_.document(); }
  const Scene& scene() { return document().scene(); }
  // Its rows are made a few at a time.
  Inspector& inspector() {
    auto* found = child<Inspector>(window_, "inspector");
    EXPECT_TRUE(eventually([&] { return found->isComplete(); }));
    return *found;
  }
  ParamRow* row(const char* param) { return child<ParamRow>(inspector(), QString("param.") + param); }
  // Whether a row is there to be seen; those that never applied have not been made.
  bool isShown(const char* param) {
    auto* found = inspector().findChild<ParamRow*>(QString("param.") + param);
    return found && found->isVisible();
  }
  NumberField* field(const char* param, const char* name = "value") {
    return child<NumberField>(*row(param), name);
  }

  MainWindow window_{reader()};
};

}  // namespace comet::test
