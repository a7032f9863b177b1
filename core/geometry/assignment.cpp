#include "geometry/assignment.h"

#include "geometry/price_tree.h"

#include <algorithm>
#include <cmath>
#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <numeric>
#include <optional>

namespace comet {
namespace {

constexpr double kExactWork = 3e7;
constexpr double kInfinite = std::numeric_limits<double>::infinity();

// Pairs of the points of a set that is not larger than the other: the index in the other of each.
using Pairs = std::vector<std::size_t>;

double totalOf(const Pairs& pairs, const std::vector<Vec3d>& points, const std::vector<Vec3d>& places) {
  double total = 0;
  for (std::size_t i = 0; i < pairs.size(); ++i) total += glm::length(points[i] - places[pairs[i]]);
  return total;
}

// Adds one point after the other, along the path of least reduced cost from it to a free place.
class ShortestPaths {
 public:
  ShortestPaths(const std::vector<Vec3d>& points, const std::vector<Vec3d>& places)
      : points_(points),
        places_(places),
        ownPrices_(points.size(), 0),
        prices_(places.size(), 0),
        ownerOf_(places.size(), Assignment::kNone) {}

  Pairs run(const Progress& progress) {
    for (std::size_t point = 0; point < points_.size(); ++point) {
      progress.stopIfCancelled();
      augment(point);
    }
    Pairs pairs(points_.size());
    for (std::size_t place = 0; place < places_.size(); ++place)
      if (ownerOf_[place] != Assignment::kNone) pairs[ownerOf_[place]] = place;
    return pairs;
  }

 private:
  void augment(std::size_t start) {
    distance_.assign(places_.size(), kInfinite);
    before_.assign(places_.size(), Assignment::kNone);
    done_.clear();
    isDone_.assign(places_.size(), false);
    std::size_t point = start, via = Assignment::kNone;
    double sofar = 0;
    for (;;) {
      std::size_t next = 0;
      double least = kInfinite;
      for (std::size_t place = 0; place < places_.size(); ++place) {
        if (isDone_[place]) continue;
        const double way =
            sofar + glm::length(points_[point] - places_[place]) - ownPrices_[point] - prices_[place];
        if (way < distance_[place]) {
          distance_[place] = way;
          before_[place] = via;
        }
        if (distance_[place] < least) {
          least = distance_[place];
          next = place;
        }
      }
      isDone_[next] = true;
      sofar = least;
      if (ownerOf_[next] == Assignment::kNone) return take(start, next, sofar);
      done_.push_back(next);
      via = next;
      point = ownerOf_[next];
    }
  }

  // Moves each owner on the path to `last` one place on.
  void take(std::size_t start, std::size_t last, double length) {
    ownPrices_[start] += length;
    for (const std::size_t place : done_) {
      ownPrices_[ownerOf_[place]] += length - distance_[place];
      prices_[place] -= length - distance_[place];
    }
    for (std::size_t place = last;; place = before_[place]) {
      const std::size_t via = before_[place];
      ownerOf_[place] = via == Assignment::kNone ? start : ownerOf_[via];
      if (via == Assignment::kNone) return;
    }
  }

  const std::vector<Vec3d>&points_, &places_;
  std::vector<double> ownPrices_, prices_;  // dual variables
  std::vector<std::size_t> ownerOf_;        // of each place
  std::vector<double> distance_;
  std::vector<std::size_t> before_;  // on the path to each place, the place before it
  std::vector<std::size_t> done_;
  std::vector<bool> isDone_;
};

struct Sale {
  Pairs pairs;
  double total = 0, least = 0;

