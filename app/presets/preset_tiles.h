// Presets as tiles with their pictures, which move below the pointer. A click adds one; a drag takes it to
// where it is dropped.
#pragma once

#include "presets/offered_presets.h"
#include "presets/preset_pictures.h"

#include <QTimer>
#include <QWidget>
#include <optional>
#include <vector>

namespace comet {

class PresetTiles : public QWidget {
  Q_OBJECT

 public:
  // What a dragged preset is known by, with its place in `offered`.
  static constexpr const char* kMimeType = "application/x-tawny-comet-preset";

  explicit PresetTiles(QWidget* parent = nullptr);

  // Shows these of those that are offered.
  void show(const std::vector<OfferedPreset>& offered, std::vector<std::size_t> shown);
  // Draws what is still to be drawn, what is in sight first.
  void drawPictures();
  void rest() { pictures_.rest(); }

  std::size_t count() const { return shown_.size(); }
  // For tests: where the tile of a name is; null if there is none.
  QRect tileOf(const QString& name) const;
  bool isDrawn(const QString& name) const;
  // And what a drag of it carries as kMimeType.
  QByteArray dragged(const QString& name) const;

  QSize sizeHint() const override;
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override;

 Q_SIGNALS:
  void chosen(std::size_t preset);
  void menuWanted(std::size_t preset, const QPoint& globalPosition);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override;

 private:
  int across(int width) const;
  QRect tileRect(std::size_t tile) const;
  std::optional<std::size_t> tileAt(const QPoint& position) const;
  const OfferedPreset& preset(std::size_t tile) const { return offered_[shown_[tile]]; }
  void mark(std::optional<std::size_t> tile);
  void startDrag(std::size_t tile);
  // Nothing if none of this name is shown.
  std::optional<std::size_t> tileNamed(const QString& name) const;
  QByteArray carried(std::size_t tile) const;
  QImage pictureOf(const OfferedPreset& preset, bool moves) const;
  void paintTile(QPainter& painter, std::size_t tile) const;

  std::vector<OfferedPreset> offered_;
  std::vector<std::size_t> shown_;     // by their places in `offered_`
  std::optional<std::size_t> marked_;  // below the pointer, or chosen by keys
  std::optional<std::size_t> pressed_;
  QPoint pressedAt_;
  PresetPictures pictures_;
  QTimer clock_;  // while a picture moves
  int tick_ = 0;
};

}  // namespace comet
