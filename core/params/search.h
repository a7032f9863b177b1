// Finds controls, actions and pages by the words that people use for them.
//
// Words that mean the same in the trade find each other ("collider" finds deflectors), and so do American and
// British spelling. Any thread.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace comet {

// What is known of something that can be found.
struct SearchEntry {
  std::string label;
  std::string context;  // the item and the section that it belongs to
  std::string id;
  std::string tip;
};

// How well an entry fits what was typed: 0 for its very name, and more the worse it fits; nothing if it does
// not fit.
std::optional<int> searchRank(const SearchEntry& entry, std::string_view typed);

// The word among `words` that is most like what was typed, for "did you mean"; nothing if none is near.
std::optional<std::string> nearestWord(std::string_view typed, const std::vector<std::string>& words);

}  // namespace comet
