#include "render/renderer.h"

#include "base/error.h"
#include "base/parallel.h"
#include "render/tube.h"

#include <algorithm>

namespace comet {
namespace {

// Sprites made by one task. The order in which sprites are drawn does not depend on it.
constexpr std::size_t kSpanSize = 4096;

// Sprites and faces of meshes that are kept for one picture: about a gigabyte.
constexpr std::size_t kMaxSprites = 8000000;

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
void addSurface(const Shot& shot, const Item& emitter, const Look& look, const Progress& progress,
                EmitterSurfaces& surfaces, std::vector<Solid>& solids) {
  if (!hasSurface(emitter)) return;
  try {
    auto mesh = surfaces.of(shot.scene, emitter, shot.frame, shot.past, look, progress);
    if (!mesh->triangles.empty()) solids.push_back(surfaceSolid(emitter, shot.frame.number, std::move(mesh)));
  } catch (const Error& error) {
    if (shot.purpose == RenderPurpose::Bake || error.kind() == ErrorKind::Cancelled) throw;
  }
}

}  // namespace

SpriteOptions Renderer::optionsOf(const Pass& pass, const SpriteProfile& profile) const {
  SpriteOptions options;
  options.light = pass.light;
  options.paint = pass.paint;
  options.isLight = isLightOnly(profile.blend);
  options.order = order_;
  return options;
}

void Renderer::drawMoment(double later, const Pass& pass, const Progress& progress, Picture& picture) {
  leftOut_ = 0;
  std::vector<SpriteProfile> profiles;
  std::vector<Span> spans;
  std::size_t total = 0, faces = 0;
  bool anyTurned = false, anyMesh = false, anyPictures = false;
  for (std::size_t g = 0; g < looks_.size(); ++g) {
    profiles.push_back(pass.paint ? paintProfile(looks_[g].profile()) : looks_[g].profile());
    anyTurned = anyTurned || profiles.back().turned;
    // One that is not chosen yet has no faces.
    anyMesh = anyMesh || profiles.back().type == SpriteProfile::Type::Mesh;
    anyPictures = anyPictures || profiles.back().hasPictures;
    const std::size_t each = looks_[g].facesPerParticle();
    const std::size_t step = std::max<std::size_t>(1, kSpanSize / (1 + each));
    for (std::size_t first = 0; first < stores_[g]->size(); first += step) {
      const std::size_t count = std::min(step, stores_[g]->size() - first);
      if (total + faces + count * (1 + each) > kMaxSprites) {
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
  if (anyPictures && pictures_.size() < faces) pictures_.resize(faces);

  std::vector<SpriteSpan> made(spans.size());
  parallelFor(spans.size(), [&](std::size_t s) {
    const Span& span = spans[s];
    SpriteOptions options = optionsOf(pass, profiles[span.group]);
    options.profile = static_cast<std::uint32_t>(span.group);
    options.firstTurn = static_cast<std::uint32_t>(span.target);
    options.later = later;
    options.firstFace = static_cast<std::uint32_t>(span.targetFace);
    const SpriteRoom room{sprites_.data() + span.target, anyTurned ? turns_.data() + span.target : nullptr,
                          anyMesh ? meshes_.data() + span.target : nullptr, faces_.data() + span.targetFace,
                          anyPictures ? pictures_.data() + span.targetFace : nullptr};
    made[s] = {room.sprites,
               makeSprites(looks_[span.group], lights_, options, *stores_[span.group], span.first, span.count,
                           *projector_, picture.width(), picture.height(), room)};
  });
  makeRibbons(pass, static_cast<std::uint32_t>(profiles.size()), picture, made);
  for (const LineGroup& group : lines_)
    profiles.push_back(pass.paint ? paintProfile(group.profile) : group.profile);
  const bool wantsAll = pass.light == SpriteOptions::Light::All;
  rasteriser_.draw(
      made, {profiles, turns_.data(), pieces_.data(), meshes_.data(), faces_.data(), pictures_.data()},
      picture, solids_, wantsAll && !pass.paint, gas_, {wantsAll, pass.withFire, pass.paint}, progress);
}

void Renderer::makeRibbons(const Pass& pass, std::uint32_t profile, const Picture& picture,
                           std::vector<SpriteSpan>& made) {
  constexpr std::size_t kLinesATask = 128;
  struct LineSpan {
    std::size_t group, first, count;
  };
  std::vector<LineSpan> spans;
  for (std::size_t g = 0; g < lines_.size(); ++g) {
    if (pass.paint && lines_[g].areLinks) continue;
    for (std::size_t first = 0; first < lines_[g].lines->count(); first += kLinesATask)
      spans.push_back({g, first, std::min(kLinesATask, lines_[g].lines->count() - first)});
  }
  if (ribbons_.size() < spans.size()) ribbons_.resize(spans.size());
  parallelFor(spans.size(), [&](std::size_t s) {
    const LineSpan& span = spans[s];
    SpriteOptions options = optionsOf(pass, lines_[span.group].profile);
    options.profile = profile + static_cast<std::uint32_t>(span.group);
    ribbons_[s].clear();
    addRibbons(*lines_[span.group].lines, span.first, span.count, options, *projector_, picture.width(),
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

Picture Renderer::average(const Finish& finish, const Pass& pass, const Progress& progress) {
  const PictureSize size = shot_.size;
  const int factor = shot_.supersampling, width = size.width * factor, height = size.height * factor;
  // Every pixel is drawn.
  Picture picture = Picture::unset(size.width, size.height);
  if (factor > 1 && (large_.width() != width || large_.height() != height))
    large_ = Picture::unset(width, height);
  Picture& large = factor > 1 ? large_ : picture;
  const int moments = finish.blursMotion() ? finish.shutterSamples : 1;
  if (moments == 1) {
    drawMoment(0, pass, progress, large);
  } else {
    const double open = finish.shutter / frameRate(shot_.scene);
    Picture moment = Picture::unset(width, height);
    large = changed(std::move(large), [](const Vec4&) { return Vec4(0.0F); });
    for (int i = 0; i < moments; ++i) {
      drawMoment(open * ((i + 0.5) / moments - 0.5), pass, progress, moment);
      addScaled(moment, 1.0F / static_cast<float>(moments), large);
    }
  }
  if (factor > 1) picture.pasteReduced(large, factor, 0, 0);
  return picture;
}

void Renderer::prepare(Shot shot, const Progress& progress) {
  lines_.clear();
  looks_.clear();
  stores_.clear();
  shot_ = std::move(shot);
  ++prepared_;
  const int width = shot_.size.width * shot_.supersampling, height = shot_.size.height * shot_.supersampling;
  projector_.emplace(shot_.camera, width, height, clipPlaneOf(shot_.scene, shot_.frame.number));
  const std::vector<ParticleGroup>& groups = shot_.frame.particles->groups;
  looks_.reserve(groups.size());  // lines point to them
  order_ = orderOf(shot_.scene);
  lights_ = lightsOf(shot_.scene, shot_.frame);
  std::vector<Solid> solids = solidsOf(shot_.scene, shot_.frame.number, shot_.purpose);
  for (const ParticleGroup& group : groups)
    if (std::find(shot_.leftOut.begin(), shot_.leftOut.end(), group.emitter) == shot_.leftOut.end())
      prepareGroup(group, solids, progress);
  surfaces_.keepOnly(shot_.scene);
  gas_ = GasLayer(shot_, lights_, *projector_, progress);
  progress.stopIfCancelled();
  solids_ = SolidLayer(solids, lights_, *projector_, width, height);
}

void Renderer::prepareGroup(const ParticleGroup& group, std::vector<Solid>& solids,
                            const Progress& progress) {
  progress.stopIfCancelled();
  const Scene& scene = shot_.scene;
  const SceneFrame& frame = shot_.frame;
  const Scene::ItemPtr emitter = scene.find(group.emitter);
  if (!emitter || emitter->kind->family() != ItemFamily::Emitter || !emitter->enabled) return;
  const Look& look = looks_.emplace_back(scene, *emitter, frame.number, stamps_);
  const bool isAlone = isSurfaceAlone(*emitter);
  const bool hasTrails = Trails::hasAny(*emitter) && !isAlone;
  const bool hasSprites = !isAlone && !(hasTrails && emitter->flag("trail_hide_sprites"));
  stores_.push_back(hasSprites ? &group.particles : &kNoParticles);
  if (hasTrails) {
    auto trails = std::make_unique<const Trails>(scene, *emitter, frame, shot_.past, look);
    if (hasTubes(*emitter))
      solids.push_back(tubeSolid(*trails, *projector_));
    else
      lines_.push_back({std::move(trails), trailProfile(*emitter, frame.number, stamps_), false,
                        emitter->number("trail_picture_length", frame.number)});
  }
  if (Links::hasAny(*emitter) && !isAlone)
    lines_.push_back({std::make_unique<const Links>(scene, *emitter, frame, look, stamps_),
                      linkProfile(*emitter), true, 0});
  addSurface(shot_, *emitter, look, progress, surfaces_, solids);
}

bool Renderer::drawsGlowApart() const {
  return std::any_of(looks_.begin(), looks_.end(),
                     [](const Look& look) { return !look.hasConstantGlow() || look.constantGlow() != 1; });
}

Picture Renderer::color(const Finish& finish, const Progress& progress, FirePart fire) {
  const bool withFire = fire == FirePart::Within;
  Picture picture = average(finish, {SpriteOptions::Light::All, withFire}, progress);
  const bool drawsGlow = finish.glows && drawsGlowApart();
  const Picture light =
      drawsGlow ? average(finish, {SpriteOptions::Light::Glow, withFire}, progress) : Picture();
  applyFinish(finish, drawsGlow ? light : picture, picture, progress);
  return picture;
}

Picture Renderer::fire(const Finish& finish, const Progress& progress) {
  Picture picture = changed(average(finish, {SpriteOptions::Light::None}, progress),
                            [](const Vec4& pixel) { return Vec4(Vec3(pixel), 0); });
  applyFinish(finish, picture, picture, progress);
  return picture;
}

Picture Renderer::glow(const Finish& finish, const Progress& progress) {
  const auto light = drawsGlowApart() ? SpriteOptions::Light::Glow : SpriteOptions::Light::All;
  return glowOf(finish, average(finish, {light}, progress), progress);
}

Picture Renderer::paint(const SpritePaint& paint, const Progress& progress) {
  return average({}, {SpriteOptions::Light::All, true, &paint}, progress);
}

}  // namespace comet
