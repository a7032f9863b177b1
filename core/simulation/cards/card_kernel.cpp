#include "simulation/cards/card_kernel.h"

#include <algorithm>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "simulation/cards/card_kernel.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, as the library asks.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace comet {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

using Tag = hn::CappedTag<float, kCardLanes>;
using Float = hn::Vec<Tag>;

HWY_INLINE Float load(const float* from) { return hn::LoadU(Tag(), from); }
HWY_INLINE Float number(double value) { return hn::Set(Tag(), static_cast<float>(value)); }
HWY_INLINE Float sum(Float a, Float b) { return hn::Add(a, b); }
HWY_INLINE Float mul(Float a, Float b) { return hn::Mul(a, b); }

// Three numbers of each of a vector's cards.
struct Triple {
  Float x, y, z;
};

HWY_INLINE Triple operator+(const Triple& a, const Triple& b) {
  return {sum(a.x, b.x), sum(a.y, b.y), sum(a.z, b.z)};
}
HWY_INLINE Triple operator-(const Triple& a, const Triple& b) {
  return {hn::Sub(a.x, b.x), hn::Sub(a.y, b.y), hn::Sub(a.z, b.z)};
}
HWY_INLINE Triple operator*(const Triple& a, Float by) { return {mul(a.x, by), mul(a.y, by), mul(a.z, by)}; }
HWY_INLINE Float dot(const Triple& a, const Triple& b) {
  return sum(sum(mul(a.x, b.x), mul(a.y, b.y)), mul(a.z, b.z));
}
HWY_INLINE Triple cross(const Triple& a, const Triple& b) {
  return {hn::Sub(mul(a.y, b.z), mul(a.z, b.y)), hn::Sub(mul(a.z, b.x), mul(a.x, b.z)),
          hn::Sub(mul(a.x, b.y), mul(a.y, b.x))};
}
// One over the root of it; of nothing, a large number.
HWY_INLINE Float inverseRoot(Float square) {
  return hn::Div(number(1), hn::Sqrt(sum(square, number(1e-24))));
}

// Calls `act` with the first lane of each vector in which any card moves.
template <typename Act>
HWY_INLINE void forEachMoving(const CardLanes& lanes, const Act& act) {
  for (std::size_t lane = 0; lane < lanes.count; lane += hn::Lanes(Tag()))
    if (!hn::AllTrue(Tag(), hn::Eq(load(lanes.moves + lane), number(0)))) act(lane);
}

// The points of the cards from `lane` on.
class Points {
 public:
  template <typename Vectors>
  Points(const Vectors& vectors, std::size_t lanes, std::size_t lane)
      : at_{vectors[0] + lane, vectors[1] + lane, vectors[2] + lane}, lanes_(lanes) {}

  HWY_INLINE Triple of(std::size_t point) const {
    const std::size_t row = point * lanes_;
    return {load(at_[0] + row), load(at_[1] + row), load(at_[2] + row)};
  }

 private:
  const float* at_[3];
  std::size_t lanes_;
};

// The same, to be written.
class MovingPoints : public Points {
 public:
  MovingPoints(const CardVectors& vectors, std::size_t lanes, std::size_t lane)
      : Points(vectors, lanes, lane),
        at_{vectors[0] + lane, vectors[1] + lane, vectors[2] + lane},
        lanes_(lanes) {}

  HWY_INLINE void set(std::size_t point, const Triple& value) const {
    const std::size_t row = point * lanes_;
    hn::StoreU(value.x, Tag(), at_[0] + row);
    hn::StoreU(value.y, Tag(), at_[1] + row);
    hn::StoreU(value.z, Tag(), at_[2] + row);
  }
  HWY_INLINE void add(std::size_t point, const Triple& value) const { set(point, of(point) + value); }

 private:
  float* at_[3];
  std::size_t lanes_;
};

