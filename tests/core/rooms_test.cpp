// The rooms of core include each other in one direction only, and none of them knows the window.
#include <filesystem>
#include <fstream>
#include <map>
#include <regex>

namespace {

namespace fs = std::filesystem;

// A room may include itself and what stands before it.
const std::vector<std::string> kOrder{"base",  "params",    "fields",     "io",    "geometry", "readers",
                                      "scene", "particles", "simulation", "cache", "render",   "bake"};

std::vector<std::string> includesOf(const fs::path& file) {
  static const std::regex pattern(R"re(^\s*#\s*include\s*["<]([^">]+)[">])re");
  std::vector<std::string> includes;
  std::ifstream stream(file);
  for (std::string line; std::getline(stream, line);)
    if (std::smatch match; std::regex_search(line, match, pattern)) includes.push_back(match[1]);
  return includes;
}

std::ptrdiff_t rank(const std::string& room) {
  const auto found = std::find(kOrder.begin(), kOrder.end(), room);
  return found == kOrder.end() ? -1 : found - kOrder.begin();
}

TEST(Rooms, LowerRoomsNeverIncludeHigherOnes) {
  const fs::path core = fs::path(COMET_SOURCE_DIR) / "core";
  int files = 0;
  for (const auto& entry : fs::recursive_directory_iterator(core)) {
    if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp") continue;
    const fs::path relative = entry.path().lexically_relative(core);
    ++files;
    const bool inRoom = std::distance(relative.begin(), relative.end()) > 1;
    if (inRoom) {
      ASSERT_GE(rank(relative.begin()->string()), 0) << relative << " is in no known room";
    }
    for (const std::string& include : includesOf(entry.path())) {
      EXPECT_FALSE(include[0] == 'Q' && std::isupper(static_cast<unsigned char>(include[1])))
          << relative << " includes " << include;
      const auto included = rank(fs::path(include).begin()->string());
      if (inRoom && included >= 0) {
        EXPECT_LE(included, rank(relative.begin()->string())) << relative << " includes " << include;
      }
    }
  }
  EXPECT_GT(files, 40);
}

}  // namespace
