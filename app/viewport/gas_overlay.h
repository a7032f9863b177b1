// What a gas holds, drawn over the effect: a plane of it in colors, its velocities there, and the bricks that
// hold any.
#pragma once

#include "gas/gas_views.h"
#include "render/camera.h"
#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"

#include <QImage>
#include <QPainter>
#include <optional>

namespace comet {

struct GasOverlay {
  std::optional<GasQuantity> slice;
  bool showsVelocity = false;  // arrows on the same plane
  bool showsBricks = false;

  bool isEmpty() const { return !slice && !showsVelocity && !showsBricks; }
};

// Worked out behind the window for the frame that is shown, of the selected gas, or that of the selected
// source, or the first one.
class GasOverlayView : public QObject {
  Q_OBJECT

 public:
  GasOverlayView(Document& document, BackgroundRun& run, QObject* parent = nullptr);

  const GasOverlay& overlay() const { return overlay_; }
  void set(const GasOverlay& overlay);
  // The plane goes through this place, or else through the middle of the box.
  void cutAt(std::optional<Vec3d> place);
  // Of a view along this direction the plane faces the viewer as well as it can.
  void lookAlong(const Vec3d& forward);
  // `area` is the view, for the legend.
  void paint(QPainter& painter, const Projector& projector, const QRect& area) const;
  // How many bricks are drawn, and the place along its axis of the plane, for tests.
  std::size_t brickCount() const { return shown_.bricks.size(); }
  std::optional<std::size_t> slicePlane() const;

 Q_SIGNALS:
  void changed();

 private:
  struct Shown {
    std::optional<GasSlice> slice;
    QImage image;  // of the slice, a pixel for each voxel
    std::vector<GasArrow> arrows;
    std::vector<GasBrick> bricks;
  };
  static Shown made(const PackedGas& gas, const GasOverlay& overlay, std::size_t axis,
                    const std::optional<Vec3d>& place);
  std::shared_ptr<const PackedGas> gas() const;
  void ask();
  void paintSlice(QPainter& painter, const Projector& projector, const QRect& area) const;
  void paintArrows(QPainter& painter, const Projector& projector, const QRect& area) const;

  Document& document_;
  BackgroundRun& run_;
  GasOverlay overlay_;
  std::optional<Vec3d> place_;
  std::size_t axis_ = 2;
  Shown shown_;
  BackgroundAnswer<Shown> answer_;
};

}  // namespace comet