void BendCards(const CardModes& modes, const CardLanes& lanes, const CardVectors& positions) {
  const std::size_t points = modes.points();
  forEachMoving(lanes, [&](std::size_t lane) HWY_ATTR {
    const MovingPoints at(positions, lanes.count, lane);
    const Float bend = load(lanes.bend + lane);
    std::array<Triple, CardGrid::kMaxPoints> now, next;
    for (std::size_t p = 0; p < points; ++p) now[p] = next[p] = at.of(p);
    for (std::size_t m = 0; m < modes.count(); ++m) {
      const float *reads = modes.reads().data() + m * points, *moves = modes.moves().data() + m * points;
      Triple out{number(0), number(0), number(0)};
      for (std::size_t p = 0; p < points; ++p) out = out + now[p] * hn::Set(Tag(), reads[p]);
      const Float stiff = mul(bend, hn::Set(Tag(), modes.stiffness()[m]));
      out = out * hn::Div(stiff, sum(number(1), stiff));
      for (std::size_t p = 0; p < points; ++p) next[p] = next[p] - out * hn::Set(Tag(), moves[p]);
    }
    for (std::size_t p = 0; p < points; ++p) at.set(p, next[p]);
  });
}

void CurlCards(const CardGrid& grid, double width, double length, const CardLanes& lanes,
               const CardVectors& positions) {
  const double wide = width / grid.across, high = length / grid.along;
  const std::size_t last = grid.columns() - 1;
  forEachMoving(lanes, [&](std::size_t lane) HWY_ATTR {
    const MovingPoints at(positions, lanes.count, lane);
    const Float curl = load(lanes.curl + lane);
    const auto push = [&](std::size_t point, const Triple& normal, double by) {
      at.add(point, normal * mul(curl, number(by / (width * length * grid.areaOf(point)))));
    };
    // Normals as they were before anything is pushed.
    std::array<Triple, CardGrid::kMaxPoints> normals;
    for (std::size_t row = 1; row + 1 < grid.rows(); ++row)
      for (std::size_t column = 0; column <= last; ++column) {
        const std::size_t left = column == 0 ? 0 : column - 1, right = std::min(column + 1, last);
        const Triple along = at.of(grid.at(column, row + 1)) - at.of(grid.at(column, row - 1));
        const Triple across = at.of(grid.at(right, row)) - at.of(grid.at(left, row));
        const Triple normal = cross(along, across);
        normals[grid.at(column, row)] = normal * inverseRoot(dot(normal, normal));
      }
    for (std::size_t row = 1; row + 1 < grid.rows(); ++row)
      for (std::size_t column = 0; column <= last; ++column) {
        const double strength = (column == 0 || column == last ? 0.5 : 1.0) * wide / (high * high);
        const Triple& normal = normals[grid.at(column, row)];
        push(grid.at(column, row - 1), normal, strength);
        push(grid.at(column, row), normal, -2 * strength);
        push(grid.at(column, row + 1), normal, strength);
      }
  });
}

void HoldEdges(const std::vector<CardEdge>& edges, bool backwards, const CardLanes& lanes,
               const CardVectors& positions) {
  forEachMoving(lanes, [&](std::size_t lane) HWY_ATTR {
    const MovingPoints at(positions, lanes.count, lane);
    const Float size = load(lanes.size + lane), slack = load(lanes.slack + lane),
                moves = load(lanes.moves + lane);
    for (std::size_t i = 0; i < edges.size(); ++i) {
      const CardEdge& edge = edges[backwards ? edges.size() - 1 - i : i];
      const Triple a = at.of(edge.a), b = at.of(edge.b), apart = b - a;
      const Float weights =
          sum(hn::Set(Tag(), edge.weightA + edge.weightB), mul(hn::Set(Tag(), edge.give), slack));
      const Float rest = mul(hn::Set(Tag(), edge.rest), size);
      const Float over = hn::Sub(number(1), mul(rest, inverseRoot(dot(apart, apart))));
      const Triple by = apart * mul(moves, hn::Div(over, weights));
      at.set(edge.a, a + by * hn::Set(Tag(), edge.weightA));
      at.set(edge.b, b - by * hn::Set(Tag(), edge.weightB));
    }
  });
}

