#include "params/formula.h"

#include "base/noise.h"
#include "base/random.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <muParser.h>

namespace comet {
namespace {

constexpr std::size_t kLongestFormula = 2000;

// Along an edge of the lattice, where it is zero at whole numbers.
double noiseAt(double x) { return 2 * smoothNoise({x, 0, 0}, 1); }

double randomOf(double n) {
  constexpr double kLargest = 9e15;
  return std::abs(n) < kLargest
             ? RandomSource(1).unit(static_cast<std::uint64_t>(std::llround(n)), Draw::ShapeA)
             : 0;
}

double mixed(double a, double b, double t) { return a + (b - a) * t; }

double clamped(double x, double a, double b) { return std::max(a, std::min(b, x)); }

// A parser that knows the names; `moment` must outlive it.
class Formula {
 public:
  Formula(const std::string& text, FormulaMoment& moment) {
    parser_.DefineVar("frame", &moment.frame);
    parser_.DefineVar("time", &moment.seconds);
    parser_.DefineVar("value", &moment.value);
    parser_.DefineConst("pi", 3.14159265358979323846);
    parser_.DefineFun("noise", noiseAt);
    parser_.DefineFun("rand", randomOf);
    parser_.DefineFun("mix", mixed);
    parser_.DefineFun("clamp", clamped);
    parser_.SetExpr(text);
  }

  double compute() { return parser_.Eval(); }
  const mu::Parser& parser() const { return parser_; }

 private:
  mu::Parser parser_;
};

// The library's messages in our words; they end without a stop.
std::string inWords(const mu::Parser::exception_type& error) {
  const std::string& token = error.GetToken();
  switch (error.GetCode()) {
    case mu::ecUNASSIGNABLE_TOKEN:
      return fmt::format("\"{}\" is not known here", token);
    case mu::ecMISSING_PARENS:
      return "a closing bracket is missing";
    case mu::ecUNEXPECTED_EOF:
      return "it ends too early";
    case mu::ecTOO_FEW_PARAMS:
      return fmt::format("\"{}\" needs more numbers in its brackets", token);
    case mu::ecTOO_MANY_PARAMS:
      return fmt::format("\"{}\" takes fewer numbers in its brackets", token);
    case mu::ecEMPTY_EXPRESSION:
      return "it is empty";
    default:
      return token.empty() ? "it cannot be read" : fmt::format("\"{}\" does not fit here", token);
  }
}

}  // namespace

std::optional<FormulaProblem> problemWithFormula(const std::string& formula) {
  if (formula.size() > kLongestFormula)
    return FormulaProblem{kLongestFormula, fmt::format("it has more than {} characters", kLongestFormula)};
  try {
    FormulaMoment moment;
    (void)Formula(formula, moment).compute();
    return std::nullopt;
  } catch (const mu::Parser::exception_type& error) {
    const auto position = static_cast<std::size_t>(std::max(0, static_cast<int>(error.GetPos())));
    return FormulaProblem{std::min(position, formula.size()), inWords(error)};
  }
}

double evaluateFormula(const std::string& formula, const FormulaMoment& moment) {
  try {
    FormulaMoment own = moment;
    return Formula(formula, own).compute();
  } catch (const mu::Parser::exception_type&) {
    return std::numeric_limits<double>::quiet_NaN();
  }
}

std::vector<std::string> formulaNames() {
  FormulaMoment moment;
  const Formula formula("0", moment);
  std::vector<std::string> names;
  for (const auto& [name, variable] : formula.parser().GetVar()) names.push_back(name);
  for (const auto& [name, function] : formula.parser().GetFunDef()) names.push_back(name + "(");
  names.push_back("pi");
  std::sort(names.begin(), names.end());
  return names;
}

}  // namespace comet
