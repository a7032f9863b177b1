#include "inspector/surface_note.h"

#include "render/emitter_surface.h"
#include "render/trail.h"

#include <algorithm>

namespace comet {
namespace {

constexpr double kBytesAMegabyte = 1 << 20;
// As much of a surface may be made thicker than it is without a word.
constexpr double kThinFraction = 0.5;

// The fraction of pieces that are thinner than the voxels.
double thinFraction(const std::vector<RoundPiece>& pieces, double voxel) {
  const auto thin = std::count_if(pieces.begin(), pieces.end(), [voxel](const RoundPiece& piece) {
    return std::max(piece.fromRadius, piece.toRadius) < voxel;
  });
  return static_cast<double>(thin) / static_cast<double>(pieces.size());
}

double medianRadius(const std::vector<RoundPiece>& pieces) {
  std::vector<double> radii;
  for (const RoundPiece& piece : pieces) radii.push_back(std::max(piece.fromRadius, piece.toRadius));
  const auto middle = radii.begin() + static_cast<std::ptrdiff_t>(radii.size() / 2);
  std::nth_element(radii.begin(), middle, radii.end());
  return *middle;
}

}  // namespace

SurfaceNote::SurfaceNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent)
    : NoteLabel("surface_note", 2, parent),
      document_(document),
      run_(run),
      emitter_(emitter),
      words_(this, [this](const Words& words) { say(words.text, words.isTrouble); }) {
  const auto askAgain = [this] {
    isAsked_ = false;
    ask();
  };
  connect(&document_, &Document::sceneChanged, this, askAgain);
  connect(&document_, &Document::frameChanged, this, askAgain);
  // Frames come one after the other: only the one that is shown counts.
  if (run_) connect(run_, &BackgroundRun::changed, this, &SurfaceNote::ask);
}

void SurfaceNote::showEvent(QShowEvent* event) {
  NoteLabel::showEvent(event);
  ask();
}

void SurfaceNote::ask() {
  const Scene& scene = document_.scene();
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (isAsked_ || !isVisible() || !emitter || !hasSurface(*emitter)) return;
  const int frame = document_.frame();
  const SceneFramePtr now = run_ ? run_->frame(frame) : nullptr;
  if (!now) return say({});
  isAsked_ = true;
  words_.ask([scene, emitter, frame, now,
              past = run_->past(frame, pastNeeded(scene, frame))](const Progress&) -> Words {
    StampCache stamps;
    const Look look(scene, *emitter, frame, stamps);
    const auto pieces = surfacePieces(scene, *emitter, *now, past, look);
    if (pieces.empty())
      return {emitter->chooses("surface", "trails") && !Trails::hasAny(*emitter)
                  ? tr("nothing: choose a trail that the surface can wrap")
                  : tr("nothing in this frame"),
              false};
    const double voxel = emitter->number("surface_voxel_size", frame);
    const double bytes = surfaceBytes(pieces, voxel);
    // Smoothing takes as much again; see roundSurface.
    const bool smooths = emitter->integer("surface_smoothing", frame) > 0;
    if (bytes * (smooths ? 2 : 1) > static_cast<double>(memoryBudget(scene)))
      return {tr("would need %L1 MB of voxels, more than the scene's frame cache: raise the voxel size")
                  .arg(bytes / kBytesAMegabyte, 0, 'f', 0),
              true};
    if (const double thin = thinFraction(pieces, voxel); thin > kThinFraction)
      return {tr("%1 % of it is thinner than the voxels and drawn as thick as they are: lower the voxel size "
                 "to %2")
                  .arg(100 * thin, 0, 'f', 0)
                  .arg(medianRadius(pieces), 0, 'g', 2),
              true};
    return {tr("%L1 MB of voxels in this frame").arg(bytes / kBytesAMegabyte, 0, 'f', 1), false};
  });
}

}  // namespace comet
