#include "bake/bake_sheet.h"

#include "bake/cell_paint.h"
#include "bake/fill_outward.h"
#include "bake/flipbook_texture.h"
#include "bake/frame_choice.h"
#include "bake/gas_lights.h"
#include "bake/loop_check.h"
#include "bake/picture_flow.h"
#include "bake/relight.h"
#include "bake/variant_runs.h"
#include "bake/warp.h"
#include "base/memory.h"
#include "base/parallel.h"
#include "base/quantile.h"
#include "simulation/loop.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace comet {
namespace {

// Frames are measured at this size of their longer side, pixels.
constexpr int kMeasuredSide = 96;
// Particles whose motion is measured.
constexpr std::size_t kMotionSamples = 512;
// Of these, so many move less than what is taken as the cell's motion.
constexpr double kMotionFraction = 0.95;

PictureSize measuredSize(const FlipbookLayout& layout) {
  const double scale =
      std::min(1.0, static_cast<double>(kMeasuredSide) / std::max(layout.cellWidth, layout.cellHeight));
  return {std::max(1, static_cast<int>(std::lround(layout.cellWidth * scale))),
          std::max(1, static_cast<int>(std::lround(layout.cellHeight * scale)))};
}

// Light without limit has no place in a file. Returns how many pixels were cleared.
std::size_t clearNotNumbers(Picture& picture) {
  return parallelSum(static_cast<std::size_t>(picture.height()), [&picture](std::size_t y) {
    std::size_t cleared = 0;
    Vec4* row = picture.row(static_cast<int>(y));
    for (int x = 0; x < picture.width(); ++x) {
      const Vec4& pixel = row[x];
      if (std::isfinite(pixel.x + pixel.y + pixel.z + pixel.w)) continue;
      row[x] = Vec4(0.0F);
      ++cleared;
    }
    return cleared;
  });
}

// From sums of weighted values to values, going on where there is nothing to see.
Picture valuesOf(Picture painted) {
  return filledBeyondSeen(changed(std::move(painted), [](const Vec4& value) {
    return Vec4(Vec2(value) / std::max(value.z, kMinWeight), 0, std::min(1.0F, value.z));
  }));
}

struct Range {
  float min = std::numeric_limits<float>::max(), max = std::numeric_limits<float>::lowest();

  void add(const Range& other) {
    min = std::min(min, other.min);
    max = std::max(max, other.max);
  }
};

// Of the first so many values of each pixel, where there is anything to see.
Range rangeOf(const Picture& values, int axes) {
  std::vector<Range> rows(static_cast<std::size_t>(values.height()));
  parallelFor(rows.size(), [&](std::size_t y) {
    const Vec4* row = values.row(static_cast<int>(y));
    for (int x = 0; x < values.width(); ++x)
      for (int axis = 0; axis < axes && row[x].w > 0; ++axis) rows[y].add({row[x][axis], row[x][axis]});
  });
  Range all;
  for (const Range& row : rows) all.add(row);
  return all;
}

// What no cell fills is transparent.
Picture emptySheet(const FlipbookLayout& layout) {
  const bool isFilled = layout.padding == 0 && static_cast<int>(layout.cells.size()) == layout.room();
  return isFilled ? Picture::unset(layout.width(), layout.height())
                  : Picture(layout.width(), layout.height());
}

// A cell where it is.
PictureView cellView(const Picture& sheet, const FlipbookLayout& layout, std::size_t cell) {
  return {sheet.row(layout.cellY(cell)) + layout.cellX(cell), layout.cellWidth, layout.cellHeight,
          sheet.width()};
}

void addLight(const PictureView& light, Picture& picture) {
  for (int y = 0; y < picture.height(); ++y)
    for (int x = 0; x < picture.width(); ++x) picture.at(x, y) += Vec4(Vec3(light.row(y)[x]), 0);
}

// About what a bake takes beside its particles: its sheets, and a cell that is being drawn.
std::size_t memoryOf(const FlipbookLayout& layout, const Finish& finish) {
  const std::size_t sheets = 1 + (layout.glowApart ? 1 : 0) + (layout.fireApart ? 1 : 0) +
                             (layout.texture ? 2 : 0) + layout.layers.size();
  const std::size_t pixels =
      static_cast<std::size_t>(layout.width()) * static_cast<std::size_t>(layout.height());
  const PictureSize drawn{layout.cellWidth * layout.supersampling, layout.cellHeight * layout.supersampling};
  return sheets * pixels * sizeof(Vec4) + pictureMemory(drawn, finish);
}

// The baking of one flipbook, cell by cell.
class Baking {
 public:
  Baking(VariantRuns& runs, const FlipbookLayout& layout, const Progress& progress)
      : runs_(runs), progress_(progress), size_{layout.cellWidth, layout.cellHeight} {
    book_.layout = layout;
    book_.color = emptySheet(layout);
    if (layout.glowApart) book_.glow = emptySheet(layout);
    if (layout.fireApart) book_.fire = emptySheet(layout);
    for (const DataLayer layer : layout.layers) book_.data[layer].values = emptySheet(layout);
  }

