#include "simulation/influences/path.h"

#include "simulation/influences/flow.h"
#include "simulation/influences/influences.h"

#include <algorithm>
#include <glm/geometric.hpp>
#include <limits>

namespace comet {
namespace {

constexpr int kPiecesOfSpan = 8;

const KindSpec& pathSpec() {
  static const KindSpec kind(
      "path", "Path", ItemFamily::Influence, "Leads particles along lines that you draw in the viewport.",
      flowParams(
          {"Effect", "path", 12, 4, 0.5},
          {strokes("strokes", "Strokes")
               .in("Path")
               .range(-1e6, 1e6)
               .tip("The lines, in the direction in which you drew them; particles follow the nearest one."),
           flag("closed", "Closed", false)
               .in("Path")
               .keyed()
               .tip("Joins the end of each line to its beginning."),
           number("width", "Width", 1.5)
               .in("Path")
               .unit("units")
               .range(0.001, 10000)
               .usual(0.2, 10)
               .keyed()
               .tip("The distance from a line at which the flow along it ends; it is strongest on the line."),
           number("inward", "Inward", 60)
               .in("Path")
               .unit("%")
               .range(-1000, 1000)
               .usual(-100, 200)
               .keyed()
               .tip("How strongly particles are drawn to the line, in percent of the strength along it."),
           number("around", "Around", 0)
               .in("Path")
               .unit("%")
               .range(-1000, 1000)
               .usual(-200, 200)
               .keyed()
               .tip("How strongly particles are turned about the line, in percent of the strength along it. "
                    "Negative values turn the other way."),
           vector("position", "Position", {0, 0, 0})
               .in("Path")
               .unit("units")
               .range(-1e6, 1e6)
               .usual(-20, 20)
               .keyed()
               .tip("Moves all the lines.")}));
  return kind;
}

}  // namespace

PathFlow::PathFlow(const Item& path, double frame)
    : place_(path.vector("position", frame)),
      width_(path.number("width", frame)),
      inward_(path.number("inward", frame) / 100),
      around_(path.number("around", frame) / 100) {
  for (const Stroke& stroke : std::get<StrokeList>(path.value("strokes").base)) {
    const std::vector<StrokeSpot> spots = smoothed(stroke, kPiecesOfSpan, path.flag("closed", frame));
    for (std::size_t i = 1; i < spots.size(); ++i) pieces_.push_back({spots[i - 1], spots[i]});
  }
}

PathFlow::Spot PathFlow::nearest(const Vec3d& position) const {
  Spot spot;
  double min = std::numeric_limits<double>::infinity();
  for (const Piece& piece : pieces_) {
    const Vec3d along = piece.to.at - piece.from.at, from = position - piece.from.at;
    const double squared = glm::dot(along, along);
    const double fraction = squared > 0 ? std::clamp(glm::dot(from, along) / squared, 0.0, 1.0) : 0;
    const Vec3d away = from - along * fraction;
    const double distance = glm::dot(away, away);
    if (distance >= min) continue;
    min = distance;
    spot = {piece.from.direction + (piece.to.direction - piece.from.direction) * fraction, away};
  }
  spot.direction = unitOr(spot.direction, Vec3d(0.0));
  return spot;
}

Vec3d PathFlow::at(const Vec3d& position) const {
  if (pieces_.empty()) return Vec3d(0.0);
  const Spot spot = nearest(position - place_);
  const double distance = glm::length(spot.outward), fraction = distance / width_;
  const double near = std::max(0.0, 1 - fraction * fraction);
  Vec3d flow = spot.direction * (near * near);
  if (distance < 1e-9) return flow;
  const Vec3d outward = spot.outward / distance;
  flow -= outward * (inward_ * std::min(1.0, fraction));
  // Rises from the line, as in a solid body, and falls to nothing at the width.
  constexpr double kMaxAtFraction = 3.493856214843421;  // 1 / the greatest value of s (1 - s²)²
  flow += glm::cross(spot.direction, outward) * (around_ * kMaxAtFraction * fraction * near * near);
  return flow;
}

void PathFlow::describe(Hasher& hasher) const {
  hasher << place_ << width_ << inward_ << around_ << pieces_.size();
  for (const Piece& piece : pieces_)
    hasher << piece.from.at << piece.from.direction << piece.to.at << piece.to.direction;
}

InfluenceKind pathInfluence() {
  return {.spec = pathSpec(),
          .group = InfluenceGroup::Field,
          .plan = [](const Item& item, const FrameTime& time,
                     const Progress&) -> std::unique_ptr<const InfluenceAction> {
            const double frame = time.middleFrame();
            return std::make_unique<StandingFlow<PathFlow>>(FlowEffect(item, frame), PathFlow(item, frame));
          }};
}

}  // namespace comet
