#include "window/find_control.h"

#include "theme/theme.h"

#include <QKeyEvent>
#include <QListWidget>
#include <QMouseEvent>
#include <algorithm>
#include <optional>
#include <utility>

namespace comet {
namespace {

constexpr int kMostListed = 60;
constexpr int kRowsSeen = 12;
constexpr int kListWidth = 320;

bool beginsAWord(const QString& text, const QString& word) {
  for (qsizetype at = text.indexOf(word, 0, Qt::CaseInsensitive); at >= 0;
       at = text.indexOf(word, at + 1, Qt::CaseInsensitive))
    if (at == 0 || !text[at - 1].isLetterOrNumber()) return true;
  return false;
}

// How well a label of an item fits what was typed: the lower, the better; nothing if it does not.
std::optional<int> rankOf(const QString& item, const QString& label, const QString& words) {
  if (label.compare(words, Qt::CaseInsensitive) == 0) return 0;
  if (label.startsWith(words, Qt::CaseInsensitive)) return 1;
  if (beginsAWord(label, words)) return 2;
  if (label.contains(words, Qt::CaseInsensitive)) return 3;
  // Words in any order, some of which may be the item's.
  for (const QString& word : words.split(' ', Qt::SkipEmptyParts))
    if (!label.contains(word, Qt::CaseInsensitive) && !item.contains(word, Qt::CaseInsensitive))
      return std::nullopt;
  return 4;
}

}  // namespace

FindControl::FindControl(Document& document, QWidget* parent)
    : QLineEdit(parent), document_(document), list_(new QListWidget(this)) {
  setPlaceholderText(tr("Find a control (Ctrl+F)"));
  setObjectName("find_control");
  list_->setObjectName("found_controls");
  list_->setFocusPolicy(Qt::NoFocus);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->hide();
  connect(this, &QLineEdit::textEdited, this, &FindControl::offer);
  connect(list_, &QListWidget::itemClicked, this,
          [this](QListWidgetItem* entry) { choose(list_->row(entry)); });
}

void FindControl::begin() {
  setFocus(Qt::ShortcutFocusReason);
  selectAll();
}

std::vector<FindControl::Match> FindControl::matches(const QString& words) const {
  std::vector<Match> found;
  if (words.isEmpty()) return found;
  for (const Scene::ItemPtr& item : document_.scene().items())
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      if (!item->applies(i)) continue;
      const ParamSpec& spec = item->kind->params()[i];
      const QString name = QString::fromStdString(item->name), label = QString::fromStdString(spec.label);
      const auto rank = rankOf(name, label, words);
      if (!rank) continue;
      // Of equals, the control of what is being worked on.
      const int elsewhere = item->id == document_.selected() ? 0 : 1;
      found.push_back({item->id, QString::fromStdString(spec.id), QString("%1 › %2").arg(name, label),
                       2 * *rank + elsewhere});
    }
  std::stable_sort(found.begin(), found.end(),
                   [](const Match& a, const Match& b) { return a.rank < b.rank; });
  if (found.size() > kMostListed) found.resize(kMostListed);
  return found;
}

void FindControl::offer() {
  const QString words = text().trimmed();
  matches_ = matches(words);
  list_->clear();
  for (const Match& match : matches_) list_->addItem(match.text);
  if (matches_.empty()) {
    auto* nothing = new QListWidgetItem(tr("Nothing found for “%1”").arg(words), list_);
    nothing->setFlags(Qt::NoItemFlags);
  } else {
    list_->setCurrentRow(0);
  }
  if (words.isEmpty())
    list_->hide();
  else
    showList();
}

void FindControl::showList() {
  // Over everything in the window, whose child it is from now on.
  if (list_->parentWidget() != window()) list_->setParent(window());
  const int rows = std::min(kRowsSeen, list_->count());
  list_->resize(kListWidth, rows * list_->sizeHintForRow(0) + 2 * list_->frameWidth());
  list_->move(mapTo(window(), QPoint(0, height() + 2)));
  list_->raise();
  list_->show();
}

void FindControl::choose(int row) {
  if (row < 0 || row >= static_cast<int>(matches_.size())) return;
  const Match chosen = matches_[static_cast<std::size_t>(row)];
  list_->hide();
  clear();
  Q_EMIT found(chosen.item, chosen.param);
}

void FindControl::keyPressEvent(QKeyEvent* event) {
  clickSelectsAll_ = false;
  const int rows = static_cast<int>(matches_.size());
  switch (event->key()) {
    case Qt::Key_Down:
    case Qt::Key_Up:
      if (rows == 0) return;
      list_->setCurrentRow(
          std::clamp(list_->currentRow() + (event->key() == Qt::Key_Down ? 1 : -1), 0, rows - 1));
      return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (list_->isVisible()) choose(list_->currentRow());
      return;
    case Qt::Key_Escape:
      list_->hide();
      clear();
      return;
    default:
      QLineEdit::keyPressEvent(event);
  }
}

void FindControl::focusInEvent(QFocusEvent* event) {
  QLineEdit::focusInEvent(event);
  clickSelectsAll_ = event->reason() == Qt::MouseFocusReason;
  if (!text().isEmpty()) offer();
}

// Not by a timer: what is typed at once after the click would come first and be selected with the rest.
void FindControl::mouseReleaseEvent(QMouseEvent* event) {
  QLineEdit::mouseReleaseEvent(event);
  if (std::exchange(clickSelectsAll_, false) && !hasSelectedText()) selectAll();
}

void FindControl::focusOutEvent(QFocusEvent* event) {
  QLineEdit::focusOutEvent(event);
  list_->hide();
}

}  // namespace comet
