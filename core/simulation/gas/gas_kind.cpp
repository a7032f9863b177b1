#include "simulation/gas/gas_kind.h"

#include "base/random.h"

#include <algorithm>
#include <cmath>

namespace comet {
namespace {

std::vector<ParamSpec> boxParams() {
  const auto walls = [](const char* id, const char* label, const char* which) {
    return choice(id, label,
                  {{"open", "Open", "Gas leaves there, and air comes in."},
                   {"closed", "Closed", "Nothing goes through."}})
        .in("Box")
        .tip(std::string("Whether gas can leave the box ") + which + ".");
  };
  return {
      choice("dimensions", "Dimensions",
             {{"3d", "3D", "Gas moves in all directions."},
              {"2d", "2D",
               "Gas moves in one plane, that in the middle of the box which faces the front. It is simulated "
               "much faster, so that it can be as fine as a picture."}})
          .in("Box")
          .tip("Whether the gas fills its box or is flat."),
      vector("position", "Position", {0, 3, 0})
          .in("Box")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-10, 10)
          .tip("The middle of the box in which the gas is simulated."),
      vector("size", "Size", {4, 6, 4})
          .in("Box")
          .unit("units")
          .range(0.01, 100000)
          .usual(0.1, 20)
          .tip("The full size of the box. Gas is cut off at its open walls. Flat gas looks as thick as the "
               "box is deep."),
      integer("resolution", "Resolution", 64)
          .in("Box")
          .unit("voxels")
          .range(4, 1024)
          .usual(16, 256)
          .tip("The number of voxels along the longest side of the box. Twice as many show finer swirls, and "
               "take about ten times as long."),
      choice("preview_resolution", "Preview resolution",
             {{"full", "Full", "The viewport simulates the same voxels as a bake."},
              {"half", "Half", "The viewport simulates half as many voxels along each side."},
              {"third", "Third", "The viewport simulates a third as many voxels along each side."},
              {"quarter", "Quarter", "The viewport simulates a quarter as many voxels along each side."}})
          .in("Box")
          .tip("How coarse the gas is in the viewport. Bakes and the command line use the full resolution."),
      choice("detail", "Detail",
             {{"none", "None", "The gas is seen in the voxels that it is simulated in."},
              {"2", "2 × as fine", "Each voxel is seen as eight."},
              {"3", "3 × as fine", "Each voxel is seen as 27."},
              {"4", "4 × as fine", "Each voxel is seen as 64."}})
          .in("Box")
          .tip("How much finer the gas is carried along than it is simulated, with swirls below those of its "
               "voxels; its large shapes stay. Bakes, pictures and exports have it, the viewport does not."),
      number("detail_turbulence", "Detail turbulence", 100)
          .in("Box")
          .unit("%")
          .range(0, 1000)
          .usual(0, 200)
          .keyed()
          .when("detail", {"2", "3", "4"})
          .tip(
              "How strong the swirls of the detail are. At 100 they go on from the gas's own smallest ones."),
      walls("side_walls", "Side walls", "to the left and the right"),
      walls("floor", "Floor", "downwards"),
      walls("ceiling", "Ceiling", "upwards"),
      walls("front_back_walls", "Front and back", "to the front and the back").when("dimensions", {"3d"}),
  };
}

std::vector<ParamSpec> motionParams() {
  const auto own = [](ParamSpec spec) { return std::move(spec.in("Motion").keyed()); };
  return {
      own(number("buoyancy", "Buoyancy", 12))
          .unit("units/s²")
          .range(-10000, 10000)
          .usual(-50, 50)
          .tip("How strongly gas rises that is 100 K warmer than the air around it. Cooler gas sinks."),
      own(number("weight", "Weight", 0))
          .unit("units/s²")
          .range(-10000, 10000)
          .usual(0, 20)
          .tip("How strongly gas of density 1 sinks."),
      own(number("vorticity", "Vorticity", 0.5))
          .range(0, 100)
          .usual(0, 3)
          .tip("How strongly swirls that the voxels would lose are kept alive."),
      own(number("turbulence", "Turbulence", 0))
          .unit("/s")
          .range(0, 1000)
          .usual(0, 20)
          .tip(
              "How strongly fine swirls stir gas that moves: at 1, they change its velocity about as much as "
              "it has in a second. Gas at rest stays at rest."),
      own(number("turbulence_scale", "Turbulence scale", 0.6))
          .unit("units")
          .range(0.001, 10000)
          .usual(0.05, 5)
          .when("turbulence", {"positive"})
          .tip("The size of the largest of these swirls. Those smaller than two voxels are not seen."),
      number("turbulence_rate", "Turbulence rate", 1)
          .in("Motion")
          .unit("/s")
          .range(-100, 100)
          .usual(0, 5)
          .when("turbulence", {"positive"})
          .tip(
              "How quickly these swirls change: at 0 they stay where they are, at 1 they change about once a "
              "second."),
      integer("turbulence_seed", "Turbulence seed", 1)
          .in("Motion")
          .range(0, 1e9)
          .usual(0, 100)
          .when("turbulence", {"positive"})
          .tip("Another seed gives other swirls."),
      own(number("dissipation", "Dissipation", 0.3))
          .unit("/s")
          .range(0, 1000)
          .usual(0, 5)
          .tip("The rate at which gas thins out. At 1, a third is left after a second."),
      own(number("cooling", "Cooling", 0.5))
          .unit("/s")
          .range(0, 1000)
          .usual(0, 5)
          .tip("The rate at which gas takes on the temperature of the air. At 1, a third is left after a "
               "second."),
      own(number("time_scale", "Time scale", 100))
          .unit("%")
          .range(0, 1000)
          .usual(0, 200)
          .tip("How fast the gas lives, compared with the scene."),
  };
}

std::vector<ParamSpec> burningParams() {
  const auto own = [](ParamSpec spec) { return std::move(spec.in("Fire").keyed().when("burning", {"on"})); };
  return {
      choice("burning", "Burning",
             {{"off", "Off", "The gas carries no fuel."},
              {"on", "On", "Fuel that its sources give burns where it is hot."}})
          .in("Fire")
          .tip("Whether the gas carries fuel that burns. Its sources say how much."),
      own(number("ignition", "Ignition", 150))
          .unit("K")
          .range(-10000, 10000)
          .usual(0, 1000)
          .tip(
              "Fuel burns where the gas is so much hotter than the air. A source that gives fuel has to heat "
              "it so far, or fire has to reach it."),
      own(number("burn_rate", "Burn rate", 5))
          .unit("/s")
          .range(0, 1000)
          .usual(0, 20)
          .tip("The rate at which burning fuel is used up. At 1, a third is left after a second: slow fuel "
               "makes long flames."),
      own(number("burn_heat", "Heat", 1800))
          .unit("K")
          .range(0, 100000)
          .usual(0, 5000)
          .tip("By how much a unit of fuel heats the gas when it burns."),
      own(number("burn_smoke", "Smoke", 0.4))
          .range(0, 1000)
          .usual(0, 5)
          .tip("How much density a unit of fuel leaves when it burns."),
      own(number("burn_expansion", "Expansion", 0))
          .range(0, 1000)
          .usual(0, 20)
          .tip("By how many times its volume a unit of fuel swells when it burns. Explosions need much of "
               "it."),
      own(number("flame_temperature", "Flame temperature", 1500))
          .unit("K")
          .range(1, 100000)
          .usual(500, 4000)
          .tip("The temperature above the air's at which flames cool at their cooling rate."),
      own(number("flame_cooling", "Flame cooling", 8))
          .unit("/s")
          .range(0, 1000)
          .usual(0, 20)
          .tip("The rate at which flames cool by what they radiate: with the fourth power of their "
               "temperature, so that only what is hot cools fast. More makes flames shorter."),
  };
}

std::vector<ParamSpec> fireLookParams() {
  const auto own = [](ParamSpec spec) {
    return std::move(spec.in("Fire look").affects(Affects::Look).when("fire_color", {"black_body", "ramp"}));
  };
  return {
      choice("fire_color", "Fire colour",
             {{"none", "None", "The gas gives off no light."},
              {"black_body", "Black body", "It glows as hot soot does: red, then yellow, then white."},
              {"ramp", "Ramp", "It glows in colours that you choose, over its temperature."}})
          .in("Fire look")
          .affects(Affects::Look)
          .tip(
              "The light that hot gas gives off by itself. It adds to what is behind it and covers nothing."),
      own(gradient(
              "fire_ramp", "Fire ramp",
              Gradient({{0, {0, 0, 0}}, {0.25, {0.35, 0.02, 0}}, {0.6, {1, 0.3, 0.03}}, {1, {1, 0.8, 0.4}}})))
          .when("fire_color", {"ramp"})
          .tip("The colour of the fire, from where it begins to the full temperature."),
      own(number("fire_from", "Glows from", 400))
          .unit("K")
          .range(0, 100000)
          .usual(0, 2000)
          .keyed()
          .when("fire_color", {"ramp"})
          .tip("The temperature above the air's at the left end of the ramp. Gas that is colder gives off no "
               "light."),
      own(number("fire_temperature", "Fire temperature", 1500))
          .unit("K")
          .range(1, 100000)
          .usual(500, 4000)
          .keyed()
          .tip("The temperature above the air's at which the fire is as bright as said below, and at the "
               "right end of the ramp."),
      own(number("fire_brightness", "Brightness", 8))
          .unit("/unit")
          .range(0, 10000)
          .usual(0, 50)
          .keyed()
          .tip("How much light the hottest gas gives off on a unit of its path."),
      own(number("fire_light", "Light on smoke", 100))
          .unit("%")
          .range(0, 10000)
          .usual(0, 500)
          .keyed()
          .tip("How strongly the fire lights the smoke around it."),
  };
}

std::vector<ParamSpec> lookParams() {
  const auto own = [](ParamSpec spec) { return std::move(spec.in("Look").affects(Affects::Look)); };
  return {
      own(number("opacity", "Opacity", 6))
          .unit("/unit")
          .range(0, 10000)
          .usual(0, 20)
          .keyed()
          .tip(
              "How much light gas of full density stops on a unit of its path. At 1, a third comes through."),
      own(curve("opacity_ramp", "Opacity ramp", Curve({{0, 0}, {1, 1}})))
          .tip("The opacity over the density, from none to the full density."),
      own(number("full_density", "Full density", 1))
          .range(0.0001, 10000)
          .usual(0.1, 5)
          .keyed()
          .tip("The density at the right end of the opacity ramp, and of colours over density."),
      own(choice("color_by", "Colour by",
                 {{"density", "Density", "The ramp goes from thin gas to gas of full density."},
                  {"temperature", "Temperature", "The ramp goes from cold gas to gas of full temperature."},
                  {"age", "Age", "The ramp goes from gas that has just been given off to gas of full age."},
                  {"source", "Source",
                   "The gas has the colours that its sources give it, mixed as the gas mixes."}}))
          .simulatedToo()
          .tip("What the colour of the gas depends on. Ages are carried along by the simulation, which runs "
               "again when they are asked for."),
      own(gradient("color", "Colour", Gradient({{0, {0.78, 0.8, 0.83}}, {1, {0.78, 0.8, 0.83}}})))
          .when("color_by", {"density", "temperature", "age"})
          .tip("The colour of the gas."),
      own(number("full_temperature", "Full temperature", 300))
          .unit("K")
          .range(0.001, 1e5)
          .usual(1, 2000)
          .keyed()
          .when("color_by", {"temperature"})
          .tip("The temperature above the air's at the right end of the colour ramp."),
      own(number("full_age", "Full age", 2))
          .unit("s")
          .range(0.001, 1e5)
          .usual(0.1, 10)
          .keyed()
          .when("color_by", {"age"})
          .tip("The time since it was given off at the right end of the colour ramp, and of an age of 1 in "
               "the age sheet of a bake."),
      own(number("self_shadow", "Self-shadow", 100))
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("How dark the gas gets behind gas that is nearer to the light."),
      own(integer("scatterings", "Scatterings", 3))
          .range(1, 8)
          .usual(1, 8)
          .tip("How many times light is followed that goes from gas to gas. More make dense gas brighter "
               "inside."),
      own(number("anisotropy", "Anisotropy", 0))
          .unit("%")
          .range(-95, 95)
          .usual(-95, 95)
          .keyed()
          .tip("Where gas sends light on: ahead above 0, so that it shines against the light; back below 0."),
  };
}

double coarseness(const Item& gas) {
  static constexpr std::array<std::string_view, 4> kNames{"full", "half", "third", "quarter"};
  for (std::size_t i = 0; i < kNames.size(); ++i)
    if (gas.chooses("preview_resolution", kNames[i])) return static_cast<double>(i + 1);
  return 1;
}

}  // namespace