  Flipbook bake() {
    const FlipbookLayout& layout = book_.layout;
    const int total = static_cast<int>(layout.cells.size());
    book_.isExact = layout.loop == LoopKind::Exact;
    for (std::size_t cell = 0; cell < layout.cells.size(); ++cell) {
      if (cell % layout.cellsEach() == 0) begin(layout.cells[cell].variant);
      progress_.step(static_cast<int>(cell), total);
      bakeCell(cell);
      if (layout.isLastOfVariant(cell)) end(cell);
    }
    setRanges();
    measureChanges();
    progress_.step(total, total);
    return std::move(book_);
  }

 private:
  void begin(std::size_t variant) {
    const FlipbookLayout& layout = book_.layout;
    run_ = &runs_.at(variant);
    bake_ = run_->scene().find(layout.bake);
    renderer_.emplace(*run_, layout.bake, size_, layout.supersampling);
    renderer_->setGlow(!layout.glowApart);
    renderer_->setFire(layout.fireApart ? FirePart::Apart : FirePart::Within);
  }

  // A variant whose last cell this is.
  void end(std::size_t last) {
    if (book_.isExact) verifyLoop(book_.layout.following(last));
    const Losses losses = run_->lossesUntil(lastSeen());
    book_.losses.refused += losses.refused;
    book_.losses.lost += losses.lost;
  }

  int lastSeen() const {
    int last = std::numeric_limits<int>::lowest();
    for (const CellPlan& cell : book_.layout.cells)
      last = std::max({last, cell.frame, cell.fadedFraction > 0 ? cell.fadesTo : cell.frame});
    return last;
  }

  void bakeCell(std::size_t index) {
    const FlipbookLayout& layout = book_.layout;
    const CellPlan& cell = layout.cells[index];
    CellFacts facts;
    // All that is drawn of the same frame together, so that it is prepared once.
    std::vector<Light> lights = lightsAt(cell.frame);
    facts.motion = paintMotion(cell, index);
    if (layout.has(DataLayer::Depth)) putValues(DepthPaint(), cell.frame, index, DataLayer::Depth);
    if (layout.has(DataLayer::Age)) putValues(AgePaint(), cell.frame, index, DataLayer::Age);
    if (layout.has(DataLayer::Density))
      putValues(GasChannelPaint(&GasState::density), cell.frame, index, DataLayer::Density);
    if (layout.has(DataLayer::Temperature))
      putValues(GasChannelPaint(&GasState::temperature), cell.frame, index, DataLayer::Temperature);
    const bool isLit = layout.has(DataLayer::LightA) || layout.has(DataLayer::LightB);
    const Picture normals = isLit || layout.has(DataLayer::Normal) ? paintNormals(cell.frame) : Picture();
    if (layout.has(DataLayer::Normal)) put(normals, index, book_.data[DataLayer::Normal].values);
    if (cell.fadedFraction > 0) fade(cell, index, lights, facts);
    for (Light& light : lights) {
      facts.notNumbers += clearNotNumbers(light.picture);
      put(light.picture, index, *light.sheet);
    }
    if (layout.fireApart) addLight(viewOf(lights.back().picture), lights.front().picture);
    facts.energy = energyOf(lights.front().picture);
    if (isLit) relight(normals, cell.frame, index);
    book_.cells.push_back(facts);
  }

