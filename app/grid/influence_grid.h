// The influence grid: rows are emitters and gases, columns are influences, a cell is how strongly the one
// responds to the other. The sources of a gas stand below it, without cells.
//
// Click selects, with Shift a range of cells; drag scrubs all that are chosen, double-click or Enter types,
// Delete clears. Heads select their item; the small switch in a head's corner turns it on and off; dragging a
// head moves it; Delete removes the item of the head that was clicked. Within a scroll area heads stay in
// sight.
#pragma once

#include "session/background_run.h"
#include "session/document.h"

#include <QWidget>
#include <functional>
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
  // The corner between the heads, where nothing is drawn.
  static QSize cornerSize();

  // Where things are, for tests and tips: cells and heads by their place in the scene's order.
  QRect cellRect(int row, int column) const;
  QRect rowHeadRect(int row) const;
  QRect columnHeadRect(int column) const;
  // What turns the item of a head on and off; everything else of the head selects.
  QRect switchRect(const QRect& head) const;
  // The cells of the selected item; null if it has none.
  QRect selectedRect() const;

 Q_SIGNALS:
  // An emitter is to be kept as a preset.
  void presetWanted(ItemId emitter);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void moveEvent(QMoveEvent* event) override;
  bool event(QEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  enum class Part { None, Cell, RowHead, ColumnHead };
  struct Place {
    Part part = Part::None;
    int row = -1;
    int column = -1;
  };

  Place placeAt(const QPoint& position) const;
  int columnAt(int x) const;
  Scene::ItemPtr itemAt(const Place& place) const;
  // Whether the row's item can respond to the column's influence.
  bool hasCell(int row, int column) const;
  // The next cell that there is, so many steps from one; that one if there is none.
  Place cellBeside(Place from, int down, int across) const;
  QRect markRect(const QRect& head) const;
  void reread();
  void selectCell(int row, int column);
  // Where the heads are, so that they are in sight.
  QPoint headsAt() const;
  // The chosen cells: from the selected one to the last of a range.
  void extendTo(int row, int column);
  bool isChosen(int row, int column) const;
  std::vector<Scene::ResponseKey> chosenCells() const;
  // Sets all chosen cells, or each from what it was.
  void setPercent(std::optional<double> percent);
  void addToPercent(double by, const QString& mergeKey);
  void setFormula(const std::string& formula);
  void changeChosen(const std::function<Response(Response)>& change, const QString& mergeKey);
  void pasteRow(ItemId emitter);
  // Of the selected cell.
  Response currentResponse() const;
  std::optional<double> currentPercent() const;
  enum class Caret { AtEnd, AllSelected };
  void startTyping(const QString& text, Caret caret);
  // `staysOpen` if what is not understood may be put right: the keyboard is still here.
  void finishTyping(bool staysOpen);
  void finishFormula(const QString& formula);
  void refuse(const QString& message);
  void toggle(const Item& item);
  void addEmitterActions(QMenu& menu, const Scene::ItemPtr& emitter, const QPoint& at);
  void addRowActions(QMenu& menu, const Scene::ItemPtr& item, const QPoint& at);
  void duplicate(const Item& item);
  QString tipFor(const Place& place) const;
  void paintHead(QPainter& painter, const QRect& rect, const Item& item, bool isRow) const;
  void paintGroups(QPainter& painter) const;
  void paintColumnWords(QPainter& painter, const QRect& rect, const Item& item) const;
  void paintRowWords(QPainter& painter, const QRect& rect, const Item& item) const;
  void addSoloAction(QMenu& menu, ItemId item);
  void paintCell(QPainter& painter, int row, int column) const;
  void paintCourse(QPainter& painter, const QRectF& box, const Curve& course) const;

  Document& document_;
  BackgroundRun& run_;
  std::vector<Scene::ItemPtr> rows_;        // emitters, then gases with their sources
  std::vector<Scene::ItemPtr> influences_;  // by their groups
  std::vector<int> columnLefts_;
  int row_ = -1, column_ = -1;          // of the selected cell
  int lastRow_ = -1, lastColumn_ = -1;  // where the range that begins there ends
  ItemId copiedRow_ = 0;                // the emitter whose responses were copied
  Place pressed_;
  QPoint lastPosition_;
  Scene scrubbed_;    // as it was when the drag began
  double scrub_ = 0;  // percent, since then
  bool moved_ = false;
  QLineEdit* editor_;
};

}  // namespace comet
