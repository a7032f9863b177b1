// Menus that are opened without waiting for an answer, and the buttons that open them.
#pragma once

#include "theme/theme.h"

#include <QMenu>
#include <QToolButton>

namespace comet {

// A menu that goes when it is closed; it is opened with popup(). The program goes on meanwhile, so that what
// the menu is about may be gone when an entry is chosen.
inline QMenu* newMenu(QWidget* parent) {
  auto* menu = new QMenu(parent);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  return menu;
}

// The narrow button beside another one that opens a menu, or shows what else there is to choose.
inline QToolButton* newArrowButton(const char* name, const QString& tip) {
  constexpr int kWidth = 16;
  auto* button = new QToolButton;
  button->setObjectName(name);
  button->setIcon(theme::mark("drop"));
  button->setFixedWidth(kWidth);
  button->setToolTip(tip);
  return button;
}

// Where a menu opens that belongs to a button.
inline QPoint below(const QWidget& button) { return button.mapToGlobal(QPoint(0, button.height())); }

}  // namespace comet