  bool isGood() const { return total <= (1 + kAssignmentSlack) * least; }
};

// Points bid for places, each by what its cheapest is cheaper than its next and `step` more; what differs by
// less than that is all the same to it. Nothing if that takes more than so many bids.
std::optional<Sale> auction(const std::vector<Vec3d>& points, const std::vector<Vec3d>& places, double step,
                            std::size_t maxBids, const Progress& progress) {
  const double slack = 0.25 * step;
  PriceTree tree(places, points);
  std::vector<std::size_t> ownerOf(places.size(), Assignment::kNone);
  Sale sale{Pairs(points.size()), 0, 0};
  std::vector<std::size_t> bidders(points.size());
  // The first comes last, from the back of the list.
  std::iota(bidders.rbegin(), bidders.rend(), std::size_t{0});
  constexpr std::size_t kBidsBetweenLooks = 4096;
  for (std::size_t bids = 0; !bidders.empty(); ++bids) {
    if (bids == maxBids) return std::nullopt;
    if (bids % kBidsBetweenLooks == 0) progress.stopIfCancelled();
    const std::size_t point = bidders.back();
    bidders.pop_back();
    const PriceTree::Best best = tree.cheapest(points[point], slack);
    const double raise = std::isfinite(best.second) ? best.second - best.cost : 0;
    tree.setPrice(best.place, tree.price(best.place) + raise + step);
    if (ownerOf[best.place] != Assignment::kNone) bidders.push_back(ownerOf[best.place]);
    ownerOf[best.place] = point;
    sale.pairs[point] = best.place;
  }
  sale.total = totalOf(sale.pairs, points, places);
  // Whoever pays these prices pays at least the cheapest; only places that are taken have any.
  for (const Vec3d& point : points) sale.least += tree.cheapest(point, slack).cost - slack;
  for (const std::size_t place : sale.pairs) sale.least -= tree.price(place);
  return sale;
}

double largestExtent(const std::vector<Vec3d>& points, const std::vector<Vec3d>& places) {
  Vec3d min(kInfinite), max(-kInfinite);
  for (const std::vector<Vec3d>* set : {&points, &places})
    for (const Vec3d& at : *set) {
      min = glm::min(min, at);
      max = glm::max(max, at);
    }
  return std::max({max.x - min.x, max.y - min.y, max.z - min.z});
}

// Auctions with ever smaller steps, until the result is good enough. Prices must begin at zero each time for
// `least` to hold.
Sale bestSale(const std::vector<Vec3d>& points, const std::vector<Vec3d>& places, const Progress& progress) {
  constexpr double kFirstStep = 0.25, kFiner = 0.4, kLastStep = 1e-6;  // of the extent
  constexpr std::size_t kMaxBids = 200;                                // for each point
  const double extent = std::max(1e-30, largestExtent(points, places));
  std::optional<Sale> best =
      auction(points, places, kFirstStep * extent, std::numeric_limits<std::size_t>::max(), progress);
  for (double step = kFirstStep * kFiner; !best->isGood() && step > kLastStep; step *= kFiner) {
    std::optional<Sale> sale = auction(points, places, step * extent, kMaxBids * points.size(), progress);
    if (!sale) break;
    sale->least = std::max(sale->least, best->least);
    best = std::move(sale);
  }
  return *best;
}

// `points` are no more than `places`.
Sale shortest(const std::vector<Vec3d>& points, const std::vector<Vec3d>& places, const Progress& progress) {
  if (points.empty()) return {};
  const double few = static_cast<double>(points.size());
  if (few * few * static_cast<double>(places.size()) > kExactWork) return bestSale(points, places, progress);
  Pairs pairs = ShortestPaths(points, places).run(progress);
  const double total = totalOf(pairs, points, places);
  return {std::move(pairs), total, total};
}

}  // namespace

Assignment assignPlaces(const std::vector<Vec3d>& points, const std::vector<Vec3d>& places,
                        const Progress& progress) {
  Assignment assignment{std::vector<std::size_t>(points.size(), Assignment::kNone)};
  const bool isCrowded = points.size() > places.size();
  const Sale sale = isCrowded ? shortest(places, points, progress) : shortest(points, places, progress);
  for (std::size_t i = 0; i < sale.pairs.size(); ++i) {
    if (isCrowded)
      assignment.places[sale.pairs[i]] = i;
    else
      assignment.places[i] = sale.pairs[i];
  }
  assignment.total = sale.total;
  assignment.least = sale.least;
  return assignment;
}

}  // namespace comet
