// The points of a card, and how they lie in a particle's body.
#pragma once

#include "base/vec.h"

#include <cstddef>
#include <cstdint>

namespace comet {

// A rectangle of cells. Its points are counted row by row along the card, and from side to side within a row.
struct CardGrid {
  static constexpr int kMinCells = 2, kMaxCells = 8;
  static constexpr std::size_t kMaxPoints = (kMaxCells + 1) * (kMaxCells + 1);

  int across = 4, along = 4;  // cells

  std::size_t columns() const { return static_cast<std::size_t>(across) + 1; }
  std::size_t rows() const { return static_cast<std::size_t>(along) + 1; }
  std::size_t points() const { return columns() * rows(); }
  std::size_t cells() const { return static_cast<std::size_t>(across) * static_cast<std::size_t>(along); }
  std::size_t at(std::size_t column, std::size_t row) const { return row * columns() + column; }
  // The fraction of the card's area that belongs to a point: its part of the cells around it.
  double areaOf(std::size_t point) const {
    const std::size_t column = point % columns(), row = point / columns();
    const double wide = column == 0 || column + 1 == columns() ? 0.5 : 1.0;
    const double high = row == 0 || row + 1 == rows() ? 0.5 : 1.0;
    return wide * high / static_cast<double>(cells());
  }

  bool operator==(const CardGrid&) const = default;
};

// What is kept of each point: one number for all points after the other. Behind them, how many cells the card
// has across, which tells its grid.
struct CardBody {
  enum Number { PositionX, PositionY, PositionZ, VelocityX, VelocityY, VelocityZ, Held, kCount };

  static std::size_t numbers(const CardGrid& grid) { return kCount * grid.points() + 1; }
  static std::size_t pointsOf(std::size_t numbers) { return (numbers - 1) / kCount; }

  // Refers to a body of a store, which has to outlive it.
  CardBody(std::size_t points, const float* body) : points_(points), numbers_(body) {}

  float number(Number number, std::size_t point) const {
    return numbers_[static_cast<std::size_t>(number) * points_ + point];
  }
  Vec3d position(std::size_t point) const { return triple(PositionX, point); }
  Vec3d velocity(std::size_t point) const { return triple(VelocityX, point); }

 private:
  Vec3d triple(int first, std::size_t point) const {
    const float* at = numbers_ + static_cast<std::size_t>(first) * points_ + point;
    return {at[0], at[points_], at[2 * points_]};
  }

  std::size_t points_;
  const float* numbers_;
};

}  // namespace comet
