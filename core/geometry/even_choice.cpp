#include "geometry/even_choice.h"

#include <algorithm>
#include <cmath>
#include <nanoflann.hpp>
#include <numeric>
#include <queue>

namespace comet {
namespace {

// As the tree reads points.
struct PointCloud {
  const std::vector<Vec3d>& points;

  std::size_t kdtree_get_point_count() const { return points.size(); }
  double kdtree_get_pt(std::size_t i, std::size_t axis) const { return points[i][static_cast<int>(axis)]; }
  template <typename Box>
  bool kdtree_get_bbox(Box&) const {
    return false;
  }
};

using Tree = nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<double, PointCloud>, PointCloud,
                                                 3, std::size_t>;

struct Neighbour {
  std::uint32_t point;
  float weight;
};

// How many points lie about as near to one as the nearest that is left may, in the tightest arrangement in a
// plane.
constexpr std::size_t kAround = 15;

// The nearest of each point, weighted by how near they are: the largest distance that still counts is the
// mean of those at which the last of them lie.
std::vector<std::vector<Neighbour>> neighboursOf(const std::vector<Vec3d>& points, const Progress& progress) {
  const PointCloud cloud{points};
  Tree tree(3, cloud, nanoflann::KDTreeSingleIndexAdaptorParams());
  tree.buildIndex();
  const std::size_t asked = std::min(points.size(), 2 * kAround);
  std::vector<std::vector<Neighbour>> near(points.size());
  std::vector<std::size_t> indices(asked);
  std::vector<double> squares(asked);
  double sum = 0;
  for (std::size_t i = 0; i < points.size(); ++i) {
    if (i % 4096 == 0) progress.stopIfCancelled();
    const std::size_t found = tree.knnSearch(&points[i].x, asked, indices.data(), squares.data());
    for (std::size_t n = 0; n < found; ++n)
      if (indices[n] != i)
        near[i].push_back(
            {static_cast<std::uint32_t>(indices[n]), static_cast<float>(std::sqrt(squares[n]))});
    sum += std::sqrt(squares[std::min(found - 1, kAround)]);
  }
  const double reach = std::max(1e-30, sum / static_cast<double>(points.size()));
  for (std::vector<Neighbour>& own : near)
    for (Neighbour& other : own)
      other.weight = std::pow(std::max(0.0F, 1 - other.weight / static_cast<float>(reach)), 8.0F);
  return near;
}

struct Crowded {
  double weight;
  std::size_t point;

  bool operator<(const Crowded& other) const {
    return weight != other.weight ? weight < other.weight : point < other.point;
  }
};

}  // namespace

std::vector<std::size_t> chooseEvenly(const std::vector<Vec3d>& points, std::size_t count,
                                      const Progress& progress) {
  std::vector<std::size_t> chosen(points.size());
  std::iota(chosen.begin(), chosen.end(), std::size_t{0});
  if (count >= points.size()) return chosen;
  const std::vector<std::vector<Neighbour>> near = neighboursOf(points, progress);
  std::vector<double> weights(points.size(), 0);
  for (std::size_t i = 0; i < points.size(); ++i)
    for (const Neighbour& other : near[i]) weights[other.point] += static_cast<double>(other.weight);
  std::priority_queue<Crowded> crowded;
  for (std::size_t i = 0; i < points.size(); ++i) crowded.push({weights[i], i});
  std::vector<bool> isGone(points.size(), false);
  for (std::size_t left = points.size(); left > count;) {
    const Crowded next = crowded.top();
    crowded.pop();
    // What it weighed when it was put there, or less by now: then it stands there again with that.
    if (isGone[next.point] || next.weight != weights[next.point]) continue;
    isGone[next.point] = true;
    --left;
    for (const Neighbour& other : near[next.point]) {
      if (isGone[other.point] || other.weight == 0) continue;
      weights[other.point] -= static_cast<double>(other.weight);
      crowded.push({weights[other.point], other.point});
    }
  }
  chosen.erase(std::remove_if(chosen.begin(), chosen.end(), [&](std::size_t i) { return isGone[i]; }),
               chosen.end());
  return chosen;
}

}  // namespace comet
