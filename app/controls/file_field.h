// A file that a scene uses: its path, what was read from it, and what is wrong with it. Files can be dropped
// on it.
#pragma once

#include "params/schema.h"

#include <QWidget>

class QLabel;
class QLineEdit;

namespace comet {

class FileField : public QWidget {
  Q_OBJECT

 public:
  explicit FileField(FileKind kind, QWidget* parent = nullptr);

  // `beingRead` is the path of one that is read now and will take its place; empty for none.
  void setFile(const FileRef& file, const QString& beingRead = {});

 Q_SIGNALS:
  // Another path was chosen, typed or dropped; empty for none.
  void chosen(const QString& path);

 protected:
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void browse();
  // The button that offers what comes with the program.
  QWidget* makeSamples();

  FileKind kind_;
  QLineEdit* path_;
  QLabel* note_;
};

// The kind of file that a name ends like; nothing if it is none that a scene can use.
std::optional<FileKind> fileKindOf(const QString& path);
// For file dialogs.
QString fileFilter(FileKind kind);

}  // namespace comet
