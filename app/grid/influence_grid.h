// The influence grid: rows are emitters, columns are influences, a cell is how much the one answers to the
// other.
//
// Click selects, drag scrubs, double-click or Enter types, Delete clears. Heads select their item; their mark
// turns it on and off; dragging a head moves it.
#pragma once

#include "session/background_run.h"
#include "session/document.h"

#include <QWidget>
#include <optional>

class QLineEdit;
class QMenu;
class QPainter;

namespace comet {

class InfluenceGrid : public QWidget {
  Q_OBJECT

 public:
  InfluenceGrid(Document& document, BackgroundRun& run, QWidget* parent = nullptr);

  QSize sizeHint() const override;

  // Where things are, for tests and tips: cells and heads by their place in the scene's order.
  QRect cellRect(int row, int column) const;
  QRect rowHeadRect(int row) const;
  QRect columnHeadRect(int column) const;

 Q_SIGNALS:
  void failed(const QString& problem);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  enum class Part { None, Cell, RowHead, ColumnHead };
  struct Place {
    Part part = Part::None;
    int row = -1;
    int column = -1;
  };

  Place placeAt(const QPoint& position) const;
  Scene::ItemPtr itemAt(const Place& place) const;
  QRect markRect(const QRect& head) const;
  void reread();
  void selectCell(int row, int column);
  void setResponse(Response response, const QString& mergeKey);
  Response currentResponse() const;
  void startTyping(const QString& text);
  void finishTyping();
  void toggle(const Item& item);
  void addEmitterActions(QMenu& menu, const Scene::ItemPtr& emitter, const QPoint& at);
  void keepPreset(const Item& emitter);
  QString tipFor(const Place& place) const;
  void paintHead(QPainter& painter, const QRect& rect, const Item& item, bool isRow) const;
  void paintCell(QPainter& painter, int row, int column) const;

  Document& document_;
  BackgroundRun& run_;
  std::vector<Scene::ItemPtr> emitters_;
  std::vector<Scene::ItemPtr> influences_;
  int row_ = -1, column_ = -1;  // of the selected cell
  Place pressed_;
  QPoint lastPosition_;
  double scrubValue_ = 0;
  bool moved_ = false;
  QLineEdit* editor_;
};

}  // namespace comet
