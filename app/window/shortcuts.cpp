#include "window/shortcuts.h"

#include "theme/theme.h"

#include <QPainter>
#include <vector>

namespace comet {
namespace {

constexpr int kRowHeight = 24;
constexpr int kWidth = 570;

const std::vector<std::pair<QString, QString>>& rows() {
  static const std::vector<std::pair<QString, QString>> list{
      {"Space", QObject::tr("Play or pause")},
      {"Left, Right", QObject::tr("One frame back or on")},
      {"Home, End", QObject::tr("First or last frame")},
      {"Ctrl+Z, Ctrl+Shift+Z", QObject::tr("Undo, redo")},
      {"Ctrl+S, Ctrl+Shift+S", QObject::tr("Save, save under another name")},
      {"Ctrl+O, Ctrl+N", QObject::tr("Open, new scene")},
      {"Ctrl+F", QObject::tr("Find a control, an action or a guide page")},
      {"F1", QObject::tr("The guide, where it tells of what is under the pointer")},
      {"F5, F6", QObject::tr("Effect, bake")},
      {"F2, F3", QObject::tr("Fold the left column, the lower panels; open them again")},
      {"F11", QObject::tr("Enlarge the panel under the pointer, and restore it")},
      {"W, Shift+W", QObject::tr("Fill the view with the effect, or with what is selected")},
      {"C, Shift+C", QObject::tr("Show the snapshot compared with, or the scene; keep a snapshot")},
      {"Drag a number", QObject::tr("Change the value; Shift finer, Ctrl coarser; Enter to type")},
      {"Drag in the viewport", QObject::tr("Orbit; right button pans, wheel zooms")},
      {"Arrows, Enter, Delete", QObject::tr("In the influence grid: move, type, clear")},
      {"Delete", QObject::tr("In grid, viewport and timeline: remove the selected item or keys")},
      {"Tab, Enter", QObject::tr("Next control; press a button")},
      {"?", QObject::tr("Show this list")},
  };
  return list;
}

}  // namespace

ShortcutsOverlay::ShortcutsOverlay(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  hide();
}

void ShortcutsOverlay::toggle() {
  if (isVisible()) return hide();
  setGeometry(parentWidget()->rect());
  raise();
  show();
  setFocus();
}

void ShortcutsOverlay::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), theme::withAlpha(theme::kGround, 190));
  const int height = static_cast<int>(rows().size()) * kRowHeight + 64;
  const QRect box((width() - kWidth) / 2, (this->height() - height) / 2, kWidth, height);
  painter.setPen(theme::kLine);
  painter.setBrush(theme::kRaised);
  painter.drawRoundedRect(box, 6, 6);
  painter.setPen(theme::kText);
  painter.setFont(theme::font(15, true));
  painter.drawText(box.adjusted(24, 14, -24, 0), Qt::AlignTop | Qt::AlignLeft, tr("Keys and gestures"));
  painter.setFont(theme::font(12));
  int y = box.top() + 46;
  for (const auto& [keys, what] : rows()) {
    painter.setPen(theme::kAccent);
    painter.drawText(QRect(box.left() + 24, y, 160, kRowHeight), Qt::AlignVCenter, keys);
    painter.setPen(theme::kText);
    painter.drawText(QRect(box.left() + 184, y, kWidth - 200, kRowHeight), Qt::AlignVCenter, what);
    y += kRowHeight;
  }
}

void ShortcutsOverlay::mousePressEvent(QMouseEvent*) { hide(); }
void ShortcutsOverlay::keyPressEvent(QKeyEvent*) { hide(); }

}  // namespace comet
