// A card as it is shown.
#pragma once

#include "geometry/mesh.h"
#include "particles/particle_store.h"
#include "simulation/cards/card_rule.h"

#include <vector>

namespace comet {

struct CardPoint {
  Vec3d at{0.0}, velocity{0.0};
  Vec3d normal{0.0};  // away from the front, of length one
};

// Of a particle: its body, if it has one of this kind, else a card as it is born. It is shown `scale` times
// as large, about where the particle is shown.
struct ShownCard {
  ParticleId id = 0;
  Vec3d position{0.0}, velocity{0.0};  // of the particle
  Vec3d shown{0.0};                    // where it is shown
  const float* body = nullptr;
  std::size_t bodyNumbers = 0;
  double scale = 1;
};
void shapeCard(const CardRule& rule, const ShownCard& card, std::vector<CardPoint>& points);

// Two for each cell, counter-clockwise seen from the front.
std::vector<Mesh::Triangle> cardTriangles(const CardGrid& grid);

// Where a point lies in a picture on the front, whose first row of points is its upper edge: 0 to 1 across
// and down.
Vec2 pictureSpot(const CardGrid& grid, std::size_t point);

// By how much the longest of its edges along and across is stretched, as a fraction of its length.
double cardStretch(const CardRule& rule, ParticleId id, const float* body);

}  // namespace comet
