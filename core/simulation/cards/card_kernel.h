// What happens to many cards of one kind at once in a small step.
//
// Every array has one row for each point of the card, with one number for each card in it.
#pragma once

#include "simulation/cards/card_grid.h"
#include "simulation/cards/card_modes.h"

#include <array>
#include <cstddef>
#include <vector>

namespace comet {

// Rows are a multiple of so many numbers long. The cards that fill the last ones up do not move.
constexpr std::size_t kCardLanes = 16;

using CardVectors = std::array<float*, 3>;

// What is true of each card.
struct CardLanes {
  std::size_t count = 0;            // a multiple of kCardLanes
  const float* duration = nullptr;  // of the small step, seconds; 0 for cards that do not move in it
  const float* moves = nullptr;     // 1; 0 for those
  const float* size = nullptr;      // of the longer side, units
  const float* slack = nullptr;     // size² / duration²; 0 for those that do not move
  const float* bend = nullptr;      // duration² bending stiffness / (mass by area size⁴)
  const float* curl =
      nullptr;  // bend, times the size, times twice the sine of half the angle from row to row
};

// Two points that are to stay apart by `rest` times the size of the card.
struct CardEdge {
  std::size_t a, b;
  float rest;
  float weightA, weightB;  // how easily they move: one over their areas, for a longer side of one
  float give;              // how much the edge gives way; times the slack it is as such a weight
};

// The edges that resist stretch and shear, of a card whose longer side is one.
struct CardStiffness {
  double stretch, shear, massByArea;  // see CardRule
};
std::vector<CardEdge> cardEdges(const CardGrid& grid, double width, double length,
                                const CardStiffness& stiffness);

// Takes back what bends them, by as much as they yield in the step: for each mode the implicit step of its
// swing, which is exact where it rests, however stiff it is.
void bendCards(const CardModes& modes, const CardLanes& lanes, const CardVectors& positions);

// Pushes them towards what they are bent by at rest, as if nothing resisted; bendCards makes it what it is.
void curlCards(const CardGrid& grid, double width, double length, const CardLanes& lanes,
               const CardVectors& positions);

// Brings points back to their distances, edge by edge (Macklin, Müller and Chentanez, "XPBD: Position-Based
// Simulation of Compliant Constrained Dynamics", 2016). From the last edge to the first if `backwards`.
void holdEdges(const std::vector<CardEdge>& edges, bool backwards, const CardLanes& lanes,
               const CardVectors& positions);

// The force of air on each cell as on a flat plate: against its motion across the plate, the more the faster
// it goes whichever way (face on as measured for square plates: Hoerner, "Fluid-Dynamic Drag", 1965), which
// lifts a plate that glides; and friction along both faces (Blasius, 1908). The more it goes along itself,
// the more of it acts on the leading half, so that it acts as a whole at a quarter of the length (theory of
// thin aerofoils). A plate that moves across itself takes air along, whose momentum it keeps while it turns
// (added mass of a flat plate: Lamb, "Hydrodynamics", 1932). Together that is what lets falling paper
// flutter and glide (Andersen, Pesavento and Wang, "Unsteady aerodynamics of fluttering and tumbling plates",
// 2005).
struct CardAir {
  std::array<const float*, 3> air;           // its velocity at the points, units/s
  std::array<const float*, 3> from, before;  // where the points were as the small step began, and how fast
  double densityByMass;                      // density by mass by area, 1/unit
  double narrow;                             // the shorter side of a card whose longer side is one
};
void blowOnCards(const CardGrid& grid, const CardAir& air, const CardLanes& lanes,
                 const CardVectors& positions, const CardVectors& velocities);

// Coefficients of that force, by the pressure of the air that comes against the plate.
constexpr double kFaceOnDrag = 1.17, kEdgeOnDrag = 0.03;
// Of the air in a cube of the shorter side, so much for each of its squares on the plate.
constexpr double kAddedMass = 0.785;
// Of what a part of a card moves unlike the whole, air counts so much: the card's own wake takes it along.
constexpr double kOwnWake = 0.35;

}  // namespace comet
