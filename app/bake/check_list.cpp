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

class CheckRow : public QWidget {
 public:
  CheckRow(const Finding& finding, CheckList& list) : title_(new QPushButton), text_(new QLabel) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    title_->setObjectName("title");
    title_->setFlat(true);
    title_->setToolTip(CheckList::tr("Shows the cells"));
    layout->addWidget(title_);
    text_->setObjectName("text");
    text_->setWordWrap(true);
    layout->addWidget(text_);
    connect(title_, &QPushButton::clicked, &list, [this, &list] { Q_EMIT list.chosen(finding_.cells); });
    if (finding.remedy) {
      remedy_ = new QPushButton;
      remedy_->setObjectName("remedy");
      layout->addWidget(remedy_);
      connect(remedy_, &QPushButton::clicked, &list,
              [this, &list] { Q_EMIT list.remedyWanted(*finding_.remedy); });
    }
    setFinding(finding);
  }

  const std::string& check() const { return finding_.check; }

  void setFinding(const Finding& finding) {
    finding_ = finding;
    setObjectName(QString("check.%1").arg(QString::fromStdString(finding.check)));
    // The sign says what the colour says.
    title_->setText((finding.isTrouble ? QString::fromUtf8("▲ ") : QString::fromUtf8("○ ")) +
                    labelOf(finding.check));
    theme::setState(*title_, "finding", finding.isTrouble ? "trouble" : "hint");
    text_->setText(QString::fromStdString(finding.text));
    title_->setEnabled(true);
    if (!remedy_) return;
    remedy_->setEnabled(finding.remedy.has_value());
    if (finding.remedy) remedy_->setText(QString::fromStdString(finding.remedy->label));
  }

  void setFixed() {
    setObjectName("check.fixed");
    title_->setText(QString::fromUtf8("✓ ") + labelOf(finding_.check));
    theme::setState(*title_, "finding", "fixed");
    title_->setEnabled(false);
    text_->setText(CheckList::tr("Fixed: not found in the new sheet."));
    if (remedy_) remedy_->setEnabled(false);
  }

  // Its height stays, whatever it says.
  void keepHeight() {
    setFixedHeight(height());
    text_->setFixedHeight(text_->height());
  }

 private:
  Finding finding_;
  QPushButton* title_;
  QLabel* text_;
  QPushButton* remedy_ = nullptr;
};

CheckList::CheckList(QWidget* parent) : QScrollArea(parent) {
  setObjectName("check_list");
  setWidgetResizable(true);
  setFrameShape(QFrame::NoFrame);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  listFindings();
}

void CheckList::setSheet(const std::shared_ptr<const BakedSheet>& sheet) {
  sheet_ = sheet;
  if (sheet && underMouse() && !rows_.empty())
    updateRows();
  else
    listFindings();
}

void CheckList::leaveEvent(QEvent* event) {
  QScrollArea::leaveEvent(event);
  // Not at once: a row may be where the pointer's event goes that brought this one.
  QMetaObject::invokeMethod(
      this,
      [this] {
        if (keepsPlaces_ && !underMouse()) listFindings();
      },
      Qt::QueuedConnection);
}

void CheckList::addRow(const Finding& finding) {
  rows_.push_back(new CheckRow(finding, *this));
  // Before the stretch.
  layout_->insertWidget(static_cast<int>(rows_.size()) - 1, rows_.back());
}

void CheckList::listFindings() {
  keepsPlaces_ = false;
  rows_.clear();
  auto* content = new QWidget;
  layout_ = new QVBoxLayout(content);
  layout_->setContentsMargins(0, 0, 4, 0);
  layout_->setSpacing(8);
  layout_->addStretch(1);
  if (sheet_)
    for (const Finding& finding : sheet_->findings) addRow(finding);
  if (rows_.empty()) {
    auto* nothing = new QLabel(sheet_ ? tr("All %1 checks pass.").arg(bakeChecks().size())
                                      : tr("The faults of a bake are listed here."));
    nothing->setObjectName("check_nothing");
    nothing->setWordWrap(true);
    layout_->insertWidget(0, nothing);
  }
  setWidget(content);
}

void CheckList::updateRows() {
  keepsPlaces_ = true;
  std::vector<const Finding*> found;
  for (const Finding& finding : sheet_->findings) found.push_back(&finding);
  for (CheckRow* row : rows_) {
    row->keepHeight();
    const auto same = std::find_if(found.begin(), found.end(),
                                   [row](const Finding* finding) { return finding->check == row->check(); });
    if (same == found.end()) {
      row->setFixed();
      continue;
    }
    row->setFinding(**same);
    found.erase(same);
  }
  for (const Finding* finding : found) addRow(*finding);
}

}  // namespace comet
