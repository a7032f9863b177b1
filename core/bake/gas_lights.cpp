#include "bake/gas_lights.h"

#include "gas/gas_march.h"
#include "render/gas_layer.h"

#include <algorithm>

namespace comet {
namespace {

// What gas sends of two lights; particles only hide it.
class TwoSidesPaint : public SpritePaint {
 public:
  TwoSidesPaint(const GasLights& gases, LitFrom first, LitFrom second)
      : gases_(gases), first_(first), second_(second) {}

  Vec2d of(const DrawnParticle&, const Sprite&, const Projector::Point&, const Projector&) const override {
    return Vec2d(0.0);
  }
  std::optional<Vec2d> ofGas(const GasPlace& place, const Projector& projector) const override {
    return gases_.at(first_, second_, place, projector);
  }

 private:
  const GasLights& gases_;
  LitFrom first_, second_;
};

// The fraction of what is seen that is gas.
class GasFractionPaint : public SpritePaint {
 public:
  Vec2d of(const DrawnParticle&, const Sprite&, const Projector::Point&, const Projector&) const override {
    return Vec2d(0.0);
  }
  std::optional<Vec2d> ofGas(const GasPlace&, const Projector&) const override { return Vec2d(1, 0); }
};

}  // namespace

// One gas, with all that its march refers to; its lights are in the order of LitFrom.
struct GasLights::LitGas {
  ItemId gas;
  GasGrid grid;
  GasState state;
  GasLook look;
  std::unique_ptr<const GasMarch> march;

  LitGas(const Item& item, const PackedGas& content, double frame, const std::vector<Light>& lights)
      : gas(item.id), grid(content.finest().grid()), look(gasLookOf(item, frame, grid)) {
    look.putOutFire();  // which shines whatever the light
    state.density = content.finest().density();
    march = std::make_unique<const GasMarch>(grid, state, look, lights);
  }
};

GasLights::GasLights(const Scene& scene, const SceneFrame& frame, const std::vector<ItemId>& leftOut,
                     const Camera& view, const Progress& progress) {
  const Camera::Frame axes = view.frame();
  const std::vector<Light> lights{{axes.right}, {-axes.right},  {axes.up},
                                  {-axes.up},   {axes.forward}, {-axes.forward}};
  for (const HeldGas& held : frame.gases->gases) {
    progress.stopIfCancelled();
    const bool isLeftOut = std::find(leftOut.begin(), leftOut.end(), held.gas) != leftOut.end();
    if (const Scene::ItemPtr gas = scene.find(held.gas); gas && !isLeftOut)
      gases_.push_back(std::make_unique<const LitGas>(*gas, *held.content, frame.number, lights));
  }
}

GasLights::~GasLights() = default;

Vec2d GasLights::at(LitFrom first, LitFrom second, const GasPlace& place, const Projector& projector) const {
  const auto found =
      std::find_if(gases_.begin(), gases_.end(), [&](const auto& each) { return each->gas == place.gas(); });
  if (found == gases_.end()) return Vec2d(0.0);
  const Projector::Point point = projector.project(place.position());
  Vec3d from, direction;
  projector.ray(point.x, point.y, from, direction);
  const auto sent = [&](LitFrom side) {
    return (*found)->march->sentOn(static_cast<std::size_t>(side), place.position(), direction);
  };
  return {sent(first), sent(second)};
}

void mixInGas(const GasLights& gases, const std::function<Picture(const SpritePaint&)>& painted,
              SixLights& lights) {
  const Picture fractions = painted(GasFractionPaint());
  const auto mixIn = [&](int component, LitFrom first, LitFrom second) {
    const Picture sent = painted(TwoSidesPaint(gases, first, second));
    for (int y = 0; y < sent.height(); ++y)
      for (int x = 0; x < sent.width(); ++x) {
        const float others = 1 - std::clamp(fractions.at(x, y).x, 0.0F, 1.0F);
        float& one = lights.rightTopBack.at(x, y)[component];
        float& other = lights.leftBottomFront.at(x, y)[component];
        one = one * others + sent.at(x, y).x;
        other = other * others + sent.at(x, y).y;
      }
  };
  mixIn(0, LitFrom::Right, LitFrom::Left);
  mixIn(1, LitFrom::Top, LitFrom::Bottom);
  mixIn(2, LitFrom::Back, LitFrom::Front);
}

}  // namespace comet
