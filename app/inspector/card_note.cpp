#include "inspector/card_note.h"

#include "cache/scene_run.h"
#include "simulation/cards/card_report.h"
#include "simulation/cards/card_rule.h"

#include <algorithm>

namespace comet {
namespace {

QString outlookWords(const CardOutlook& outlook) {
  if (outlook.cards == 0) return CardNote::tr("%1 points each").arg(outlook.points);
  return CardNote::tr("up to %L1 cards of %2 points, about %L3 ms a frame, %L4 MB in all")
      .arg(outlook.cards, 0, 'f', 0)
      .arg(outlook.points)
      .arg(outlook.milliseconds, 0, 'f', outlook.milliseconds < 10 ? 1 : 0)
      .arg(outlook.bytes / (1 << 20), 0, 'f', 0);
}

}  // namespace

CardNote::CardNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent)
    : NoteLabel("card_note", 2, parent),
      document_(document),
      run_(run),
      emitter_(emitter),
      words_(this, [this](const Words& words) { say(words.text, words.isTrouble); }) {
  connect(&document_, &Document::sceneChanged, this, &CardNote::ask);
  connect(&document_, &Document::frameChanged, this, &CardNote::ask);
  if (run_) connect(run_, &BackgroundRun::changed, this, &CardNote::ask);
}

void CardNote::showEvent(QShowEvent* event) {
  NoteLabel::showEvent(event);
  ask();
}

void CardNote::ask() {
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (!isVisible() || !emitter || !showsCards(*emitter)) return;
  const int frame = document_.frame();
  words_.ask([scene = document_.scene(), emitter, frame,
              now = run_ ? run_->frame(frame) : nullptr](const Progress&) -> Words {
    const CardOutlook outlook = cardOutlook(scene, *emitter, frame, memoryBudget(scene));
    if (!outlook.problem.empty()) return {QString::fromStdString(outlook.problem), true};
    QString text = outlookWords(outlook);
    if (!now) return {text, false};
    const std::vector<CardCount> counts = countCards(scene, *now);
    const auto own = std::find_if(counts.begin(), counts.end(),
                                  [&](const CardCount& count) { return count.emitter == emitter->id; });
    if (own != counts.end() && own->cards > 0)
      text += tr("; stretched by at most %1 %").arg(100 * own->largestStretch, 0, 'f', 1);
    return {text, false};
  });
}

}  // namespace comet
