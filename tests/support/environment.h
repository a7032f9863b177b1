// What tests with luck in them are told from outside.
#pragma once

#include <cstdlib>

namespace comet::test {

inline int numberFromEnvironment(const char* name, int otherwise) {
  const char* chosen = std::getenv(name);
  return chosen ? std::atoi(chosen) : otherwise;
}

}  // namespace comet::test
