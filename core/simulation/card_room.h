// The points of a chunk's cards while they move.
#pragma once

#include "simulation/card_surfaces.h"
#include "simulation/cards/card_solver.h"
#include "simulation/chunk_step.h"

#include <array>
#include <vector>

namespace comet {

// One row for each point of a card, with one number for each card in it, and for some that only fill it up:
// these are like the first card, and do not move.
struct CardRoom {
  Workspace points;
  CardSurfaces surfaces;
  std::size_t cards = 0, row = 0;
  CardLaneNumbers numbers{0};
  CardLanes lanes;                            // of the numbers
  std::vector<ParticleId> ids;                // of each point's card
  std::array<double, kChunkSize> durations;   // of each point, seconds
  std::array<ChunkArray, 6> begun;            // positions and velocities as a small step begins
  std::array<ChunkArray, 3> predicted;        // where points would be if nothing held them together
  std::array<ChunkArray, 3> pull, air, drag;  // what influences do to each, by its mass; see Forces
  ChunkArray stiffness, dragBySpeed;          // the same
  bool hasSprings = false, isSlowed = false, isTurned = false;

  CardVectors vectors(ParticleStore::Field first);
  // To each point what is true of its card.
  template <typename Number, typename Of>
  void spread(std::size_t pointsOfCard, Number* numbersOfPoints, const Of& of) const {
    for (std::size_t lane = 0; lane < row; ++lane) {
      const Number number = of(lane < cards ? lane : 0);
      for (std::size_t point = 0; point < pointsOfCard; ++point) numbersOfPoints[point * row + lane] = number;
    }
  }

  // Takes up the bodies of a chunk's cards, and gives them back.
  void load(const CardRule& rule, const Chunk& cards);
  void keep(const CardGrid& grid, Chunk& cards) const;

  // Puts each card's particle in the middle of its points.
  void setMiddles(const CardGrid& grid, Chunk& cards) const;
  // Moves the points to where their particle has been put, and changes their velocities as its own.
  void followMiddles(const CardGrid& grid, const Chunk& cards);
  // Notes the hits of points as those of their cards: the first of each in the frame's step.
  void noteHits(const CardGrid& grid, std::map<ItemId, DeflectionCount>& deflections);

 private:
  // Where `number` of the points is among a chunk's fields, in the order of CardBody.
  static ParticleStore::Field fieldOf(std::size_t number) {
    return number == CardBody::Held ? ParticleStore::Held : static_cast<ParticleStore::Field>(number);
  }
  // The mean of a number over the points of each card, by their masses.
  void meansOf(const CardGrid& grid, std::size_t number, double* means) const;
};

}  // namespace comet
