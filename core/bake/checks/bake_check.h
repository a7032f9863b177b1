// The bake check: faults of a flipbook that would otherwise be found in the game.
//
// Each check measures the baked sheet, says in which cells it found something and how much, and what to
// change, where that is one thing. A new check is a function in checks/, a line in the table of
// bake_check.cpp, and a test on a sheet that is made to have the fault and on its fixed twin.
#pragma once

#include "bake/bake_sheet.h"

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace comet {

struct Remedy {
  std::string label;                                 // of a button
  std::vector<std::pair<std::string, Value>> edits;  // parameters of the bake, and what they become
  bool fits = false;                                 // whether the view has to be fitted to the effect
};

struct Finding {
  std::string check;       // the check's id
  bool isTrouble = true;   // otherwise it is only good to know
  std::vector<int> cells;  // indices; empty if it is about the whole sheet
  double number = 0;
  std::string text;  // with the number and its unit
  std::optional<Remedy> remedy;
};

// What checks look at.
struct Checked {
  Checked(const Flipbook& flipbook, const Scene& bakedScene);

  const Flipbook& book;
  const Scene& scene;
  const Item& bake;
  std::vector<Picture> cells;  // as on the sheet of colours

  // With the fire that is apart.
  const std::vector<Picture>& seen() const { return withFire_.empty() ? cells : withFire_; }

  const FlipbookLayout& layout() const { return book.layout; }

 private:
  std::vector<Picture> withFire_;  // empty where no fire is apart
};

struct BakeCheck {
  std::string_view id;
  std::string_view label;
  std::optional<Finding> (*find)(const Checked& checked);
};

// The one that finds light which most readers of a file would lose: said before it is written.
constexpr std::string_view kLightWithoutAlpha = "light_without_alpha";

// All of them, troubles of the picture before those of the sheet.
const std::vector<BakeCheck>& bakeChecks();

// What the checks find, in their order. `scene` is the one that was baked.
std::vector<Finding> checkBake(const Flipbook& book, const Scene& scene);

// The scene with the bake changed as a remedy says, but for the view.
Scene fixed(const Scene& scene, ItemId bake, const Remedy& remedy);

}  // namespace comet
