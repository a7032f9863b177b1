// The demo scenes, as their files are called.
#pragma once

#include <algorithm>
#include <filesystem>
#include <string>
#include <vector>

namespace comet::test {

// Without their extension, sorted.
inline std::vector<std::string> demoNames() {
  std::vector<std::string> names;
  for (const auto& entry : std::filesystem::directory_iterator(std::string(COMET_SOURCE_DIR) + "/demo"))
    if (entry.path().extension() == ".comet") names.push_back(entry.path().stem());
  std::sort(names.begin(), names.end());
  return names;
}

}  // namespace comet::test
