#include "inspector/surface_note.h"

#include "render/emitter_surface.h"
#include "render/trail.h"

#include <QStyle>

namespace comet {
namespace {

constexpr int kIndent = 96;
constexpr double kMegabyte = 1 << 20;

}  // namespace

SurfaceNote::SurfaceNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent)
    : QLabel(parent), document_(document), run_(run), emitter_(emitter) {
  setObjectName("surface_note");
  setWordWrap(true);
  setIndent(kIndent);
  connect(&document_, &Document::sceneChanged, this, &SurfaceNote::refresh);
  connect(&document_, &Document::frameChanged, this, &SurfaceNote::refresh);
  // Frames come one after the other: only the one that is shown counts.
  if (run_)
    connect(run_, &BackgroundRun::changed, this, [this] {
      if (text().isEmpty()) refresh();
    });
}

void SurfaceNote::showEvent(QShowEvent* event) {
  QLabel::showEvent(event);
  refresh();
}

void SurfaceNote::refresh() {
  const Scene& scene = document_.scene();
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (!isVisible() || !emitter || !hasSurface(*emitter)) return;
  const int frame = document_.frame();
  const ParticleFramePtr now = run_ ? run_->frame(frame) : nullptr;
  if (!now) return setText({});
  StampCache stamps;
  const Look look(scene, *emitter, frame, stamps);
  const Past past = run_->past(frame, pastNeeded(scene, frame));
  const auto pieces = surfacePieces(scene, *emitter, *now, past, look);
  const double bytes = surfaceBytes(pieces, emitter->number("surface_voxel", frame));
  const auto budget = static_cast<double>(memoryBudget(scene));
  // Smoothing takes as much again; see roundSurface.
  const bool isTooMuch = bytes * (emitter->integer("surface_smoothing", frame) > 0 ? 2 : 1) > budget;
  if (pieces.empty())
    setText(emitter->chooses("surface", "trails") && !Trails::hasAny(*emitter)
                ? tr("nothing: choose a trail for it to lie around")
                : tr("nothing in this frame"));
  else if (isTooMuch)
    setText(tr("would need %L1 MB of voxels, more than the scene's memory for frames: raise the voxel size")
                .arg(bytes / kMegabyte, 0, 'f', 0));
  else
    setText(tr("%L1 MB of voxels in this frame").arg(bytes / kMegabyte, 0, 'f', 1));
  setProperty("trouble", isTooMuch);
  style()->polish(this);
}

}  // namespace comet
