#include "controls/number_field.h"

#include "app/driver.h"
#include "controls/typed_number.h"

namespace comet {
namespace {

class NumberFieldTest : public testing::Test {
 protected:
  void SetUp() override {
    field_.setRange(0, 100);
    field_.setUsualRange(0, 50);
    field_.setValue(10);
    field_.resize(120, 24);
    field_.show();
    QObject::connect(&field_, &NumberField::edited, [this](double value) { edits_.push_back(value); });
    QObject::connect(&field_, &NumberField::finished, [this] { ++finished_; });
  }
  NumberField field_;
  std::vector<double> edits_;
  int finished_ = 0;
};

TEST_F(NumberFieldTest, DraggingScrubsAndFinishesOnce) {
  test::drag(&field_, {20, 12}, {70, 12});
  EXPECT_NEAR(field_.value(), 10 + 50 * 50 / 250.0, 0.5);
  EXPECT_GT(edits_.size(), 2U);
  EXPECT_EQ(finished_, 1);
}

TEST_F(NumberFieldTest, ShiftIsFinerAndCtrlCoarser) {
  test::drag(&field_, {20, 12}, {70, 12}, Qt::ShiftModifier);
  const double fine = field_.value() - 10;
  field_.setValue(10);
  test::drag(&field_, {20, 12}, {40, 12}, Qt::ControlModifier);
  const double coarse = field_.value() - 10;
  EXPECT_GT(fine, 0.3);
  EXPECT_LT(fine, 2);
  EXPECT_GT(coarse, 30);
}

TEST_F(NumberFieldTest, TypesSums) {
  test::type(&field_, "2*24");
  EXPECT_EQ(field_.value(), 48);
  test::type(&field_, "(3+4)/2");
  EXPECT_EQ(field_.value(), 3.5);
  EXPECT_EQ(finished_, 2);
}

TEST_F(NumberFieldTest, EnterEndsTypingAndEscapeLeavesTheValue) {
  auto* editor = field_.findChild<QLineEdit*>();
  test::type(&field_, "12");
  EXPECT_FALSE(editor->isVisible());
  QTest::mouseDClick(&field_, Qt::LeftButton);
  QTest::keyClicks(editor, "77");
  QTest::keyClick(editor, Qt::Key_Escape);
  EXPECT_FALSE(editor->isVisible());
  EXPECT_EQ(field_.value(), 12);
}

TEST_F(NumberFieldTest, NonsenseLeavesTheValue) {
  test::type(&field_, "plenty");
  EXPECT_EQ(field_.value(), 10);
  EXPECT_TRUE(edits_.empty());
}

TEST_F(NumberFieldTest, StaysInItsRange) {
  test::type(&field_, "5000");
  EXPECT_EQ(field_.value(), 100);
  test::drag(&field_, {100, 12}, {-2000, 12});
  EXPECT_EQ(field_.value(), 0);
}

TEST_F(NumberFieldTest, ArrowKeysStepAndDigitsStartTyping) {
  field_.setFocus();
  QTest::keyClick(&field_, Qt::Key_Up);
  EXPECT_GT(field_.value(), 10);
  QTest::keyClick(&field_, Qt::Key_7);
  QTest::keyClick(field_.findChild<QLineEdit*>(), Qt::Key_Return);
  EXPECT_EQ(field_.value(), 7);
}

TEST(TypedNumber, ReadsAndWritesAsPeopleDo) {
  EXPECT_EQ(numberFromText("1,5"), 1.5);
  EXPECT_EQ(numberFromText("1/0"), std::nullopt);
  EXPECT_EQ(numberFromText(""), std::nullopt);
  EXPECT_EQ(textFromNumber(0.2), "0.2");
  EXPECT_EQ(textFromNumber(120), "120");
  EXPECT_EQ(textFromNumber(-0.00001), "0");
}

}  // namespace
}  // namespace comet
