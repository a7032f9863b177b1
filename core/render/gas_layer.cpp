#include "render/gas_layer.h"

#include "base/black_body.h"
#include "gas/advect.h"
#include "simulation/gas/gas_kind.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>
#include <glm/vector_relational.hpp>
#include <limits>
#include <utility>

namespace comet {
namespace {

constexpr int kWidestSpacing = 8;  // of rays, in pixels
// How far rays may lie apart at most, in voxels; what is between them is mixed. What paints say of a gas
// changes no faster than from voxel to voxel, unlike its light, which has the steep colours of fire.
constexpr double kRays = 0.25, kRaysOfPaint = 0.5, kRaysOfViewport = 0.7;
// Between four rays no others are marched if they differ by no more than this fraction of the brightest light
// and that much light, or let through the same to within the fraction: what is mixed there is off by about a
// quarter of it at the most, which is less than a step of 8 bits.
constexpr float kEvenFraction = 1.0F / 64, kEvenLight = 1.0F / 512;
constexpr double kEndless = 1e12;
// Of the air around, and from which nothing is so cold that its glow is not seen; kelvin.
constexpr double kAir = 293, kFirstGlow = 750;

GasColorBy colorByOf(const Item& gas) {
  static constexpr std::array<std::string_view, 4> kNames{"density", "temperature", "source", "age"};
  return gas.choiceAs<GasColorBy>("color_by", kNames);
}

// What gas gives off by itself, by its temperature.
void setFire(const Item& gas, double frame, double depths, GasLook& look) {
  if (gas.chooses("fire_color", "none")) return;
  const double full = gas.number("fire_temperature", frame);
  const double brightness = gas.number("fire_brightness", frame) * depths;
  look.fireOnGas = static_cast<float>(gas.number("fire_light", frame) / (100 * depths));
  if (gas.chooses("fire_color", "ramp")) {
    const Gradient& ramp = std::get<Gradient>(gas.value("fire_ramp").base);
    // A ramp that begins beyond its end is a step there.
    const double from = std::min(gas.number("fire_from", frame), 0.98 * full);
    look.glowsFrom = static_cast<float>(from);
    look.fire = LookTable<Vec3>(static_cast<float>(full), [&](float temperature) {
      const double above = static_cast<double>(temperature) - from;
      return above > 0 ? Vec3(brightness * Vec3d(ramp.at(above / (full - from)))) : Vec3(0.0F);
    });
    return;
  }
  const Vec3d brightest = blackBodyColor(kAir + full);
  const double whole = brightness / std::max({brightest.x, brightest.y, brightest.z});
  look.glowsFrom = static_cast<float>(kFirstGlow - kAir);
  look.fire = LookTable<Vec3>(static_cast<float>(full), [&](float temperature) {
    const double kelvin = kAir + static_cast<double>(temperature);
    return kelvin > kFirstGlow ? Vec3(whole * blackBodyColor(kelvin)) : Vec3(0.0F);
  });
}

std::array<Vec3d, 8> cornersOf(const GasGrid& grid) {
  std::array<Vec3d, 8> corners;
  for (unsigned i = 0; i < 8; ++i)
    corners[i] = grid.corner + grid.size() * Vec3d(i & 1U, i >> 1U & 1U, i >> 2U);
  return corners;
}

// What lies behind `front` is seen through it.
GasSlab inFrontOf(const GasSlab& back, const GasSlab& front) {
  return {front.light + front.transmittance * back.light, front.transmittance * back.transmittance};
}

GasSlab lerp(const GasSlab& a, const GasSlab& b, float t) {
  return {a.light + (b.light - a.light) * t, a.transmittance + (b.transmittance - a.transmittance) * t};
}

}  // namespace

double GasPlace::value(GasChannel GasState::*channel) const {
  return valueAt(grid_, state_.*channel, position_);
}

std::optional<double> GasPlace::age() const {
  if (!state_.hasAge()) return std::nullopt;
  const double density = value(&GasState::density);
  return density > 0 ? std::clamp(value(&GasState::age) / (density * fullAge_), 0.0, 1.0) : 0;
}

Vec3d GasPlace::normal() const {
  Vec3d slope;
  for (int axis = 0; axis < 3; ++axis) {
    Vec3d step(0.0);
    step[axis] = grid_.voxel;
    slope[axis] =
        valueAt(grid_, state_.density, position_ - step) - valueAt(grid_, state_.density, position_ + step);
  }
  return unitOr(slope, Vec3d(0.0));
}

GasLook gasLookOf(const Item& gas, double frame, const GasGrid& grid) {
  GasLook look;
  // Flat gas is seen as if it filled its depth, whatever the size of its voxels.
  const double depths = isFlat(gas) ? gas.vector("size", frame).z / grid.voxel : 1;
  const auto opacity = static_cast<float>(gas.number("opacity", frame) * depths);
  const auto full = static_cast<float>(gas.number("full_density", frame));
  const Curve& ramp = std::get<Curve>(gas.value("opacity_ramp").base);
  look.extinction = LookTable<float>(full, [&](float density) {
    return opacity * static_cast<float>(std::max(0.0, ramp.at(static_cast<double>(density / full))));
  });
  look.colorBy = colorByOf(gas);
  look.fullAge = static_cast<float>(gas.number("full_age", frame));
  const float range = look.colorBy == GasColorBy::Temperature
                          ? static_cast<float>(gas.number("full_temperature", frame))
                      : look.colorBy == GasColorBy::Age ? look.fullAge
                                                        : full;
  const Gradient& color = std::get<Gradient>(gas.value("color").base);
  look.color =
      LookTable<Vec3>(range, [&](float by) { return Vec3(color.at(static_cast<double>(by / range))); });
  look.anisotropy = static_cast<float>(gas.number("anisotropy", frame) / 100);
  look.shadow = static_cast<float>(gas.number("self_shadow", frame) / (100 * depths));
  look.scatterings = gas.integer("scatterings", frame);
  setFire(gas, frame, depths, look);
  return look;
}

// One gas, with all that its march refers to.
struct GasLayer::Prepared {
  ItemId id;
  GasGrid grid, flowGrid;
  GasState state;  // its velocity by the time of the scene, across the faces of `flowGrid`
  FlowBetweenFaces flow;
  GasLook look;
  std::unique_ptr<const GasMarch> march;
  Depths depths;

