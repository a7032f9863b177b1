#include "render/light_kind.h"

namespace comet {
namespace {

std::vector<ParamSpec> lightParams() {
  return {
      choice("type", "Type",
             {{"point", "Point", "Shines from a point to all sides, and fades with the distance."},
              {"directional", "Directional", "Shines from far away: everywhere from the same direction."}})
          .tip("Where the light comes from."),
      color("color", "Colour", {1, 0.75, 0.45}).keyed().tip("The colour of the light."),
      number("strength", "Strength", 2)
          .unit("×")
          .range(0, 1000)
          .usual(0, 10)
          .keyed()
          .tip("The brightness of the light, of a point light up to its full distance."),
      vector("direction", "Direction", {-0.5, 0.8, 0.6})
          .range(-1000, 1000)
          .usual(-1, 1)
          .keyed()
          .when("type", {"directional"})
          .tip("The direction from which light falls; its length does not matter."),
      flag("gas_shadows", "Shadows in gas", true)
          .tip("Whether gas keeps the light from the gas behind it. Without, the light costs less to draw."),
  };
}

std::vector<ParamSpec> placeParams() {
  return {
      reference("follow", "Follow", RefersTo::Placed)
          .when("type", {"point"})
          .tip("An item that the light moves with: an emitter, a deflector, an attractor."),
      choice(
          "follow_what", "Follow what",
          {{"item", "Its position", "The light is where the item is."},
           {"middle", "Middle of its particles", "The light is in the middle of the emitter's particles."},
           {"oldest", "Oldest particle", "The light is at the particle that was born first of those alive."},
           {"newest", "Newest particle", "The light is at the particle that was born last."}})
          .when("follow", {"named"})
          .tip("What of it the light follows. Without a living particle there is no light."),
      vector("position", "Position", {0, 1, 0})
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-5, 5)
          .keyed()
          .when("type", {"point"})
          .when("follow", {"none"})
          .tip("Where the light is."),
      vector("follow_offset", "Offset", {0, 0, 0})
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-5, 5)
          .keyed()
          .when("follow", {"named"})
          .tip("How far the light is from what it follows."),
  };
}

std::vector<ParamSpec> falloffParams() {
  return {
      choice("falloff", "Falloff",
             {{"inverse_square", "Inverse square",
               "As real lights fade: at twice the distance, a quarter is left."},
              {"linear", "Linear", "Fades evenly, up to its range."},
              {"none", "None", "As bright at every distance."}})
          .when("type", {"point"})
          .tip("How the light fades with the distance."),
      number("full_distance", "Full distance", 0.5)
          .unit("units")
          .range(0.0001, 1e6)
          .usual(0.05, 5)
          .keyed()
          .when("falloff", {"inverse_square", "linear"})
          .tip("Up to this distance the light is as bright as its strength says; beyond it fades."),
      number("range", "Range", 4)
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.5, 20)
          .keyed()
          .when("falloff", {"linear"})
          .tip("At this distance nothing is left of the light."),
  };
}

std::vector<ParamSpec> flickerParams() {
  return {
      number("flicker", "Flicker", 0)
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How much of the light goes out at the darkest moments; 0 keeps it steady."),
      number("flicker_rate", "Flicker rate", 4)
          .unit("/s")
          .range(0.01, 100)
          .usual(1, 20)
          .when("flicker", {"positive"})
          .tip("About how many times in a second it flickers. It does so irregularly, and does not repeat "
               "unless the scene is an exact loop."),
      integer("flicker_seed", "Flicker seed", 1)
          .range(0, 1e9)
          .usual(0, 100)
          .when("flicker", {"positive"})
          .tip("Another seed flickers at other moments."),
  };
}

}  // namespace

const KindSpec& lightKind() {
  static const KindSpec kind("light", "Light", ItemFamily::Light,
                             "Lights meshes, surfaces, gas and lit sprites, beside the scene's own light.",
                             [] {
                               std::vector<ParamSpec> params;
                               const auto add = [&params](const char* section, std::vector<ParamSpec> more) {
                                 for (ParamSpec& spec : more)
                                   params.push_back(spec.in(section).affects(Affects::Look));
                               };
                               add("Light", lightParams());
                               add("Place", placeParams());
                               add("Falloff", falloffParams());
                               add("Flicker", flickerParams());
                               return params;
                             }());
  return kind;
}

}  // namespace comet
