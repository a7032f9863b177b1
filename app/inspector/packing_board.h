// Which channel of the packed sheet holds what, set by dragging: sources onto channels, one channel onto
// another to swap them, and off a channel to empty it. The lists below it say the same.
#pragma once

#include "bake/packing.h"
#include "session/document.h"

#include <QWidget>
#include <vector>

namespace comet {

class PackingBoard : public QWidget {
  Q_OBJECT

 public:
  // For a bake that exists as long as the board; hidden while it has no packed sheet.
  PackingBoard(Document& document, ItemId bake, QWidget* parent = nullptr);

  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override;
  QSize sizeHint() const override;

  // Where a source lies that can be dragged, and a channel that it can be dropped on.
  QRect sourceBox(std::string_view id) const;
  QRect channelBox(std::size_t channel) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  // What is being dragged.
  struct Drag {
    const PackSource* source = nullptr;
    int from = -1;  // the channel that it was taken off; -1 for a source of the list
    QPoint at;
  };
  struct Chip {
    const PackSource* source;
    QRect box;
  };
  std::vector<Chip> chips(int width) const;
  int channelAt(const QPoint& place) const;               // -1 for none
  const PackSource* held(int channel) const;              // null for nothing
  const PackSource* sourceAt(const QPoint& place) const;  // that can be dragged from there; null for none
  void drop(const QPoint& place);
  void refresh();

  Document& document_;
  ItemId bake_;
  Drag drag_;
};

}  // namespace comet