// The air on the cells of a vector's cards, which changes the velocities of their corners.
class Blow {
 public:
  Blow(const CardGrid& grid, const CardAir& air, const CardLanes& lanes, const CardVectors& positions,
       const CardVectors& velocities, std::size_t lane)
      : grid_(grid),
        at_(positions, lanes.count, lane),
        now_(velocities, lanes.count, lane),
        from_(air.from, lanes.count, lane),
        before_(air.before, lanes.count, lane),
        air_(air.air, lanes.count, lane),
        added_(mul(load(lanes.size + lane), number(air.densityByMass * air.narrow * kAddedMass))),
        faceOn_(mul(load(lanes.duration + lane), number(0.5 * air.densityByMass * kFaceOnDrag))),
        edgeOn_(mul(load(lanes.duration + lane), number(0.5 * air.densityByMass * kEdgeOnDrag))) {
    const std::size_t right = grid.columns() - 1, end = grid.rows() - 1;
    const Triple a = at_.of(grid.at(0, 0)), b = at_.of(grid.at(right, 0)), c = at_.of(grid.at(0, end)),
                 d = at_.of(grid.at(right, end));
    middle_ = (a + b + c + d) * number(0.25);
    mean_ = Triple{number(0), number(0), number(0)};
    for (std::size_t point = 0; point < grid.points(); ++point)
      mean_ = mean_ + (now_.of(point) - air_.of(point)) * number(grid.areaOf(point));
    across_ = (b + d - a - c) * number(0.25);
    along_ = (c + d - a - b) * number(0.25);
  }

  // What the velocity of a cell changes by.
  HWY_INLINE Triple on(const std::array<std::size_t, 4>& corners) const {
    std::array<Triple, 4> at, from;
    Triple was{number(0), number(0), number(0)}, is = was, air = was;
    for (std::size_t i = 0; i < 4; ++i) {
      at[i] = at_.of(corners[i]);
      from[i] = from_.of(corners[i]);
      is = is + now_.of(corners[i]);
      was = was + before_.of(corners[i]);
      air = air + air_.of(corners[i]);
    }
    const Triple normal = normalOf(at), pastNormal = normalOf(from);
    const Triple past = (was - air) * number(0.25);
    const Triple against = (is - air) * number(0.25);
    // What air is taken along across the plate keeps its momentum while the plate turns.
    const Triple all = against + pastNormal * mul(added_, dot(past, pastNormal));
    const Triple shared = all - normal * mul(hn::Div(added_, sum(number(1), added_)), dot(all, normal));
    return shared - against + dragOn(mean_ + (shared - mean_) * number(kOwnWake), normal, at);
  }

 private:
  static HWY_INLINE Triple normalOf(const std::array<Triple, 4>& corners) {
    const Triple area = cross(corners[3] - corners[0], corners[2] - corners[1]);
    return area * inverseRoot(dot(area, area));
  }

  HWY_INLINE Triple dragOn(const Triple& against, const Triple& normal,
                           const std::array<Triple, 4>& at) const {
    const Float through = dot(against, normal);
    const Triple along = against - normal * through;
    const Float speed = hn::Sqrt(dot(against, against)), inverse = inverseRoot(dot(along, along));
    const Triple path = along * inverse;
    // Where the cell lies along the way, from -1 at the trailing edge to 1 at the leading one.
    const Float reachAlong = dot(along_, path), reachAcross = dot(across_, path);
    const Float reach = inverseRoot(sum(mul(reachAlong, reachAlong), mul(reachAcross, reachAcross)));
    const Triple from = (at[0] + at[1] + at[2] + at[3]) * number(0.25) - middle_;
    const Float ahead =
        hn::Min(number(1), hn::Max(number(-1), mul(dot(from, path), hn::Min(reach, number(1e6)))));
    const Float slant = hn::Div(mul(dot(along, along), inverse), hn::Max(speed, number(1e-12)));
    const Float fraction = hn::Max(number(0), sum(number(1), mul(number(1.5), mul(slant, ahead))));
    // As implicit steps: what is light is stopped, and never thrown back. Air that is taken along weighs,
    // too.
    const Float steep = hn::Div(hn::Abs(through), hn::Max(speed, number(1e-12)));
    const Float lift = hn::Div(number(1 + kPi / 4), sum(number(1), mul(number(kPi / 4), steep)));
    const Float across = hn::Div(mul(mul(faceOn_, lift), mul(speed, fraction)), sum(number(1), added_));
    const Float friction = mul(edgeOn_, speed);
    const Triple none{number(0), number(0), number(0)};
    return none - normal * mul(through, hn::Div(across, sum(number(1), across))) -
           along * hn::Div(friction, sum(number(1), friction));
  }

  const CardGrid& grid_;
  Points at_, now_, from_, before_, air_;
  Float added_, faceOn_, edgeOn_;
  Triple middle_, across_, along_, mean_;
};

