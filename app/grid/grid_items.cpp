#include "grid/grid_items.h"

#include "simulation/gas/gas_edits.h"

#include <QObject>
#include <algorithm>

namespace comet {

std::vector<Scene::ItemPtr> gridRows(const Scene& scene) {
  std::vector<Scene::ItemPtr> rows = scene.itemsOf(ItemFamily::Emitter);
  const auto add = [&rows](const std::vector<Scene::ItemPtr>& more) {
    rows.insert(rows.end(), more.begin(), more.end());
  };
  for (const Scene::ItemPtr& gas : scene.itemsOf(ItemFamily::Gas)) {
    rows.push_back(gas);
    add(sourcesOfGas(scene, gas->id));
  }
  add(sourcesOfGas(scene, 0));
  add(scene.itemsOf(ItemFamily::Light));
  return rows;
}

std::vector<Scene::ItemPtr> gridColumns(const Scene& scene) {
  std::vector<Scene::ItemPtr> columns = scene.itemsOf(ItemFamily::Influence);
  std::stable_sort(columns.begin(), columns.end(),
                   [](const auto& a, const auto& b) { return groupOf(a) < groupOf(b); });
  return columns;
}

InfluenceGroup groupOf(const Scene::ItemPtr& influence) { return influenceKindOf(*influence).group; }

QString nameOf(InfluenceGroup group) {
  switch (group) {
    case InfluenceGroup::Force:
      return QObject::tr("forces");
    case InfluenceGroup::Air:
      return QObject::tr("air");
    case InfluenceGroup::Field:
      return QObject::tr("fields");
    case InfluenceGroup::Flock:
      return QObject::tr("flocks");
    case InfluenceGroup::Arrival:
      return QObject::tr("arrivals");
    case InfluenceGroup::Limit:
      return QObject::tr("limits");
    case InfluenceGroup::Contact:
      return QObject::tr("contacts");
    case InfluenceGroup::Deflector:
      return QObject::tr("deflectors");
  }
  return {};
}

}  // namespace comet
