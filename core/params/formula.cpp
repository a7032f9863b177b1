#include "params/formula.h"

#include "base/noise.h"
#include "base/random.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <muParser.h>
#include <tbb/enumerable_thread_specific.h>

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

double rounded(double x) { return std::round(x); }

double clamped(double x, double a, double b) { return std::max(a, std::min(b, x)); }

// A parser with the variables that it reads.
class Formula {
 public:
  Formula(const std::string& text, FormulaScope scope, const FormulaMoment& now) : moment(now) {
    parser_.DefineVar("frame", &moment.frame);
    parser_.DefineVar("time", &moment.seconds);
    parser_.DefineVar("value", &moment.value);
    if (scope == FormulaScope::Particle)
      for (const auto& [name, variable] : particleVariables()) parser_.DefineVar(name, variable);
    parser_.DefineConst("pi", 3.14159265358979323846);
    parser_.DefineFun("noise", noiseAt);
    parser_.DefineFun("rand", randomOf);
    parser_.DefineFun("mix", mixed);
    parser_.DefineFun("clamp", clamped);
    parser_.DefineFun("round", rounded);
    parser_.SetExpr(text);
  }

  Formula(const Formula&) = delete;
  Formula& operator=(const Formula&) = delete;

  double compute() { return parser_.Eval(); }
  const mu::Parser& parser() const { return parser_; }
  // Whether it reads what differs between particles.
  bool readsParticle() {
    const auto& used = parser_.GetUsedVar();
    const auto names = particleVariables();
    return std::any_of(names.begin(), names.end(),
                       [&used](const auto& named) { return used.count(named.first) > 0; });
  }

  FormulaMoment moment;
  ParticleMoment particle;

 private:
  std::array<std::pair<const char*, double*>, 8> particleVariables() {
    return {{{"age", &particle.age},
             {"lifetime", &particle.lifetime},
             {"age_fraction", &particle.ageFraction},
             {"speed", &particle.speed},
             {"id", &particle.id},
             {"x", &particle.x},
             {"y", &particle.y},
             {"z", &particle.z}}};
  }

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

std::optional<FormulaProblem> problemWithFormula(const std::string& formula, FormulaScope scope) {
  if (formula.size() > kLongestFormula)
    return FormulaProblem{kLongestFormula, fmt::format("it has more than {} characters", kLongestFormula)};
  try {
    (void)Formula(formula, scope, {}).compute();
    return std::nullopt;
  } catch (const mu::Parser::exception_type& error) {
    const auto position = static_cast<std::size_t>(std::max(0, static_cast<int>(error.GetPos())));
    return FormulaProblem{std::min(position, formula.size()), inWords(error)};
  }
}

double evaluateFormula(const std::string& formula, const FormulaMoment& moment) {
  try {
    return Formula(formula, FormulaScope::Particle, moment).compute();
  } catch (const mu::Parser::exception_type&) {
    return std::numeric_limits<double>::quiet_NaN();
  }
}

std::vector<std::string> formulaNames(FormulaScope scope) {
  const Formula formula("0", scope, {});
  std::vector<std::string> names;
  for (const auto& [name, variable] : formula.parser().GetVar()) names.push_back(name);
  for (const auto& [name, function] : formula.parser().GetFunDef()) names.push_back(name + "(");
  names.push_back("pi");
  std::sort(names.begin(), names.end());
  return names;
}

bool variesByParticle(const std::string& formula) {
  try {
    return Formula(formula, FormulaScope::Particle, {}).readsParticle();
  } catch (const mu::Parser::exception_type&) {
    return false;
  }
}

struct ParticleFormula::Parsers {
  std::string text;
  FormulaMoment moment;
  double min, max;
  tbb::enumerable_thread_specific<std::unique_ptr<Formula>> mine;
};

ParticleFormula::ParticleFormula(std::string formula, double frame, double seconds, double min, double max)
    : parsers_(new Parsers{std::move(formula), {frame, seconds, 0}, min, max, {}}) {}

ParticleFormula::~ParticleFormula() = default;

double ParticleFormula::of(const ParticleMoment& particle, double value) const {
  std::unique_ptr<Formula>& formula = parsers_->mine.local();
  try {
    if (!formula)
      formula = std::make_unique<Formula>(parsers_->text, FormulaScope::Particle, parsers_->moment);
    formula->particle = particle;
    formula->moment.value = value;
    const double computed = formula->compute();
    return std::isfinite(computed) ? std::clamp(computed, parsers_->min, parsers_->max) : value;
  } catch (const mu::Parser::exception_type&) {
    return value;
  }
}

void ParticleFormula::describe(Hasher& hasher) const {
  hasher << parsers_->text << parsers_->moment.frame << parsers_->moment.seconds << parsers_->min
         << parsers_->max;
}

}  // namespace comet
