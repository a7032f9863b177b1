#include "simulation/contacts/contact_notes.h"

#include "simulation/deflectors/deflector_shape.h"
#include "simulation/emission/size.h"
#include "simulation/influences/influences.h"

#include <algorithm>
#include <fmt/format.h>

namespace comet {
namespace {

// Of a volume, the most that balls fill which are poured and shaken: random close packing (Scott and
// Kilgour, "The density of random close packing of spheres", 1969).
constexpr double kClosestPacking = 0.6366;

// What a shape holds.
struct Room {
  double volume = 0;  // units³
  double radius = 0;  // of the largest ball that may go in; of a mesh, of what its box could take
};

Room roomIn(const DeflectorShape& shape) {
  using Type = DeflectorShape::Type;
  const Vec3d half = shape.half();
  const double least = std::min({half.x, half.y, half.z}), disc = kPi * half.x * half.x;
  switch (shape.type()) {
    case Type::Box:
      return {8 * half.x * half.y * half.z, least};
    case Type::Sphere:
      return {4.0 / 3 * disc * half.x, half.x};
    case Type::Cylinder:
      return {2 * disc * half.y, std::min(half.x, half.y)};
    case Type::Capsule:
      return {2 * disc * half.y + 4.0 / 3 * disc * half.x, half.x};
    case Type::Mesh:
      return {volumeOf(*shape.triangles()) * shape.meshScale() * shape.meshScale() * shape.meshScale(),
              least};
    case Type::Plane:
    case Type::Rectangle:
    case Type::Disc:
      break;
  }
  return {};
}

// The balls that a hold is asked to take.
struct Load {
  double volume = 0;  // units³
  std::size_t count = 0;
  double largest = 0;  // radius, units
  std::string largestOf;
};

Load loadOf(const Scene& scene, const Item& contact, const Item& hold, const SceneFrame& frame) {
  Load load;
  const double fraction = contact.number("contact_radius", frame.number) / 100;
  for (const ParticleGroup& group : frame.particles->groups) {
    const Scene::ItemPtr emitter = scene.find(group.emitter);
    const bool takesPart = emitter && scene.response(emitter->id, contact.id).acts() &&
                           scene.response(emitter->id, hold.id).acts();
    if (!takesPart) continue;
    const BirthSize size(*emitter, frame.number);
    load.count += group.particles.size();
    for (std::size_t i = 0; i < group.particles.size(); ++i) {
      const double radius = 0.5 * fraction * size.diameter(group.particles.ids()[i]);
      load.volume += 4.0 / 3 * kPi * radius * radius * radius;
      if (radius <= load.largest) continue;
      load.largest = radius;
      load.largestOf = emitter->name;
    }
  }
  return load;
}

std::string problemWithHold(const Scene& scene, const Item& contact, const Item& hold,
                            const SceneFrame& frame) {
  const DeflectorShape shape(hold, frame.number);
  if (!shape.isInsideOut() || shape.isThin()) return {};
  const Room room = roomIn(shape);
  const Load load = loadOf(scene, contact, hold, frame);
  if (load.largest > room.radius)
    return fmt::format(
        "a particle of {} has a radius of {:.3g}, and {} has room for {:.3g}: make the particles smaller, or "
        "{} larger",
        load.largestOf, load.largest, hold.name, room.radius, hold.name);
  const double most = kClosestPacking * room.volume;
  if (load.volume > most)
    return fmt::format(
        "{} particles fill {:.3g} units³, and {} has room for {:.3g} units³ of them: take fewer or smaller "
        "ones, or make {} larger",
        load.count, load.volume, hold.name, most, hold.name);
  return {};
}

}  // namespace

std::vector<std::string> notesOnContact(const Scene& scene, const Item& contact, const SceneFrame& frame) {
  std::vector<std::string> notes;
  for (const Scene::ItemPtr& item : scene.itemsOf(ItemFamily::Influence)) {
    if (!item->enabled || influenceKindOf(*item).group != InfluenceGroup::Deflector) continue;
    if (std::string problem = problemWithHold(scene, contact, *item, frame); !problem.empty())
      notes.push_back(std::move(problem));
  }
  return notes;
}

}  // namespace comet
