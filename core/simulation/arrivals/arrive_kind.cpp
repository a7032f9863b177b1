#include "params/rule.h"
#include "simulation/arrivals/arrive.h"
#include "simulation/emission/emission.h"
#include "simulation/emission/shape_params.h"
#include "simulation/influences/influences.h"

#include <iterator>
#include <map>

namespace comet {
namespace {

constexpr int kMaxPoints = 100000;

void addTo(std::vector<ParamSpec>& params, std::vector<ParamSpec> more) {
  params.insert(params.end(), std::make_move_iterator(more.begin()), std::make_move_iterator(more.end()));
}

std::vector<ParamSpec> targetParams() {
  return {
      choice("target", "Arrive at",
             {{"shape", "Points of a shape", "Particles arrive on or in a shape, which may move."},
              {"particles", "Particles", "Each particle arrives at a particle of another emitter."}})
          .in("Target")
          .tip("Where particles arrive: each at a point of its own, never two at one."),
      reference("target_emitter", "Emitter", RefersTo::Emitter)
          .in("Target")
          .when("target", {"particles"})
          .tip("The emitter at whose particles they arrive, one at each."),
      integer("points", "Points", 300)
          .in("Target")
          .range(1, kMaxPoints)
          .usual(1, 2000)
          .when("target", {"shape"})
          .tip("How many points the shape has; of a mesh's vertices, at most all of them. Particles beyond "
               "that wait until a point becomes free."),
      choice("point_spread", "Point spread",
             {{"even", "Even", "The points lie far apart: on a ring, at equal angles."},
              {"random", "Random", "The points lie at random."}})
          .in("Target")
          .when("target", {"shape"})
          .tip("How the points are spread over the shape."),
  };
}

std::vector<ParamSpec> travelParams() {
  return {
      number("travel_time", "Travel time", 1.5)
          .in("Travel")
          .unit("s")
          .range(0.001, 10000)
          .usual(0.1, 10)
          .varied()
          .tip(
              "How long each particle takes to its point, whatever the distance. Active and Ages say when it "
              "sets out; until then the other influences act."),
      choice("easing", "Easing",
             {{"ease_in_out", "Ease in and out", "It sets out from its own motion, and comes to rest."},
              {"linear", "Linear", "It is equally fast all along."},
              {"ease_in", "Ease in", "It sets out slowly and is fast at the end."},
              {"ease_out", "Ease out", "It sets out fast and comes to rest."}})
          .in("Travel")
          .tip("How the speed changes between start and arrival."),
      number("arc", "Arc height", 0)
          .in("Travel")
          .unit("%")
          .range(-1000, 1000)
          .usual(-50, 100)
          .tip("How high the path bulges in the middle, as a percentage of the distance."),
      vector("arc_direction", "Arc direction", {0, 1, 0})
          .in("Travel")
          .range(-1000, 1000)
          .usual(-1, 1)
          .tip("The direction in which the path bulges; its length does not matter."),
      number("path_noise", "Path noise", 0)
          .in("Travel")
          .unit("units")
          .range(0, 10000)
          .usual(0, 4)
          .tip("How far each particle strays in the middle of its path."),
      number("path_noise_rate", "Noise rate", 1)
          .in("Travel")
          .unit("/s")
          .range(0, 1000)
          .usual(0, 10)
          .when("path_noise", {"positive"})
          .tip("How many times a second it changes its course by that."),
      integer("only_tag", "Only with tag", 0)
          .in("Travel")
          .range(0, kMaxTags)
          .usual(0, kMaxTags)
          .tip(
              "Only particles with this tag, which a rule has given them, arrive; 0 for all. If a rule takes "
              "the tag away, they are released."),
      flag("face_surface", "Face the surface", false)
          .in("Travel")
          .tip("Turns meshes on the way, so that what is up in them points out of the shape's surface when "
               "they arrive."),
  };
}

std::vector<ParamSpec> holdParams() {
  return {
      choice("hold", "Hold",
             {{"forever", "Always", "A particle stays at its point while the influence acts on it."},
              {"time", "For a time", "It is released after a time."},
              {"speed", "Up to a speed", "It is released when its point moves faster than that."}})
          .in("Hold")
          .tip("How long a particle is held at its point, which may move."),
      number("hold_time", "Hold time", 2)
          .in("Hold")
          .unit("s")
          .range(0, 100000)
          .usual(0, 20)
          .keyed()
          .varied()
          .when("hold", {"time"})
          .tip("For how long it is held."),
      number("hold_speed", "Release speed", 5)
          .in("Hold")
          .unit("units/s")
          .range(0, 1e6)
          .usual(0, 50)
          .keyed()
          .when("hold", {"speed"})
          .tip("The speed of its point above which it is released."),
      number("release", "Release", 0)
          .in("Hold")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("What percentage of the particles is released, wherever they are, and moves as the other "
               "influences would have it. Key it to let them go one after the other."),
  };
}

// Those of shapes, at first a ball's surface above the ground.
std::vector<ParamSpec> shapeTargetParams() {
  std::vector<ParamSpec> params = shapeParams("particles arrive", "Arrive on");
  addTo(params, shapeMotionParams());
  const std::map<std::string, Value> first{{"shape", std::string("sphere")},
                                           {"emit_from", std::string("surface")},
                                           {"radius", 1.0},
                                           {"picture_emit_from", std::string("opaque")},
                                           {"position", Vec3d(0, 2, 0)}};
  for (ParamSpec& param : params) {
    param.when("target", {"shape"});
    if (const auto own = first.find(param.id); own != first.end()) param.defaultValue.base = own->second;
  }
  return params;
}

const KindSpec& arriveSpec() {
  static const KindSpec kind("arrive", "Arrive", ItemFamily::Influence,
                             "Brings each particle to a point of its own on a shape, and holds it there.",
                             [] {
                               std::vector<ParamSpec> params = targetParams();
                               for (auto& more : {shapeTargetParams(), travelParams(), holdParams()})
                                 addTo(params, more);
                               return influenceParams(std::move(params));
                             }());
  return kind;
}

std::vector<PlacedWire> shapeLines(const Item& item, double frame) {
  if (!item.chooses("target", "shape")) return {};
  const ShapePath::Placement pose = poseAt(item, frame, item.clock.rate, wanderKey(mixBits(item.id)), 0);
  Wire wire = shapeOf(item, frame).wire();
  for (auto& line : wire)
    for (Vec3d& point : line) point = pose.toScene(point);
  return {{std::move(wire), {}}};
}

}  // namespace

InfluenceKind arriveInfluence() {
  return {.spec = arriveSpec(),
          .group = InfluenceGroup::Arrival,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress& progress) -> std::unique_ptr<const InfluenceAction> {
            return std::make_unique<Arrive>(std::make_shared<const ArrivalRules>(item, time, progress));
          },
          .feelsMass = false,
          .movesGas = false,
          .repeats = false,
          .letsGo = true,
          .walls = shapeLines,
          .notes = {{"target", KindNote::About::Arrivals}}};
}

}  // namespace comet
