// Offers the names that a formula may use while one is typed.
#pragma once

#include <QCompleter>
#include <QStringList>

class QLineEdit;

namespace comet {

class FormulaCompleter : public QCompleter {
  Q_OBJECT

 public:
  FormulaCompleter(const QStringList& names, QLineEdit* editor);

  // For the word before the cursor, if the text is a formula.
  void offer(const QString& text);

 private:
  // Where the word before the cursor begins.
  int wordStart() const;

  QLineEdit* editor_;
};

}  // namespace comet
