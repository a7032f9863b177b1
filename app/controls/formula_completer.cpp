#include "controls/formula_completer.h"

#include <QAbstractItemView>
#include <QLineEdit>

namespace comet {

FormulaCompleter::FormulaCompleter(const QStringList& names, QLineEdit* editor)
    : QCompleter(names, editor), editor_(editor) {
  // Not the editor's own, which would complete the whole text and not a word.
  setWidget(editor);
  setCaseSensitivity(Qt::CaseInsensitive);
  connect(this, qOverload<const QString&>(&QCompleter::activated), this, [this](const QString& name) {
    const int start = wordStart(), cursor = editor_->cursorPosition();
    editor_->setText(editor_->text().replace(start, cursor - start, name));
    editor_->setCursorPosition(start + static_cast<int>(name.size()));
  });
}

int FormulaCompleter::wordStart() const {
  const QString text = editor_->text();
  int start = editor_->cursorPosition();
  while (start > 0 && (text[start - 1].isLetterOrNumber() || text[start - 1] == '_')) --start;
  return start;
}

void FormulaCompleter::offer(const QString& text) {
  const int start = wordStart();
  const QString word = text.mid(start, editor_->cursorPosition() - start);
  if (!text.trimmed().startsWith('=') || word.isEmpty()) return popup()->hide();
  setCompletionPrefix(word);
  // A word that is complete needs no offer.
  if (completionCount() == 0 || currentCompletion() == word) return popup()->hide();
  complete();
}

}  // namespace comet
