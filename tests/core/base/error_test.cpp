#include "base/error.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

using testing::HasSubstr;
using testing::Not;

TEST(Error, SaysPlaceProblemAndRemedy) {
  const Error error(ErrorKind::Input, "/items/3", "must be a number", "Write one");
  EXPECT_STREQ(error.within("a.comet").what(), "a.comet: /items/3: must be a number. Write one");
  EXPECT_STREQ(error.withRemedy("Another way").what(), error.what()) << "it has one of its own";
  EXPECT_EQ(Error(ErrorKind::Input, "", "is empty").withRemedy("Fill it").remedy(), "Fill it");
}

TEST(Error, EscapesWhatATerminalWouldObey) {
  const Error error(ErrorKind::Input, "a\x1b[2J", "\"x\ny\x7f\xc2\x9bz\" is wrong");
  EXPECT_STREQ(error.what(), "a\\x1b[2J: \"x\\x0ay\\x7f\\x9bz\" is wrong");
  EXPECT_STREQ(Error(ErrorKind::Input, "", "größer als × é").what(), "größer als × é");
}

TEST(Error, CutsWhatIsQuotedAndNothingElse) {
  const std::string words(200, 'w'), quote(500, 'q');
  const std::string said = Error(ErrorKind::Input, "", words + " \"" + quote + "\" " + words).what();
  EXPECT_THAT(said, HasSubstr(words + " \"" + std::string(80, 'q') + "…\" " + words));
  EXPECT_THAT(said, Not(HasSubstr(std::string(81, 'q'))));
  const std::string step(250, 's');
  EXPECT_THAT(Error(ErrorKind::Input, "/" + step + "/x", "is wrong").what(), HasSubstr(step));
}

TEST(Error, IsNeverLongAndNeverCutsACharacter) {
  std::string umlauts;
  for (int i = 0; i < 100000; ++i) umlauts += "ü";
  for (const std::string& text : {umlauts, "\"x" + umlauts + "\"", umlauts + "/" + umlauts}) {
    const Error error(ErrorKind::Input, text, text, text);
    EXPECT_LT(std::string(error.what()).size(), 10000U);
    for (const std::string& shown : {error.place(), error.problem()})
      for (std::size_t i = shown.find('\xc3'); i != std::string::npos; i = shown.find('\xc3', i + 1))
        EXPECT_EQ(shown[i + 1], '\xbc') << "an ü is whole";
  }
}

}  // namespace
}  // namespace comet
