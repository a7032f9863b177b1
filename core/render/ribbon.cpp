#include "render/ribbon.h"

#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// A point of a line in the picture.
struct Spot {
  Vec2d at{0.0};
  double depth = 0;
  double half = 0;   // of the width, pixels
  double along = 0;  // in lengths of the picture along the line
  const LinePoint* point = nullptr;
  bool isSeen = false;
};

// Closer ones than this are taken as one, pixels.
constexpr double kClosest = 0.5;
// So far before the plane that cuts a line it ends, units.
constexpr double kOnPlane = 1e-9;
// A point is left out if the line without it goes so near by, and no piece becomes so long, pixels. Widths
// are held to the same, opacities and colours to what cannot be seen.
constexpr double kNearBy = 0.1, kLongest = 24, kSameShade = 0.02;

// Whether the middle one of three adds nothing to see.
bool isSpare(const Spot& before, const Spot& spot, const Spot& after) {
  const Vec2d whole = after.at - before.at;
  const double length = glm::length(whole);
  if (!spot.isSeen || !before.isSeen || !after.isSeen || length > kLongest || length < kClosest) return false;
  const Vec2d part = spot.at - before.at;
  const double fraction = glm::dot(part, whole) / (length * length);
  if (fraction < 0 || fraction > 1 || std::abs(part.x * whole.y - part.y * whole.x) > kNearBy * length)
    return false;
  const auto isNear = [fraction](double from, double here, double to, double tolerance) {
    return std::abs(from + (to - from) * fraction - here) <= tolerance;
  };
  const LinePoint &a = *before.point, &b = *spot.point, &c = *after.point;
  return isNear(before.half, spot.half, after.half, kNearBy) &&
         isNear(a.opacity, b.opacity, c.opacity, kSameShade) &&
         isNear(a.color.x, b.color.x, c.color.x, kSameShade) &&
         isNear(a.color.y, b.color.y, c.color.y, kSameShade) &&
         isNear(a.color.z, b.color.z, c.color.z, kSameShade);
}

void project(const std::vector<LinePoint>& points, const Projector& projector, double pictureLength,
             std::vector<Spot>& spots) {
  spots.clear();
  for (std::size_t i = 0; i < points.size(); ++i) {
    const LinePoint& point = points[i];
    const Projector::Point place = projector.project(point.place);
    Spot spot;
    spot.at = {place.x, place.y};
    spot.depth = place.depth;
    spot.half = 0.5 * point.width * place.pixelsPerUnit;
    spot.along = pictureLength > 0 ? point.along / pictureLength : point.fraction;
    spot.point = &point;
    spot.isSeen = projector.visible(place) && !projector.isClipped(point.place);
    const bool isClose = !spots.empty() && spot.isSeen && spots.back().isSeen &&
                         glm::length(spot.at - spots.back().at) < kClosest;
    // The last one counts, that the line ends where it does.
    if (isClose && i + 1 < points.size()) continue;
    if (isClose && spots.size() > 1) spots.pop_back();
    if (spots.size() > 1 && isSpare(spots[spots.size() - 2], spots.back(), spot)) spots.pop_back();
    spots.push_back(spot);
  }
  if (spots.size() == 2 && glm::length(spots[1].at - spots[0].at) < 1e-6) spots.clear();
}

// Where two pieces meet, half of the bend on each side.
Vec2d cutBetween(const Vec2d& before, const Vec2d& after) {
  const Vec2d sum = before + after;
  const double length = glm::length(sum);
  // It turns right back: there is no line that both could be cut at but across the first.
  return length > 1e-3 ? sum / length : before;
}

// Adds points where a line meets the plane that cuts the scene open, so that it ends right there.
void addCuts(const ClipPlane& clip, std::vector<LinePoint>& points) {
  std::vector<LinePoint> cut;
  for (std::size_t i = 0; i < points.size(); ++i) {
    if (i > 0) {
      const LinePoint &from = points[i - 1], &to = points[i];
      const double before = clip.beyond(from.place), here = clip.beyond(to.place);
      if ((before > 0) != (here > 0)) {
        cut.push_back(pointBetween(from, to, before / (before - here)));
        // On the side that is drawn, whatever rounding does.
        cut.back().place -= clip.direction * (clip.beyond(cut.back().place) + kOnPlane);
      }
    }
    cut.push_back(points[i]);
  }
  points.swap(cut);
}

bool meetsPicture(const Vec2d& at, const Vec2& reach, int width, int height) {
  return at.x + reach.x > 0 && at.x - reach.x < width && at.y + reach.y > 0 && at.y - reach.y < height;
}

class PieceMaker {
 public:
  PieceMaker(const SpriteOptions& options, int width, int height, Ribbons& ribbons)
      : options_(options), width_(width), height_(height), ribbons_(ribbons) {}

