#include "bake/framing.h"

#include "bake/seen.h"
#include "bake/variant_runs.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr int kLongSide = 160;
// Less than what the bake check takes for something, so that it finds nothing where the fit has left nothing.
constexpr float kMinSeen = 0.75F * kSeen;
constexpr int kMaxWidenings = 8, kTightenings = 2;
// The view is tried on all frames, as large as their cells, but no larger than this; and changed so often.
constexpr int kLongestTried = 512;
constexpr int kMaxTrials = 10;
// What is cut off at an edge goes on for an unknown way.
constexpr double kWidened = 1.4;
// Of what the margin leaves free, at least this much is filled.
constexpr double kFull = 0.95;
constexpr double kWidestAngle = 140;  // degrees

std::vector<int> allFrames(const FlipbookLayout& layout) {
  // Which frames get a cell is then found out by drawing them.
  if (layout.isMeasured()) return framesOf({layout.firstFrame, layout.lastFrame}, 1);
  std::vector<int> frames;
  for (const CellPlan& cell : layout.cells) {
    frames.push_back(cell.frame);
    if (cell.fadedFraction > 0) frames.push_back(cell.fadesTo);
  }
  std::sort(frames.begin(), frames.end());
  frames.erase(std::unique(frames.begin(), frames.end()), frames.end());
  return frames;
}

// Some of them, evenly spread.
std::vector<int> sampled(const std::vector<int>& frames) {
  std::vector<int> some;
  const std::size_t step = (frames.size() + kFittedFrames - 1) / kFittedFrames;
  for (std::size_t i = 0; i < frames.size(); i += step) some.push_back(frames[i]);
  return some;
}

// Takes in `scale` times as much, around the point of the picture at these fractions.
Camera scaled(Camera view, double aspect, double x, double y, double scale) {
  const Camera::Frame axes = view.frame();
  const bool isPerspective = view.projection == Camera::Projection::Perspective;
  const double distance = glm::length(view.aim - view.place);
  const double halfAngle = 0.5 * radians(view.fieldOfView);
  const double height = isPerspective ? 2 * distance * std::tan(halfAngle) : view.height;
  const Vec3d shift = axes.right * ((x - 0.5) * height * aspect) + axes.up * ((0.5 - y) * height);
  view.aim += shift;
  if (isPerspective) {
    const double angle = 2 * std::atan(std::tan(halfAngle) * scale) * (180 / kPi);
    view.fieldOfView = std::clamp(angle, 1.0, kWidestAngle);
  } else {
    view.place += shift;
    view.height *= scale;
  }
  return view;
}

// As the cells, with the long side between these.
PictureSize sizeLike(const FlipbookLayout& layout, int shortest, int longest) {
  const double longSide = std::max(layout.cellWidth, layout.cellHeight);
  const double scale =
      std::clamp(longSide, static_cast<double>(shortest), static_cast<double>(longest)) / longSide;
  return {std::max(8, static_cast<int>(scale * layout.cellWidth)),
          std::max(8, static_cast<int>(scale * layout.cellHeight))};
}

// Adds up places for their middle.
struct Places {
  Vec3d sum{0.0};
  std::size_t count = 0;

  void add(const Vec3d& place) {
    sum += place;
    ++count;
  }
  void add(const Places& others) {
    sum += others.sum;
    count += others.count;
  }
};

// Of all particles at these frames, and of the boxes of gases.
Places placesIn(SceneRun& run, const std::vector<int>& frames, ItemId bake, const Progress& progress) {
  const std::vector<ItemId> leftOut = leftOutOf(run.scene(), bake);
  const auto isLeftOut = [&leftOut](ItemId id) {
    return std::find(leftOut.begin(), leftOut.end(), id) != leftOut.end();
  };
  Places places;
  for (const int frame : frames) {
    const SceneFramePtr made = run.frame(frame, progress);
    for (const ParticleGroup& group : made->particles->groups)
      for (std::size_t i = 0; i < group.particles.size() && !isLeftOut(group.emitter); ++i)
        places.add(group.particles.shownPosition(i));
    for (const HeldGas& held : made->gases->gases)
      if (!isLeftOut(held.gas)) places.add(held.content->grid().middle());
  }
  return places;
}

}  // namespace

void SeenBox::add(const SeenBox& other) {
  if (other.empty()) return;
  left = std::min(left, other.left);
  top = std::min(top, other.top);
  right = std::max(right, other.right);
  bottom = std::max(bottom, other.bottom);
}

SeenBox seenBox(const Picture& picture) {
  int left = picture.width(), top = picture.height(), right = 0, bottom = 0;
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x) {
      const Vec4& pixel = picture.at(x, y);
      if (seenOf(pixel) < kMinSeen) continue;
      left = std::min(left, x);
      right = std::max(right, x + 1);
      top = std::min(top, y);
      bottom = std::max(bottom, y + 1);
    }
  const double width = picture.width(), height = picture.height();
  return {left / width, top / height, right / width, bottom / height};
}

