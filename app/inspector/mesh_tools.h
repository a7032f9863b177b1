// The size of an emitter's mesh in the scene, and buttons that bring it to size and put it on the ground.
#pragma once

#include "session/background_answer.h"
#include "session/document.h"

#include <QWidget>

class QLabel;

namespace comet {

class MeshTools : public QWidget {
  Q_OBJECT

 public:
  // For an emitter that exists as long as the tools.
  MeshTools(Document& document, ItemId emitter, QWidget* parent = nullptr);

 private:
  void refresh();
  void fit();

  Document& document_;
  ItemId emitter_;
  QLabel* size_;
  BackgroundAnswer<Vec3d> extent_;
};

// The largest length that a mesh brought to size gets: half of what the camera sees at its aim.
double fittingLength(const Scene& scene, double frame);

}  // namespace comet
