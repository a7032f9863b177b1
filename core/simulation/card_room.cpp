#include "simulation/card_room.h"

#include <algorithm>
#include <tuple>

namespace comet {

using Field = ParticleStore::Field;

CardVectors CardRoom::vectors(Field first) {
  Chunk& chunk = points.chunk;
  return {chunk.field(first), chunk.field(static_cast<Field>(first + 1)),
          chunk.field(static_cast<Field>(first + 2))};
}

void CardRoom::load(const CardRule& rule, const Chunk& all) {
  const std::size_t each = CardBody::numbers(rule.grid()), count = rule.grid().points();
  cards = all.count;
  row = (cards + kCardLanes - 1) / kCardLanes * kCardLanes;
  numbers = CardLaneNumbers(row);
  spread(1, numbers.sizes.data(),
         [&](std::size_t card) { return static_cast<float>(rule.size(all.ids[card])); });
  spread(1, numbers.curls.data(),
         [&](std::size_t card) { return static_cast<float>(rule.curl(all.ids[card])); });
  Chunk& chunk = points.chunk;
  chunk.count = count * row;
  chunk.startInGroup.reset();
  chunk.present = FieldSet();
  if (all.present.has(ParticleStore::Held)) chunk.present |= {ParticleStore::Held};
  ids.resize(chunk.count);
  chunk.ids = ids.data();
  spread(count, ids.data(), [&](std::size_t card) { return all.ids[card]; });
  for (const Field field : {ParticleStore::Age, ParticleStore::Lifetime})
    spread(count, chunk.field(field), [&](std::size_t card) { return all.field(field)[card]; });
  for (std::size_t number = 0; number < CardBody::kCount; ++number) {
    float* values = chunk.field(fieldOf(number));
    for (std::size_t point = 0; point < count; ++point)
      spread(1, values + point * row,
             [&](std::size_t card) { return all.bodies[card * each + number * count + point]; });
  }
  points.deflections.clear();
}

void CardRoom::keep(const CardGrid& grid, Chunk& all) const {
  const std::size_t each = CardBody::numbers(grid), count = grid.points();
  const Chunk& chunk = points.chunk;
  const bool isKept = chunk.present.has(ParticleStore::Held);
  for (std::size_t number = 0; number < CardBody::kCount; ++number) {
    if (number == CardBody::Held && !isKept) continue;
    const float* values = chunk.field(fieldOf(number));
    for (std::size_t point = 0; point < count; ++point)
      for (std::size_t card = 0; card < cards; ++card)
        all.bodies[card * each + number * count + point] = values[point * row + card];
  }
  // A deflector that ends one of its points ends the card, which sticks if any of them does.
  for (std::size_t card = 0; card < cards; ++card) {
    float &lifetime = all.field(ParticleStore::Lifetime)[card], held = -1;
    for (std::size_t point = 0; point < count; ++point) {
      lifetime = std::min(lifetime, chunk.field(ParticleStore::Lifetime)[point * row + card]);
      if (isKept) held = std::max(held, chunk.field(ParticleStore::Held)[point * row + card]);
    }
    if (isKept) all.field(ParticleStore::Held)[card] = held;
  }
}

void CardRoom::meansOf(const CardGrid& grid, std::size_t number, double* means) const {
  std::fill_n(means, cards, 0.0);
  for (std::size_t point = 0; point < grid.points(); ++point) {
    const float* values = points.chunk.fields[number].data() + point * row;
    const double part = grid.areaOf(point);
    for (std::size_t card = 0; card < cards; ++card) means[card] += part * static_cast<double>(values[card]);
  }
}

void CardRoom::setMiddles(const CardGrid& grid, Chunk& all) const {
  std::array<double, kChunkSize> means;
  for (std::size_t number = 0; number < CardBody::Held; ++number) {
    meansOf(grid, number, means.data());
    for (std::size_t card = 0; card < cards; ++card)
      all.fields[number][card] = static_cast<float>(means[card]);
  }
}

void CardRoom::followMiddles(const CardGrid& grid, const Chunk& all) {
  std::array<double, kChunkSize> means;
  for (std::size_t number = 0; number < CardBody::Held; ++number) {
    meansOf(grid, number, means.data());
    for (std::size_t card = 0; card < cards; ++card) {
      const float by = all.fields[number][card] - static_cast<float>(means[card]);
      if (by == 0) continue;
      for (std::size_t point = 0; point < grid.points(); ++point)
        points.chunk.fields[number][point * row + card] += by;
    }
  }
}

void CardRoom::noteHits(const CardGrid& grid, std::map<ItemId, DeflectionCount>& deflections) {
  for (auto& [deflector, found] : points.deflections) {
    std::vector<SurfaceHit>& hits = found.list;
    std::sort(hits.begin(), hits.end(), [](const SurfaceHit& a, const SurfaceHit& b) {
      return std::tie(a.particle, a.time) < std::tie(b.particle, b.time);
    });
    hits.erase(std::unique(hits.begin(), hits.end(),
                           [](const SurfaceHit& a, const SurfaceHit& b) { return a.particle == b.particle; }),
               hits.end());
    DeflectionCount& count = deflections[deflector];
    count.hits += hits.size();
    count.caught += (found.caught + grid.points() - 1) / grid.points();
    count.list.insert(count.list.end(), hits.begin(), hits.end());
  }
}

}  // namespace comet