  // A frame's light, and the sheet that it belongs to: the colours first, fire last.
  struct Light {
    Picture picture;
    Picture* sheet;
  };
  std::vector<Light> lightsAt(int frame) {
    std::vector<Light> lights;
    lights.push_back({renderer_->color(frame, progress_), &book_.color});
    if (book_.layout.glowApart) lights.push_back({renderer_->glow(frame, progress_), &book_.glow});
    if (book_.layout.fireApart) lights.push_back({renderer_->fire(frame, progress_), &book_.fire});
    return lights;
  }

  // Fades along what turns the one picture into the other, so that nothing is seen twice.
  void fade(const CellPlan& cell, std::size_t index, std::vector<Light>& lights, CellFacts& facts) {
    const std::vector<Light> others = lightsAt(cell.fadesTo);
    const auto seen = [this](const std::vector<Light>& of) {
      Picture picture = of.front().picture;
      if (book_.layout.fireApart) addLight(viewOf(of.back().picture), picture);
      return picture;
    };
    const Picture from = seen(lights), to = seen(others), flow = flowBetween(from, to);
    facts.faded = changeBetween(from, to);
    for (std::size_t i = 0; i < lights.size(); ++i)
      lights[i].picture = morphed(lights[i].picture, others[i].picture, flow, cell.fadedFraction);
    if (!book_.layout.has(DataLayer::Motion)) return;
    Picture& sheet = book_.data[DataLayer::Motion].values;
    Picture motion =
        morphed(cellOf(sheet, book_.layout, index),
                motionOf(cell.fadesTo, cell.fadesTo + cell.next - cell.frame), flow, cell.fadedFraction);
    // The fade itself moves things from cell to cell.
    const auto step = static_cast<float>(cell.fadeStep);
    for (int y = 0; y < motion.height(); ++y)
      for (int x = 0; x < motion.width(); ++x) motion.at(x, y) += Vec4(Vec2(flow.at(x, y)) * step, 0, 0);
    put(motion, index, sheet);
  }

  // Where what is seen in a frame moves until another one, pixels of a cell.
  Picture motionOf(int frame, int next) {
    const int factor = book_.layout.supersampling;
    const SceneFramePtr then = run_->frame(next, progress_);
    const Projector projector(bakeView(run_->scene(), *bake_, viewFrame(next)), size_.width * factor,
                              size_.height * factor);
    const MotionPaint paint(*then->particles, projector, (next - frame) / frameRate(run_->scene()));
    return changed(valuesOf(renderer_->paint(paint, frame, progress_)), [factor](const Vec4& value) {
      return Vec4(Vec2(value) / static_cast<float>(factor), 0, value.w);
    });
  }

  // Returns how far what is seen moves, in pixels.
  double paintMotion(const CellPlan& cell, std::size_t index) {
    const int factor = book_.layout.supersampling;
    const Scene& scene = run_->scene();
    const SceneFramePtr now = run_->frame(cell.frame, progress_);
    const SceneFramePtr next = run_->frame(cell.next, progress_);
    const double seconds = (cell.next - cell.frame) / frameRate(scene);
    const Projector then(bakeView(scene, *bake_, viewFrame(cell.next)), size_.width * factor,
                         size_.height * factor);
    const MotionPaint paint(*next->particles, then, seconds);
    if (book_.layout.has(DataLayer::Motion))
      put(motionOf(cell.frame, cell.next), index, book_.data[DataLayer::Motion].values);
    return measuredMotion(*now, paint,
                          Projector(bakeView(scene, *bake_, cell.frame), size_.width * factor,
                                    size_.height * factor, clipPlaneOf(scene, cell.frame)));
  }

  // A loop's next round sees what this one sees.
  int viewFrame(int frame) const {
    return book_.layout.loop == LoopKind::Exact && frame > book_.layout.lastFrame
               ? frame - frameRange(run_->scene()).count()
               : frame;
  }

