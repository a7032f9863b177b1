#include "controls/note_label.h"

#include "theme/theme.h"

#include <QResizeEvent>
#include <QStyle>
#include <algorithm>

namespace comet {
namespace {

constexpr int kIndent = 96;  // where fields begin

}  // namespace

NoteLabel::NoteLabel(const QString& name, int lines, QWidget* parent) : QLabel(parent), lines_(lines) {
  setObjectName(name);
  setWordWrap(true);
  // After it, since wrapped words ask layouts for their height.
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  // An indent would count from the top too.
  setIndent(0);
  setContentsMargins(kIndent, 0, 0, 0);
  setAlignment(Qt::AlignLeft | Qt::AlignTop);
  setProperty("quiet", true);
  setMinimumHeight(lines * fontMetrics().lineSpacing());
  if (lines == 0) hide();
}

void NoteLabel::say(const QString& words, bool isTrouble) {
  setText(words);
  // Without room from the start, it takes some once there is something to say.
  if (parentWidget()) setVisible(!words.isEmpty() || minimumHeight() > 0);
  theme::setState(*this, "trouble", isTrouble);
  theme::setState(*this, "quiet", !isTrouble);
  keepRoom();
}

void NoteLabel::resizeEvent(QResizeEvent* event) {
  QLabel::resizeEvent(event);
  // In another width the same words need another height.
  if (event->size().width() != event->oldSize().width())
    setMinimumHeight(lines_ * fontMetrics().lineSpacing());
  keepRoom();
}

void NoteLabel::keepRoom() {
  if (width() > kIndent && !text().isEmpty())
    setMinimumHeight(std::max(minimumHeight(), heightForWidth(width())));
}

}  // namespace comet
