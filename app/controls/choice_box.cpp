#include "controls/choice_box.h"

namespace comet {

void ChoiceBox::offer(const QList<Entry>& entries) {
  bool isSame = entries.size() == count();
  for (int i = 0; isSame && i < count(); ++i)
    isSame = itemText(i) == entries[i].first && itemData(i).toString() == entries[i].second;
  if (isSame || isOpen()) return;
  clear();
  for (const Entry& entry : entries) addItem(entry.first, entry.second);
}

void ChoiceBox::showEntry(const QString& meaning) {
  if (!isOpen()) setCurrentIndex(findData(meaning));
}

}  // namespace comet