  // Of some of the voxels that hold gas, pixels.
  void addMotions(const HeldGas& gas, const MotionPaint& paint, const Projector& projector,
                  std::vector<double>& motions) const {
    const GasGrid& grid = gas.content->grid();
    const GasState state{gas.content->velocity(), gas.content->density(), {}, {}, {}, {}};
    const FlowBetweenFaces flow(grid, state.velocity);
    std::vector<std::size_t> filled;
    for (std::size_t i = 0; i < state.density.size(); ++i)
      if (state.density[i] > 0) filled.push_back(i);
    const std::size_t step = std::max<std::size_t>(1, filled.size() / kMotionSamples);
    for (std::size_t sample = 0; sample < filled.size(); sample += step) {
      const Vec3d place = grid.middleOf(filled[sample]);
      const Vec2d motion = *paint.ofGas(GasPlace(gas.gas, grid, flow, state, place), projector);
      motions.push_back(std::hypot(motion.x, motion.y) / book_.layout.supersampling);
    }
  }

  double measuredMotion(const SceneFrame& now, const MotionPaint& paint, const Projector& projector) const {
    constexpr double kUnseen = -1;
    const int factor = book_.layout.supersampling;
    const std::vector<ItemId> leftOut = leftOutOf(run_->scene(), bake_->id);
    std::vector<double> motions;
    for (const ParticleGroup& group : now.particles->groups) {
      if (std::find(leftOut.begin(), leftOut.end(), group.emitter) != leftOut.end()) continue;
      const std::size_t count = group.particles.size(), before = motions.size();
      const std::size_t step = std::max<std::size_t>(1, count / kMotionSamples);
      motions.resize(before + (count + step - 1) / step, kUnseen);
      parallelFor(motions.size() - before, [&](std::size_t sample) {
        const DrawnParticle particle = drawnParticle(group.particles, sample * step);
        const Projector::Point point = projector.project(particle.state.position);
        const bool isInside = projector.visible(point) && !projector.isClipped(particle.state.position) &&
                              point.x >= 0 && point.y >= 0 && point.x < size_.width * factor &&
                              point.y < size_.height * factor;
        if (!isInside) return;
        const Vec2d motion = paint.of(particle, Sprite(), point, projector);
        motions[before + sample] = std::hypot(motion.x, motion.y) / factor;
      });
    }
    for (const HeldGas& held : now.gases->gases)
      if (std::find(leftOut.begin(), leftOut.end(), held.gas) == leftOut.end())
        addMotions(held, paint, projector, motions);
    motions.erase(std::remove(motions.begin(), motions.end(), kUnseen), motions.end());
    return motions.empty() ? 0 : quantile(std::move(motions), kMotionFraction);
  }

  void putValues(const SpritePaint& paint, int frame, std::size_t index, DataLayer layer) {
    put(valuesOf(renderer_->paint(paint, frame, progress_)), index, book_.data[layer].values);
  }

  Picture paintNormals(int frame) {
    const int factor = book_.layout.supersampling;
    const Vec2d middle(0.5 * size_.width * factor, 0.5 * size_.height * factor);
    const Picture middles = renderer_->paint(MiddlePaint(middle), frame, progress_);
    return normalsOf(middles, renderer_->paint(CurvaturePaint(), frame, progress_), factor);
  }

  void relight(const Picture& normals, int frame, std::size_t index) {
    SixLights lights = sixLights(cellOf(book_.color, book_.layout, index), normals);
    const Scene& scene = run_->scene();
    const GasLights gases(scene, *run_->frame(frame, progress_), leftOutOf(scene, bake_->id),
                          bakeView(scene, *bake_, frame), progress_);
    if (!gases.empty()) {
      const auto painted = [&](const SpritePaint& paint) {
        return valuesOf(renderer_->paint(paint, frame, progress_));
      };
      mixInGas(gases, painted, lights);
    }
    if (book_.layout.has(DataLayer::LightA))
      put(lights.rightTopBack, index, book_.data[DataLayer::LightA].values);
    if (book_.layout.has(DataLayer::LightB))
      put(lights.leftBottomFront, index, book_.data[DataLayer::LightB].values);
  }

  void put(const Picture& picture, std::size_t index, Picture& sheet) const {
    const FlipbookLayout& layout = book_.layout;
    const int x = layout.cellX(index), y = layout.cellY(index);
    sheet.pasteReduced(picture, 1, x, y);
    if (layout.edgeBleed && layout.padding > 0)
      bleedEdge(sheet, x, y, layout.cellWidth, layout.cellHeight, layout.padding);
  }

