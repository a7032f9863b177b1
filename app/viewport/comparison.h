// The scene as it was beside the scene as it is: by a line that wipes from the one to the other, by a toggle,
// or side by side. What is seen of a snapshot follows the view and the frame.
#pragma once

#include "scene/snapshot.h"
#include "session/background_run.h"
#include "session/document.h"
#include "viewport/compare_run.h"
#include "viewport/picture_run.h"

#include <QImage>
#include <QObject>

class QPainter;

namespace comet {

enum class CompareMode { Wipe, Toggle, SideBySide };

class Comparison : public QObject {
  Q_OBJECT

 public:
  Comparison(Document& document, BackgroundRun& run, PictureRun& pictures, QObject* parent = nullptr);

  // Null while nothing is compared.
  const SnapshotPtr& snapshot() const { return snapshot_; }
  bool isOn() const { return snapshot_ != nullptr; }
  void compareWith(SnapshotPtr snapshot);
  CompareMode mode() const { return mode_; }
  void setMode(CompareMode mode);
  // Whether the snapshot alone is seen; back by the same key.
  bool showsSnapshot() const { return showsSnapshot_; }
  void toggle();
  // Whether both pictures are seen whole, smaller, so that what is drawn over the view would not fit them.
  bool isSideBySide() const { return isOn() && mode_ == CompareMode::SideBySide && !showsSnapshot_; }

  // From now on seen so.
  void see(const ViewCamera& camera, PictureSize size);
  // The picture of this frame is wanted, with so many times fewer pixels each way at first.
  void look(int frame, int reduction);

  // In place of the scene's own picture alone, which is of this frame.
  void paint(QPainter& painter, const QRect& area, const QImage& now, int frame) const;

  // Of the line that wipes: true if it has been taken or moved.
  bool press(const QRect& area, const QPointF& position);
  bool move(const QRect& area, const QPointF& position);
  bool release();
  double line() const { return line_; }

 Q_SIGNALS:
  // What is compared or how, or a picture was drawn.
  void changed();

 private:
  void keepValid();
  void begin();
  bool hasLine() const { return isOn() && mode_ == CompareMode::Wipe && !showsSnapshot_; }
  double lineIn(const QRect& area) const { return area.left() + line_ * area.width(); }
  void paintLabel(QPainter& painter, const QRect& area, Qt::Alignment side, const QString& words) const;

  Document& document_;
  CompareRun run_;
  SnapshotPtr snapshot_;
  CompareMode mode_ = CompareMode::Wipe;
  bool showsSnapshot_ = false;
  double line_ = 0.5;  // from the left, of the view's width
  bool holdsLine_ = false;
  std::shared_ptr<const PictureKeys> keys_;  // of the snapshot; null until they are needed
  ViewCamera camera_;
  PictureSize size_;
  bool isFollowed_ = false;  // the view, as it is now
};

}  // namespace comet
