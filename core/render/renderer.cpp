#include "render/renderer.h"

#include "base/error.h"
#include "base/parallel.h"

#include <algorithm>

namespace comet {
namespace {

// Sprites made by one task. The order in which sprites are drawn does not depend on it.
constexpr std::size_t kSpanSize = 4096;

// Sprites and faces of meshes that are kept for one picture: about a gigabyte.
constexpr std::size_t kMostSprites = 8000000;

const ParticleStore kNoParticles;

// A run of particles of one group that one task turns into sprites.
struct Span {
  std::size_t group;
  std::size_t first, count;
  std::size_t target, targetFace;
};

SpriteOptions::Order orderOf(const Scene& scene) {
  const std::string& order = scene.settings().choice("draw_order");
  return order == "oldest"     ? SpriteOptions::Order::Oldest
         : order == "youngest" ? SpriteOptions::Order::Youngest
                               : SpriteOptions::Order::Depth;
}

void addScaled(const Picture& source, float weight, Picture& target) {
  parallelFor(static_cast<std::size_t>(target.height()), [&](std::size_t y) {
    const Vec4* in = source.row(static_cast<int>(y));
    Vec4* out = target.row(static_cast<int>(y));
    for (int x = 0; x < target.width(); ++x) out[x] += in[x] * weight;
  });
}

// The emitter's surface, if it has one. In the viewport, one that takes too much memory is not drawn: the
// inspector says so.
void addSurface(const Scene& scene, const Item& emitter, const ParticleFrame& frame, const Past& past,
                const Look& look, Beholder beholder, EmitterSurfaces& surfaces, std::vector<Solid>& solids) {
  if (!hasSurface(emitter)) return;
  try {
    auto mesh = surfaces.of(scene, emitter, frame, past, look);
    if (!mesh->triangles.empty()) solids.push_back(surfaceSolid(emitter, frame.frame, std::move(mesh)));
  } catch (const Error&) {
    if (beholder == Beholder::Bake) throw;
  }
}

}  // namespace

SpriteOptions Renderer::optionsOf(const Pass& pass, const SpriteProfile& profile) const {
  SpriteOptions options;
  options.asGlow = pass.asGlow;
  options.paint = pass.paint;
  options.isLight = isLightOnly(profile.blend);
  options.order = order_;
  return options;
}

void Renderer::drawMoment(const Projector& projector, double later, const Pass& pass, Picture& picture) {
  leftOut_ = 0;
  std::vector<SpriteProfile> profiles;
  std::vector<Span> spans;
  std::size_t total = 0, faces = 0;
  bool anyTurned = false, anyMesh = false;
  for (std::size_t g = 0; g < looks_.size(); ++g) {
    profiles.push_back(pass.paint ? paintProfile(looks_[g].profile()) : looks_[g].profile());
    anyTurned = anyTurned || profiles.back().turned;
    // One that is not chosen yet has no faces.
    anyMesh = anyMesh || profiles.back().type == SpriteProfile::Type::Mesh;
    const std::size_t each = looks_[g].facesPerParticle();
    const std::size_t step = std::max<std::size_t>(1, kSpanSize / (1 + each));
    for (std::size_t first = 0; first < stores_[g]->size(); first += step) {
      const std::size_t count = std::min(step, stores_[g]->size() - first);
      if (total + faces + count * (1 + each) > kMostSprites) {
        leftOut_ += stores_[g]->size() - first;
        break;
      }
      spans.push_back({g, first, count, total, faces});
      total += count;
      faces += count * each;
    }
  }
  if (sprites_.size() < total) sprites_.resize(total);
  if (anyTurned && turns_.size() < total) turns_.resize(total);
  if (anyMesh && meshes_.size() < total) meshes_.resize(total);
  if (faces_.size() < faces) faces_.resize(faces);

  std::vector<SpriteSpan> made(spans.size());
  parallelFor(spans.size(), [&](std::size_t s) {
    const Span& span = spans[s];
    SpriteOptions options = optionsOf(pass, profiles[span.group]);
    options.profile = static_cast<std::uint32_t>(span.group);
    options.firstTurn = static_cast<std::uint32_t>(span.target);
    options.later = later;
    options.firstFace = static_cast<std::uint32_t>(span.targetFace);
    const SpriteRoom room{sprites_.data() + span.target, anyTurned ? turns_.data() + span.target : nullptr,
                          anyMesh ? meshes_.data() + span.target : nullptr, faces_.data() + span.targetFace};
    made[s] = {room.sprites, makeSprites(looks_[span.group], options, *stores_[span.group], span.first,
                                         span.count, projector, picture.width(), picture.height(), room)};
  });
  makeRibbons(projector, pass, static_cast<std::uint32_t>(profiles.size()), picture, made);
  for (const LineGroup& group : lines_)
    profiles.push_back(pass.paint ? paintProfile(group.profile) : group.profile);
  rasteriser_.draw(made, {profiles, turns_.data(), pieces_.data(), meshes_.data(), faces_.data()}, picture,
                   solids_, !pass.asGlow && !pass.paint, progress_);
}

void Renderer::makeRibbons(const Projector& projector, const Pass& pass, std::uint32_t profile,
                           const Picture& picture, std::vector<SpriteSpan>& made) {
  constexpr std::size_t kLinesATask = 128;
  struct LineSpan {
    std::size_t group, first, count;
  };
  std::vector<LineSpan> spans;
  for (std::size_t g = 0; g < lines_.size(); ++g)
    for (std::size_t first = 0; first < lines_[g].lines->count(); first += kLinesATask)
      spans.push_back({g, first, std::min(kLinesATask, lines_[g].lines->count() - first)});
  if (ribbons_.size() < spans.size()) ribbons_.resize(spans.size());
  parallelFor(spans.size(), [&](std::size_t s) {
    const LineSpan& span = spans[s];
    SpriteOptions options = optionsOf(pass, lines_[span.group].profile);
    options.profile = profile + static_cast<std::uint32_t>(span.group);
    ribbons_[s].clear();
    addRibbons(*lines_[span.group].lines, span.first, span.count, options, projector, picture.width(),
               picture.height(), lines_[span.group].pictureLength, ribbons_[s]);
  });
  // One list of pieces for all; each span's sprites count from where its own begin there.
  std::vector<std::size_t> starts(1, 0);
  for (std::size_t s = 0; s < spans.size(); ++s) starts.push_back(starts.back() + ribbons_[s].pieces.size());
  if (pieces_.size() < starts.back()) pieces_.resize(starts.back());
  parallelFor(spans.size(), [&](std::size_t s) {
    std::copy(ribbons_[s].pieces.begin(), ribbons_[s].pieces.end(),
              pieces_.begin() + static_cast<std::ptrdiff_t>(starts[s]));
    for (Sprite& sprite : ribbons_[s].sprites) sprite.turn += static_cast<std::uint32_t>(starts[s]);
  });
  for (std::size_t s = 0; s < spans.size(); ++s)
    made.push_back({ribbons_[s].sprites.data(), ribbons_[s].sprites.size()});
}

std::size_t pictureMemory(PictureSize size, const Finish& finish) {
  // The picture itself, and what is made of it on the way: once more for straight alpha, thrice for the
  // finest part of the glow.
  const std::size_t copies = finish.glows && finish.glowStrength > 0 ? 4 : 3;
  return (copies * sizeof(Vec4) + sizeof(Vec4) / 2) * static_cast<std::size_t>(size.width) *
         static_cast<std::size_t>(size.height);
}

const Progress& Renderer::stopping() const {
  static const Progress kNever;
  return progress_ ? *progress_ : kNever;
}

Picture Renderer::average(const Projector& projector, PictureSize size, int factor, const Finish& finish,
                          double frameSeconds, const Pass& pass) {
  const int width = size.width * factor, height = size.height * factor;
  // Every pixel is drawn.
  Picture picture = Picture::unset(size.width, size.height);
  if (factor > 1 && (large_.width() != width || large_.height() != height))
    large_ = Picture::unset(width, height);
  Picture& large = factor > 1 ? large_ : picture;
  const int moments = finish.blursMotion() ? finish.shutterSamples : 1;
  if (moments == 1) {
    drawMoment(projector, 0, pass, large);
  } else {
    const double open = finish.shutter * frameSeconds;
    Picture moment = Picture::unset(width, height);
    large = changed(std::move(large), [](const Vec4&) { return Vec4(0.0F); });
    for (int i = 0; i < moments; ++i) {
      drawMoment(projector, open * ((i + 0.5) / moments - 0.5), pass, moment);
      addScaled(moment, 1.0F / static_cast<float>(moments), large);
    }
  }
  if (factor > 1) picture.pasteReduced(large, factor, 0, 0);
  return picture;
}

void Renderer::prepare(const Scene& scene, const ParticleFrame& frame, const Projector& projector, int width,
                       int height, Beholder beholder, const Past& past, bool withLinks) {
  lines_.clear();
  looks_.clear();
  stores_.clear();
  looks_.reserve(frame.groups.size());  // lines point to them
  order_ = orderOf(scene);
  std::vector<Solid> solids = solidsOf(scene, frame.frame, beholder);
  for (const ParticleGroup& group : frame.groups) {
    if (std::find(leftOutEmitters_.begin(), leftOutEmitters_.end(), group.emitter) != leftOutEmitters_.end())
      continue;
    const Scene::ItemPtr emitter = scene.find(group.emitter);
    if (!emitter || emitter->kind->family() != ItemFamily::Emitter || !emitter->enabled) continue;
    looks_.emplace_back(scene, *emitter, frame.frame, stamps_);
    const bool isAlone = isSurfaceAlone(*emitter);
    const bool hasTrails = Trails::hasAny(*emitter) && !isAlone;
    const bool hasSprites = !isAlone && !(hasTrails && emitter->flag("trail_alone"));
    stores_.push_back(hasSprites ? &group.particles : &kNoParticles);
    if (hasTrails)
      lines_.push_back({std::make_unique<const Trails>(scene, *emitter, frame, past, looks_.back()),
                        trailProfile(*emitter, frame.frame, stamps_),
                        emitter->number("trail_picture_length", frame.frame)});
    if (withLinks && Links::hasAny(*emitter) && !isAlone)
      lines_.push_back({std::make_unique<const Links>(scene, *emitter, frame, looks_.back(), stamps_),
                        linkProfile(*emitter), 0});
    addSurface(scene, *emitter, frame, past, looks_.back(), beholder, surfaces_, solids);
  }
  surfaces_.keepOnly(scene);
  solids_ = SolidLayer(solids, sceneLight(scene, frame.frame), projector, width, height);
}

bool Renderer::drawsGlowApart() const {
  return std::any_of(looks_.begin(), looks_.end(),
                     [](const Look& look) { return !look.hasConstantGlow() || look.constantGlow() != 1; });
}

Picture Renderer::drawSupersampled(const Scene& scene, const ParticleFrame& frame, const Camera& camera,
                                   PictureSize size, int factor, const Finish& finish, Beholder beholder,
                                   const Past& past) {
  const double frameSeconds = 1 / frameRate(scene);
  const Projector projector(camera, size.width * factor, size.height * factor);
  prepare(scene, frame, projector, size.width * factor, size.height * factor, beholder, past, true);
  Picture picture = average(projector, size, factor, finish, frameSeconds, {});
  const bool drawsGlow = finish.glows && drawsGlowApart();
  const Picture glow =
      drawsGlow ? average(projector, size, factor, finish, frameSeconds, {true, nullptr}) : Picture();
  applyFinish(finish, drawsGlow ? glow : picture, picture, stopping());
  return picture;
}

Picture Renderer::drawGlow(const Scene& scene, const ParticleFrame& frame, const Camera& camera,
                           PictureSize size, int factor, const Finish& finish, const Past& past) {
  const Projector projector(camera, size.width * factor, size.height * factor);
  prepare(scene, frame, projector, size.width * factor, size.height * factor, Beholder::Bake, past, true);
  return glowOf(finish,
                average(projector, size, factor, finish, 1 / frameRate(scene), {drawsGlowApart(), nullptr}),
                stopping());
}

Picture Renderer::paint(const SpritePaint& paint, const Scene& scene, const ParticleFrame& frame,
                        const Camera& camera, PictureSize size, int factor, const Past& past) {
  const Projector projector(camera, size.width * factor, size.height * factor);
  prepare(scene, frame, projector, size.width * factor, size.height * factor, Beholder::Bake, past, false);
  return average(projector, size, factor, {}, 0, {false, &paint});
}

Picture Renderer::draw(const Scene& scene, const ParticleFrame& frame, const Camera& camera, PictureSize size,
                       const Finish& finish, Beholder beholder, const Past& past) {
  return drawSupersampled(scene, frame, camera, size, 1, finish, beholder, past);
}

}  // namespace comet