  void setRanges() {
    const auto within = [](DataSheet& sheet, int axes) {
      const Range all = rangeOf(sheet.values, axes);
      if (all.min > all.max) return;
      sheet.from = all.min;
      sheet.to = all.max;
    };
    for (auto& [layer, sheet] : book_.data) {
      if (layer == DataLayer::Depth || layer == DataLayer::Temperature) within(sheet, 1);
      if (layer == DataLayer::Density)
        sheet.to = std::max(1e-6, static_cast<double>(rangeOf(sheet.values, 1).max));
      if (layer == DataLayer::Normal) sheet.from = -1;
      if (layer != DataLayer::Motion) continue;
      within(sheet, 2);
      // As far one way as the other, so that standing still is in the middle.
      const double range = std::max({std::abs(sheet.from), std::abs(sheet.to), 1e-3});
      sheet.from = -range;
      sheet.to = range;
    }
  }

  void measureChanges() {
    const FlipbookLayout& layout = book_.layout;
    const std::size_t count = book_.cells.size();
    const DataSheet* motion = book_.find(DataLayer::Motion);
    parallelFor(count, [&](std::size_t i) {
      if (progress_.cancelled()) return;
      const Picture now = seenCell(book_, i), next = seenCell(book_, layout.following(i));
      book_.cells[i].change = changeBetween(now, next);
      if (!motion) return;
      const Picture moved = warped(now, cellOf(motion->values, layout, i), 1);
      book_.cells[i].changeAlongMotion = changeBetween(moved, next);
    });
    progress_.stopIfCancelled();
  }

  // Of the variant that begins with this cell.
  void verifyLoop(std::size_t cell) {
    const Scene& scene = run_->scene();
    const int first = frameRange(scene).first, again = first + frameRange(scene).count();
    if (!areSameButRound(*run_->frame(first, progress_)->particles,
                         *run_->frame(again, progress_)->particles)) {
      book_.isExact = false;
      const std::vector<std::string> problems = loopProblems(scene);
      book_.loopProblem = problems.empty()
                              ? "The particles of the frame after the last are not those of the first."
                              : problems.front();
      return;
    }
    const FlipbookLayout& layout = book_.layout;
    const Picture round = renderer_->colorAs(again, first, progress_);
    book_.isExact = round == cellOf(book_.color, layout, cell);
    if (!book_.isExact)
      book_.loopProblem = "The picture of the frame after the last is not that of the first.";
  }

  VariantRuns& runs_;
  const Progress& progress_;
  PictureSize size_;
  // Of the variant that is being baked.
  SceneRun* run_ = nullptr;
  std::optional<BakeRenderer> renderer_;
  Scene::ItemPtr bake_;
  Flipbook book_;
};

}  // namespace

BakeRenderer::BakeRenderer(SceneRun& run, ItemId bake, PictureSize size, int supersampling)
    : run_(run), bake_(run.scene().find(bake)), size_(size), supersampling_(supersampling) {}

void BakeRenderer::setView(const Camera& camera, PictureSize size) {
  view_ = camera;
  size_ = size;
  ready_.reset();
}

void BakeRenderer::prepare(int frame, int shown, const Progress& progress) {
  const std::pair wanted{frame, shown};
  if (ready_ == wanted) return;
  const Scene& scene = run_.scene();
  ready_.reset();
  Past past = run_.past(frame, pastNeeded(scene, frame), progress);
  const SceneFramePtr made = run_.frame(frame, progress);
  renderer_.prepare({scene, made->as(shown), std::move(past), view_ ? *view_ : bakeView(scene, *bake_, shown),
                     size_, supersampling_, RenderPurpose::Bake, leftOutOf(scene, bake_->id)},
                    progress);
  ready_ = wanted;
}

Finish BakeRenderer::finishAt(int shown) const {
  Finish finish = bakeFinish(run_.scene(), *bake_, shown);
  finish.glows = finish.glows && glows_;
  return finish;
}

Picture BakeRenderer::color(int frame, const Progress& progress) { return colorAs(frame, frame, progress); }

Picture BakeRenderer::colorAs(int frame, int shown, const Progress& progress) {
  prepare(frame, shown, progress);
  return renderer_.color(finishAt(shown), progress, fire_);
}

Picture BakeRenderer::glow(int frame, const Progress& progress) {
  prepare(frame, frame, progress);
  return renderer_.glow(bakeFinish(run_.scene(), *bake_, frame), progress);
}

