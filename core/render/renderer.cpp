#include "render/renderer.h"

#include "base/parallel.h"
#include "render/look.h"

namespace comet {
namespace {

// Sprites made by one task. The order in which sprites are drawn does not depend on it.
constexpr std::size_t kSpanSize = 4096;

// A run of particles of one group that one task turns into sprites.
struct Span {
  const Look* look;
  std::uint32_t profile;
  const ParticleStore* particles;
  std::size_t first, count;
  std::size_t target;
};

}  // namespace

Picture Renderer::draw(const Scene& scene, const ParticleFrame& frame, const Camera& camera,
                       PictureSize size) {
  std::vector<Look> looks;
  std::vector<const ParticleStore*> stores;
  for (const ParticleGroup& group : frame.groups) {
    const Scene::ItemPtr emitter = scene.find(group.emitter);
    if (!emitter || emitter->kind->family() != ItemFamily::Emitter || !emitter->enabled) continue;
    looks.emplace_back(*emitter, frame.frame);
    stores.push_back(&group.particles);
  }
  std::vector<SpriteProfile> profiles;
  std::vector<Span> spans;
  std::size_t total = 0;
  for (std::size_t g = 0; g < looks.size(); ++g) {
    profiles.push_back(looks[g].profile());
    for (std::size_t first = 0; first < stores[g]->size(); first += kSpanSize) {
      const std::size_t count = std::min(kSpanSize, stores[g]->size() - first);
      spans.push_back({&looks[g], static_cast<std::uint32_t>(g), stores[g], first, count, total});
      total += count;
    }
  }
  if (sprites_.size() < total) sprites_.resize(total);

  const Projector projector(camera, size.width, size.height);
  std::vector<SpriteSpan> made(spans.size());
  parallelFor(spans.size(), [&](std::size_t s) {
    const Span& span = spans[s];
    Sprite* out = sprites_.data() + span.target;
    made[s] = {out, makeSprites(*span.look, span.profile, *span.particles, span.first, span.count, projector,
                                size.width, size.height, out)};
  });
  Picture picture(size.width, size.height);
  rasteriser_.draw(made, profiles, picture);
  return picture;
}

Picture Renderer::drawSupersampled(const Scene& scene, const ParticleFrame& frame, const Camera& camera,
                                   PictureSize size, int factor) {
  Picture picture(size.width, size.height);
  drawSupersampledInto(picture, 0, 0, scene, frame, camera, size, factor);
  return picture;
}

void Renderer::drawSupersampledInto(Picture& target, int x, int y, const Scene& scene,
                                    const ParticleFrame& frame, const Camera& camera, PictureSize size,
                                    int factor) {
  target.pasteReduced(draw(scene, frame, camera, {size.width * factor, size.height * factor}), factor, x, y);
}

}  // namespace comet
