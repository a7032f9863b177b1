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
// and in formulas that are computed for each particle
//
//   age, lifetime    seconds since its birth, and how many it lives for
//   age_fraction     of its life that is over, 0 to 1
//   speed            units per second
//   id               the number of its birth; rand(id) is a random number of its own
//   x, y, z          where it is
//
// All functions are pure and may be called from any thread.
#pragma once

#include "base/digest.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace comet {

struct FormulaMoment {
  double frame = 1;
  double seconds = 0;
  double value = 0;
};

// What the formula is computed for, and so what it may name.
enum class FormulaScope { Scene, Particle };

struct FormulaProblem {
  std::size_t position = 0;  // of the character where it is noticed, from 0
  std::string message;
};

// Nothing if the formula can be computed.
std::optional<FormulaProblem> problemWithFormula(const std::string& formula,
                                                 FormulaScope scope = FormulaScope::Scene);

// What is particular to a particle counts as zero here, and its life as one second.
// Not a number if the formula cannot be computed, or not then (as for a division by zero).
double evaluateFormula(const std::string& formula, const FormulaMoment& moment);

// What may be named in a formula, sorted, functions with an opening bracket.
std::vector<std::string> formulaNames(FormulaScope scope);

// Whether it names something that differs between particles.
bool variesByParticle(const std::string& formula);

// What a formula may know of a particle.
struct ParticleMoment {
  double age = 0, lifetime = 1, ageFraction = 0, speed = 0, id = 0, x = 0, y = 0, z = 0;
};

// A formula made ready to be computed for many particles at one moment of the scene. Each thread that asks
// has its own parser, made at its first question.
class ParticleFormula {
 public:
  // Results are brought between `min` and `max`.
  ParticleFormula(std::string formula, double frame, double seconds, double min, double max);
  ~ParticleFormula();
  ParticleFormula(const ParticleFormula&) = delete;
  ParticleFormula& operator=(const ParticleFormula&) = delete;

  // `value` where the formula gives no number.
  double of(const ParticleMoment& particle, double value) const;
  void describe(Hasher& hasher) const;

 private:
  struct Parsers;
  std::unique_ptr<Parsers> parsers_;
};

}  // namespace comet
