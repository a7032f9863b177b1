#include "inspector/influence_note.h"

#include "simulation/arrivals/arrival_report.h"
#include "simulation/contacts/contact_notes.h"
#include "simulation/deflectors/deflector_notes.h"
#include "simulation/flocks/flock.h"

namespace comet {
namespace {

// Fewer than this are held now and then by any limit.
constexpr double kNotedFraction = 0.2;
constexpr int kPauseMilliseconds = 250;

QString percent(double fraction) { return QObject::tr("%1 %").arg(100 * fraction, 0, 'f', 0); }

QStringList linesOf(const std::vector<std::string>& notes) {
  QStringList lines;
  for (const std::string& note : notes) lines << QString::fromStdString(note);
  return lines;
}

QString deflectorWords(const Scene& scene, const Item& deflector, double frame, const SceneFrame* particles) {
  QStringList lines = linesOf(notesOnDeflector(scene, deflector, frame));
  if (!particles) return lines.join("\n");
  DeflectionStats here{deflector.id, 0, 0};
  for (const DeflectionStats& stats : particles->report->deflections)
    if (stats.deflector == deflector.id) here = stats;
  QString text = QObject::tr("%L1 hits in this frame").arg(here.hits);
  if (here.caught > 0) text += QObject::tr(", %L1 pushed out").arg(here.caught);
  return (lines << text).join("\n");
}

QString contactWords(const Item& contact, const SceneFrame& frame) {
  for (const ContactStats& stats : frame.report->contacts)
    if (stats.contact == contact.id)
      return QObject::tr("%L1 particles, %L2 pairs touch\ndeepest overlap %3 of a radius")
          .arg(stats.particles)
          .arg(stats.pairs)
          .arg(percent(std::max(0.0, stats.deepest)));
  return QObject::tr("it acts on no particles in this frame");
}

QString arrivalWords(const ArrivalCount& count) {
  return QObject::tr("%L1 points, %L2 of them free\n%L3 particles have arrived, %L4 are on their way")
      .arg(count.points)
      .arg(count.free())
      .arg(count.arrived)
      .arg(count.travelling);
}

QString sightWords(const FlockSight& sight) {
  if (sight.particles == 0) return QObject::tr("it acts on no particles in this frame");
  QString text = QObject::tr("each sees %1 neighbours on average").arg(sight.neighbours, 0, 'f', 1);
  if (sight.hasTarget && sight.targetSeen == 0)
    text += QObject::tr("\nno particle sees the target: it is farther away than \"Target range\"");
  else if (sight.hasTarget && sight.targetSeen < 1)
    text += QObject::tr("\n%1 of them see the target").arg(percent(sight.targetSeen));
  return text;
}

QString limitWords(const FlockSight& sight) {
  if (sight.atMostSpeed < kNotedFraction) return {};
  return QObject::tr("“Max speed” limits %1 of them").arg(percent(sight.atMostSpeed));
}

}  // namespace

std::optional<InfluenceNote::About> InfluenceNote::belowParam(const Item& item, std::size_t param) {
  if (item.kind->family() != ItemFamily::Influence) return std::nullopt;
  for (const KindNote& note : influenceKindOf(item).notes)
    if (note.param == item.kind->params()[param].id) return note.about;
  return std::nullopt;
}

InfluenceNote::InfluenceNote(Document& document, BackgroundRun* run, ItemId influence, About about,
                             QWidget* parent)
    : NoteLabel(about == About::FlockLimit ? "limit_note" : "influence_note",
                about == About::FlockLimit ? 1 : 2, parent),
      document_(document),
      run_(run),
      influence_(influence),
      about_(about),
      words_(this, [this](const Words& words) { say(words.text, words.isTrouble); }) {
  pause_.setSingleShot(true);
  pause_.setInterval(kPauseMilliseconds);
  connect(&pause_, &QTimer::timeout, this, &InfluenceNote::ask);
  connect(&document_, &Document::sceneChanged, this, &InfluenceNote::askSoon);
  connect(&document_, &Document::frameChanged, this, &InfluenceNote::askSoon);
  if (run_) connect(run_, &BackgroundRun::changed, this, &InfluenceNote::askSoon);
}

void InfluenceNote::askSoon() {
  if (!pause_.isActive()) pause_.start();
}

void InfluenceNote::showEvent(QShowEvent* event) {
  NoteLabel::showEvent(event);
  ask();
}

void InfluenceNote::ask() {
  const Scene::ItemPtr influence = document_.item(influence_, ItemFamily::Influence);
  if (!influence || !isVisible()) return;
  const SceneFramePtr frame = run_ ? run_->frame(document_.frame()) : nullptr;
  words_.askWhenFree([scene = document_.scene(), influence, frame, shown = document_.frame(),
                      about = about_](const Progress& progress) -> Words {
    if (about == About::DeflectorHits) return {deflectorWords(scene, *influence, shown, frame.get()), false};
    if (!frame) return {};
    if (about == About::Contacts) {
      QStringList lines = linesOf(notesOnContact(scene, *influence, *frame));
      const bool isTrouble = !lines.isEmpty();
      return {(lines << contactWords(*influence, *frame)).join("\n"), isTrouble};
    }
    if (about == About::Arrivals) {
      QStringList lines = linesOf(notesOnArrivals(scene, *influence, *frame, progress));
      const bool isTrouble = !lines.isEmpty();
      return {(lines << arrivalWords(countArrivals(*influence, *frame, progress))).join("\n"), isTrouble};
    }
    if (about == About::FlockSight)
      return {sightWords(flockSight(scene, *influence, *frame, progress)), false};
    return {limitWords(flockSight(scene, *influence, *frame, progress)), true};
  });
}

}  // namespace comet
