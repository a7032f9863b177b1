// The parameter schema: each kind of item declares its parameters once, as a table.
//
// Inspector, file format, validation, keyframes, command-line overrides, search and the reference page are
// all made from these tables. A table is written with the builders below:
//
//   number("rate", "Rate", 120).in("Birth").unit("/s").range(0, 5e6).usual(0, 500).keyed().varied()
//       .tip("Particles born per second.")
//
// Tables are built once and then only read, from any thread.
#pragma once

#include "params/formula.h"
#include "params/value.h"

#include <functional>
#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace comet {

enum class ParamType {
  Number,
  Integer,
  Flag,
  Choice,
  Vector,
  Color,
  Gradient,
  Bursts,
  Text,
  Curve,
  Outline,
  File,
  Data,
  Strokes,
  Markers,
  Item,
  Rules,
};

// What has to be made again when the parameter changes.
enum class Affects { Simulation, Look, Bake, View };

enum class ItemFamily { Settings, Camera, Light, Emitter, Gas, Source, Influence, Bake };

// Whether items of a family respond to influences: they are the rows of the influence grid.
constexpr bool responds(ItemFamily family) {
  return family == ItemFamily::Emitter || family == ItemFamily::Gas;
}

// Whether items of a family can be turned off and removed.
constexpr bool canBeOff(ItemFamily family) {
  return responds(family) || family == ItemFamily::Source || family == ItemFamily::Influence ||
         family == ItemFamily::Light;
}

std::string_view toString(ParamType type);
std::string_view toString(Affects affects);
std::string_view toString(ItemFamily family);

struct ChoiceOption {
  std::string id;
  std::string label;
  std::string tip;
};

// A parameter applies while another one of the same item, a choice, a flag (`true`, `false`), a reference
// (`none`, `named`) or a number (`zero`, `positive`: ever, with keys and variation), has one of these values
// and applies itself.
struct Condition {
  std::string param;
  std::vector<std::string> choices;
};

// The components of a vector that count while a choice of the same item has this value, as in "xz".
struct UsedAxes {
  std::string param;
  std::string choice;
  std::string axes;
};

struct ParamSpec {
  std::string id;
  std::string label;
  ParamType type = ParamType::Number;
  ParamValue defaultValue;
  std::string section;
  std::string tipText;
  std::string unitText;
  double min = -1e9, max = 1e9;            // what is accepted
  double usualMin = -100, usualMax = 100;  // what a drag over the field covers
  bool canBeKeyed = false;
  bool canVary = false;
  bool mapsOverAge = false;
  bool choosesInput = false;  // what its curve or gradient is read by can be chosen
  FileKind fileKind = FileKind::Picture;
  RefersTo refersTo = RefersTo::Emitter;
  bool isFrame = false;        // a number that is a frame of the scene
  bool isPerParticle = false;  // its formula may name what a particle is like
  Affects affectedPart = Affects::Simulation;
  bool isSimulatedToo = false;  // of looks, but some scenes simulate with it
  std::vector<ChoiceOption> choices;
  std::vector<Condition> conditions;
  std::vector<UsedAxes> usedAxes;  // where not all of them count

  bool takesFormula() const { return canBeKeyed && type == ParamType::Number; }
  FormulaScope formulaScope() const { return isPerParticle ? FormulaScope::Particle : FormulaScope::Scene; }

  ParamSpec& in(std::string sectionName);
  ParamSpec& tip(std::string text);
  ParamSpec& unit(std::string text);
  ParamSpec& range(double from, double to);
  ParamSpec& usual(double from, double to);
  ParamSpec& keyed();
  ParamSpec& varied();
  // The value is multiplied by a curve over the fraction of life; `curve` is the one that new items start
  // with.
  ParamSpec& overAge(Curve curve);
  // What the curve or gradient is read by can be chosen; overAge brings this along.
  ParamSpec& follows();
  // The number is a frame of the scene, so that it moves when things are moved in time.
  ParamSpec& frame();
  // Its formula is computed for each particle and may name its age, its speed and so on.
  ParamSpec& perParticle();
  ParamSpec& affects(Affects part);
  // It is a part of looks that some scenes simulate with: the size, where masses or deflectors go by it.
  ParamSpec& simulatedToo();
  ParamSpec& when(std::string param, std::initializer_list<std::string> choiceIds);
  ParamSpec& axesWhen(std::string param, std::string choiceId, std::string axes);
};

