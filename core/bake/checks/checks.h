// The checks themselves; see bake_check.h.
#pragma once

#include "bake/checks/bake_check.h"
#include "bake/seen.h"

#include <string>
#include <vector>

namespace comet::checks {

// Of what the cells show.
std::optional<Finding> clipped(const Checked& checked);
std::optional<Finding> notNumbers(const Checked& checked);
std::optional<Finding> refusedBirths(const Checked& checked);
std::optional<Finding> lostParticles(const Checked& checked);
std::optional<Finding> emptyCells(const Checked& checked);
std::optional<Finding> duplicates(const Checked& checked);
std::optional<Finding> dullEnds(const Checked& checked);
std::optional<Finding> blownOut(const Checked& checked);
std::optional<Finding> tooDark(const Checked& checked);
std::optional<Finding> banding(const Checked& checked);
std::optional<Finding> fringe(const Checked& checked);
std::optional<Finding> lightWithoutAlpha(const Checked& checked);

// Of how one leads to the next.
std::optional<Finding> seam(const Checked& checked);
std::optional<Finding> fade(const Checked& checked);
std::optional<Finding> motion(const Checked& checked);
std::optional<Finding> rotation(const Checked& checked);

// Of how its variants compare.
std::optional<Finding> variantsAlike(const Checked& checked);
std::optional<Finding> variantsDiffer(const Checked& checked);

// Of the sheet.
std::optional<Finding> notSquare(const Checked& checked);
std::optional<Finding> bleed(const Checked& checked);
std::optional<Finding> unused(const Checked& checked);
std::optional<Finding> notPowerOfTwo(const Checked& checked);
std::optional<Finding> memory(const Checked& checked);
std::optional<Finding> resolution(const Checked& checked);
std::optional<Finding> blocks(const Checked& checked);
std::optional<Finding> compression(const Checked& checked);

// "cell 4", "cells 1, 2 and 3", "7 cells": counted from 1, as on the sheet.
std::string named(const std::vector<int>& cells);

}  // namespace comet::checks
