#include "support/reader.h"

#include <gtest/gtest.h>

int main(int argc, char** argv) {
  comet::test::reader();
  ::testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
