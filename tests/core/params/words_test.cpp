// The words of all tables: those of the trade and of the field, and no private ones.
#include "catalog.h"

#include <algorithm>
#include <cctype>
#include <gtest/gtest.h>

namespace comet {
namespace {

// In lower case, with a space around each word.
std::string apart(const std::string& text) {
  std::string result = " ";
  for (const char c : text) {
    const auto letter = static_cast<unsigned char>(c);
    result += std::isalnum(letter) != 0 || letter > 127 ? static_cast<char>(std::tolower(letter)) : ' ';
  }
  return result + " ";
}

// Calls act(where, name, label, tip) for each kind, parameter and choice.
template <typename Act>
void forNames(const Act& act) {
  for (const KindSpec* kind : catalog().kinds()) {
    act(kind->id(), kind->id(), kind->label(), kind->tip());
    for (const ParamSpec& spec : kind->params()) {
      const std::string where = kind->id() + "." + spec.id;
      act(where, spec.id, spec.label, spec.tipText);
      for (const ChoiceOption& option : spec.choices)
        act(where + " = " + option.id, option.id, option.label, option.tip);
    }
  }
}

testing::AssertionResult hasNone(const std::string& text, const std::vector<std::string>& words) {
  std::string all = apart(text);
  // Terms of the field.
  for (const std::string term : {" six way ", " turn rate "})
    if (const std::size_t at = all.find(term); at != std::string::npos) all.replace(at, term.size(), " ");
  for (const std::string& word : words)
    if (all.find(" " + word + " ") != std::string::npos)
      return testing::AssertionFailure() << "\"" << word << "\" in: " << text;
  return testing::AssertionSuccess();
}

TEST(Words, NamesAreThoseOfTheTrade) {
  const std::vector<std::string> inNames{"place", "places", "way",   "ways",  "share",   "shares",
                                         "most",  "least",  "turn",  "turns", "stands",  "mixed",
                                         "swirl", "swirls", "whirl", "round", "fineness"};
  forNames(
      [&](const std::string& where, const std::string& id, const std::string& label, const std::string&) {
        EXPECT_TRUE(hasNone(label, inNames)) << where;
        EXPECT_TRUE(hasNone(id, inNames)) << where;
        EXPECT_TRUE(hasNone(label, {"color", "colors", "colored", "gray"}))
            << where << ": labels are in British English";
      });
}

TEST(Words, TipsAreWholeSentencesInPlainEnglish) {
  const std::vector<std::string> inTips{"so manieth", "told",       "mended",    "answers to", "goes by",
                                        "fineness",   "inside out", "by chance", "color",      "colors",
                                        "colored",    "coloring",   "gray"};
  forNames([&](const std::string& where, const std::string&, const std::string&, const std::string& tip) {
    EXPECT_TRUE(hasNone(tip, inTips)) << where;
    ASSERT_FALSE(tip.empty()) << where;
    EXPECT_FALSE(std::islower(static_cast<unsigned char>(tip.front()))) << where << ": " << tip;
    EXPECT_TRUE(tip.back() == '.' || tip.back() == ')') << where << ": " << tip;
  });
}

}  // namespace
}  // namespace comet
