#include "inspector/deflector_note.h"

#include "simulation/deflectors/deflector_notes.h"

namespace comet {

DeflectorNote::DeflectorNote(Document& document, BackgroundRun* run, ItemId deflector, QWidget* parent)
    : QLabel(parent), document_(document), run_(run), deflector_(deflector) {
  setObjectName("deflector_note");
  setProperty("quiet", true);
  setWordWrap(true);
  setIndent(96);
  connect(&document_, &Document::sceneChanged, this, &DeflectorNote::reread);
  connect(&document_, &Document::frameChanged, this, &DeflectorNote::refresh);
  if (run_) connect(run_, &BackgroundRun::changed, this, &DeflectorNote::refresh);
  reread();
}

void DeflectorNote::reread() {
  const Scene::ItemPtr deflector = document_.scene().find(deflector_);
  if (!deflector) return;
  QStringList lines;
  for (const std::string& note : notesOnDeflector(document_.scene(), *deflector, document_.frame()))
    lines << QString::fromStdString(note);
  setUp_ = lines.join("\n");
  refresh();
}

void DeflectorNote::refresh() {
  QString text = setUp_;
  if (const ParticleFramePtr frame = run_ ? run_->frame(document_.frame()) : nullptr) {
    DeflectionStats here{deflector_, 0, 0};
    for (const DeflectionStats& stats : frame->deflections)
      if (stats.deflector == deflector_) here = stats;
    if (!text.isEmpty()) text += "\n";
    text += tr("%L1 hits in this frame").arg(here.hits);
    if (here.caught > 0) text += tr(", %L1 pushed out").arg(here.caught);
  }
  setText(text);
  setVisible(!text.isEmpty());
}

}  // namespace comet