  Prepared(const Item& gas, const PackedGas& content, double frame, const SceneLights& lights)
      : id(gas.id),
        grid(content.finest().grid()),
        flowGrid(content.grid()),
        state(content.finest().inScene()),
        flow(flowGrid, state.velocity),
        look(gasLookOf(gas, frame, grid)) {
    if (content.detail()) state.velocity = content.velocity();
    look.ambient = Vec3(lights.around);
    march = std::make_unique<const GasMarch>(grid, state, look, lights.lights);
  }
};

GasLayer::GasLayer() = default;
GasLayer::~GasLayer() = default;
GasLayer::GasLayer(GasLayer&&) noexcept = default;
GasLayer& GasLayer::operator=(GasLayer&&) noexcept = default;

GasLayer::GasLayer(const Shot& shot, const SceneLights& lights, const Projector& projector,
                   const Progress& progress)
    : projector_(&projector),
      forward_(shot.camera.frame().forward),
      raysApart_(shot.purpose == RenderPurpose::Viewport ? kRaysOfViewport : kRays) {
  depths_ = {std::numeric_limits<double>::infinity(), 0};
  std::vector<std::unique_ptr<Prepared>> found;
  for (const HeldGas& held : shot.frame.gases->gases) {
    progress.stopIfCancelled();
    const Scene::ItemPtr gas = shot.scene.find(held.gas);
    const bool isLeftOut =
        std::find(shot.leftOut.begin(), shot.leftOut.end(), held.gas) != shot.leftOut.end();
    if (!gas || gas->kind->family() != ItemFamily::Gas || !gas->enabled || isLeftOut) continue;
    if (held.content->finest().isClear()) continue;
    auto prepared = std::make_unique<Prepared>(*gas, *held.content, shot.frame.number, lights);
    prepared->depths = {std::numeric_limits<double>::infinity(), 0};
    for (const Vec3d& corner : cornersOf(prepared->grid)) {
      const double depth = projector.project(corner).depth;
      prepared->depths.near = std::min(prepared->depths.near, depth);
      prepared->depths.far = std::max(prepared->depths.far, depth);
    }
    depths_.near = std::min(depths_.near, prepared->depths.near);
    depths_.far = std::max(depths_.far, prepared->depths.far);
    found.push_back(std::move(prepared));
  }
  std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) {
    return a->depths.near + a->depths.far > b->depths.near + b->depths.far;
  });
  gases_.insert(gases_.end(), std::make_move_iterator(found.begin()), std::make_move_iterator(found.end()));
}

