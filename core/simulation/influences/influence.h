// What every kind of influence provides: its table of parameters, and its kernel.
//
// An influence of a scene is evaluated once per frame into an action (keys and formulas are numbers by then),
// which is hashed into the frame's key and asked for what it does at samples: particles, or positions in
// space. A new kind is one source file that defines an InfluenceKind, a line in influences.cpp, and a test.
// Where and when it acts, and how strongly on whom, is the same for all kinds and no concern of theirs.
#pragma once

#include "base/digest.h"
#include "base/progress.h"
#include "geometry/wire.h"
#include "particles/particle_state.h"
#include "scene/item.h"
#include "simulation/frame/frame_time.h"
#include "simulation/frame/gases_state.h"
#include "simulation/motion/chunk.h"
#include "simulation/motion/forces.h"

#include <map>
#include <memory>
#include <string_view>
#include <vector>

namespace comet {

class Deflector;
struct ContactRule;

class InfluenceAction;

// What there is around particles when a step begins.
struct Surroundings {
  const ParticleState& particles;
  const GasesState& gases;
  const FrameTime& time;
  std::vector<std::shared_ptr<const InfluenceAction>> deflectors;  // of all that act on any particles
  std::map<ItemId, std::vector<ItemId>> answering;                 // the emitters that an influence acts on
  int substeps = 1;  // that the step is made of, for those of the finest
  const Progress& progress;
};

class InfluenceAction {
 public:
  InfluenceAction() = default;
  virtual ~InfluenceAction() = default;
  InfluenceAction(const InfluenceAction&) = delete;
  InfluenceAction& operator=(const InfluenceAction&) = delete;

  // Adds everything that the action depends on; two actions that hash alike act alike.
  virtual void describe(Hasher& hasher) const = 0;

  // Whether it acts by addTo while particles move.
  virtual bool adds() const { return !corrects() && !displaces() && !deflector() && !contact(); }
  // Whether addTo reads the positions of samples.
  virtual bool readsPositions() const { return false; }
  // Adds the action on each sample. Called from many threads.
  virtual void addTo(Forces&, const Samples&, const Substep&, const Weights&) const {}

  // Whether it shows particles elsewhere than where they are. It then adds nothing else.
  virtual bool displaces() const { return false; }
  // Adds by how much, `seconds` after the scene's first frame. Called from many threads.
  virtual void addDisplacement(Contribution&, const Samples&, double /*seconds*/, const Weights&) const {}

  // For what particles do to each other, and gases to them: the action as it is after seeing all as the step
  // begins. Null if it need not see them. It is the frame's state that counts, and no concern of describe().
  virtual std::shared_ptr<const InfluenceAction> seeing(const Surroundings&) const { return nullptr; }

  // What it has to keep of each particle from step to step.
  virtual FieldSet remembers() const { return {}; }

  // Itself, if it is a deflector. Those act together, on the way that a particle went in the substep.
  virtual const Deflector* deflector() const { return nullptr; }

  // What particles that touch do to each other by it, if it is a contact. All that take part move together,
  // in smaller steps.
  virtual const ContactRule* contact() const { return nullptr; }

  // Whether it has to see what became of the particles at the end of a substep.
  virtual bool corrects() const { return false; }
  // Changes velocities, places or lifetimes there. Corrections are made in the scene's order. Called from
  // many threads.
  virtual void correct(Chunk&, const Substep&, const Durations&, const Masses&, const Weights&) const {}
};

// What an influence is of, for putting like beside like.
enum class InfluenceGroup { Force, Air, Field, Flock, Arrival, Limit, Contact, Deflector };

// The box that an influence fills: its full size along its own axes, and where its middle lies.
struct FilledBox {
  Vec3d size{1.0};
  Pose pose{};
};

// What is said below a parameter about particles as they are.
struct KindNote {
  enum class About { DeflectorHits, FlockSight, FlockLimit, Contacts, Arrivals };
  std::string_view param;
  About about;
};

// A kind says of itself all that others have to know; nobody asks which one it is.
struct InfluenceKind {
  const KindSpec& spec;
  InfluenceGroup group;
  // Stops with `progress`, if it takes long.
  std::unique_ptr<const InfluenceAction> (*plan)(const Item& item, const FrameTime& time,
                                                 const Progress& progress);
  bool feelsMass = true;   // whether heavier particles answer less
  bool movesGas = true;    // whether it acts on gas, which has no single particles
  bool movesCards = true;  // whether it acts on cards, which have a body of many points
  bool repeats = true;     // whether it does the same again in each round of a scene that loops
  // Whether it has to see particles also while its window in the scene's time is closed, to let go of them.
  bool letsGo = false;
  // Lines that show it beside its reach: what particles meet, and what else it is about. Null for none.
  std::vector<PlacedWire> (*walls)(const Item& item, double frame) = nullptr;
  std::vector<PlacedWire> (*hints)(const Item& item, double frame) = nullptr;
  // Null if it fills none of its own.
  FilledBox (*box)(const Item& item, double frame) = nullptr;
  std::vector<KindNote> notes{};
};

// An axis through a place, and the circle of a radius about it.
PlacedWire axisLines(const Vec3d& place, const Vec3d& axis, double radius);

// Its own parameters, and those that all kinds share: where and when it acts.
std::vector<ParamSpec> influenceParams(std::vector<ParamSpec> own);

}  // namespace comet
