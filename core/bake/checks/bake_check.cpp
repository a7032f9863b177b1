#include "bake/checks/bake_check.h"

#include "bake/checks/checks.h"

namespace comet {

Checked::Checked(const Flipbook& flipbook, const Scene& bakedScene)
    : book(flipbook), scene(bakedScene), bake(*bakedScene.find(flipbook.layout.bake)) {
  for (std::size_t i = 0; i < book.layout.cells.size(); ++i) {
    cells.push_back(cellOf(book.color, book.layout, i));
    if (book.layout.fireApart) withFire_.push_back(seenCell(book, i));
  }
}

const std::vector<BakeCheck>& bakeChecks() {
  static const std::vector<BakeCheck> kChecks{
      {"clipped", "Clipped at the cell's edge", checks::clipped},
      {"not_numbers", "Invalid pixels (NaN)", checks::notNumbers},
      {"births_refused", "Births refused", checks::refusedBirths},
      {"particles_lost", "Particles lost", checks::lostParticles},
      {"empty", "Empty cells", checks::emptyCells},
      {"duplicate", "Duplicate cells", checks::duplicates},
      {"dull_ends", "Empty ends", checks::dullEnds},
      {"blown_out", "Blown out", checks::blownOut},
      {"too_dark", "Too dark", checks::tooDark},
      {"banding", "Banding", checks::banding},
      {"fringe", "Fringe", checks::fringe},
      {kLightWithoutAlpha, "Light without alpha", checks::lightWithoutAlpha},
      {"seam", "Loop seam", checks::seam},
      {"fade", "Fades between unlike pictures", checks::fade},
      {"motion", "Motion too large to blend", checks::motion},
      {"rotation", "Loses direction when rotated", checks::rotation},
      {"variants_alike", "Variants too alike", checks::variantsAlike},
      {"variants_differ", "Variants too different", checks::variantsDiffer},
      {"not_square", "Cells not square", checks::notSquare},
      {"bleed", "Bleed between cells", checks::bleed},
      {"unused", "Unused sheet area", checks::unused},
      {"power_of_two", "Not a power of two", checks::notPowerOfTwo},
      {"memory", "Video memory", checks::memory},
      {"resolution", "Resolution wasted", checks::resolution},
      {"blocks", "Blocks shared by cells", checks::blocks},
      {"compression", "Compression loss", checks::compression},
  };
  return kChecks;
}

std::vector<Finding> checkBake(const Flipbook& book, const Scene& scene) {
  const Checked checked(book, scene);
  std::vector<Finding> findings;
  for (const BakeCheck& check : bakeChecks())
    if (std::optional<Finding> finding = check.find(checked)) {
      finding->check = check.id;
      findings.push_back(std::move(*finding));
    }
  return findings;
}

Scene fixed(const Scene& scene, ItemId bake, const Remedy& remedy) {
  Scene next = scene;
  const KindSpec& kind = *scene.find(bake)->kind;
  for (const auto& [param, value] : remedy.edits) {
    ParamValue changed;
    changed.base = value;
    next = next.withParam(bake, param, nearestValid(kind.params()[kind.indexOf(param)], std::move(changed)));
  }
  return next;
}

}  // namespace comet
