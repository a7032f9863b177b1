#include "bake/framing.h"

#include "bake/seen.h"

#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

constexpr int kLongSide = 160;
// Less than this is the last step of eight bits.
constexpr float kLeastSeen = 1.5F / 255;
constexpr int kMostWidenings = 8, kTightenings = 2;
constexpr double kWidestAngle = 140;  // degrees

std::vector<int> sampledFrames(const FlipbookLayout& layout) {
  std::vector<int> frames;
  for (const CellPlan& cell : layout.cells) {
    frames.push_back(cell.frame);
    if (cell.fadedShare > 0) frames.push_back(cell.fadesTo);
  }
  std::sort(frames.begin(), frames.end());
  frames.erase(std::unique(frames.begin(), frames.end()), frames.end());
  std::vector<int> some;
  const std::size_t step = (frames.size() + kFittedFrames - 1) / kFittedFrames;
  for (std::size_t i = 0; i < frames.size(); i += step) some.push_back(frames[i]);
  return some;
}

// Takes in `scale` times as much, around the point of the picture at these shares.
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

// The middle of all particles at these frames.
std::optional<Vec3d> middleOfParticles(SceneRun& run, const std::vector<int>& frames,
                                       const std::vector<ItemId>& leftOut, const Progress& progress) {
  Vec3d sum(0.0);
  std::size_t count = 0;
  for (const int frame : frames) {
    const ParticleFramePtr particles = run.frame(frame, &progress);
    for (const ParticleGroup& group : particles->groups) {
      if (std::find(leftOut.begin(), leftOut.end(), group.emitter) != leftOut.end()) continue;
      for (std::size_t i = 0; i < group.particles.size(); ++i) sum += group.particles.shownPosition(i);
      count += group.particles.size();
    }
  }
  if (count == 0) return std::nullopt;
  return sum / static_cast<double>(count);
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
      if (seenOf(pixel) < kLeastSeen) continue;
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
  const std::vector<int> frames = sampledFrames(layout);
  const double aspect = static_cast<double>(layout.cellWidth) / layout.cellHeight;
  const PictureSize size{std::max(8, static_cast<int>(kLongSide * std::min(1.0, aspect))),
                         std::max(8, static_cast<int>(kLongSide * std::min(1.0, 1 / aspect)))};
  BakeRenderer renderer(run, layout.bake);
  const int rounds = kMostWidenings + kTightenings;
  int done = 0;
  const auto seenBy = [&](const Camera& view) {
    renderer.setView(view);
    SeenBox box;
    for (const int frame : frames) {
      progress.step(done, rounds);
      box.add(seenBox(renderer.draw(frame, size, 1, progress)));
    }
    ++done;
    return box;
  };
  Camera view = viewOf(bake, layout.firstFrame);
  SeenBox box = seenBy(view);
  if (box.empty()) {
    const auto middle = middleOfParticles(run, frames, leftOutOf(run.scene(), bake.id), progress);
    if (!middle) return std::nullopt;
    view.place += *middle - view.aim;
    view.aim = *middle;
    box = seenBy(view);
  }
  // An effect that fills the edge goes on beyond it.
  const auto touchesEdge = [&] { return box.left <= 0 || box.top <= 0 || box.right >= 1 || box.bottom >= 1; };
  for (int i = 0; i < kMostWidenings && (box.empty() || touchesEdge()); ++i) {
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
  progress.step(rounds, rounds);
  return view;
}

Scene withFittedView(const Scene& scene, ItemId bake, const Camera& view) {
  Item item = withView(*scene.find(bake), view);
  item.values[item.kind->indexOf("view")].base = std::string("own");
  return scene.withReplaced(std::move(item));
}

}  // namespace comet
