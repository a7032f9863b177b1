// The sheet on many sprites, as a game would show it.
#pragma once

#include "bake/bake_run.h"
#include "bake/sheet_look.h"

#include <QElapsedTimer>
#include <QWidget>
#include <functional>
#include <memory>

class QCheckBox;
class QComboBox;
class QLabel;

namespace comet {

class ColorPicker;
class NumberField;

class GamePicture : public QWidget {
  Q_OBJECT

 public:
  explicit GamePicture(QWidget* parent = nullptr);

  void setSheet(std::shared_ptr<const BakedSheet> sheet);
  void setSprites(const GameSprites& sprites);
  void setGround(Ground ground);
  void setShowsOverdraw(bool shows);
  void setPlaying(bool playing);

 Q_SIGNALS:
  // How often a pixel is drawn, on average over the picture.
  void drawn(double overdraw);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void timerEvent(QTimerEvent* event) override;

 private:
  std::shared_ptr<const BakedSheet> sheet_;
  GameSprites sprites_;
  Ground ground_ = Ground::Busy;
  Picture groundPicture_;
  bool showsOverdraw_ = false;
  double seconds_ = 0;
  int timer_ = 0;
  QElapsedTimer clock_;
};

// The picture and what is set for it.
class GameView : public QWidget {
  Q_OBJECT

 public:
  explicit GameView(QWidget* parent = nullptr);

  void setSheet(const std::shared_ptr<const BakedSheet>& sheet);
  void setGround(Ground ground) { picture_->setGround(ground); }
  void setPlaying(bool playing) { picture_->setPlaying(playing); }

 private:
  NumberField* addNumber(const char* name, const QString& prefix, const QString& unit, double max,
                         double value, const QString& tip, const std::function<void(double)>& set);
  void change();

  GameSprites sprites_;
  GamePicture* picture_;
  QWidget* fields_;
  NumberField* life_ = nullptr;
  NumberField* light_ = nullptr;
  bool shone_ = false;  // whether the sheet that was shown last shines
  QComboBox* blend_;
  QLabel* overdraw_;
};

}  // namespace comet
