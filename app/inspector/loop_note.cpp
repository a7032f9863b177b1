#include "inspector/loop_note.h"

#include "simulation/loop.h"
#include "theme/theme.h"

#include <QStringList>
#include <QStyle>

namespace comet {
LoopNote::LoopNote(Document& document, QWidget* parent) : QLabel(parent), document_(document) {
  setObjectName("loop_note");
  setWordWrap(true);
  setIndent(theme::kFieldsIndent);
  connect(&document_, &Document::sceneChanged, this, &LoopNote::refresh);
  refresh();
}

void LoopNote::refresh() {
  const Scene& scene = document_.scene();
  setVisible(loops(scene));
  if (!loops(scene)) return;
  QStringList problems;
  for (const std::string& problem : loopProblems(scene)) problems << QString::fromStdString(problem);
  const int rounds = warmUpFrames(scene) / frameRange(scene).count();
  setText(problems.isEmpty() ? tr("simulates %1 before the first frame, as long as the longest lifetime")
                                   .arg(rounds == 1 ? tr("one cycle") : tr("%1 cycles").arg(rounds))
                             : problems.join('\n'));
  theme::setState(*this, "trouble", !problems.isEmpty());
}

}  // namespace comet