// A power of two, so that tiles share them.
int GasLayer::raySpacing(const GasPass& pass) const {
  const double raysApart = pass.paint ? std::max(raysApart_, kRaysOfPaint) : raysApart_;
  double pixels = kWidestSpacing;
  for (const auto& gas : gases_) {
    const double perUnit = projector_->isPerspective()
                               ? projector_->scale() / std::max(gas->depths.far, gas->grid.voxel)
                               : projector_->scale();
    pixels = std::min(pixels, raysApart * gas->grid.voxel * perUnit);
  }
  constexpr double kRounding = 1e-6;
  int spacing = 1;
  while (2 * spacing <= pixels + kRounding) spacing *= 2;
  return spacing;
}

void GasLayer::march(double x, double y, const std::vector<double>& cuts, const GasPass& pass,
                     double farthest, RayRoom& room, GasSlab* slabs) const {
  const std::size_t count = cuts.size() - 1;
  Vec3d from, direction;
  projector_->ray(x, y, from, direction);
  const double perUnit = glm::dot(direction, forward_);  // of depth along the ray
  // The outermost pieces take all that is beyond them.
  std::vector<double>& distances = room.distances;
  distances.resize(cuts.size());
  for (std::size_t i = 0; i <= count; ++i) distances[i] = cuts[i] / perUnit;
  distances.front() = 0;
  distances.back() = kEndless;
  const ClipPlane::Span drawn = drawnAlong(projector_->clip(), from, direction);
  const double end = std::max(drawn.begin, std::min({farthest / perUnit, drawn.end, kEndless}));
  for (double& distance : distances) distance = std::clamp(distance, drawn.begin, end);
  std::fill_n(slabs, count, GasSlab());
  room.own.resize(count);
  for (const auto& gas : gases_) {
    if (pass.paint) {
      gas->march->between(
          from, direction, distances,
          [&](const GasPoint& point) {
            const Vec3d position = gas->march->placeOf(point.at);
            const GasPlace place(gas->id, gas->grid, gas->flow, gas->state, position,
                                 static_cast<double>(gas->look.fullAge));
            const auto value = pass.paint->ofGas(place, *projector_);
            const Vec3 painted = value ? Vec3(Vec3d(*value, 1)) : Vec3(0.0F);
            return GasSent{painted, glowWeight(point.glow) * painted};
          },
          room.own.data());
    } else {
      const GasPhases phases = gas->march->phasesAlong(direction);
      gas->march->between(
          from, direction, distances,
          [&](const GasPoint& point) {
            return GasSent{pass.scatters ? gas->march->scattered(point, phases) : Vec3(0.0F),
                           pass.glows ? point.glow : Vec3(0.0F)};
          },
          room.own.data());
    }
    for (std::size_t i = 0; i < count; ++i) slabs[i] = inFrontOf(slabs[i], room.own[i]);
  }
}

void GasLayer::pieces(const Part& part, const std::vector<double>& cuts, const GasPass& pass,
                      const float* hides, std::vector<GasSlab>& result) const {
  const std::size_t count = cuts.size() - 1;
  const auto pixels = static_cast<std::size_t>(part.width) * static_cast<std::size_t>(part.height);
  result.resize(pixels * count);
  RayRoom room;
  mixRays(part, cuts, pass, room, result);
  if (!hides) return;
  for (int y = 0; y < part.height; ++y)
    for (int x = 0; x < part.width; ++x) {
      const std::size_t pixel = static_cast<std::size_t>(y) * part.width + static_cast<std::size_t>(x);
      const auto farthest = static_cast<double>(hides[pixel]);
      // What hides nothing of the gas is as if it were not there.
      if (farthest >= depths_.far) continue;
      march(part.left + x + 0.5, part.top + y + 0.5, cuts, pass, farthest, room,
            result.data() + pixel * count);
    }
}

