// Places that have prices: which is the cheapest to reach from somewhere, the way and the price counted
// together.
#pragma once

#include "base/vec.h"

#include <array>
#include <cstddef>
#include <vector>

namespace comet {

// A k-d tree whose nodes know the lowest price below them, and the lowest cost from a few viewpoints: where
// prices have grown until everything costs about the same, only that tells nodes apart for those who start
// near a viewpoint. Prices are zero or more, at first zero. Not to be read while a price is set.
class PriceTree {
 public:
  static constexpr std::size_t kViewpoints = 4;

  // At least one place. Viewpoints are chosen where `points` are.
  PriceTree(const std::vector<Vec3d>& places, const std::vector<Vec3d>& points);

  struct Best {
    std::size_t place = 0;
    double cost = 0;    // its distance and price
    double second = 0;  // of the next cheapest; infinite if there is none
  };
  // Both costs are at most `slack` above the true ones, which spares looking through all that cost about the
  // same. Of equally cheap ones always the same.
  Best cheapest(const Vec3d& from, double slack = 0) const;

  double price(std::size_t place) const { return prices_[slots_[place]]; }
  void setPrice(std::size_t place, double price);

 private:
  struct Node {
    Vec3d min{0.0}, max{0.0};
    double lowest = 0;                             // price
    std::array<double, kViewpoints> lowestFrom{};  // distance from each viewpoint, and price
    std::size_t first = 0, count = 0;              // slots
    std::size_t parent = 0, low = 0;               // nodes; `high` follows `low`, which is 0 for a leaf
  };

  // Someone who looks for a place, and the viewpoint nearest to him.
  struct Seeker {
    Vec3d at;
    std::size_t viewpoint;
    double apart;
  };

  void chooseViewpoints(const std::vector<Vec3d>& points);
  void fit(Node& node) const;
  void split();
  // Sets what a node knows from its places, or from the nodes below it; false if nothing changes.
  bool update(Node& node) const;
  Seeker seekerAt(const Vec3d& from) const;
  static double leastCost(const Node& node, const Seeker& seeker);

  std::array<Vec3d, kViewpoints> viewpoints_{};
  std::vector<Node> nodes_;
  std::vector<Vec3d> places_;        // by slot
  std::vector<double> prices_;       // by slot
  std::vector<std::size_t> order_;   // the place of each slot
  std::vector<std::size_t> slots_;   // the slot of each place
  std::vector<std::size_t> leaves_;  // the node of each slot
};

}  // namespace comet
