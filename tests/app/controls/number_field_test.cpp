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

TEST_F(NumberFieldTest, ShowsOneUnitAndReadsOthers) {
  // Kept in seconds and shown in frames of a scene with 24 a second.
  field_.setUnits({{"frames", {"frames", "f"}, 1.0 / 24, 0}, {"s", {"s"}, 1, 0}});
  test::type(&field_, "48");
  EXPECT_EQ(field_.value(), 2);
  test::type(&field_, "1.5s");
  EXPECT_EQ(field_.value(), 1.5);
  test::type(&field_, "2*6 f");
  EXPECT_EQ(field_.value(), 0.5);
  QTest::mouseDClick(&field_, Qt::LeftButton);
  EXPECT_EQ(field_.findChild<QLineEdit*>()->text(), "12") << "what is edited is in the shown unit";
}

TEST(TypedNumber, TakesUnitsVariationsAndRanges) {
  const NumberUnits units{{"s", {"s"}, 1, 0}, {"frames", {"frames", "f"}, 0.5, 0}};
  const auto expect = [&units](const char* typed, double value, std::optional<double> variation) {
    const auto read = typedNumber(typed, units);
    ASSERT_TRUE(read) << typed;
    EXPECT_DOUBLE_EQ(read->value, value) << typed;
    EXPECT_EQ(read->variation, variation) << typed;
  };
  expect("4 ± 1.5", 4, 1.5);
  expect("4+-1.5", 4, 1.5);
  expect("4 ± 2f", 2, 1);
  expect("4..7", 5.5, 1.5);
  expect("4f..7f", 2.75, 0.75);
  expect("1s .. 8f", 2.5, 1.5);
  for (const char* nonsense : {"", "..", "4..", "7..4", "4 ± -1", "± 2", "4 ± 1 ± 1", "4 m", "s", "1..2..3"})
    EXPECT_FALSE(typedNumber(nonsense, units)) << nonsense;
  // A moment: seconds count from the first frame, and a difference has no such start.
  const NumberUnits moment{{"", {"f"}, 1, 0}, {"s", {"s"}, 24, 1}};
  EXPECT_EQ(typedNumber("1s", moment)->value, 25);
  EXPECT_EQ(typedNumber("1s", withoutOffset(moment))->value, 24);
}

TEST(TypedNumber, TakesABurstAsItIsSaid) {
  const NumberUnits moment{{"", {"frames", "f"}, 1, 0}, {"s", {"s"}, 24, 1}};
  const NumberUnits length{{"", {"frames", "f"}, 1, 0}, {"s", {"s"}, 24, 0}};
  const Burst before{3, 10, 2, 0, 6, 4};
  const auto read = [&](const char* text) { return typedBurst(text, before, moment, length); };
  EXPECT_EQ(read("500 over frames 1-15"), (Burst{1, 500, 2, 14, 6, 4}));
  EXPECT_EQ(read("500 ± 50 over 2..4"), (Burst{2, 500, 50, 2, 6, 4}));
  EXPECT_EQ(read("2*30 over 0.5s"), (Burst{3, 60, 2, 12, 6, 4}));
  EXPECT_EQ(read("500 over frames 5 to 9"), (Burst{5, 500, 2, 4, 6, 4}));
  EXPECT_EQ(read("500 OVER 12 frames"), (Burst{3, 500, 2, 12, 6, 4}));
  for (const char* other : {"500", "over 3", "500 over", "500 over 9-5", "500 over much"})
    EXPECT_FALSE(read(other)) << other;
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
