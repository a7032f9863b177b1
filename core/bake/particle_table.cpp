#include "bake/particle_table.h"

#include "render/look.h"

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
  kColumns
};

constexpr const char* kNames[kColumns] = {"id",  "emitter",  "x",    "y",   "z",     "vx",   "vy",     "vz",
                                          "age", "lifetime", "size", "red", "green", "blue", "opacity"};

void addGroup(const Item& emitter, const ParticleGroup& group, int frame, PointTable& table) {
  const Look look(emitter, frame);
  const ParticleStore& particles = group.particles;
  std::vector<PointColumn>& columns = table.columns;
  columns[Emitter].texts.push_back(emitter.name);
  const auto emitterIndex = static_cast<double>(columns[Emitter].texts.size() - 1);
  for (std::size_t i = 0; i < particles.size(); ++i) {
    const float age = particles.field(ParticleStore::Age)[i];
    const float lifetime = particles.field(ParticleStore::Lifetime)[i];
    const double share = lifeShare(age, lifetime);
    const ParticleId id = particles.ids()[i];
    const Vec3 color = look.color(share);
    const auto add = [&columns](Column column, double number) { columns[column].numbers.push_back(number); };
    add(Id, static_cast<double>(id));
    add(Emitter, emitterIndex);
    for (int field = 0; field < 6; ++field)
      add(static_cast<Column>(X + field), particles.field(static_cast<ParticleStore::Field>(field))[i]);
    add(AgeColumn, age);
    add(LifetimeColumn, lifetime);
    add(Size, look.diameter(id, share));
    add(Red, color.x);
    add(Green, color.y);
    add(Blue, color.z);
    add(Opacity, look.opacity(id, share));
  }
  table.count += particles.size();
}

}  // namespace

PointTable particleTable(const Scene& scene, const ParticleFrame& frame) {
  PointTable table;
  for (const char* name : kNames) table.columns.push_back({name, PointColumn::Type::Float, {}, {}});
  table.columns[Id].type = PointColumn::Type::Whole;
  table.columns[Emitter].type = PointColumn::Type::Text;
  for (const ParticleGroup& group : frame.groups)
    if (const Scene::ItemPtr emitter = scene.find(group.emitter))
      addGroup(*emitter, group, frame.frame, table);
  return table;
}

}  // namespace comet
