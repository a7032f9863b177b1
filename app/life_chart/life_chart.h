// The life chart: all that changes over a particle's age, over one shared axis.
#pragma once

#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"

#include <QWidget>
#include <vector>

class QLabel;
class QToolButton;
class QGridLayout;

namespace comet {

class CurveLane;
class FollowField;
class GradientEditor;
class LifeAxis;
class SpriteStrip;

class LifeChart : public QWidget {
  Q_OBJECT

 public:
  LifeChart(Document& document, BackgroundRun& run, QWidget* parent = nullptr);

 private:
  struct Lane {
    std::string param;
    QToolButton* head;
    CurveLane* curve;
    QWidget* tools;  // below the open lane: presets, and what it is read by
    FollowField* follows;
  };

  void addLane(const ParamSpec& spec, QGridLayout& grid);
  void setFollows(const std::string& param, CurveInput input, double fastest);
  // The open lane, and all while there is none.
  void showTools();
  void setCurve(const std::string& param, const Curve& curve, bool merges);
  void open(const std::string& param);
  void refresh();
  void showColorHead(const Item& emitter);
  void showLifetime(const Item& emitter);
  void showHistogram();
  Scene::ItemPtr emitter() const;

  Document& document_;
  BackgroundRun& run_;
  QLabel* title_;
  QLabel* lifetime_;
  LifeAxis* axis_;
  SpriteStrip* strip_;
  std::vector<Lane> lanes_;
  std::string open_;  // the parameter whose lane is open
  QLabel* colorHead_;
  GradientEditor* gradient_;
  BackgroundAnswer<std::vector<int>> ages_;  // how many live at each part of their lives
};

}  // namespace comet
