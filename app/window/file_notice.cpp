#include "window/file_notice.h"

#include <QEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace comet {
namespace {

// Watching by the system's own means misses folders of other machines.
constexpr int kLookMilliseconds = 1000;
constexpr int kBelowTop = 82;  // over the picture, not over buttons

}  // namespace

FileNotice::FileNotice(const Document& document, QWidget* parent)
    : QFrame(parent), document_(document), text_(new QLabel) {
  setObjectName("file_notice");
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 6, 8, 6);
  row->setSpacing(8);
  row->addWidget(text_);
  const auto button = [&](const char* name, const QString& label, const QString& tip) {
    auto* made = new QPushButton(label);
    made->setObjectName(name);
    made->setToolTip(tip);
    // When it goes it must not hand the keyboard on to whatever comes next.
    made->setFocusPolicy(Qt::TabFocus);
    row->addWidget(made);
    return made;
  };
  connect(button("reload_file", tr("Reload"),
                 tr("Opens the file as it is now. Undo brings the current scene back.")),
          &QPushButton::clicked, this, &FileNotice::reload);
  connect(button("keep_scene", tr("Keep this scene"),
                 tr("Keeps the current scene. Saving asks before it replaces the file.")),
          &QPushButton::clicked, this, [this] {
            keptOver_ = document_.stampOnDisk();
            look();
          });
  hide();
  parent->installEventFilter(this);
  connect(&document_, &Document::stateChanged, this, &FileNotice::look);
  connect(&clock_, &QTimer::timeout, this, &FileNotice::look);
  clock_.start(kLookMilliseconds);
}

void FileNotice::look() {
  const bool isOther = document_.isChangedOnDisk() && QFileInfo::exists(document_.path()) &&
                       document_.stampOnDisk() != keptOver_;
  if (isOther == isVisible()) return;
  text_->setText(tr("%1 was changed by another program").arg(QFileInfo(document_.path()).fileName()));
  setVisible(isOther);
  place();
  raise();
}

void FileNotice::place() {
  adjustSize();
  move((parentWidget()->width() - width()) / 2, kBelowTop);
}

bool FileNotice::eventFilter(QObject* object, QEvent* event) {
  if (event->type() == QEvent::Resize && isVisible()) place();
  return QFrame::eventFilter(object, event);
}

}  // namespace comet