Picture BakeRenderer::fire(int frame, const Progress& progress) {
  prepare(frame, frame, progress);
  return renderer_.fire(finishAt(frame), progress);
}

Picture BakeRenderer::paint(const SpritePaint& paint, int frame, const Progress& progress) {
  prepare(frame, frame, progress);
  return renderer_.paint(paint, progress);
}

Picture cellOf(const Picture& sheet, const FlipbookLayout& layout, std::size_t cell) {
  Picture picture = Picture::unset(layout.cellWidth, layout.cellHeight);
  for (int y = 0; y < layout.cellHeight; ++y)
    std::copy_n(sheet.row(layout.cellY(cell) + y) + layout.cellX(cell), layout.cellWidth, picture.row(y));
  return picture;
}

Picture seenCell(const Flipbook& book, std::size_t cell) {
  Picture picture = cellOf(book.color, book.layout, cell);
  if (book.fire.empty()) return picture;
  addLight(cellView(book.fire, book.layout, cell), picture);
  return picture;
}

namespace {

// What a variant's frames of a layout's range show, small.
class MeasuredFrames {
 public:
  // How far it is, is told as part of all that are measured: so many were before.
  MeasuredFrames(SceneRun& run, const FlipbookLayout& layout, int before, int all, const Progress& progress)
      : keepsAll_(layout.findsLoop) {
    const PictureSize size = measuredSize(layout);
    BakeRenderer renderer(run, layout.bake, size, 1);
    for (int frame = layout.firstFrame; frame <= layout.lastFrame; ++frame) {
      progress.step(before + frame - layout.firstFrame, all);
      add(renderer.color(frame, progress));
      if (keepsAll_) motions_.push_back(motionAt(run, renderer, layout.bake, size, frame, progress));
    }
    if (!keepsAll_) return;
    usualLight_ = changeAcrossHalf(pictures_);
    usualMotion_ = changeAcrossHalf(motions_);
  }

  // All by indices from the range's first frame on.
  double energy(int index) const { return energies_[static_cast<std::size_t>(index)]; }
  // To the next frame.
  double change(int index) const { return changes_[static_cast<std::size_t>(index)]; }
  // From the last frame of a part to its first.
  double closing(const FrameRange& part) const {
    return changeBetween(pictureAt(part.last), pictureAt(part.first));
  }
  // How different two frames are. Light and motion count alike: each by its difference between two frames
  // that have nothing to do with each other, here half of the range apart.
  double unlike(int a, int b) const {
    const auto i = static_cast<std::size_t>(a), k = static_cast<std::size_t>(b);
    return changeBetween(pictures_[i], pictures_[k]) / usualLight_ +
           changeBetween(motions_[i], motions_[k]) / usualMotion_;
  }

 private:
  // All pictures are kept where any may be the first or the last one.
  void add(Picture picture) {
    energies_.push_back(energyOf(picture));
    if (!pictures_.empty()) changes_.push_back(changeBetween(pictures_.back(), picture));
    if (pictures_.size() > 1 && !keepsAll_) pictures_.pop_back();
    pictures_.push_back(std::move(picture));
  }
  const Picture& pictureAt(int index) const {
    if (keepsAll_) return pictures_[static_cast<std::size_t>(index)];
    return index == 0 ? pictures_.front() : pictures_.back();
  }

  // How far what is seen moves in a frame, by how much of it is seen.
  static Picture motionAt(SceneRun& run, BakeRenderer& renderer, ItemId bake, PictureSize size, int frame,
                          const Progress& progress) {
    const Scene& scene = run.scene();
    const SceneFramePtr next = run.frame(frame + 1, progress);
    const Projector then(bakeView(scene, *scene.find(bake), frame + 1), size.width, size.height);
    return renderer.paint(MotionPaint(*next->particles, then, 1 / frameRate(scene)), frame, progress);
  }

  static double changeAcrossHalf(const std::vector<Picture>& of) {
    const std::size_t half = of.size() / 2;
    double sum = 0;
    for (std::size_t i = 0; i + half < of.size(); ++i) sum += changeBetween(of[i], of[i + half]);
    return std::max(sum / static_cast<double>(of.size() - half), 1e-12);
  }

