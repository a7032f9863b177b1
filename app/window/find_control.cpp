#include "window/find_control.h"

#include "params/search.h"
#include "theme/theme.h"
#include "theme/words.h"

#include <QKeyEvent>
#include <QListWidget>
#include <QMouseEvent>
#include <algorithm>
#include <utility>

namespace comet {
namespace {

constexpr int kMaxListed = 60;
constexpr int kRankStep = 5;  // room to order those that fit equally well
constexpr int kRowsSeen = 12;
constexpr int kListWidth = 460;

}  // namespace

FindControl::FindControl(Document& document, QWidget* parent)
    : QLineEdit(parent), document_(document), list_(new QListWidget(this)) {
  setPlaceholderText(tr("Find anything (Ctrl+F)"));
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

// What a control waits for, as "Shape: Mesh".
QString FindControl::remedy(const Item& item, const Condition& unmet) {
  const ParamSpec& spec = item.kind->params()[item.kind->indexOf(unmet.param)];
  const std::string& state = unmet.choices.front();
  QString words = comet::text(state);
  if (spec.type == ParamType::Flag) words = state == "true" ? tr("on") : tr("off");
  if (state == "positive") words = tr("above 0");
  if (state == "named") words = tr("chosen");
  for (const ChoiceOption& option : spec.choices)
    if (option.id == state) words = comet::text(option.label);
  return QString("%1: %2").arg(comet::text(spec.label), words);
}

void FindControl::addControls(const std::string& words, std::vector<Match>& fits) {
  for (const Scene::ItemPtr& item : document_.scene().items())
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      const ParamSpec& spec = item->kind->params()[i];
      const auto rank = searchRank(
          {spec.label, item->name + " " + item->kind->label() + " " + spec.section, spec.id, spec.tipText},
          words);
      if (!rank) continue;
      // Of equals, the control of what is being worked on; then those that matter now.
      const Condition* unmet = item->unmet(i);
      const int later = (item->id == document_.selected() ? 0 : 1) + (unmet ? 2 : 0);
      QString label = QString("%1 › %2 › %3")
                          .arg(comet::text(item->name), comet::text(spec.section), comet::text(spec.label));
      if (unmet) label += "  —  " + tr("with %1").arg(remedy(*item, *unmet));
      // A control that does not matter now is not shown: the one that it waits for is.
      const auto take = [this, id = item->id, param = comet::text(unmet ? unmet->param : spec.id)] {
        Q_EMIT found(id, param);
      };
      fits.push_back({label, kRankStep * *rank + later, take});
    }
}

std::vector<FindControl::Match> FindControl::matches(const QString& words) {
  std::vector<Match> fits;
  const std::string typed = words.toStdString();
  addControls(typed, fits);
  for (const FoundAction& action : actions_) {
    const SearchEntry entry{
        action.label.toStdString(), action.group.toStdString(), {}, action.tip.toStdString()};
    // Controls come before actions that fit as well.
    if (const auto rank = searchRank(entry, typed))
      fits.push_back({QString("%1 › %2").arg(action.group, action.label), kRankStep * *rank + 4, action.run});
  }
  std::stable_sort(fits.begin(), fits.end(), [](const Match& a, const Match& b) { return a.rank < b.rank; });
  if (fits.size() > kMaxListed) fits.resize(kMaxListed);
  return fits;
}

std::optional<QString> FindControl::meant(const QString& words) {
  std::vector<std::string> labels;
  for (const Scene::ItemPtr& item : document_.scene().items())
    for (const ParamSpec& spec : item->kind->params()) labels.push_back(spec.label);
  for (const FoundAction& action : actions_) labels.push_back(action.label.toStdString());
  const auto word = nearestWord(words.toStdString(), labels);
  return word && !matches(comet::text(*word)).empty() ? std::optional(comet::text(*word)) : std::nullopt;
}

void FindControl::offer() {
  const QString words = text().trimmed();
  matches_ = matches(words);
  list_->clear();
  for (const Match& match : matches_) list_->addItem(match.text);
  if (matches_.empty() && !words.isEmpty()) {
    if (const auto other = meant(words)) {
      matches_.push_back({{}, 0, [this, other = *other] {
                            setText(other);
                            offer();
                          }});
      list_->addItem(tr("Nothing found for “%1”. Did you mean “%2”?").arg(words, *other));
    } else {
      auto* nothing = new QListWidgetItem(tr("Nothing found for “%1”").arg(words), list_);
      nothing->setFlags(Qt::NoItemFlags);
    }
  }
  if (!matches_.empty()) list_->setCurrentRow(0);
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
  chosen.take();
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
