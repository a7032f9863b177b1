// The effect, drawn by the renderer that bakes, with what helps to place it.
//
// Drag on the ground to orbit, with the right button to pan, wheel to zoom; drag the handles to move the
// selected emitter or influence, or the faces of the selected gas's box; click a particle or a gas to probe
// it; drop a mesh or a picture to use it. A picture that is kept is shown at once; any other is drawn with
// fewer pixels first if it would not keep up with the hand or the playback, and refined when still.
#pragma once

#include "session/background_run.h"
#include "session/document.h"
#include "viewport/arrow_overlay.h"
#include "viewport/box_gizmo.h"
#include "viewport/comparison.h"
#include "viewport/direction_gizmo.h"
#include "viewport/frame_painter.h"
#include "viewport/gas_overlay.h"
#include "viewport/motion_path.h"
#include "viewport/move_gizmo.h"
#include "viewport/particle_overlay.h"
#include "viewport/picture_run.h"
#include "viewport/pixel_probe.h"
#include "viewport/probe.h"
#include "viewport/stroke_tool.h"
#include "viewport/view_camera.h"

#include <QImage>
#include <QWidget>

namespace comet {

class Viewport : public QWidget {
  Q_OBJECT

 public:
  Viewport(Document& document, BackgroundRun& run, PictureRun& pictures, QWidget* parent = nullptr);

  ViewKind view() const { return camera_.kind(); }
  const ViewCamera& viewCamera() const { return camera_; }
  void look(ViewKind kind);
  void setShowsGrid(bool shows);
  void setOverlay(const ParticleOverlay& overlay);
  const ParticleOverlay& overlay() const { return overlay_; }
  void setSceneOverlay(const SceneOverlay& overlay);
  const SceneOverlay& sceneOverlay() const { return sceneOverlay_; }
  // Whether the value of the pixel under the pointer is told.
  void setShowsValue(bool shows);
  // What is told now; empty if nothing is.
  QString valueText() const;
  // Moves the view so that the effect at this frame fills it, or what is selected.
  enum class FitTo { Effect, Selected };
  void fit(FitTo what);
  // Sets the scene's camera to what is seen now.
  void takeOverView();
  void setPlaying(bool playing);
  Comparison& comparison() { return comparison_; }
  // What is on the screen, without what is drawn over it.
  const QImage& picture() const { return image_; }
  Probe& probe() { return probe_; }
  GasProbe& gasProbe() { return gasProbe_; }
  GasOverlayView& gasOverlay() { return gasOverlay_; }

  // The frame whose picture is on the screen, and the one drawn with how many times fewer pixels.
  int shownFrame() const { return shownFrame_; }
  int reduction() const { return shownReduction_; }
  // What drawing the picture on the screen took; nothing for one that was kept.
  std::optional<double> drawMilliseconds() const { return drawMilliseconds_; }
  // Where the selected item's handle for an axis (0 to 2) is, for tests; the centre for -1.
  QPointF handle(int axis) const;
  // That of its direction.
  QPointF directionHandle() const { return direction_.tip(projector(), *directionArrow()); }
  // That of a face of the selected gas's box.
  QPointF boxHandle(const BoxGizmo::Face& face) const {
    return boxGizmo_.handle(projector(), *gizmoBox(), face);
  }
  // What deflectors had to fix in the frame that is shown.
  QStringList caughtNotes() const;
  QPointF motionKey(const std::string& param, std::size_t key) const {
    return motion_.keyAt(projector(), param, key);
  }
  QPointF strokePoint(std::size_t stroke, std::size_t point) const {
    return strokes_.pointAt(projector(), stroke, point);
  }

 Q_SIGNALS:
  void viewChanged();
  // A picture came to the screen.
  void shown();
  // A file that a scene can use was dropped.
  void dropped(const QString& path, const QPoint& globalPosition);
  // One of the presets was: at a place of the scene, on an item with a mesh if one is there.
  void presetDropped(std::size_t preset, const Vec3d& place, ItemId meshItem);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  Camera cameraNow() const;
  Projector projector() const;
  // The place of the selected item that can be moved by hand; null if it has none.
  const char* gizmoParam() const;
  Vec3d gizmoPlace() const;
  // The direction of the selected item that can be turned by hand; null if it has none.
  const char* directionParam() const;
  // Where it stands and points in the scene, if there is one.
  std::optional<DirectionGizmo::Arrow> directionArrow() const;
  // How the selected item's own directions are turned in the scene.
  Mat3d ownRotation() const;
  void turnTo(const Vec3d& direction);
  // The box of the selected item whose faces can be moved by hand, if it has one.
  std::optional<BoxGizmo::Box> gizmoBox() const;
  void setBox(const BoxGizmo::Box& box);
  // Takes note of the handle below the pointer.
  void hover(const QPointF& position);
  void probeAt(const QPointF& position);
  QRect overlayArea() const;
  bool looksThroughSelected() const;
  // From where the scene is seen, and what is seen, has changed.
  void lookAnew();
  void drawAnew();
  PictureSize pictureSize() const;
  const ViewedScene& viewed();
  void askForPicture();
  void show(const FramePainter::Painted& painted);
  void keepUp(const FramePainter::Painted& painted);
  // Items, handles and notes, over the picture.
  void paintOverlays(QPainter& painter);
  void paintNotes(QPainter& painter, double gridSpacing);
  void paintValue(QPainter& painter) const;
  void lookAtPixels();
  void paintProbe(QPainter& painter, const Projector& view) const;
  void dropPreset(std::size_t preset, const QPointF& position);
  // The particle whose centre is nearest to a position, if one is near.
  std::optional<ParticleId> particleAt(const QPointF& position) const;

  Document& document_;
  BackgroundRun& run_;
  PictureRun& pictures_;
  FramePainter painter_;
  Comparison comparison_;
  PixelProbe pixels_;
  ViewCamera camera_;
  MoveGizmo gizmo_;
  MoveGizmo::Grip hovered_ = MoveGizmo::Grip::None;
  DirectionGizmo direction_;
  bool hoversDirection_ = false;
  BoxGizmo boxGizmo_;
  std::optional<BoxGizmo::Face> hoveredFace_;
  std::shared_ptr<const PictureKeys> keys_;  // null until they are needed again, as the next
  std::shared_ptr<const ViewedScene> viewed_;
  QImage image_;
  int shownFrame_ = 0;
  int shownReduction_ = 1;
  int reduction_ = 1;  // of the next picture that is drawn
  WishNumber wish_ = 0, shownWish_ = 0;
  std::size_t leftOut_ = 0;
  QString problem_;  // why the newest picture could not be drawn
  std::optional<double> drawMilliseconds_;
  bool showsGrid_ = true;
  ParticleOverlay overlay_;
  bool playing_ = false;
  bool waits_ = true;  // for the frame to be simulated
  Probe probe_;
  GasProbe gasProbe_;
  GasOverlayView gasOverlay_;
  StrokeTool strokes_;
  MotionPath motion_;
  SceneOverlay sceneOverlay_;
  ProbePanel* probePanel_;
  QPointF pressedAt_;
  QPointF lastPosition_;
  std::optional<QPointF> pointer_;  // while it is over the picture
};

}  // namespace comet