void BlowOnCards(const CardGrid& grid, const CardAir& air, const CardLanes& lanes,
                 const CardVectors& positions, const CardVectors& velocities) {
  forEachMoving(lanes, [&](std::size_t lane) HWY_ATTR {
    const Blow blow(grid, air, lanes, positions, velocities, lane);
    const MovingPoints moving(velocities, lanes.count, lane);
    std::array<Triple, CardGrid::kMaxPoints> gained;
    const Triple none{number(0), number(0), number(0)};
    for (std::size_t p = 0; p < grid.points(); ++p) gained[p] = none;
    for (std::size_t row = 0; row + 1 < grid.rows(); ++row)
      for (std::size_t column = 0; column + 1 < grid.columns(); ++column) {
        const std::array<std::size_t, 4> corners{grid.at(column, row), grid.at(column + 1, row),
                                                 grid.at(column, row + 1), grid.at(column + 1, row + 1)};
        const Triple change = blow.on(corners);
        for (const std::size_t corner : corners) {
          // The part of the corner's mass that belongs to this cell.
          const double part = 0.25 / (static_cast<double>(grid.cells()) * grid.areaOf(corner));
          gained[corner] = gained[corner] + change * number(part);
        }
      }
    for (std::size_t p = 0; p < grid.points(); ++p) moving.add(p, gained[p]);
  });
}

}  // namespace HWY_NAMESPACE
}  // namespace comet
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace comet {

HWY_EXPORT(BendCards);
HWY_EXPORT(CurlCards);
HWY_EXPORT(HoldEdges);
HWY_EXPORT(BlowOnCards);

std::vector<CardEdge> cardEdges(const CardGrid& grid, double width, double length,
                                const CardStiffness& stiffness) {
  const double wide = width / grid.across, high = length / grid.along, diagonal = std::hypot(wide, high);
  std::vector<CardEdge> edges;
  // `strip` is the width of the strip that the edge stands for.
  const auto add = [&](std::size_t a, std::size_t b, double rest, double stiff, double strip) {
    if (!(stiff > 0)) return;
    const auto weight = [&](std::size_t point) {
      return static_cast<float>(1 / (width * length * grid.areaOf(point)));
    };
    edges.push_back({a, b, static_cast<float>(rest), weight(a), weight(b),
                     static_cast<float>(stiffness.massByArea * rest / (stiff * strip))});
  };
  const auto rim = [](std::size_t at, std::size_t count) { return at == 0 || at + 1 == count ? 0.5 : 1.0; };
  for (std::size_t row = 0; row < grid.rows(); ++row)
    for (std::size_t column = 0; column < grid.columns(); ++column) {
      const bool hasRight = column + 1 < grid.columns(), hasNext = row + 1 < grid.rows();
      const std::size_t here = grid.at(column, row);
      if (hasRight) add(here, here + 1, wide, stiffness.stretch, rim(row, grid.rows()) * high);
      if (hasNext)
        add(here, here + grid.columns(), high, stiffness.stretch, rim(column, grid.columns()) * wide);
      if (!hasRight || !hasNext) continue;
      const double strip = wide * high / diagonal;
      add(here, here + grid.columns() + 1, diagonal, stiffness.shear, strip);
      add(here + 1, here + grid.columns(), diagonal, stiffness.shear, strip);
    }
  return edges;
}

void bendCards(const CardModes& modes, const CardLanes& lanes, const CardVectors& positions) {
  HWY_DYNAMIC_DISPATCH(BendCards)(modes, lanes, positions);
}

void curlCards(const CardGrid& grid, double width, double length, const CardLanes& lanes,
               const CardVectors& positions) {
  HWY_DYNAMIC_DISPATCH(CurlCards)(grid, width, length, lanes, positions);
}

void holdEdges(const std::vector<CardEdge>& edges, bool backwards, const CardLanes& lanes,
               const CardVectors& positions) {
  HWY_DYNAMIC_DISPATCH(HoldEdges)(edges, backwards, lanes, positions);
}

void blowOnCards(const CardGrid& grid, const CardAir& air, const CardLanes& lanes,
                 const CardVectors& positions, const CardVectors& velocities) {
  HWY_DYNAMIC_DISPATCH(BlowOnCards)(grid, air, lanes, positions, velocities);
}

}  // namespace comet
#endif
