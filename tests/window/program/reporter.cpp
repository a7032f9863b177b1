#include "window/program/reporter.h"

#include "controls/curve_lane.h"
#include "controls/gradient_editor.h"
#include "controls/mask_editor.h"
#include "controls/number_field.h"
#include "controls/typed_number.h"
#include "grid/influence_grid.h"
#include "presets/preset_tiles.h"
#include "scene/scene_file.h"
#include "timeline/timeline.h"
#include "viewport/viewport.h"
#include "window/main_window.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QComboBox>
#include <QJsonArray>
#include <QJsonDocument>
#include <QLabel>
#include <QLineEdit>
#include <QLocalSocket>
#include <QMenu>
#include <QMessageBox>
#include <QTextBrowser>
#include <algorithm>
#include <fstream>

namespace comet::test {
namespace {

QJsonArray toJson(const QPoint& point) { return {point.x(), point.y()}; }
QJsonArray toJson(const QRect& rect) { return {rect.x(), rect.y(), rect.width(), rect.height()}; }

QString textOf(const QWidget& widget) {
  if (const auto* label = qobject_cast<const QLabel*>(&widget)) return label->text();
  if (const auto* editor = qobject_cast<const QLineEdit*>(&widget)) return editor->text();
  if (const auto* button = qobject_cast<const QAbstractButton*>(&widget)) return button->text();
  if (const auto* box = qobject_cast<const QComboBox*>(&widget)) return box->currentText();
  if (const auto* field = qobject_cast<const NumberField*>(&widget)) return textFromNumber(field->value());
  if (const auto* page = qobject_cast<const QTextBrowser*>(&widget))
    return page->source().fileName() + ": " + page->textCursor().selectedText();
  return {};
}

// By the names of its ancestors and its own, outermost first, as in "inspector/param.rate/value". A widget
// that is seen comes before one that is not.
QWidget* findWidget(const QStringList& path) {
  QList<QWidget*> found = QApplication::topLevelWidgets();
  for (const QString& name : path) {
    QList<QWidget*> next;
    for (QWidget* parent : found) {
      if (parent->objectName() == name) next << parent;
      next << parent->findChildren<QWidget*>(name);
    }
    found = next;
  }
  const auto shown =
      std::find_if(found.begin(), found.end(), [](QWidget* each) { return each->isVisible(); });
  return shown != found.end() ? *shown : found.isEmpty() ? nullptr : found.front();
}

std::string nameOf(const Scene& scene, ItemId id) {
  const Scene::ItemPtr item = scene.find(id);
  return item ? item->name : std::string();
}

}  // namespace

void EventTimes::add(double milliseconds, const QString& what) {
  if (milliseconds <= longest_) return;
  longest_ = milliseconds;
  what_ = what;
}

QJsonObject EventTimes::take() {
  const QJsonObject answer{{"ms", longest_}, {"what", what_}};
  longest_ = 0;
  what_.clear();
  return answer;
}

Reporter::Reporter(MainWindow& window, EventTimes& times, const QString& path)
    : QObject(&window), window_(window), times_(times) {
  connect(&server_, &QLocalServer::newConnection, this, [this] {
    QLocalSocket* socket = server_.nextPendingConnection();
    connect(socket, &QLocalSocket::readyRead, this, [this, socket] {
      while (socket->canReadLine()) {
        const QJsonObject question = QJsonDocument::fromJson(socket->readLine()).object();
        socket->write(QJsonDocument(answer(question)).toJson(QJsonDocument::Compact) + '\n');
        socket->flush();
      }
    });
  });
  if (!server_.listen(path)) qFatal("cannot listen at %s", qPrintable(path));
}

QJsonObject Reporter::answer(const QJsonObject& question) const {
  const QString what = question["ask"].toString();
  if (what == "state") return state();
  if (what == "place") return place(question);
  if (what == "times") return times_.take();
  if (what == "scene") return {{"scene", QString::fromStdString(textFromScene(window_.document().scene()))}};
  if (what == "widget") {
    const QWidget* widget = findWidget(question["name"].toString().split('/'));
    return widget ? describe(*widget) : QJsonObject{{"exists", false}};
  }
  return {{"problem", "there is no answer to " + what}};
}

QJsonObject Reporter::describe(const QWidget& widget) const {
  return {{"exists", true},
          {"visible", widget.isVisible()},
          {"enabled", widget.isEnabled()},
          {"focus", widget.hasFocus()},
          {"text", textOf(widget)},
          {"tip", widget.toolTip()},
          {"selected", qobject_cast<const QLineEdit*>(&widget)
                           ? static_cast<const QLineEdit&>(widget).selectedText()
                           : QString()},
          {"rect", toJson(QRect(widget.mapToGlobal(QPoint()), widget.size()))},
          {"seen", toJson(widget.visibleRegion().boundingRect().translated(widget.mapToGlobal(QPoint())))}};
}

QJsonObject Reporter::state() const {
  const Document& document = window_.document();
  const QWidget* focus = QApplication::focusWidget();
  const QWidget* popup = QApplication::activePopupWidget();
  QJsonArray entries;
  if (const auto* menu = qobject_cast<const QMenu*>(popup))
    for (QAction* action : menu->actions())
      entries.append(QJsonObject{{"text", action->text()},
                                 {"at", toJson(menu->mapToGlobal(menu->actionGeometry(action).center()))}});
  // Of an open list to choose from, its entries.
  const auto* list = popup && entries.isEmpty() ? popup->findChild<QAbstractItemView*>() : nullptr;
  for (int row = 0; list && list->model() && row < list->model()->rowCount(); ++row) {
    const QModelIndex index = list->model()->index(row, 0);
    entries.append(
        QJsonObject{{"text", index.data().toString()},
                    {"at", toJson(list->viewport()->mapToGlobal(list->visualRect(index).center()))}});
  }
  // Of a question, its answers.
  if (const auto* box = qobject_cast<const QMessageBox*>(QApplication::activeModalWidget()))
    for (const QAbstractButton* button : box->buttons())
      entries.append(QJsonObject{{"text", QString(button->text()).remove('&')},
                                 {"at", toJson(button->mapToGlobal(button->rect().center()))}});
  const QWidget* tip = findWidget({"qtooltip_label"});
  return {{"frame", document.frame()},
          {"playing", window_.isPlaying()},
          {"page", window_.page()},
          {"selected", QString::fromStdString(nameOf(document.scene(), document.selected()))},
          {"undo", document.undoText()},
          {"active", QApplication::activeWindow() == &window_},
          {"focus", focus ? focus->objectName() : QString()},
          {"focus_parent", focus && focus->parentWidget() ? focus->parentWidget()->objectName() : QString()},
          {"popup", popup ? popup->objectName() : QString()},
          {"modal", QApplication::activeModalWidget() != nullptr},
          {"menu", entries},
          {"message", tip && tip->isVisible() ? textOf(*tip) : QString()},
          {"can_undo", document.canUndo()},
          {"simulated", window_.backgroundRun().isComplete()},
          {"shown_frame", window_.viewport().shownFrame()},
          {"view", static_cast<int>(window_.viewport().view())},
          {"kept_pictures", static_cast<double>(window_.pictureRun().cache().bytes())},
          {"memory", [] {
             std::ifstream file("/proc/self/statm");
             double pages = 0, resident = 0;
             file >> pages >> resident;
             return resident * 4096;
           }()}};
}

QJsonObject Reporter::place(const QJsonObject& question) const {
  const QString of = question["of"].toString();
  const Scene& scene = window_.document().scene();
  const auto at = [](const QWidget& widget, const QPointF& point) {
    return QJsonObject{{"at", toJson(widget.mapToGlobal(point.toPoint()))}};
  };
  const auto index = [&question](const char* name) { return question[name].toInt(); };
  auto& grid = *window_.findChild<InfluenceGrid*>("influence_grid");
  if (of == "cell") return at(grid, grid.cellRect(index("row"), index("column")).center());
  if (of == "row_head") return at(grid, grid.rowHeadRect(index("row")).center());
  if (of == "column_head") return at(grid, grid.columnHeadRect(index("column")).center());
  if (of == "column_switch") return at(grid, grid.switchRect(grid.columnHeadRect(index("column"))).center());
  auto& viewport = window_.viewport();
  if (of == "handle") return at(viewport, viewport.handle(index("axis")));
  if (of == "direction") return at(viewport, viewport.directionHandle());
  if (of == "preset") {
    const auto& tiles = *window_.findChild<PresetTiles*>("preset_tiles");
    return at(tiles, tiles.tileOf(question["name"].toString()).center());
  }
  if (of == "box_handle")
    return at(viewport, viewport.boxHandle({index("axis"), question["upper"].toBool()}));
  auto& timeline = *window_.findChild<Timeline*>("timeline");
  const Scene::ItemPtr item = scene.findByName(question["item"].toString().toStdString());
  if (of == "key")
    return at(timeline, timeline.keys().placeOf(
                            {question["param"].toString().toStdString(), question["frame"].toDouble()}));
  if (of == "frame")
    return at(timeline, QPointF(timeline.xOf(question["frame"].toDouble()), timeline.height() - 6));
  if (of == "burst" && item)
    return at(timeline, timeline.births().tickOf(timeline.birthsPlace(item->id),
                                                 static_cast<std::size_t>(index("index"))));
  const QStringList path = question["name"].toString().split('/');
  QWidget* widget = findWidget(path);
  if (const auto* lane = qobject_cast<CurveLane*>(widget); lane && of == "point")
    return at(*lane, lane->placeOfPoint(static_cast<std::size_t>(index("index"))));
  if (const auto* editor = qobject_cast<GradientEditor*>(widget); editor && of == "stop")
    return at(*editor, editor->placeOfStop(static_cast<std::size_t>(index("index"))));
  if (const auto* editor = qobject_cast<MaskEditor*>(widget); editor && of == "point" && item) {
    const auto& points = std::get<OutlinePoints>(item->value("mask").base);
    return at(*editor, editor->place(points[static_cast<std::size_t>(index("index"))].at));
  }
  return {{"problem", "there is no place of " + of}};
}

}  // namespace comet::test
