#include "simulation/cards/card_modes.h"

#include <Eigen/Eigenvalues>
#include <array>
#include <cmath>
#include <utility>

namespace comet {
namespace {

using Matrix = Eigen::MatrixXd;

// So much more than other points those weigh that do not move.
constexpr double kClampedMass = 1e9;
// Of the largest one: less is rounding.
constexpr double kLeastStiffness = 1e-9;

// Half of `stiffness` times the square of a weighted sum of points.
template <std::size_t kCount>
void add(Matrix& energy, double stiffness, const std::array<std::pair<std::size_t, double>, kCount>& sum) {
  for (const auto& [a, weightA] : sum)
    for (const auto& [b, weightB] : sum)
      energy(static_cast<Eigen::Index>(a), static_cast<Eigen::Index>(b)) += stiffness * weightA * weightB;
}

Matrix energyOf(const CardGrid& grid, double wide, double high) {
  const auto size = static_cast<Eigen::Index>(grid.points());
  Matrix energy = Matrix::Zero(size, size);
  const auto rim = [](std::size_t at, std::size_t count) { return at == 0 || at + 1 == count ? 0.5 : 1.0; };
  for (std::size_t row = 0; row < grid.rows(); ++row)
    for (std::size_t column = 0; column < grid.columns(); ++column) {
      const auto at = [&](std::size_t right, std::size_t down) {
        return grid.at(column + right, row + down);
      };
      if (column + 2 < grid.columns())
        add<3>(energy, rim(row, grid.rows()) * high / std::pow(wide, 3),
               {{{at(0, 0), 1}, {at(1, 0), -2}, {at(2, 0), 1}}});
      if (row + 2 < grid.rows())
        add<3>(energy, rim(column, grid.columns()) * wide / std::pow(high, 3),
               {{{at(0, 0), 1}, {at(0, 1), -2}, {at(0, 2), 1}}});
      if (column + 1 < grid.columns() && row + 1 < grid.rows())
        add<4>(energy, 2 / (wide * high), {{{at(0, 0), 1}, {at(1, 0), -1}, {at(0, 1), -1}, {at(1, 1), 1}}});
    }
  return energy;
}

}  // namespace

CardModes::CardModes(const CardGrid& grid, double width, double length,
                     const std::vector<std::size_t>& clamped)
    : points_(grid.points()) {
  const auto size = static_cast<Eigen::Index>(points_);
  Eigen::VectorXd mass(size);
  for (Eigen::Index i = 0; i < size; ++i) mass(i) = width * length * grid.areaOf(static_cast<std::size_t>(i));
  for (const std::size_t point : clamped) mass(static_cast<Eigen::Index>(point)) *= kClampedMass;
  const Matrix energy = energyOf(grid, width / grid.across, length / grid.along);
  const Eigen::VectorXd roots = mass.cwiseSqrt();
  const Matrix scaled = roots.cwiseInverse().asDiagonal() * energy * roots.cwiseInverse().asDiagonal();
  const Eigen::SelfAdjointEigenSolver<Matrix> solved(scaled);
  const Eigen::VectorXd& values = solved.eigenvalues();
  for (Eigen::Index mode = 0; mode < size; ++mode) {
    if (values(mode) <= kLeastStiffness * values(size - 1)) continue;
    stiffness_.push_back(static_cast<float>(values(mode)));
    for (Eigen::Index i = 0; i < size; ++i) {
      reads_.push_back(static_cast<float>(solved.eigenvectors()(i, mode) * roots(i)));
      moves_.push_back(static_cast<float>(solved.eigenvectors()(i, mode) / roots(i)));
    }
  }
}

}  // namespace comet