void GasLayer::marchField(const Part& part, const std::vector<double>& cuts, const GasPass& pass,
                          RayRoom& room, RayField& field) const {
  const auto march = [&](int i, int j) {
    if (field.isMarched[field.index(i, j)]) return;
    field.isMarched[field.index(i, j)] = true;
    this->march(part.left + i * field.spacing + 0.5, part.top + j * field.spacing + 0.5, cuts, pass, kEndless,
                room, field.at(i, j));
  };
  // What paints say of a gas has no common scale to tell by whether it differs.
  const int step = pass.paint ? 1 : 2;
  for (int j = 0; j < field.down; j += step)
    for (int i = 0; i < field.across; i += step) march(i, j);
  if (pass.paint) return;
  for (int j = 0; j + 2 < field.down; j += 2)
    for (int i = 0; i + 2 < field.across; i += 2) {
      if (field.isEven(i, j)) continue;
      for (const auto& [right, below] : {std::pair(1, 0), {0, 1}, {1, 1}, {2, 1}, {1, 2}})
        march(i + right, j + below);
    }
  field.fillGaps();
}

bool GasLayer::RayField::isEven(int i, int j) const {
  for (std::size_t piece = 0; piece < pieces; ++piece) {
    const GasSlab& first = at(i, j)[piece];
    Vec3 least = first.light, most = first.light;
    float thinnest = first.transmittance, densest = first.transmittance;
    for (const auto& [right, below] : {std::pair(2, 0), {0, 2}, {2, 2}}) {
      const GasSlab& other = at(i + right, j + below)[piece];
      least = glm::min(least, other.light);
      most = glm::max(most, other.light);
      thinnest = std::max(thinnest, other.transmittance);
      densest = std::min(densest, other.transmittance);
    }
    const Vec3 allowed = kEvenFraction * most + Vec3(kEvenLight);
    if (glm::any(glm::greaterThan(most - least, allowed)) || thinnest - densest > kEvenFraction) return false;
  }
  return true;
}

void GasLayer::RayField::fillGaps() {
  const auto fill = [this](int i, int j, int stepRight, int stepDown) {
    if (isMarched[index(i, j)]) return;
    for (std::size_t piece = 0; piece < pieces; ++piece)
      at(i, j)[piece] =
          lerp(at(i - stepRight, j - stepDown)[piece], at(i + stepRight, j + stepDown)[piece], 0.5F);
  };
  for (int j = 0; j < down; j += 2)
    for (int i = 1; i < across; i += 2) fill(i, j, 1, 0);
  for (int j = 1; j < down; j += 2)
    for (int i = 0; i < across; ++i) fill(i, j, 0, 1);
}

void GasLayer::mixRays(const Part& part, const std::vector<double>& cuts, const GasPass& pass, RayRoom& room,
                       std::vector<GasSlab>& result) const {
  const std::size_t count = cuts.size() - 1;
  const int spacing = raySpacing(pass);
  RayField field(part.width, part.height, spacing, count);
  marchField(part, cuts, pass, room, field);
  for (int y = 0; y < part.height; ++y)
    for (int x = 0; x < part.width; ++x) {
      const float right = static_cast<float>(x % spacing) / static_cast<float>(spacing);
      const float below = static_cast<float>(y % spacing) / static_cast<float>(spacing);
      const GasSlab *a = field.at(x / spacing, y / spacing), *c = field.at(x / spacing, y / spacing + 1);
      GasSlab* out =
          result.data() + (static_cast<std::size_t>(y) * part.width + static_cast<std::size_t>(x)) * count;
      for (std::size_t i = 0; i < count; ++i)
        out[i] = lerp(lerp(a[i], a[count + i], right), lerp(c[i], c[count + i], right), below);
    }
}

}  // namespace comet