  bool keepsAll_;
  std::vector<double> energies_, changes_;
  std::vector<Picture> pictures_, motions_;
  double usualLight_ = 1, usualMotion_ = 1;
};

// The frames that suit all variants together.
class FrameChoice {
 public:
  FrameChoice(VariantRuns& runs, const FlipbookLayout& layout, const Progress& progress)
      : layout_(layout), range_{layout.firstFrame, layout.lastFrame} {
    const int all = static_cast<int>(runs.size()) * range_.count();
    for (std::size_t i = 0; i < runs.size(); ++i)
      variants_.emplace_back(runs.at(i), layout, static_cast<int>(i) * range_.count(), all, progress);
  }

  // By indices from the range's first frame on.
  FrameRange part() const {
    if (layout_.findsLoop) return loop();
    if (!layout_.trimBelow) return {0, range_.count() - 1};
    // What any of them shows is kept.
    std::vector<double> energies(static_cast<std::size_t>(range_.count()), 0.0);
    for (int i = 0; i < range_.count(); ++i)
      for (const MeasuredFrames& variant : variants_) {
        double& greatest = energies[static_cast<std::size_t>(i)];
        greatest = std::max(greatest, variant.energy(i));
      }
    return livelyPart(energies, *layout_.trimBelow);
  }

  // Frames of a part, as the layout wants them.
  std::vector<int> chosen(const FrameRange& part) const {
    const FrameRange kept{range_.first + part.first, range_.first + part.last};
    const bool isLoop = layout_.leadsCycle();
    if (layout_.framesBy == FramesBy::Step) return framesOf(kept, layout_.step);
    if (layout_.framesBy == FramesBy::Time) return evenlySpread(kept, layout_.wantedFrames(), isLoop);
    std::vector<double> changes;
    for (int i = part.first; i < part.last; ++i)
      changes.push_back(sum([i](const MeasuredFrames& of) { return of.change(i); }));
    if (isLoop) changes.push_back(sum([&part](const MeasuredFrames& of) { return of.closing(part); }));
    std::vector<int> frames = evenInMotion(changes, layout_.wantedFrames(), isLoop);
    for (int& frame : frames) frame += kept.first;
    return frames;
  }

 private:
  FrameRange loop() const {
    const FrameRange lengths = layout_.loopLengths();
    const auto unlike = [this](int a, int b) {
      return sum([a, b](const MeasuredFrames& of) { return of.unlike(a, b); });
    };
    return bestLoop(
               range_.count(), lengths.first, lengths.last,
               [this](int length) { return layout_.framesOfOverlap(length); }, unlike)
        .range;
  }

  // Over all variants.
  template <typename Of>
  double sum(const Of& of) const {
    double sum = 0;
    for (const MeasuredFrames& variant : variants_) sum += of(variant);
    return sum;
  }

  const FlipbookLayout& layout_;
  FrameRange range_;
  std::vector<MeasuredFrames> variants_;
};

FlipbookLayout withChosenFrames(VariantRuns& runs, const FlipbookLayout& layout, const Progress& progress) {
  if (!layout.isMeasured()) return layout;
  const FrameChoice choice(runs, layout, progress);
  const FrameRange part = choice.part();
  FlipbookLayout chosen = layout;
  chosen.firstFrame = layout.firstFrame + part.first;
  chosen.lastFrame = layout.firstFrame + part.last;
  const Scene& scene = runs.at(0).scene();
  return withFrames(scene, *scene.find(layout.bake), chosen, choice.chosen(part));
}

}  // namespace

FlipbookLayout chooseFrames(SceneRun& run, const FlipbookLayout& layout, const Progress& progress) {
  VariantRuns runs(run, layout.bake);
  return withChosenFrames(runs, layout, progress);
}

Flipbook bakeFlipbook(SceneRun& run, const FlipbookLayout& layout, const Progress& progress) {
  const Finish finish = bakeFinish(run.scene(), *run.scene().find(layout.bake), layout.firstFrame);
  requireMemory(memoryOf(layout, finish), layout.name,
                "Make its cells smaller or fewer, or close other programs");
  VariantRuns runs(run, layout.bake);
  Flipbook book = Baking(runs, withChosenFrames(runs, layout, progress), progress).bake();
  if (book.layout.texture) book.texture = lookOfTexture(book, progress);
  return book;
}

}  // namespace comet