const KindSpec& gasKind() {
  static const KindSpec kind(
      "gas", "Gas", ItemFamily::Gas, "Smoke, steam or fog in a box of voxels, given off by its sources.", [] {
        std::vector<ParamSpec> params;
        for (auto&& part : {boxParams(), motionParams(), burningParams(), lookParams(), fireLookParams()})
          params.insert(params.end(), part.begin(), part.end());
        return params;
      }());
  return kind;
}

bool isFlat(const Item& gas) { return gas.chooses("dimensions", "2d"); }

bool burns(const Item& gas) { return gas.chooses("burning", "on"); }

GasGrid gasGridOf(const Item& gas) {
  const Vec3d size = gas.vector("size", 0);
  const int axes = isFlat(gas) ? 2 : 3;
  GasGrid grid;
  grid.voxel = std::max({size.x, size.y, axes == 3 ? size.z : 0.0}) / gas.number("resolution", 0);
  Vec3d whole;
  for (int axis = 0; axis < 3; ++axis) {
    const double count = axis < axes ? std::max(1.0, std::round(size[axis] / grid.voxel)) : 1.0;
    grid.counts[static_cast<std::size_t>(axis)] = static_cast<std::size_t>(count);
    whole[axis] = count * grid.voxel;
  }
  grid.corner = gas.vector("position", 0) - 0.5 * whole;
  const auto isOpen = [&gas](const char* walls) { return gas.chooses(walls, "open"); };
  const bool opensInDepth = axes == 3 && isOpen("front_back_walls");
  grid.open = {{{isOpen("side_walls"), isOpen("side_walls")},
                {isOpen("floor"), isOpen("ceiling")},
                {opensInDepth, opensInDepth}}};
  return grid;
}