ParamSpec number(std::string id, std::string label, double value);
ParamSpec integer(std::string id, std::string label, int value);
ParamSpec flag(std::string id, std::string label, bool value);
// The first option is the default.
ParamSpec choice(std::string id, std::string label, std::vector<ChoiceOption> options);
ParamSpec vector(std::string id, std::string label, const Vec3d& value);
ParamSpec color(std::string id, std::string label, const Vec3d& value);
ParamSpec gradient(std::string id, std::string label, Gradient value);
ParamSpec bursts(std::string id, std::string label);
ParamSpec text(std::string id, std::string label);
// A curve over 0 to 1 with values from 0 up.
ParamSpec curve(std::string id, std::string label, Curve value);
ParamSpec outline(std::string id, std::string label);
ParamSpec strokes(std::string id, std::string label);
ParamSpec markers(std::string id, std::string label);
ParamSpec file(std::string id, std::string label, FileKind kind);
ParamSpec data(std::string id, std::string label);
// Another item of the scene, or none.
ParamSpec reference(std::string id, std::string label, RefersTo what);
ParamSpec rules(std::string id, std::string label);

// What others have to know of a kind beside its parameters.
struct KindTraits {
  bool deflects = false;  // whether particles hit it
};

// A kind of item: its name, what it is for, and its parameters in the order of the work.
class KindSpec {
 public:
  KindSpec(std::string id, std::string label, ItemFamily family, std::string tip,
           std::vector<ParamSpec> params, KindTraits traits = {});
  KindSpec(const KindSpec&) = delete;
  KindSpec& operator=(const KindSpec&) = delete;

  const std::string& id() const { return id_; }
  const std::string& label() const { return label_; }
  const std::string& tip() const { return tip_; }
  ItemFamily family() const { return family_; }
  const KindTraits& traits() const { return traits_; }
  const std::vector<ParamSpec>& params() const { return params_; }
  // The places of those parameters that name other items.
  const std::vector<std::size_t>& references() const { return references_; }
  // The place of a parameter in `params`, or nothing.
  std::optional<std::size_t> find(std::string_view param) const;
  // As find, for a parameter that our own code names; a missing one is a fault of ours
  // (std::logic_error).
  std::size_t indexOf(std::string_view param) const;

 private:
  std::string id_;
  std::string label_;
  ItemFamily family_;
  KindTraits traits_;
  std::string tip_;
  std::vector<ParamSpec> params_;
  std::vector<std::size_t> references_;
  std::unordered_map<std::string_view, std::size_t> byId_;
};

// A parameter's label, with its section's where another one of the kind has the same.
std::string clearLabel(const KindSpec& kind, std::size_t param);

// What is wrong with a value for this parameter, in words that name the limit; nothing if it is fine.
std::optional<std::string> problemWith(const ParamSpec& spec, const ParamValue& value);
// Why this cannot be a curve over 0 to 1; nothing if it can.
std::optional<std::string> problemWith(const Curve& curve);

// The nearest acceptable value: numbers are brought into range, whole numbers rounded.
ParamValue nearestValid(const ParamSpec& spec, ParamValue value);

// The kinds that a program knows, in a fixed order. Kinds live as long as the program.
class Catalog {
 public:
  explicit Catalog(std::vector<const KindSpec*> kinds) : kinds_(std::move(kinds)) {}

  const std::vector<const KindSpec*>& kinds() const { return kinds_; }
  std::vector<const KindSpec*> kindsOf(ItemFamily family) const;
  // Null if there is no such kind.
  const KindSpec* find(std::string_view kindId) const;

 private:
  std::vector<const KindSpec*> kinds_;
};

}  // namespace comet
