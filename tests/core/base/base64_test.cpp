#include "base/base64.h"

#include <rapidcheck.h>

namespace comet {
namespace {

// The test vectors of RFC 4648, section 10.
TEST(Base64, AgreesWithItsStandard) {
  const std::vector<std::pair<std::string, std::string>> vectors{{"", ""},
                                                                 {"f", "Zg=="},
                                                                 {"fo", "Zm8="},
                                                                 {"foo", "Zm9v"},
                                                                 {"foob", "Zm9vYg=="},
                                                                 {"fooba", "Zm9vYmE="},
                                                                 {"foobar", "Zm9vYmFy"}};
  for (const auto& [bytes, text] : vectors) {
    EXPECT_EQ(encodeBase64(bytes), text);
    EXPECT_EQ(decodeBase64(text), bytes);
  }
}

TEST(Base64, GoesThereAndBack) {
  EXPECT_TRUE(
      rc::check([](const std::string& bytes) { RC_ASSERT(decodeBase64(encodeBase64(bytes)) == bytes); }));
}

TEST(Base64, RefusesWhatItIsNot) {
  for (const char* text : {"a", "abc", "ab=c", "====", "ab!d", "Zg=a", "Zm9v\n"})
    EXPECT_FALSE(decodeBase64(text)) << text;
}

}  // namespace
}  // namespace comet
