// The rooms of core include each other in one direction only, and none of them knows the window.
#include <filesystem>
#include <fstream>
#include <map>
#include <regex>

namespace {

namespace fs = std::filesystem;

// A room may include itself and what stands before it.
const std::vector<std::string> kOrder{"base",     "gas",     "params", "fields",    "io",
                                      "geometry", "readers", "scene",  "particles", "simulation",
                                      "cache",    "render",  "bake"};

// Rooms within a room, in the same order; what lies beside them stands where the empty name does.
const std::map<std::string, std::vector<std::string>> kInner{
    {"simulation",
     {"frame", "motion", "emission", "cards", "influences", "deflectors", "flocks", "contacts", "arrivals",
      "rules", "gas", ""}},
    {"bake", {"", "checks"}}};

std::vector<std::string> includesOf(const fs::path& file) {
  static const std::regex pattern(R"re(^\s*#\s*include\s*["<]([^">]+)[">])re");
  std::vector<std::string> includes;
  std::ifstream stream(file);
  for (std::string line; std::getline(stream, line);)
    if (std::smatch match; std::regex_search(line, match, pattern)) includes.push_back(match[1]);
  return includes;
}

std::ptrdiff_t rank(const std::vector<std::string>& order, const std::string& room) {
  const auto found = std::find(order.begin(), order.end(), room);
  return found == order.end() ? -1 : found - order.begin();
}

std::ptrdiff_t rank(const std::string& room) { return rank(kOrder, room); }

std::string roomOf(const fs::path& path) { return path.begin()->string(); }

// The room within its room; empty if it lies beside those.
std::string innerRoomOf(const fs::path& path) {
  return std::distance(path.begin(), path.end()) > 2 ? std::next(path.begin())->string() : std::string();
}

std::vector<fs::path> filesOfCore() {
  std::vector<fs::path> files;
  const fs::path core = fs::path(COMET_SOURCE_DIR) / "core";
  for (const auto& entry : fs::recursive_directory_iterator(core))
    if (entry.path().extension() == ".h" || entry.path().extension() == ".cpp")
      files.push_back(entry.path().lexically_relative(core));
  return files;
}

TEST(Rooms, LowerRoomsNeverIncludeHigherOnes) {
  const std::vector<fs::path> files = filesOfCore();
  EXPECT_GT(files.size(), 40U);
  for (const fs::path& file : files) {
    const bool inRoom = std::distance(file.begin(), file.end()) > 1;
    if (inRoom) {
      ASSERT_GE(rank(roomOf(file)), 0) << file << " is in no known room";
    }
    for (const std::string& include : includesOf(fs::path(COMET_SOURCE_DIR) / "core" / file)) {
      EXPECT_FALSE(include[0] == 'Q' && std::isupper(static_cast<unsigned char>(include[1])))
          << file << " includes " << include;
      const auto included = rank(roomOf(include));
      if (inRoom && included >= 0) {
        EXPECT_LE(included, rank(roomOf(file))) << file << " includes " << include;
      }
    }
  }
}

TEST(Rooms, SoDoRoomsWithinARoom) {
  int between = 0;
  for (const fs::path& file : filesOfCore()) {
    const auto order = kInner.find(roomOf(file));
    if (order == kInner.end()) {
      EXPECT_EQ(innerRoomOf(file), "") << file << " is in a room that has no order";
      continue;
    }
    const auto own = rank(order->second, innerRoomOf(file));
    ASSERT_GE(own, 0) << file << " is in no known room of " << order->first;
    for (const std::string& include : includesOf(fs::path(COMET_SOURCE_DIR) / "core" / file)) {
      if (roomOf(include) != order->first) continue;
      const auto included = rank(order->second, innerRoomOf(include));
      EXPECT_LE(included, own) << file << " includes " << include;
      if (included < own) ++between;
    }
  }
  EXPECT_GT(between, 40);
}

}  // namespace
