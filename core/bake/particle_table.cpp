#include "bake/particle_table.h"

#include "render/look.h"

#include <algorithm>

namespace comet {
namespace {

enum Column {
  Id,
  Emitter,
  X,
  Y,
  Z,
  Vx,
  Vy,
  Vz,
  AgeColumn,
  LifetimeColumn,
  Size,
  Red,
  Green,
  Blue,
  Opacity,
  Parent,
  kColumns
};

constexpr const char* kNames[kColumns] = {"id",    "emitter", "x",       "y",        "z",    "vx",
                                          "vy",    "vz",      "age",     "lifetime", "size", "red",
                                          "green", "blue",    "opacity", "parent"};

void addGroup(const Scene& scene, const Item& emitter, const ParticleGroup& group, int frame,
              PointTable& table) {
  StampCache stamps;
  const Look look(scene, emitter, frame, stamps);
  const ParticleStore& particles = group.particles;
  std::vector<PointColumn>& columns = table.columns;
  columns[Emitter].texts.push_back(emitter.name);
  const auto emitterIndex = static_cast<double>(columns[Emitter].texts.size() - 1);
  for (std::size_t i = 0; i < particles.size(); ++i) {
    const DrawnParticle particle = drawnParticle(particles, i);
    const Vec3d color = look.color(particle.state, particle.state.age);
    const auto add = [&columns](Column column, double number) { columns[column].numbers.push_back(number); };
    add(Id, static_cast<double>(particle.state.id));
    add(Emitter, emitterIndex);
    for (int axis = 0; axis < 3; ++axis) {
      add(static_cast<Column>(X + axis), particle.state.position[axis]);
      add(static_cast<Column>(Vx + axis), particle.velocity[axis]);
    }
    add(AgeColumn, particle.state.age);
    add(LifetimeColumn, particle.state.lifetime);
    add(Size, look.diameter(particle.state));
    add(Red, color.x);
    add(Green, color.y);
    add(Blue, color.z);
    add(Opacity, look.opacity(particle.state));
    add(Parent, static_cast<double>(particle.state.lineage.front().id));
  }
  table.count += particles.size();
}

}  // namespace

PointTable particleTable(const Scene& scene, const SceneFrame& frame) {
  PointTable table;
  for (const char* name : kNames) table.columns.push_back({name, PointColumn::Type::Float, {}, {}});
  table.columns[Id].type = table.columns[Parent].type = PointColumn::Type::Whole;
  table.columns[Emitter].type = PointColumn::Type::Text;
  for (const ParticleGroup& group : frame.particles->groups)
    if (const Scene::ItemPtr emitter = scene.find(group.emitter))
      addGroup(scene, *emitter, group, frame.number, table);
  return table;
}

PointTable hitTable(const Scene& scene, const SceneFrame& frame) {
  enum { Time, Particle, Thrower, Surface, Place, Normal = Place + 3, Speed = Normal + 3, kHitColumns };
  constexpr const char* kHitNames[kHitColumns] = {"time", "id", "emitter", "deflector", "x",    "y",
                                                  "z",    "nx", "ny",      "nz",        "speed"};
  PointTable table;
  for (const char* name : kHitNames) table.columns.push_back({name, PointColumn::Type::Float, {}, {}});
  std::vector<PointColumn>& columns = table.columns;
  columns[Particle].type = PointColumn::Type::Whole;
  columns[Thrower].type = columns[Surface].type = PointColumn::Type::Text;
  const auto addName = [&](PointColumn& column, ItemId item) {
    const Scene::ItemPtr named = scene.find(item);
    const std::string name = named ? named->name : std::string();
    const auto known = std::find(column.texts.begin(), column.texts.end(), name);
    column.numbers.push_back(static_cast<double>(known - column.texts.begin()));
    if (known == column.texts.end()) column.texts.push_back(name);
  };
  for (const SurfaceHit& hit : frame.report->hits) {
    columns[Time].numbers.push_back(hit.time);
    columns[Particle].numbers.push_back(static_cast<double>(hit.particle));
    addName(columns[Thrower], emitterOfId(hit.particle));
    addName(columns[Surface], hit.deflector);
    for (int axis = 0; axis < 3; ++axis) {
      columns[static_cast<std::size_t>(Place + axis)].numbers.push_back(hit.position[axis]);
      columns[static_cast<std::size_t>(Normal + axis)].numbers.push_back(hit.normal[axis]);
    }
    columns[Speed].numbers.push_back(hit.speed);
  }
  table.count = frame.report->hits.size();
  return table;
}

}  // namespace comet
