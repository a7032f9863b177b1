#include "inspector/influence_note.h"

#include "simulation/deflectors/deflector_notes.h"
#include "simulation/influences/flock.h"

namespace comet {

bool InfluenceNote::isFor(const KindSpec& kind) { return kind.id() == "deflector" || kind.id() == "flock"; }

InfluenceNote::InfluenceNote(Document& document, BackgroundRun* run, ItemId influence, QWidget* parent)
    : QLabel(parent),
      document_(document),
      run_(run),
      influence_(influence),
      isFlock_(document.scene().find(influence)->kind->id() == "flock") {
  setObjectName("influence_note");
  setProperty("quiet", true);
  setWordWrap(true);
  setIndent(96);
  connect(&document_, &Document::sceneChanged, this, &InfluenceNote::reread);
  connect(&document_, &Document::frameChanged, this, &InfluenceNote::refresh);
  if (run_) connect(run_, &BackgroundRun::changed, this, &InfluenceNote::refresh);
  reread();
}

void InfluenceNote::reread() {
  const Scene::ItemPtr influence = document_.scene().find(influence_);
  if (!influence) return;
  QStringList lines;
  if (!isFlock_)
    for (const std::string& note : notesOnDeflector(document_.scene(), *influence, document_.frame()))
      lines << QString::fromStdString(note);
  setUp_ = lines.join("\n");
  refresh();
}

QString InfluenceNote::hits(const ParticleFrame& frame) const {
  DeflectionStats here{influence_, 0, 0};
  for (const DeflectionStats& stats : frame.deflections)
    if (stats.deflector == influence_) here = stats;
  QString text = tr("%L1 hits in this frame").arg(here.hits);
  if (here.caught > 0) text += tr(", %L1 pushed out").arg(here.caught);
  return text;
}

QString InfluenceNote::sight(const ParticleFrame& frame) const {
  const Scene::ItemPtr flock = document_.scene().find(influence_);
  if (!flock) return {};
  const FlockSight sight = flockSight(document_.scene(), *flock, frame);
  if (sight.particles == 0) return tr("no particles answer to it in this frame");
  QString text = tr("each sees %1 others, on average").arg(sight.neighbours, 0, 'f', 1);
  if (sight.hasTarget && sight.targetSeen == 0)
    text += tr("\nnobody sees the target: it lies farther away than \"Seen within\"");
  else if (sight.hasTarget && sight.targetSeen < 1)
    text += tr("\n%1 % of them see the target").arg(100 * sight.targetSeen, 0, 'f', 0);
  return text;
}

void InfluenceNote::refresh() {
  QStringList lines;
  if (!setUp_.isEmpty()) lines << setUp_;
  if (const ParticleFramePtr frame = run_ ? run_->frame(document_.frame()) : nullptr)
    lines << (isFlock_ ? sight(*frame) : hits(*frame));
  setText(lines.join("\n"));
  setVisible(!lines.isEmpty());
}

}  // namespace comet
