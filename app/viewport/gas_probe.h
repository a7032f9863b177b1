// The place of a gas that was clicked: what its voxel holds at the frame that is shown.
#pragma once

#include "render/gas_pick.h"
#include "session/background_answer.h"
#include "session/background_run.h"
#include "session/document.h"
#include "simulation/probe.h"

#include <QObject>
#include <QStringList>
#include <optional>

namespace comet {

// Follows the document and the run; worked out behind the window.
class GasProbe : public QObject {
  Q_OBJECT

 public:
  GasProbe(Document& document, BackgroundRun& run, QObject* parent = nullptr);

  // Probes the gas that is seen along a ray in the frame that is shown, if any is.
  void pick(const Vec3d& from, const Vec3d& direction);
  void end();
  bool isActive() const { return picked_.has_value(); }
  std::optional<Vec3d> place() const { return picked_ ? std::optional(picked_->position) : std::nullopt; }
  // Nothing if the place is not in the gas's box, or the frame is not simulated.
  const std::optional<ProbedVoxel>& voxel() const { return voxel_; }
  // What it says, line by line.
  QStringList lines() const;

 Q_SIGNALS:
  void changed();

 private:
  struct Found {
    std::optional<GasPick> pick;
    std::optional<ProbedVoxel> voxel;
  };
  void follow();
  void show(const Found& found);

  Document& document_;
  BackgroundRun& run_;
  bool isWanted_ = false;  // whether answers count: they come later than they are asked for
  std::optional<GasPick> picked_;
  std::optional<ProbedVoxel> voxel_;
  BackgroundAnswer<Found> atFrame_;
};

}  // namespace comet
