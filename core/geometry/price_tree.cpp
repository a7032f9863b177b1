#include "geometry/price_tree.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <limits>
#include <numeric>

namespace comet {
namespace {

constexpr std::size_t kPlacesALeaf = 8;
constexpr double kInfinite = std::numeric_limits<double>::infinity();

}  // namespace

PriceTree::PriceTree(const std::vector<Vec3d>& places, const std::vector<Vec3d>& points)
    : places_(places), prices_(places.size(), 0), order_(places.size()), slots_(places.size()) {
  chooseViewpoints(points);
  std::iota(order_.begin(), order_.end(), std::size_t{0});
  split();
  for (std::size_t slot = 0; slot < order_.size(); ++slot) {
    places_[slot] = places[order_[slot]];
    slots_[order_[slot]] = slot;
  }
  // Those below a node come after it.
  for (std::size_t n = nodes_.size(); n-- > 0;) update(nodes_[n]);
}

// Their middle, and then whichever is the farthest from all that there are.
void PriceTree::chooseViewpoints(const std::vector<Vec3d>& points) {
  Vec3d sum(0.0);
  for (const Vec3d& point : points) sum += point;
  viewpoints_.fill(points.empty() ? sum : sum / static_cast<double>(points.size()));
  std::vector<double> apart(points.size(), kInfinite);
  for (std::size_t v = 1; v < kViewpoints && !points.empty(); ++v) {
    for (std::size_t i = 0; i < points.size(); ++i)
      apart[i] = std::min(apart[i], glm::length(points[i] - viewpoints_[v - 1]));
    viewpoints_[v] =
        points[static_cast<std::size_t>(std::max_element(apart.begin(), apart.end()) - apart.begin())];
  }
}

bool PriceTree::update(Node& node) const {
  const double before = node.lowest;
  const std::array<double, kViewpoints> beforeFrom = node.lowestFrom;
  if (node.low == 0) {
    node.lowest = kInfinite;
    node.lowestFrom.fill(kInfinite);
    for (std::size_t slot = node.first; slot < node.first + node.count; ++slot) {
      node.lowest = std::min(node.lowest, prices_[slot]);
      for (std::size_t v = 0; v < kViewpoints; ++v)
        node.lowestFrom[v] =
            std::min(node.lowestFrom[v], glm::length(places_[slot] - viewpoints_[v]) + prices_[slot]);
    }
  } else {
    const Node &low = nodes_[node.low], &high = nodes_[node.low + 1];
    node.lowest = std::min(low.lowest, high.lowest);
    for (std::size_t v = 0; v < kViewpoints; ++v)
      node.lowestFrom[v] = std::min(low.lowestFrom[v], high.lowestFrom[v]);
  }
  return node.lowest != before || node.lowestFrom != beforeFrom;
}

PriceTree::Seeker PriceTree::seekerAt(const Vec3d& from) const {
  Seeker seeker{from, 0, kInfinite};
  for (std::size_t v = 0; v < kViewpoints; ++v)
    if (const double apart = glm::length(from - viewpoints_[v]); apart < seeker.apart)
      seeker = {from, v, apart};
  return seeker;
}

void PriceTree::fit(Node& node) const {
  node.min = Vec3d(kInfinite);
  node.max = Vec3d(-kInfinite);
  for (std::size_t slot = node.first; slot < node.first + node.count; ++slot) {
    node.min = glm::min(node.min, places_[order_[slot]]);
    node.max = glm::max(node.max, places_[order_[slot]]);
  }
}

// Each node at the middle of its longest side, by number of places.
void PriceTree::split() {
  leaves_.resize(order_.size());
  nodes_.push_back({.count = order_.size()});
  for (std::size_t n = 0; n < nodes_.size(); ++n) {
    fit(nodes_[n]);
    const Node node = nodes_[n];
    const auto begin = order_.begin() + static_cast<std::ptrdiff_t>(node.first);
    if (node.count <= kPlacesALeaf) {
      std::fill_n(leaves_.begin() + static_cast<std::ptrdiff_t>(node.first), node.count, n);
      continue;
    }
    const Vec3d size = node.max - node.min;
    const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    const std::size_t half = node.count / 2;
    std::nth_element(begin, begin + static_cast<std::ptrdiff_t>(half),
                     begin + static_cast<std::ptrdiff_t>(node.count), [&](std::size_t a, std::size_t b) {
                       const double at = places_[a][axis], other = places_[b][axis];
                       return at != other ? at < other : a < b;
                     });
    nodes_[n].low = nodes_.size();
    nodes_.push_back({.first = node.first, .count = half, .parent = n});
    nodes_.push_back({.first = node.first + half, .count = node.count - half, .parent = n});
  }
}

double PriceTree::leastCost(const Node& node, const Seeker& seeker) {
  const Vec3d outside = glm::max(glm::max(node.min - seeker.at, seeker.at - node.max), Vec3d(0.0));
  return std::max(glm::length(outside) + node.lowest, node.lowestFrom[seeker.viewpoint] - seeker.apart);
}

PriceTree::Best PriceTree::cheapest(const Vec3d& from, double slack) const {
  const Seeker seeker = seekerAt(from);
  Best best{0, kInfinite, kInfinite};
  struct Waiting {
    std::size_t node;
    double least;
  };
  std::array<Waiting, 64> stack;  // of a balanced tree: one for each level is enough
  std::size_t waiting = 0;
  stack[waiting++] = {0, 0};
  while (waiting > 0) {
    const auto [index, least] = stack[--waiting];
    if (least >= best.second - slack) continue;
    const Node& node = nodes_[index];
    if (node.low == 0) {
      for (std::size_t slot = node.first; slot < node.first + node.count; ++slot) {
        const double cost = glm::length(places_[slot] - from) + prices_[slot];
        if (cost < best.cost) {
          best = {order_[slot], cost, best.cost};
        } else {
          best.second = std::min(best.second, cost);
        }
      }
      continue;
    }
    Waiting near{node.low, leastCost(nodes_[node.low], seeker)};
    Waiting far{node.low + 1, leastCost(nodes_[node.low + 1], seeker)};
    if (far.least < near.least) std::swap(near, far);
    stack[waiting++] = far;
    stack[waiting++] = near;
  }
  return best;
}

void PriceTree::setPrice(std::size_t place, double price) {
  const std::size_t slot = slots_[place];
  prices_[slot] = price;
  for (std::size_t index = leaves_[slot]; update(nodes_[index]) && index > 0;) index = nodes_[index].parent;
}

}  // namespace comet