GasMotion gasMotionOf(const Item& gas, const FrameTime& time) {
  const double frame = time.middleFrame();
  GasMotion motion;
  motion.turbulence.strength = static_cast<float>(gas.number("turbulence", frame));
  if (motion.turbulence.strength != 0) {
    motion.turbulence.scale = static_cast<float>(gas.number("turbulence_scale", frame));
    motion.turbulence.octaves = 2;
    motion.turbulence.turns = gas.number("turbulence_rate", frame) * (time.start + 0.5 * time.length);
    motion.turbulence.seed =
        static_cast<std::uint32_t>(mixBits(static_cast<std::uint64_t>(gas.number("turbulence_seed", 0))));
  }
  motion.buoyancy = gas.number("buoyancy", frame) / 100;
  motion.weight = gas.number("weight", frame);
  motion.vorticity = gas.number("vorticity", frame);
  motion.dissipation = gas.number("dissipation", frame);
  motion.cooling = gas.number("cooling", frame);
  if (burns(gas))
    motion.combustion = {.ignition = gas.number("ignition", frame),
                         .rate = gas.number("burn_rate", frame),
                         .heat = gas.number("burn_heat", frame),
                         .smoke = gas.number("burn_smoke", frame),
                         .expansion = gas.number("burn_expansion", frame),
                         .glowing = gas.number("flame_temperature", frame),
                         .radiation = gas.number("flame_cooling", frame)};
  return motion;
}

