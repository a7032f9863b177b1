// Formulas: numbers that are computed anew for each moment of the scene.
//
// The syntax is that of the muParser library: + - * / ^, comparisons, a ? b : c, and its functions (sin, cos,
// exp, sqrt, abs, min, max, rint …). Besides there are
//
//   frame, time      the frame, and the seconds since the scene's first one
//   value            the number that the parameter has without the formula, keys included
//   pi
//   noise(x)         smooth noise, about -1 to 1, zero at whole numbers
//   rand(n)          a number from 0 to 1, another for each whole n
//   mix(a, b, t)     from a to b as t goes from 0 to 1;  clamp(x, a, b)
//
// All functions are pure and may be called from any thread.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace comet {

struct FormulaMoment {
  double frame = 1;
  double seconds = 0;
  double value = 0;
};

struct FormulaProblem {
  std::size_t position = 0;  // of the character where it is noticed, from 0
  std::string message;
};

// Nothing if the formula can be computed.
std::optional<FormulaProblem> problemWithFormula(const std::string& formula);

// Not a number if the formula cannot be computed, or not then (as for a division by zero).
double evaluateFormula(const std::string& formula, const FormulaMoment& moment);

// What may be named in a formula, sorted, functions with an opening bracket.
std::vector<std::string> formulaNames();

}  // namespace comet
