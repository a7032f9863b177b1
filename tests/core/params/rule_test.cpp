#include "params/rule.h"

#include <gtest/gtest.h>

namespace comet {
namespace {

std::uint8_t formOf(RuleWhen when) { return static_cast<std::uint8_t>(when); }

TEST(Rule, AnotherFormKeepsWhatMeansTheSame) {
  RuleClause age = newCondition(RuleWhen::Age);
  age.first = 7;
  age.second = 9;
  age.isNot = true;
  const RuleClause moment = withForm(age, formOf(RuleWhen::RandomAge), conditionForms());
  EXPECT_EQ(moment.form, formOf(RuleWhen::RandomAge));
  EXPECT_EQ(moment.first, 7) << "frames stay frames";
  EXPECT_EQ(moment.second, 9);
  EXPECT_TRUE(moment.isNot);
  const RuleClause speed = withForm(age, formOf(RuleWhen::Speed), conditionForms());
  EXPECT_EQ(speed.first, newCondition(RuleWhen::Speed).first) << "frames are no speed";
}

TEST(Rule, AnotherFormKeepsAnItemOfTheSameKindOnly) {
  RuleClause burst = newAction(RuleThen::Burst);
  burst.item = ItemRef{"fluff"};
  const auto handOver = withForm(burst, static_cast<std::uint8_t>(RuleThen::MoveResetAge), actionForms());
  EXPECT_EQ(handOver.item.name, "fluff");
  EXPECT_EQ(withForm(burst, static_cast<std::uint8_t>(RuleThen::Die), actionForms()).item.name, "");
}

}  // namespace
}  // namespace comet
