#include "simulation/cards/card_shape.h"

#include <algorithm>
#include <glm/geometric.hpp>

namespace comet {
namespace {

bool isOf(const CardGrid& grid, const ShownCard& card) {
  return card.body && card.bodyNumbers == CardBody::numbers(grid) &&
         card.body[card.bodyNumbers - 1] == static_cast<float>(grid.across);
}

void setNormals(const CardGrid& grid, std::vector<CardPoint>& points) {
  const std::size_t right = grid.columns() - 1, end = grid.rows() - 1;
  for (std::size_t row = 0; row <= end; ++row)
    for (std::size_t column = 0; column <= right; ++column) {
      const auto at = [&](std::size_t x, std::size_t y) { return points[grid.at(x, y)].at; };
      const Vec3d along = at(column, std::min(row + 1, end)) - at(column, row == 0 ? 0 : row - 1);
      const Vec3d across = at(std::min(column + 1, right), row) - at(column == 0 ? 0 : column - 1, row);
      points[grid.at(column, row)].normal = unitOr(glm::cross(along, across), Vec3d(0, 1, 0));
    }
}

}  // namespace

void shapeCard(const CardRule& rule, const ShownCard& card, std::vector<CardPoint>& points) {
  const CardGrid& grid = rule.grid();
  points.resize(grid.points());
  if (isOf(grid, card)) {
    const CardBody body(grid.points(), card.body);
    for (std::size_t i = 0; i < points.size(); ++i) {
      points[i].at = card.shown + (body.position(i) - card.position) * card.scale;
      points[i].velocity = body.velocity(i);
    }
  } else {
    const Mat3d rotation = rule.rotation(card.id, card.velocity, unitOr(card.velocity, Vec3d(0, 1, 0)));
    const std::vector<Vec3d> rest = rule.restPoints(rule.size(card.id) * card.scale, rule.curl(card.id));
    for (std::size_t i = 0; i < points.size(); ++i) {
      points[i].at = card.shown + rotation * rest[i];
      points[i].velocity = card.velocity;
    }
  }
  setNormals(grid, points);
}

std::vector<Mesh::Triangle> cardTriangles(const CardGrid& grid) {
  std::vector<Mesh::Triangle> faces;
  for (std::size_t row = 0; row + 1 < grid.rows(); ++row)
    for (std::size_t column = 0; column + 1 < grid.columns(); ++column) {
      const auto at = [&](std::size_t x, std::size_t y) {
        return static_cast<std::uint32_t>(grid.at(column + x, row + y));
      };
      faces.push_back({at(0, 0), at(0, 1), at(1, 1)});
      faces.push_back({at(0, 0), at(1, 1), at(1, 0)});
    }
  return faces;
}

Vec2 pictureSpot(const CardGrid& grid, std::size_t point) {
  return {static_cast<float>(point % grid.columns()) / static_cast<float>(grid.across),
          static_cast<float>(point / grid.columns()) / static_cast<float>(grid.along)};
}

double cardStretch(const CardRule& rule, ParticleId id, const float* body) {
  const CardGrid& grid = rule.grid();
  const CardBody points(grid.points(), body);
  const double wide = rule.width() * rule.size(id) / grid.across,
               high = rule.length() * rule.size(id) / grid.along;
  double most = 0;
  for (std::size_t row = 0; row < grid.rows(); ++row)
    for (std::size_t column = 0; column < grid.columns(); ++column) {
      const Vec3d here = points.position(grid.at(column, row));
      const auto stretch = [&](std::size_t x, std::size_t y, double rest) {
        most = std::max(most, glm::length(points.position(grid.at(x, y)) - here) / rest - 1);
      };
      if (column + 1 < grid.columns()) stretch(column + 1, row, wide);
      if (row + 1 < grid.rows()) stretch(column, row + 1, high);
    }
  return most;
}

}  // namespace comet
