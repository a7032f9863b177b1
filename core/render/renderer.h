// The one renderer: a shot of a frame as a picture. The viewport shows the very pixels that are baked.
#pragma once

#include "base/picture.h"
#include "base/progress.h"
#include "render/camera.h"
#include "render/emitter_surface.h"
#include "render/finish.h"
#include "render/gas_layer.h"
#include "render/link.h"
#include "render/look.h"
#include "render/rasteriser.h"
#include "render/ribbon.h"
#include "render/shot.h"
#include "render/solids.h"
#include "render/trail.h"

#include <memory>
#include <optional>

namespace comet {

// About what drawing and finishing a picture takes at most, and putting it into a file, in bytes.
std::size_t pictureMemory(PictureSize size, const Finish& finish);

// Whether the light that gas gives off by itself belongs to a picture.
enum class FirePart { Within, Apart };

// A shot is prepared once; any number of pictures may then be drawn of it. Keeps its buffers between
// pictures; belongs to one thread at a time, and uses all. All throw Error(Cancelled).
class Renderer {
 public:
  // Looks, lines and solids of every emitter of the scene that is on, and of the deflectors that are to be
  // seen or to hide what lies behind them.
  void prepare(Shot shot, const Progress& progress = {});

  // The light, finished; transparent where nothing is. Motion blur is centred on the frame and follows the
  // particles, not the camera.
  Picture color(const Finish& finish, const Progress& progress = {}, FirePart fire = FirePart::Within);
  // The light that gas gives off by itself alone, finished, as far as what lies before it lets it through:
  // light that covers nothing.
  Picture fire(const Finish& finish, const Progress& progress = {});
  // The glow alone, before any roll-off: light that covers nothing.
  Picture glow(const Finish& finish, const Progress& progress = {});
  // What `paint` says of the particles that are seen, in place of their light: red and green are its two
  // values times blue, which is how much there is to see. Links are left out; surfaces only hide what is
  // behind them.
  Picture paint(const SpritePaint& paint, const Progress& progress = {});

  // The light of a shot of which nothing else is wanted.
  Picture draw(Shot shot, const Finish& finish = {}, const Progress& progress = {}) {
    prepare(std::move(shot), progress);
    return color(finish, progress);
  }

  // How many shots were prepared.
  std::size_t prepared() const { return prepared_; }

  // Particles that the last picture lacks because their meshes have too many triangles in all.
  std::size_t leftOut() const { return leftOut_; }

 private:
  // What is drawn: of the particles and of what is lit, and whether gas gives off light by itself; or what is
  // painted.
  struct Pass {
    SpriteOptions::Light light = SpriteOptions::Light::All;
    bool withFire = true;
    const SpritePaint* paint = nullptr;
  };
  void prepareGroup(const ParticleGroup& group, std::vector<Solid>& solids, const Progress& progress);
  // Whether glow is not the same fraction of the light for all that is drawn, or not all of it.
  bool drawsGlowApart() const;
  // Over the moments that the shutter is open.
  Picture average(const Finish& finish, const Pass& pass, const Progress& progress);
  void drawMoment(double later, const Pass& pass, const Progress& progress, Picture& picture);
  SpriteOptions optionsOf(const Pass& pass, const SpriteProfile& profile) const;
  // Adds the lines' pieces; `profile` is the index of the first one's.
  void makeRibbons(const Pass& pass, std::uint32_t profile, const Picture& picture,
                   std::vector<SpriteSpan>& made);

  StampCache stamps_;
  EmitterSurfaces surfaces_;
  Rasteriser rasteriser_;
  // Of the shot that is prepared.
  Shot shot_;
  std::optional<Projector> projector_;
  std::vector<Look> looks_;
  std::vector<const ParticleStore*> stores_;
  // An emitter's trails, or its links.
  struct LineGroup {
    std::unique_ptr<const Lines> lines;
    SpriteProfile profile;
    bool areLinks = false;
    double pictureLength = 0;  // see addRibbons
  };
  std::vector<LineGroup> lines_;
  SolidLayer solids_;
  GasLayer gas_;
  SceneLights lights_;
  SpriteOptions::Order order_ = SpriteOptions::Order::Depth;
  std::size_t prepared_ = 0;
  // Of the picture that is being drawn.
  std::size_t leftOut_ = 0;
  std::vector<Sprite> sprites_;
  std::vector<SpriteTurn> turns_;
  std::vector<MeshView> meshes_;
  std::vector<MeshFace> faces_;
  std::vector<FacePicture> pictures_;
  std::vector<Ribbons> ribbons_;  // one for each span
  std::vector<RibbonPiece> pieces_;
  Picture large_;  // before it is reduced
};

}  // namespace comet
