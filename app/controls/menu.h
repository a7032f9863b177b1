// Menus that are opened without waiting for an answer.
#pragma once

#include <QMenu>

namespace comet {

// A menu that goes when it is closed; it is opened with popup(). The program goes on meanwhile, so that what
// the menu is about may be gone when an entry is chosen.
inline QMenu* newMenu(QWidget* parent) {
  auto* menu = new QMenu(parent);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  return menu;
}

}  // namespace comet
