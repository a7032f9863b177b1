// The particle that was clicked: its numbers, what acts on it, its path, and how all of its emitter are
// spread.
#pragma once

#include "render/stamp_cache.h"
#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"
#include "simulation/probe.h"
#include "viewport/gas_probe.h"

#include <QTimer>
#include <QWidget>
#include <memory>
#include <optional>
#include <vector>

class QPainter;

namespace comet {

// The probed particle at the frame that is shown. Follows the document and the run.
class Probe : public QObject {
  Q_OBJECT

 public:
  Probe(Document& document, BackgroundRun& run, QObject* parent = nullptr);

  // The particle to follow; none stops probing.
  void pick(std::optional<ParticleId> id);
  bool isActive() const { return id_.has_value(); }
  // Nothing if the particle does not live at this frame, or the frame is not simulated. Worked out behind the
  // window, like all the rest.
  const std::optional<ProbedParticle>& particle() const { return now_.particle; }
  // The frame at which it is so.
  int frame() const { return now_.frame; }
  // Its diameter in the scene.
  double size() const { return now_.size; }
  const std::vector<PathPoint>& path() const { return path_; }
  const EmitterSpreads& spreads() const { return spreads_; }

 Q_SIGNALS:
  void changed();

 private:
  struct Now {
    ParticleId id = 0;
    int frame = 0;
    std::optional<ProbedParticle> particle;
    double size = 0;
  };
  struct OverTime {
    ParticleId id = 0;
    std::vector<PathPoint> path;
    EmitterSpreads spreads;
  };

  // The particle at the frame that is shown, if one is probed; the rest follows when frames no longer come
  // in.
  void follow();
  void readParticle();
  // What takes every simulated frame: path and spreads.
  void readAllFrames();

  Document& document_;
  BackgroundRun& run_;
  std::optional<ParticleId> id_;
  Now now_;
  std::vector<PathPoint> path_;
  EmitterSpreads spreads_;
  QTimer settle_;
  std::shared_ptr<StampCache> stamps_;  // for those who answer, one at a time
  BackgroundAnswer<Now> atFrame_;
  BackgroundAnswer<OverTime> overTime_;
};

// The numbers, as a panel: of the particle, or of the gas where that is probed.
class ProbePanel : public QWidget {
  Q_OBJECT

 public:
  ProbePanel(Document& document, Probe& probe, GasProbe& gas, QWidget* parent = nullptr);

  // What it says, line by line.
  QStringList lines() const;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paintSpread(QPainter& painter, const QRect& place, const QString& name, const Spread& spread,
                   const QString& unit, std::optional<double> own) const;

  Document& document_;
  Probe& probe_;
  GasProbe& gas_;
};

}  // namespace comet
