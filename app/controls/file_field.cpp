#include "controls/file_field.h"

#include "controls/menu.h"
#include "demos.h"
#include "scene_files.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QStyle>
#include <QToolButton>
#include <QVBoxLayout>

namespace comet {
namespace {

const QStringList& endingsOf(FileKind kind) {
  static const QStringList pictures{"png", "jpg", "jpeg", "tga", "tif", "tiff", "exr"};
  static const QStringList meshes{"obj", "ply", "stl", "gltf", "glb"};
  static const QStringList volumes{"vdb"};
  switch (kind) {
    case FileKind::Mesh:
      return meshes;
    case FileKind::Volume:
      return volumes;
    case FileKind::Picture:
      break;
  }
  return pictures;
}

QString droppedPath(const QMimeData& data) {
  return data.hasUrls() && data.urls().front().isLocalFile() ? data.urls().front().toLocalFile() : QString();
}

// The files of a kind that come with the program: shapes to begin with, then what demos use.
QStringList samplesOf(FileKind kind) {
  QStringList shapes, others;
  if (kind == FileKind::Mesh)
    for (const std::string_view shape : kBasicShapes) shapes << text(std::string(shape));
  for (const DemoFile& file : demoFiles()) {
    const QString name = text(std::string(file.name));
    if (fileKindOf(name) == kind && !shapes.contains(name)) others << name;
  }
  return shapes + others;
}

}  // namespace

std::optional<FileKind> fileKindOf(const QString& path) {
  const QString ending = QFileInfo(path).suffix().toLower();
  for (const FileKind kind : {FileKind::Picture, FileKind::Mesh, FileKind::Volume})
    if (endingsOf(kind).contains(ending)) return kind;
  return std::nullopt;
}

QString fileFilter(FileKind kind) {
  QStringList patterns;
  for (const QString& ending : endingsOf(kind)) patterns << "*." + ending;
  const QString label = kind == FileKind::Mesh     ? QObject::tr("Meshes (%1)")
                        : kind == FileKind::Volume ? QObject::tr("Volumes (%1)")
                                                   : QObject::tr("Pictures (%1)");
  return label.arg(patterns.join(' '));
}

FileField::FileField(FileKind kind, QWidget* parent)
    : QWidget(parent), kind_(kind), path_(new QLineEdit), note_(new QLabel) {
  setAcceptDrops(true);
  setFocusProxy(path_);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  path_->setObjectName("path");
  path_->setPlaceholderText(tr("choose or drop a file"));
  row->addWidget(path_, 1);
  auto* button = new QToolButton;
  button->setObjectName("browse");
  button->setIcon(theme::mark("open"));
  button->setToolTip(tr("Choose a file"));
  row->addWidget(button);
  if (!samplesOf(kind_).isEmpty()) row->addWidget(makeSamples());
  column->addLayout(row);
  note_->setObjectName("note");
  note_->setProperty("quiet", true);
  note_->setWordWrap(true);
  column->addWidget(note_);
  connect(button, &QToolButton::clicked, this, &FileField::browse);
  connect(path_, &QLineEdit::editingFinished, this, [this] {
    if (path_->isModified()) Q_EMIT chosen(path_->text().trimmed());
    path_->setModified(false);
  });
}

QWidget* FileField::makeSamples() {
  QToolButton* button = newArrowButton("samples", tr("Choose a file that comes with the program"));
  connect(button, &QToolButton::clicked, this, [this, button] {
    QMenu* menu = newMenu(this);
    for (const QString& sample : samplesOf(kind_)) {
      QString name = QFileInfo(sample).completeBaseName().replace('_', ' ');
      name[0] = name[0].toUpper();
      menu->addAction(name, this,
                      [this, sample] { Q_EMIT chosen(text(std::string(kSamplePrefix)) + sample); });
      if (kind_ == FileKind::Mesh && sample == text(std::string(kBasicShapes.back()))) menu->addSeparator();
    }
    menu->popup(below(*button));
  });
  return button;
}

void FileField::setFile(const FileRef& file, const QString& beingRead) {
  const QString path = beingRead.isEmpty() ? QString::fromStdString(file.path) : beingRead;
  if (!path_->isModified() && path_->text() != path) path_->setText(path);
  path_->setToolTip(path);
  note_->setText(beingRead.isEmpty()
                     ? QString::fromStdString(file.content ? file.content->summary() : file.problem)
                     : tr("reading …"));
  note_->setVisible(!note_->text().isEmpty());
  const bool isMissing = beingRead.isEmpty() && file.isMissing();
  theme::setState(*note_, "trouble", isMissing);
  theme::setState(*note_, "quiet", !isMissing);
}

void FileField::browse() {
  const QString path =
      QFileDialog::getOpenFileName(this, tr("Choose a file"), path_->text(), fileFilter(kind_));
  if (!path.isEmpty()) Q_EMIT chosen(path);
}

void FileField::dragEnterEvent(QDragEnterEvent* event) {
  if (fileKindOf(droppedPath(*event->mimeData())) == kind_) event->acceptProposedAction();
}

void FileField::dropEvent(QDropEvent* event) {
  event->acceptProposedAction();
  Q_EMIT chosen(droppedPath(*event->mimeData()));
}

}  // namespace comet
