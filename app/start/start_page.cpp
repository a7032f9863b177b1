#include "start/start_page.h"

#include "demos.h"
#include "session/recovery.h"
#include "theme/theme.h"

#include <QDateTime>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

namespace comet {
namespace {

constexpr QSize kPictureSize{190, 119};
constexpr int kDemosAcross = 4;

QLabel* heading(const QString& text, int pixelSize) {
  auto* label = new QLabel(text);
  label->setFont(theme::font(pixelSize, true));
  return label;
}

QString titleOf(const QString& name) {
  QString title = name;
  title.replace('_', ' ');
  return title.left(1).toUpper() + title.mid(1);
}

}  // namespace

StartPage::StartPage(QWidget* parent) : QWidget(parent), files_(new QVBoxLayout) {
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  auto* columns = new QHBoxLayout(this);
  columns->setContentsMargins(48, 36, 48, 24);
  columns->setSpacing(48);
  auto* left = new QVBoxLayout;
  left->setSpacing(8);
  auto* icon = new QLabel;
  icon->setPixmap(QIcon(":/tawny-comet.svg").pixmap(64, 64));
  left->addWidget(icon);
  left->addWidget(heading("Tawny Comet", 26));
  auto* what = new QLabel(tr("Particle effects for games, baked into flipbooks."));
  what->setProperty("quiet", true);
  left->addWidget(what);
  left->addSpacing(12);
  auto* fresh = new QPushButton(theme::mark("emitter", theme::kGround), tr("New scene"));
  fresh->setObjectName("start_new");
  fresh->setProperty("main", true);
  connect(fresh, &QPushButton::clicked, this, &StartPage::newScene);
  left->addWidget(fresh);
  auto* open = new QPushButton(theme::mark("open"), tr("Open a file…"));
  connect(open, &QPushButton::clicked, this, &StartPage::chooseFile);
  left->addWidget(open);
  left->addSpacing(12);
  files_->setSpacing(2);
  left->addLayout(files_);
  left->addStretch(1);
  auto* leftBox = new QWidget;
  leftBox->setLayout(left);
  leftBox->setFixedWidth(270);
  columns->addWidget(leftBox);
  columns->addWidget(makeDemos(), 1);
  refresh();
}

QWidget* StartPage::makeDemos() {
  auto* content = new QWidget;
  content->setProperty("panel", true);
  auto* layout = new QVBoxLayout(content);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  layout->addWidget(heading(tr("Demos from Saltmarsh Ferry"), 16));
  auto* row = new QGridLayout;
  row->setSpacing(12);
  int place = 0;
  for (const Demo& demo : demos()) {
    const QString name = QString::fromUtf8(demo.name.data(), static_cast<int>(demo.name.size()));
    auto* button = new QToolButton;
    button->setObjectName("demo." + name);
    button->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    button->setIcon(QIcon(QString(":/demo/%1.png").arg(name)));
    button->setIconSize(kPictureSize);
    button->setText(titleOf(name));
    button->setFont(theme::font(13));
    const QSize size = kPictureSize + QSize(12, 40);
    button->setFixedSize(size);
    // The style sheet's least height overrides the button's own: without this, many rows would press its
    // title out.
    row->setRowMinimumHeight(place / kDemosAcross, size.height());
    connect(button, &QToolButton::clicked, this, [this, name] { Q_EMIT openDemo(name); });
    row->addWidget(button, place / kDemosAcross, place % kDemosAcross);
    ++place;
  }
  row->setColumnStretch(kDemosAcross, 1);
  layout->addLayout(row);
  layout->addStretch(1);
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setWidget(content);
  return scroll;
}

void StartPage::refresh() {
  while (QLayoutItem* item = files_->takeAt(0)) {
    if (item->widget()) item->widget()->deleteLater();
    delete item;
  }
  const std::vector<RecoveryCopy> copies = Recovery::abandonedCopies();
  if (!copies.empty()) {
    files_->addWidget(heading(tr("Unsaved work from a session that ended unexpectedly"), 13));
    for (const RecoveryCopy& copy : copies) {
      auto* row = new QWidget;
      auto* layout = new QHBoxLayout(row);
      layout->setContentsMargins(0, 0, 0, 0);
      auto* recover =
          new QPushButton(tr("Recover %1, %2").arg(copy.name, copy.time.toString("dd MMM hh:mm")));
      recover->setObjectName("recover");
      connect(recover, &QPushButton::clicked, this, [this, copy] { Q_EMIT recoverCopy(copy); });
      layout->addWidget(recover, 1);
      auto* discard = new QToolButton;
      discard->setIcon(theme::mark("remove"));
      discard->setToolTip(tr("Discard this copy"));
      connect(discard, &QToolButton::clicked, this, [this, copy] {
        Recovery::discard(copy.file);
        refresh();
      });
      layout->addWidget(discard);
      files_->addWidget(row);
    }
    files_->addSpacing(8);
  }
  const QStringList recent = recentFiles();
  if (recent.isEmpty()) return;
  files_->addWidget(heading(tr("Recent"), 13));
  for (const QString& path : recent) {
    auto* button = new QPushButton(QFileInfo(path).completeBaseName());
    button->setProperty("flat", true);
    button->setToolTip(path);
    connect(button, &QPushButton::clicked, this, [this, path] { Q_EMIT openFile(path); });
    files_->addWidget(button);
  }
}

}  // namespace comet
