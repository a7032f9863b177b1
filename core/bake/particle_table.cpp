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
      addGroup(scene, *emitter, group, frame.frame, table);
  return table;
}

}  // namespace comet
