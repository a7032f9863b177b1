// The selected emitter's sprite at twelve ages, as the renderer draws it.
#pragma once

#include "render/stamp_cache.h"
#include "scene/scene.h"
#include "session/background_answer.h"

#include <QImage>
#include <QWidget>
#include <memory>

namespace comet {

class SpriteStrip : public QWidget {
  Q_OBJECT

 public:
  explicit SpriteStrip(QWidget* parent = nullptr);

  // Null for no emitter.
  void show(const Scene& scene, const Scene::ItemPtr& emitter, int frame);

  static constexpr int kAges = 12;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  // Drawn behind the window: a sprite may first have to be made.
  void ask();

  Scene scene_;
  Scene::ItemPtr emitter_;
  int frame_ = 1;
  QImage image_;
  std::shared_ptr<StampCache> stamps_;  // for those who draw, one at a time
  BackgroundAnswer<QImage> drawn_;
};

}  // namespace comet
