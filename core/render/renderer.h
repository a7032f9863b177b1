// The one renderer: a particle frame, seen by a camera, as a picture. The viewport shows the very pixels that
// are baked.
#pragma once

#include "base/picture.h"
#include "particles/particle_frame.h"
#include "render/camera.h"
#include "render/emitter_surface.h"
#include "render/finish.h"
#include "render/link.h"
#include "render/look.h"
#include "render/rasteriser.h"
#include "render/ribbon.h"
#include "render/solids.h"
#include "render/trail.h"

#include <memory>

namespace comet {

struct PictureSize {
  int width = 0;
  int height = 0;
};

// About what drawing and finishing a picture takes at most, and putting it into a file, in bytes.
std::size_t pictureMemory(PictureSize size, const Finish& finish);

// Keeps its buffers between pictures; belongs to one thread at a time, and uses all.
class Renderer {
 public:
  // Draws every emitter of `scene` that is on, and the deflectors that are to be seen or to hide what lies
  // behind them. The picture is transparent where nothing is. Motion blur is centred on the frame and follows
  // the particles, not the camera. Trails are as long as `past` lets them be; see pastNeeded.
  Picture draw(const Scene& scene, const ParticleFrame& frame, const Camera& camera, PictureSize size,
               const Finish& finish = {}, Beholder beholder = Beholder::Bake, const Past& past = {});

  // As above, drawn `factor` times as large each way and averaged before it is finished.
  Picture drawSupersampled(const Scene& scene, const ParticleFrame& frame, const Camera& camera,
                           PictureSize size, int factor, const Finish& finish = {},
                           Beholder beholder = Beholder::Bake, const Past& past = {});

  // The glow alone, before any roll-off: light that covers nothing.
  Picture drawGlow(const Scene& scene, const ParticleFrame& frame, const Camera& camera, PictureSize size,
                   int factor, const Finish& finish, const Past& past = {});

  // What `paint` says of the particles that are seen, in place of their light: red and green are its two
  // values times blue, which is how much there is to see. Links are left out; surfaces only hide what is
  // behind them.
  Picture paint(const SpritePaint& paint, const Scene& scene, const ParticleFrame& frame,
                const Camera& camera, PictureSize size, int factor, const Past& past = {});

  // What drawing stops with from now on, by Error(Cancelled); null for nothing. Has to outlive the drawing.
  void stopWith(const Progress* progress) { progress_ = progress; }

  // Emitters that are not drawn from now on.
  void leaveOut(std::vector<ItemId> emitters) { leftOutEmitters_ = std::move(emitters); }

  // Particles that the last picture lacks because their meshes have too many triangles in all.
  std::size_t leftOut() const { return leftOut_; }

 private:
  // What is drawn of the particles: their light, the light that they give to the glow, or what is painted.
  struct Pass {
    bool asGlow = false;
    const SpritePaint* paint = nullptr;
  };
  // Looks, lines and solids of the frame, for pictures of so many pixels.
  void prepare(const Scene& scene, const ParticleFrame& frame, const Projector& projector, int width,
               int height, Beholder beholder, const Past& past, bool withLinks);
  // Whether glow is not the same share of the light for all that is drawn, or not all of it.
  bool drawsGlowApart() const;
  // Over the moments that the shutter is open; `frameSeconds` is how long a frame lasts.
  Picture average(const Projector& projector, PictureSize size, int factor, const Finish& finish,
                  double frameSeconds, const Pass& pass);
  void drawMoment(const Projector& projector, double later, const Pass& pass, Picture& picture);
  SpriteOptions optionsOf(const Pass& pass, const SpriteProfile& profile) const;
  // Adds the lines' pieces; `profile` is the index of the first one's.
  void makeRibbons(const Projector& projector, const Pass& pass, std::uint32_t profile,
                   const Picture& picture, std::vector<SpriteSpan>& made);

  std::vector<ItemId> leftOutEmitters_;
  const Progress& stopping() const;
  const Progress* progress_ = nullptr;
  StampCache stamps_;
  EmitterSurfaces surfaces_;
  Rasteriser rasteriser_;
  // Of the picture that is being drawn.
  std::vector<Look> looks_;
  std::vector<const ParticleStore*> stores_;
  // An emitter's trails, or its links.
  struct LineGroup {
    std::unique_ptr<const Lines> lines;
    SpriteProfile profile;
    double pictureLength = 0;  // see addRibbons
  };
  std::vector<LineGroup> lines_;
  SolidLayer solids_;
  SpriteOptions::Order order_ = SpriteOptions::Order::Depth;
  std::size_t leftOut_ = 0;
  std::vector<Sprite> sprites_;
  std::vector<SpriteTurn> turns_;
  std::vector<MeshView> meshes_;
  std::vector<MeshFace> faces_;
  std::vector<Ribbons> ribbons_;  // one for each span
  std::vector<RibbonPiece> pieces_;
  Picture large_;  // before it is reduced
};

}  // namespace comet
