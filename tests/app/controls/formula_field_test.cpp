// A formula typed into a number field of the inspector.
#include "app/driver.h"
#include "support/scenes.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QToolTip>

namespace comet {
namespace {

class FormulaFieldTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    document().replace(test::starting(), {});
    document().select(scene().findByName("emitter")->id);
    window_.showPage(MainWindow::Shape);
    QApplication::processEvents();
  }
  const ParamValue& rate() { return scene().findByName("emitter")->value("rate"); }
  QLineEdit* startTyping() {
    QTest::mouseDClick(field("rate"), Qt::LeftButton);
    auto* editor = field("rate")->findChild<QLineEdit*>();
    editor->clear();
    return editor;
  }
};

TEST_F(FormulaFieldTest, IsTypedShownAndTakenAway) {
  const double before = std::get<double>(rate().base);
  test::type(field("rate"), "= value + 10*frame");
  EXPECT_EQ(rate().formula, "value + 10*frame");
  document().setFrame(7);
  EXPECT_EQ(field("rate")->value(), before + 70);
  // A drag does not scrub what a formula computes.
  test::drag(field("rate"), QPoint(60, 12), QPoint(20, 12));
  EXPECT_EQ(std::get<double>(rate().base), before);
  test::type(field("rate"), "55");
  EXPECT_EQ(rate().formula, "");
  EXPECT_EQ(std::get<double>(rate().base), 55);
}

TEST_F(FormulaFieldTest, AWrongOneStaysOpenWithTheCursorAtItsFault) {
  QLineEdit* editor = startTyping();
  QTest::keyClicks(editor, "= 3 * speeed");
  QTest::keyClick(editor, Qt::Key_Return);
  EXPECT_TRUE(editor->isVisible());
  EXPECT_EQ(editor->text().mid(editor->cursorPosition()), "speeed") << editor->text().toStdString();
  EXPECT_TRUE(QToolTip::text().contains("character 5")) << QToolTip::text().toStdString();
  EXPECT_EQ(rate().formula, "") << "nothing is kept of it";
  editor->setText("= 3 * frame");
  QTest::keyClick(editor, Qt::Key_Return);
  EXPECT_EQ(rate().formula, "3 * frame");
}

TEST_F(FormulaFieldTest, NamesAreOfferedAndTakenOver) {
  QLineEdit* editor = startTyping();
  QTest::keyClicks(editor, "= 2 * fra");
  auto* completer = editor->findChild<QCompleter*>();
  ASSERT_TRUE(completer);
  EXPECT_TRUE(completer->popup()->isVisible());
  EXPECT_EQ(completer->currentCompletion(), "frame");
  QTest::keyClick(completer->popup(), Qt::Key_Down);
  QTest::keyClick(completer->popup(), Qt::Key_Return);
  EXPECT_EQ(editor->text(), "= 2 * frame") << editor->text().toStdString();
}

}  // namespace
}  // namespace comet