std::optional<Camera> fittedView(SceneRun& run, const FlipbookLayout& layout, const Progress& progress) {
  const Item& bake = *run.scene().find(layout.bake);
  const std::vector<int> every = allFrames(layout), frames = sampled(every);
  const double aspect = static_cast<double>(layout.cellWidth) / layout.cellHeight;
  const PictureSize size = sizeLike(layout, kLongSide, kLongSide);
  VariantRuns runs(run, layout.bake);
  std::deque<BakeRenderer> renderers;
  for (std::size_t i = 0; i < runs.size(); ++i) renderers.emplace_back(runs.at(i), layout.bake, size, 1);
  const int rounds = kMaxWidenings + kTightenings + kMaxTrials;
  int done = 0;
  std::vector<bool> isSeen(runs.size());  // of each variant
  const auto seenIn = [&](const std::vector<int>& some, const Camera& view, PictureSize pixels) {
    SeenBox box;
    for (std::size_t i = 0; i < runs.size(); ++i) {
      renderers[i].setView(view, pixels);
      SeenBox own;
      for (const int frame : some) {
        progress.step(done, rounds);
        own.add(seenBox(renderers[i].color(frame, progress)));
      }
      isSeen[i] = !own.empty();
      box.add(own);
    }
    ++done;
    return box;
  };
  const auto seenBy = [&](const Camera& view) { return seenIn(frames, view, size); };
  Camera view = viewOf(bake, layout.firstFrame);
  SeenBox box = seenBy(view);
  std::vector<Places> places;
  Places all;
  for (std::size_t i = 0; i < runs.size(); ++i) {
    places.push_back(placesIn(runs.at(i), frames, bake.id, progress));
    all.add(places.back());
  }
  const auto missesAny = [&] {
    for (std::size_t i = 0; i < places.size(); ++i)
      if (!isSeen[i] && places[i].count > 0) return true;
    return false;
  };
  if (box.empty() || missesAny()) {
    if (all.count == 0) return std::nullopt;
    const Vec3d middle = all.sum / static_cast<double>(all.count);
    view.place += middle - view.aim;
    view.aim = middle;
    box = seenBy(view);
  }
  // An effect that fills the edge goes on beyond it.
  for (int i = 0; i < kMaxWidenings && (box.empty() || box.touchesEdge() || missesAny()); ++i) {
    view = scaled(view, aspect, 0.5, 0.5, 2);
    box = seenBy(view);
  }
  if (box.empty()) return std::nullopt;
  const double free = 1 - 2 * std::min(0.45, bake.number("margin", layout.firstFrame) / 100);
  for (int i = 0; i < kTightenings; ++i) {
    // A pixel more on each side, since the box is as coarse as the picture.
    const double width = box.right - box.left + 2.0 / size.width;
    const double height = box.bottom - box.top + 2.0 / size.height;
    const bool isLast = i + 1 == kTightenings;
    view = scaled(view, aspect, 0.5 * (box.left + box.right), 0.5 * (box.top + box.bottom),
                  std::max(width, height) / (isLast ? free : 0.9));
    if (!isLast) box = seenBy(view);
    if (box.empty()) return std::nullopt;
  }
  // Small pictures of some frames have missed what is faint, thin or between them.
  const PictureSize large = sizeLike(layout, kLongSide, kLongestTried);
  const Vec2d pixel(1.0 / large.width, 1.0 / large.height);
  const double margin = 0.5 * (1 - free);
  for (int i = 0; i < kMaxTrials; ++i) {
    box = seenIn(every, view, large);
    if (box.touchesEdge()) {
      view = scaled(view, aspect, 0.5, 0.5, kWidened);
      continue;
    }
    const bool isFull = std::max(box.right - box.left, box.bottom - box.top) >= kFull * free;
    const bool fits = isFull && box.left >= margin - pixel.x && box.right <= 1 - margin + pixel.x &&
                      box.top >= margin - pixel.y && box.bottom <= 1 - margin + pixel.y;
    if (fits) break;
    // A pixel on each side stays free even without a margin, by which it is seen that nothing is cut off.
    view = scaled(view, aspect, 0.5 * (box.left + box.right), 0.5 * (box.top + box.bottom),
                  std::max((box.right - box.left) / std::min(free, 1 - 2 * pixel.x),
                           (box.bottom - box.top) / std::min(free, 1 - 2 * pixel.y)));
  }
  progress.step(rounds, rounds);
  return view;
}

Scene withFittedView(const Scene& scene, ItemId bake, const Camera& view) {
  Item item = withView(*scene.find(bake), view);
  item.values[item.kind->indexOf("view")].base = std::string("own");
  return scene.withReplaced(std::move(item));
}

}  // namespace comet