DetailSwirls detailSwirlsOf(const Item& gas, const FrameTime& time) {
  const double frame = time.middleFrame();
  return {.strength = gas.number("detail_turbulence", frame) / 100,
          .seconds = (time.start + 0.5 * time.length) * gas.number("time_scale", frame) / 100,
          .seed = static_cast<std::uint32_t>(gas.id)};
}

GasExtras gasExtrasOf(const Scene& scene, const Item& gas) {
  GasExtras extras;
  extras.age = gas.chooses("color_by", "age");
  extras.fuel = burns(gas);
  extras.detail = gas.chooses("detail", "none") ? 1 : std::stoi(gas.choice("detail"));
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Source))
    extras.color |=
        item->enabled && item->reference("gas") == gas.id && !item->chooses("gives_color", "none");
  return extras;
}

std::size_t gasMemory(const GasGrid& grid, const GasExtras& extras) {
  // Measured at 128³: five channels, some of them several times over while they are carried, solids, the
  // levels of the pressure.
  constexpr std::size_t kBytesAVoxel = 180, kBytesOfAnExtra = 22, kBytesAFinerVoxel = 110;
  const std::size_t own = grid.cells().size() * (kBytesAVoxel + kBytesOfAnExtra * extras.channels());
  if (extras.detail == 1) return own;
  return own + finerGrid(grid, extras.detail).cells().size() *
                   (kBytesAFinerVoxel + kBytesOfAnExtra * extras.channels());
}

std::size_t gasFrameMemory(const GasGrid& grid, const GasExtras& extras) {
  constexpr std::size_t kChannels = 5;
  std::size_t numbers = grid.cells().size() * (kChannels + extras.channels());
  if (extras.detail > 1)
    numbers += finerGrid(grid, extras.detail).cells().size() * (kChannels - 3 + extras.channels());
  return numbers * sizeof(std::uint16_t);
}

int largestResolution(const Item& gas, const GasExtras& extras, std::size_t bytes) {
  const std::size_t now = gasMemory(gasGridOf(gas), extras);
  const double by =
      std::pow(static_cast<double>(bytes) / static_cast<double>(now), isFlat(gas) ? 0.5 : 1.0 / 3);
  return std::max(4, static_cast<int>(gas.number("resolution", 0) * std::min(1.0, by)));
}

Scene atPreviewResolution(const Scene& scene) {
  Scene coarse = scene;
  for (const Scene::ItemPtr& gas : scene.itemsOf(ItemFamily::Gas)) {
    if (!gas->chooses("detail", "none")) {
      ParamValue none = gas->value("detail");
      none.base = std::string("none");
      coarse = coarse.withParam(gas->id, "detail", none);
    }
    const double times = coarseness(*gas);
    if (times == 1) continue;
    const double voxels = std::max(4.0, std::round(gas->number("resolution", 0) / times));
    ParamValue resolution = gas->value("resolution");
    resolution.base = voxels;
    coarse = coarse.withParam(gas->id, "resolution", resolution);
  }
  return coarse;
}

}  // namespace comet
