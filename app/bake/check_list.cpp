#include "bake/check_list.h"

#include "theme/theme.h"

#include <QLabel>
#include <QMouseEvent>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace comet {
namespace {

QString labelOf(const std::string& check) {
  const auto& checks = bakeChecks();
  const auto found = std::find_if(checks.begin(), checks.end(),
                                  [&check](const BakeCheck& known) { return known.id == check; });
  return QString::fromUtf8(found->label.data(), static_cast<int>(found->label.size()));
}

}  // namespace

CheckList::CheckList(QWidget* parent) : QScrollArea(parent) {
  setObjectName("check_list");
  setWidgetResizable(true);
  setFrameShape(QFrame::NoFrame);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setSheet(nullptr);
}

void CheckList::setSheet(const std::shared_ptr<const BakedSheet>& sheet) {
  auto* content = new QWidget;
  auto* rows = new QVBoxLayout(content);
  rows->setContentsMargins(0, 0, 4, 0);
  rows->setSpacing(8);
  if (sheet)
    for (const Finding& finding : sheet->findings) rows->addWidget(rowOf(finding));
  if (!sheet || sheet->findings.empty()) {
    auto* nothing = new QLabel(sheet ? tr("All %1 checks pass.").arg(bakeChecks().size())
                                     : tr("After a bake, its faults are listed here."));
    nothing->setObjectName("check_nothing");
    nothing->setWordWrap(true);
    rows->addWidget(nothing);
  }
  rows->addStretch(1);
  setWidget(content);
}

QWidget* CheckList::rowOf(const Finding& finding) {
  auto* row = new QWidget;
  row->setObjectName(QString("check.%1").arg(QString::fromStdString(finding.check)));
  auto* layout = new QVBoxLayout(row);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(3);
  // The sign says what the colour says.
  auto* title = new QPushButton((finding.isTrouble ? QString::fromUtf8("▲ ") : QString::fromUtf8("○ ")) +
                                labelOf(finding.check));
  title->setObjectName("title");
  title->setProperty("finding", finding.isTrouble ? "trouble" : "hint");
  title->setFlat(true);
  title->setToolTip(tr("Shows the cells"));
  layout->addWidget(title);
  auto* text = new QLabel(QString::fromStdString(finding.text));
  text->setObjectName("text");
  text->setWordWrap(true);
  layout->addWidget(text);
  connect(title, &QPushButton::clicked, this, [this, cells = finding.cells] { Q_EMIT chosen(cells); });
  if (finding.remedy) {
    auto* remedy = new QPushButton(QString::fromStdString(finding.remedy->label));
    remedy->setObjectName("remedy");
    layout->addWidget(remedy);
    connect(remedy, &QPushButton::clicked, this,
            [this, wanted = *finding.remedy] { Q_EMIT remedyWanted(wanted); });
  }
  return row;
}

}  // namespace comet
