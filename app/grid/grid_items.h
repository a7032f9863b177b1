// What the influence grid shows: the items of its rows and columns, in their order.
#pragma once

#include "scene/scene.h"
#include "simulation/influences/influences.h"

#include <QString>
#include <vector>

namespace comet {

// Emitters, then each gas with its sources, then sources that give to none, then lights.
std::vector<Scene::ItemPtr> gridRows(const Scene& scene);

// Influences, group by group.
std::vector<Scene::ItemPtr> gridColumns(const Scene& scene);

InfluenceGroup groupOf(const Scene::ItemPtr& influence);
QString nameOf(InfluenceGroup group);

}  // namespace comet
