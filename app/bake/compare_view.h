// A sheet and the one before it, or what its texture makes of it, over each other: parted by a line that is
// dragged, or their difference.
#pragma once

#include "bake/bake_run.h"
#include "bake/sheet_look.h"

#include <QImage>
#include <QWidget>
#include <memory>

namespace comet {

enum class CompareWith { PreviousBake, Texture };

class CompareView : public QWidget {
  Q_OBJECT

 public:
  explicit CompareView(QWidget* parent = nullptr);

  void setSheets(std::shared_ptr<const BakedSheet> before, std::shared_ptr<const BakedSheet> now);
  void setWith(CompareWith with);
  void setGround(Ground ground);
  void setShowsDifference(bool shows);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  bool isReady() const;
  void drop();
  void makeImages();
  // Where the sheets are drawn.
  QRectF box() const;
  void moveLine(double fraction);

  std::shared_ptr<const BakedSheet> before_, now_;
  CompareWith with_ = CompareWith::PreviousBake;
  Ground ground_ = Ground::Checker;
  bool showsDifference_ = false;
  QImage left_, right_, difference_;  // made when they are drawn
  double meanDifference_ = 0;
  double fraction_ = 0.5;  // of the width, where the line is
};

}  // namespace comet
