#include "params/search.h"

#include "catalog.h"

#include <algorithm>
#include <cctype>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <set>
#include <sstream>

namespace comet {
namespace {

// The labels of everything in the catalog that fits, best first.
std::vector<std::string> found(std::string_view typed) {
  std::vector<std::pair<int, std::string>> ranked;
  for (const KindSpec* kind : catalog().kinds()) {
    if (const auto rank = searchRank({kind->label(), "", kind->id(), kind->tip()}, typed))
      ranked.emplace_back(*rank, kind->label());
    for (const ParamSpec& spec : kind->params())
      if (const auto rank =
              searchRank({spec.label, kind->label() + " " + spec.section, spec.id, spec.tipText}, typed))
        ranked.emplace_back(*rank, spec.label);
  }
  std::stable_sort(ranked.begin(), ranked.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<std::string> labels;
  // Several kinds have the same labels.
  for (const auto& [rank, label] : ranked)
    if (std::find(labels.begin(), labels.end(), label) == labels.end()) labels.push_back(label);
  return labels;
}

struct Asked {
  const char* typed;
  const char* wanted;
};

class Search : public testing::TestWithParam<Asked> {};

// What artists were seen to type, and where they should come to.
TEST_P(Search, FindsUnderTheWordsOfTheTrade) {
  const std::vector<std::string> labels = found(GetParam().typed);
  ASSERT_FALSE(labels.empty());
  const std::size_t seen = std::min<std::size_t>(labels.size(), 12);
  EXPECT_THAT(std::vector<std::string>(labels.begin(), labels.begin() + static_cast<std::ptrdiff_t>(seen)),
              testing::Contains(GetParam().wanted));
}

INSTANTIATE_TEST_SUITE_P(
    Words, Search,
    testing::Values(Asked{"position", "Position"}, Asked{"falloff", "Falloff"},
                    Asked{"inherit", "Inherit velocity"}, Asked{"fade out", "Fade-out time"},
                    Asked{"collider", "Deflector"}, Asked{"cache", "Frame cache"}, Asked{"force", "Force"},
                    Asked{"color", "Colour"}, Asked{"colour", "Colour"}, Asked{"kill", "Bounds"},
                    Asked{"spawn", "Rate"}, Asked{"Rotation", "Rotation"}, Asked{"transparency", "Opacity"},
                    Asked{"bloom", "Glow"}, Asked{"fps", "Frame rate"}, Asked{"sprite sheet", "Columns"},
                    Asked{"damping", "Drag"}, Asked{"swarm", "Flock"}, Asked{"motion blur", "Shutter angle"},
                    Asked{"colli", "Deflector"}));

TEST(Search, PutsTheVeryNameFirst) {
  EXPECT_EQ(found("seed").front(), "Seed");
  EXPECT_EQ(found("size").front(), "Size");
  EXPECT_EQ(found("LIFETIME").front(), "Lifetime");
}

TEST(Search, TakesWordsOfItemAndLabelInAnyOrder) {
  const SearchEntry entry{"Position", "flock Target", "position", "The position of the target."};
  EXPECT_TRUE(searchRank(entry, "flock pos"));
  EXPECT_TRUE(searchRank(entry, "position flock"));
  EXPECT_FALSE(searchRank(entry, "flock size"));
  EXPECT_LT(searchRank(entry, "posi"), searchRank(entry, "flock pos"));
}

// The first word of a sentence that says something of its own.
std::string subjectOf(const std::string& tip) {
  static const std::set<std::string> kSmallWords{"the", "a", "an", "how", "what", "which", "where", "when"};
  std::istringstream words(tip);
  for (std::string word; words >> word;) {
    word.erase(std::find_if(word.begin(), word.end(), [](unsigned char c) { return std::ispunct(c) != 0; }),
               word.end());
    std::string small = word;
    std::transform(small.begin(), small.end(), small.begin(),
                   [](unsigned char c) { return std::tolower(c); });
    if (!word.empty() && !kSmallWords.contains(small)) return word;
  }
  return tip;
}

TEST(Search, FindsEveryControlByLabelIdAndTheSubjectOfItsTip) {
  for (const KindSpec* kind : catalog().kinds())
    for (const ParamSpec& spec : kind->params()) {
      const SearchEntry entry{spec.label, kind->label() + " " + spec.section, spec.id, spec.tipText};
      for (const std::string& typed : {spec.label, spec.id, subjectOf(spec.tipText)})
        EXPECT_TRUE(searchRank(entry, typed)) << kind->id() << "." << spec.id << " by " << typed;
    }
}

TEST(Search, FindsNothingForNothing) {
  EXPECT_TRUE(found("").empty());
  EXPECT_TRUE(found("qqq").empty());
}

TEST(NearestWord, GuessesWhatWasMeant) {
  const std::vector<std::string> words{"Opacity", "Lifetime", "Turbulence"};
  EXPECT_EQ(nearestWord("opasity", words), "Opacity");
  EXPECT_EQ(nearestWord("turbulance", words), "Turbulence");
  EXPECT_EQ(nearestWord("colider", words), "collider");
  EXPECT_FALSE(nearestWord("qqq", words));
}

}  // namespace
}  // namespace comet