  void add(const std::vector<Spot>& spots, float glow, double age) {
    RibbonPiece piece{};
    Vec2d direction(0.0);
    for (std::size_t i = 0; i + 1 < spots.size(); ++i) {
      if (!isPiece(spots, i)) {
        piece.endJoins = false;
        continue;
      }
      piece.beginJoins = piece.endJoins;
      if (!piece.beginJoins) direction = directionAt(spots, i);
      piece.beginCut = piece.beginJoins ? piece.endCut : Vec2(direction);
      piece.endJoins = isPiece(spots, i + 1);
      const Vec2d next = piece.endJoins ? directionAt(spots, i + 1) : direction;
      piece.endCut = Vec2(piece.endJoins ? cutBetween(direction, next) : direction);
      put(spots[i], spots[i + 1], glow, age, piece);
      direction = next;
    }
  }

 private:
  static bool isPiece(const std::vector<Spot>& spots, std::size_t i) {
    return i + 1 < spots.size() && spots[i].isSeen && spots[i + 1].isSeen;
  }
  static Vec2d directionAt(const std::vector<Spot>& spots, std::size_t i) {
    return glm::normalize(spots[i + 1].at - spots[i].at);
  }

  void put(const Spot& begin, const Spot& end, float glow, double age, RibbonPiece& piece) {
    const Vec2d middle = 0.5 * (begin.at + end.at);
    piece.half = Vec2(end.at - middle);
    piece.beginWidth = static_cast<float>(begin.half);
    piece.endWidth = static_cast<float>(end.half);
    piece.beginLight = Vec3(begin.point->color);
    piece.endLight = Vec3(end.point->color);
    piece.beginAlong = static_cast<float>(begin.along);
    piece.endAlong = static_cast<float>(end.along);
    piece.beginOpacity = static_cast<float>(begin.point->opacity);
    piece.endOpacity = static_cast<float>(end.point->opacity);
    const bool isNothing =
        (begin.half <= 0 && end.half <= 0) || (begin.point->opacity <= 0 && end.point->opacity <= 0);
    if (isNothing || !meetsPicture(middle, piece.reach(), width_, height_)) return;
    Sprite sprite{};
    sprite.x = static_cast<float>(middle.x);
    sprite.y = static_cast<float>(middle.y);
    sprite.radius = static_cast<float>(std::max(0.5, 0.5 * (begin.half + end.half)));
    sprite.distance = static_cast<float>(0.5 * (begin.depth + end.depth));
    sprite.depth = depthOf(sprite, age);
    sprite.red = sprite.green = sprite.blue = glow;
    sprite.opacity = 1;
    sprite.profile = options_.profile;
    sprite.turn = static_cast<std::uint32_t>(ribbons_.pieces.size());
    ribbons_.sprites.push_back(sprite);
    ribbons_.pieces.push_back(piece);
  }

  float depthOf(const Sprite& sprite, double age) const {
    if (options_.order == SpriteOptions::Order::Oldest) return static_cast<float>(age);
    if (options_.order == SpriteOptions::Order::Youngest) return static_cast<float>(-age);
    return sprite.distance;
  }

  const SpriteOptions& options_;
  int width_, height_;
  Ribbons& ribbons_;
};

}  // namespace

SpriteProfile linkProfile(const Item& emitter) {
  SpriteProfile profile;
  profile.type = SpriteProfile::Type::Ribbon;
  profile.blend = blendOf(emitter);
  profile.hardness = 1;
  return profile;
}

SpriteProfile trailProfile(const Item& emitter, double frame, StampCache& stamps) {
  SpriteProfile profile = linkProfile(emitter);
  profile.hardness = static_cast<float>(1 - emitter.number("trail_softness", frame) / 100);
  profile.isRound = emitter.chooses("trail", "thread");
  if (const auto picture = emitter.content<PictureContent>("trail_picture"))
    profile.stamps = stamps.ofWhole(*picture, static_cast<int>(std::lround(frame)));
  return profile;
}

void addRibbons(const Lines& lines, std::size_t first, std::size_t count, const SpriteOptions& options,
                const Projector& projector, int width, int height, double pictureLength, Ribbons& ribbons) {
  std::vector<LinePoint> points;
  std::vector<Spot> spots;
  std::vector<Vec2d> values;
  PieceMaker maker(options, width, height, ribbons);
  for (std::size_t i = first; i < first + count; ++i) {
    const double glow = lines.points(i, points, &projector);
    if (points.size() < 2) continue;
    if (projector.clip()) addCuts(*projector.clip(), points);
    if (options.paint) {
      options.paint->ofTrail(points, projector, values);
      for (std::size_t p = 0; p < points.size(); ++p)
        points[p].color = painted(values[p], points[p].color, options.isLight);
    }
    project(points, projector, pictureLength, spots);
    maker.add(spots, options.fraction(glow), lines.age(i));
  }
}

}  // namespace comet
