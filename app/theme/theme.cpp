#include "theme/theme.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPainter>
#include <QPalette>
#include <QPixmap>
#include <QPixmapCache>
#include <QStyleFactory>
#include <QSvgRenderer>

// The resources lie in a static library, from which the linker takes only what is named. The macro does not
// work inside a namespace.
static void nameResources() { Q_INIT_RESOURCE(resources); }

namespace comet::theme {
namespace {

// Colours of the style sheet, by the names that stand in it.
QString withColors(QString sheet) {
  const std::pair<const char*, QColor> names[] = {
      {"@ground", kGround},   {"@panel", kPanel}, {"@raised", kRaised},   {"@field", kField},
      {"@line", kLine},       {"@text", kText},   {"@quiet", kQuietText}, {"@accent", kAccent},
      {"@trouble", kTrouble}, {"@well", kWell}};
  for (const auto& [name, color] : names) sheet.replace(name, color.name());
  return sheet;
}

QPalette palette() {
  QPalette result;
  result.setColor(QPalette::Window, kPanel);
  result.setColor(QPalette::Base, kField);
  result.setColor(QPalette::AlternateBase, kRaised);
  result.setColor(QPalette::Button, kRaised);
  for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
    result.setColor(role, kText);
  result.setColor(QPalette::PlaceholderText, kQuietText);
  result.setColor(QPalette::Highlight, kAccent);
  result.setColor(QPalette::Link, kAccent);
  result.setColor(QPalette::LinkVisited, kAccent);
  result.setColor(QPalette::HighlightedText, kGround);
  result.setColor(QPalette::ToolTipBase, kRaised);
  return result;
}

}  // namespace

void apply(QApplication& application) {
  nameResources();
  for (const char* file : {":/theme/fonts/Lato-Regular.ttf", ":/theme/fonts/Lato-Bold.ttf"})
    QFontDatabase::addApplicationFont(file);
  application.setStyle(QStyleFactory::create("Fusion"));
  application.setFont(font());
  application.setPalette(palette());
  QFile sheet(":/theme/style.qss");
  if (sheet.open(QIODevice::ReadOnly))
    application.setStyleSheet(withColors(QString::fromUtf8(sheet.readAll())));
}

QFont font(int pixelSize, bool bold) {
  QFont result("Lato");
  result.setPixelSize(pixelSize);
  result.setBold(bold);
  return result;
}

bool hasMark(const QString& name) { return QFile::exists(":/theme/marks/" + name + ".svg"); }

QPixmap markPixmap(const QString& name, int size, const QColor& color, qreal ratio) {
  const QString key = QString("mark/%1/%2/%3/%4").arg(name).arg(size).arg(color.rgba()).arg(ratio);
  QPixmap pixmap;
  if (QPixmapCache::find(key, &pixmap)) return pixmap;
  QFile file(":/theme/marks/" + name + ".svg");
  if (!file.open(QIODevice::ReadOnly)) return {};
  QSvgRenderer renderer(file.readAll().replace("#ink", color.name().toUtf8()));
  pixmap = QPixmap(QSize(size, size) * ratio);
  pixmap.setDevicePixelRatio(ratio);
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  renderer.render(&painter, QRectF(0, 0, size, size));
  painter.end();
  QPixmapCache::insert(key, pixmap);
  return pixmap;
}

QIcon mark(const QString& name, const QColor& color) {
  QIcon icon;
  for (const int size : {16, 32}) {
    icon.addPixmap(markPixmap(name, size, color));
    icon.addPixmap(markPixmap(name, size, withAlpha(kQuietText, 110)), QIcon::Disabled);
    // What is selected in a list or menu lies on the accent.
    icon.addPixmap(markPixmap(name, size, kGround), QIcon::Selected);
  }
  return icon;
}

void setState(QWidget& widget, const char* property, const QVariant& value) {
  if (widget.property(property) == value) return;
  widget.setProperty(property, value);
  widget.style()->unpolish(&widget);
  widget.style()->polish(&widget);
}

QColor withAlpha(QColor color, int alpha) {
  color.setAlpha(alpha);
  return color;
}

}  // namespace comet::theme
