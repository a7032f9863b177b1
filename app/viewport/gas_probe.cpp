#include "viewport/gas_probe.h"

#include <glm/geometric.hpp>

namespace comet {

GasProbe::GasProbe(Document& document, BackgroundRun& run, QObject* parent)
    : QObject(parent),
      document_(document),
      run_(run),
      atFrame_(this, [this](const Found& found) { show(found); }) {
  connect(&document_, &Document::frameChanged, this, &GasProbe::follow);
  connect(&document_, &Document::sceneChanged, this, &GasProbe::follow);
  connect(&run_, &BackgroundRun::changed, this, &GasProbe::follow);
}

void GasProbe::pick(const Vec3d& from, const Vec3d& direction) {
  end();
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!frame || frame->gases->gases.empty()) return;
  isWanted_ = true;
  atFrame_.ask([scene = document_.drawnScene(), frame, from, direction](const Progress&) -> Found {
    const std::optional<GasPick> pick = gasSeenAlong(scene, *frame, from, direction);
    return {pick, pick ? probeGas(*frame, pick->gas, pick->position) : std::nullopt};
  });
}

void GasProbe::end() {
  isWanted_ = false;
  if (!picked_) return;
  picked_.reset();
  voxel_.reset();
  Q_EMIT changed();
}

void GasProbe::follow() {
  if (!picked_) return;
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!frame) {
    voxel_.reset();
    return Q_EMIT changed();
  }
  atFrame_.ask([pick = *picked_, frame](const Progress&) -> Found {
    return {pick, probeGas(*frame, pick.gas, pick.position)};
  });
}

void GasProbe::show(const Found& found) {
  if (!isWanted_) return;
  picked_ = found.pick;
  voxel_ = found.voxel;
  Q_EMIT changed();
}

QStringList GasProbe::lines() const {
  if (!picked_) return {};
  const Scene::ItemPtr gas = document_.scene().find(picked_->gas);
  if (!gas) return {tr("Its gas has been removed.")};
  if (!voxel_) return {tr("It is not in the gas's box at this frame.")};
  const auto number = [](double value) { return QString::number(value, 'g', 3); };
  const auto triple = [&number](const Vec3d& vector) {
    return QString("%1, %2, %3").arg(number(vector.x), number(vector.y), number(vector.z));
  };
  QStringList lines;
  lines << tr("%1, voxel %L2, %L3, %L4")
               .arg(QString::fromStdString(gas->name))
               .arg(voxel_->voxel[0])
               .arg(voxel_->voxel[1])
               .arg(voxel_->voxel[2]);
  lines << tr("at  %1 units").arg(triple(voxel_->middle));
  lines << tr("density  %1").arg(number(voxel_->density));
  lines << tr("temperature  %1 K above the air's").arg(number(voxel_->temperature));
  if (voxel_->fuel) lines << tr("fuel  %1").arg(number(*voxel_->fuel));
  lines << tr("speed  %1 units/s").arg(number(glm::length(voxel_->velocity)));
  lines << tr("velocity  %1").arg(triple(voxel_->velocity));
  if (voxel_->age) lines << tr("age  %1 s").arg(number(*voxel_->age));
  if (voxel_->color) lines << tr("colour  %1").arg(triple(*voxel_->color));
  return lines;
}

}  // namespace comet
