// The value of the pixel under the pointer. The picture is drawn once more for it, since what is kept for
// the screen holds no more than a screen shows.
#pragma once

#include "base/digest.h"
#include "base/picture.h"
#include "render/pixel_value.h"
#include "session/background_answer.h"
#include "viewport/viewed_scene.h"

#include <QImage>
#include <QObject>
#include <QPoint>
#include <memory>
#include <optional>

namespace comet {

class PixelProbe : public QObject {
  Q_OBJECT

 public:
  explicit PixelProbe(QObject* parent = nullptr);

  bool isOn() const { return isOn_; }
  void setOn(bool on);
  // What is seen now. Drawn if it is not what was drawn last.
  void look(const ViewedScene::FrameShot& shot);
  // Of the effect alone, with what the screen shows there with all that is behind it. `screen` is the picture
  // on the screen, `pixel` a place of it. Nothing while it is not drawn, or for a place outside.
  std::optional<PixelValue> at(const QPoint& pixel, const QImage& screen) const;

 Q_SIGNALS:
  // Another picture is there.
  void changed();

 private:
  struct Drawn {
    Digest key;
    std::shared_ptr<const Picture> picture;
  };

  bool isOn_ = false;
  std::optional<Digest> wanted_;
  Drawn drawn_;
  BackgroundAnswer<Drawn> drawing_;
};

}  // namespace comet
