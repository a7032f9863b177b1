#include "bake/flipbook.h"

#include "bake/bake_variants.h"
#include "base/error.h"
#include "render/emitter_surface.h"
#include "render/look.h"
#include "render/solids.h"
#include "simulation/loop.h"
#include "simulation/plan.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace comet {
namespace {

constexpr std::array<std::string_view, 3> kFramesByNames{"step", "time", "motion"};
constexpr std::array<std::string_view, 6> kFormatNames{"png8", "png16", "tga", "tiff16", "exr", "exr_float"};
constexpr std::array<std::string_view, 2> kEncodingNames{"srgb", "linear"};
constexpr std::array<std::string_view, 2> kVideoNames{"webm", "apng"};
constexpr std::array<std::string_view, 3> kMotionNames{"none", "eight", "sixteen"};

// Of all sheets: sixteen bytes each while baking.
constexpr std::int64_t kMaxPixels = 268435456;

// What a bake refuses, and what to do about it.
class Refusal {
 public:
  explicit Refusal(const FlipbookLayout& layout) : place_(fmt::format("flipbook \"{}\"", layout.name)) {}

  [[noreturn]] void operator()(const std::string& problem, const std::string& remedy) const {
    throw Error(ErrorKind::Input, place_, problem, remedy);
  }

 private:
  std::string place_;
};

void checkRange(const FlipbookLayout& layout) {
  const Refusal refuse(layout);
  if (layout.lastFrame < layout.firstFrame)
    refuse(fmt::format("the last frame, {}, lies before the first, {}", layout.lastFrame, layout.firstFrame),
           "Choose a later last frame");
  const int max = std::min(layout.largestSheet, kLargestSide);
  if (layout.width() > max || layout.sheetHeight() > max)
    refuse(fmt::format("a sheet would be {} × {} pixels, more than {} a side", layout.width(),
                       layout.sheetHeight(), max),
           layout.variants.size() > 1 ? "Make the cells smaller, fewer in a row, or the variants fewer"
                                      : "Make the cells smaller, or fewer in a row");
  if (static_cast<std::int64_t>(layout.width()) * layout.height() > kMaxPixels)
    refuse(fmt::format("all sheets would have {} million pixels, more than {}",
                       static_cast<std::int64_t>(layout.width()) * layout.height() / 1000000,
                       kMaxPixels / 1000000),
           "Make the cells smaller or fewer");
  if (layout.findsLoop) {
    const FrameRange lengths = layout.loopLengths();
    const int missing =
        lengths.first + layout.framesOfOverlap(lengths.first) - (layout.lastFrame - layout.firstFrame + 1);
    if (lengths.count() < 1 || missing > 0)
      refuse(fmt::format("{} frames are too few to find a loop of {} cells with {} that fade in",
                         layout.lastFrame - layout.firstFrame + 1, layout.room(), layout.overlap),
             fmt::format("Raise the last frame by {} or more, or take fewer cells or a smaller overlap",
                         std::max(1, missing)));
    return;
  }
  const int count = (layout.lastFrame - layout.firstFrame) / layout.step + 1;
  if (layout.loop == LoopKind::CrossFade && layout.framesBy == FramesBy::Step && layout.overlap >= count)
    refuse(fmt::format("{} cells cannot fade: there are {}", layout.overlap, count),
           "Lower the overlap, or raise the last frame");
}

void checkLoop(const FlipbookLayout& layout, const Scene& scene) {
  if (layout.loop != LoopKind::Exact) return;
  const Refusal refuse(layout);
  if (!loops(scene))
    refuse("the scene does not loop, so its last frame cannot lead into its first",
           "Turn on Exact loop in the scene's Time, or choose Cross-fade");
  const int period = frameRange(scene).count();
  if (layout.framesBy == FramesBy::Step && period % layout.step != 0)
    refuse(fmt::format("steps of {} do not divide the loop's {} frames", layout.step, period),
           "Choose another step, or let the cells show even time");
}

void checkCells(const FlipbookLayout& layout, const Scene& scene) {
  const Refusal refuse(layout);
  if (layout.cellsEach() > static_cast<std::size_t>(layout.room()))
    refuse(fmt::format("{} frames do not fit {} cells", layout.cellsEach(), layout.room()),
           "Add columns or rows, or raise the step");
  const int first = firstSimulatedFrame(scene);
  for (const CellPlan& cell : layout.cells) {
    if (cell.frame < frameRange(scene).first)
      refuse(fmt::format("frame {} lies before the scene's first frame, {}", cell.frame,
                         frameRange(scene).first),
             "Choose a later first frame");
    if (cell.fadedFraction > 0 && cell.fadesTo < first)
      refuse(fmt::format("the cross-fade needs frame {}, but the scene begins at {}", cell.fadesTo, first),
             "Choose a later first frame, a smaller overlap, or a warm-up");
  }
}

// Cells as they follow from frames in the order of time.
std::vector<CellPlan> cellsOf(const FlipbookLayout& layout, const Scene& scene,
                              const std::vector<int>& frames) {
  std::vector<CellPlan> cells;
  const int gap = frames.size() > 1 ? frames.back() - frames[frames.size() - 2] : layout.step;
  for (std::size_t i = 0; i < frames.size(); ++i)
    cells.push_back({frames[i], i + 1 < frames.size() ? frames[i + 1] : frames[i] + gap});
  switch (layout.loop) {
    case LoopKind::None:
      break;
    case LoopKind::Exact:
      cells.back().next = frames.front() + frameRange(scene).count();
      break;
    case LoopKind::CrossFade: {
      // As long as the loop lasts, so that the last cell leads to what the first one shows.
      const int length = layout.framesBy == FramesBy::Step ? static_cast<int>(frames.size()) * layout.step
                                                           : layout.lastFrame - layout.firstFrame + 1;
      cells.back().next = frames.front() + length;
      const int overlap = std::min(layout.overlap, static_cast<int>(cells.size()) - 1);
      for (int i = 0; i < overlap; ++i) {
        CellPlan& cell = cells[cells.size() - static_cast<std::size_t>(overlap - i)];
        cell.fadesTo = cell.frame - length;
        cell.fadeStep = 1 / (overlap + 1.0);
        cell.fadedFraction = (i + 1) * cell.fadeStep;
      }
      break;
    }
    case LoopKind::PingPong:
      for (std::size_t i = frames.size(); i-- > 2;) cells.push_back({frames[i - 1], frames[i - 2]});
      if (frames.size() > 1) {
        cells[frames.size() - 1].next = frames[frames.size() - 2];
        cells.back().next = frames.front();
      }
      break;
  }
  return cells;
}

double cellRate(const FlipbookLayout& layout, const Item& bake, double frameRate) {
  if (bake.chooses("game_playback", "life"))
    return static_cast<double>(layout.cellsEach()) / bake.number("sprite_lifetime", 0);
  // The range's frames are spread over the cells that came of them.
  const auto cells = static_cast<double>(layout.cellsEach());
  const double picked = layout.loop == LoopKind::PingPong && cells > 1 ? 0.5 * cells + 1 : cells;
  if (layout.framesBy == FramesBy::Step) return frameRate / layout.step;
  return picked / (layout.lastFrame - layout.firstFrame + 1) * frameRate;
}

Packing packingOf(const Item& bake) {
  Packing packing{};
  for (std::size_t i = 0; i < packing.size(); ++i)
    packing[i] = packSource(bake.choice("pack_" + std::string(kPackChannels[i])));
  return packing;
}

// Whether nothing that the bake shows covers anything.
bool onlyAddsLight(const Scene& scene, const Item& bake) {
  const std::vector<ItemId> leftOut = leftOutOf(scene, bake.id);
  bool any = false;
  for (const Scene::ItemPtr& item : scene.items()) {
    if (!responds(item->kind->family()) || !item->enabled ||
        std::find(leftOut.begin(), leftOut.end(), item->id) != leftOut.end())
      continue;
    const bool isEmitter = item->kind->family() == ItemFamily::Emitter;
    if (!isEmitter || !isLightOnly(blendOf(*item)) || hasSurface(*item)) return false;
    any = true;
  }
  return any && solidsOf(scene, frameRange(scene).first, RenderPurpose::Bake).empty();
}

AlphaKind alphaOf(const Scene& scene, const Item& bake, PictureFormat format) {
  if (!bake.chooses("alpha", "auto")) return bake.choiceAs<AlphaKind>("alpha", kAlphaNames);
  return !isFloat(format) && onlyAddsLight(scene, bake) ? AlphaKind::OnBlack : AlphaKind::Premultiplied;
}

}  // namespace

PictureChannels FlipbookLayout::channels() const {
  return alpha == AlphaKind::Opacity   ? PictureChannels::Grey
         : alpha == AlphaKind::OnBlack ? PictureChannels::Rgb
                                       : PictureChannels::Rgba;
}

PictureEncoding FlipbookLayout::lightEncoding() const {
  return isFloat(format) ? PictureEncoding::Linear : encoding;
}

PictureEncoding FlipbookLayout::colorEncoding() const {
  return alpha == AlphaKind::Opacity ? PictureEncoding::Linear : lightEncoding();
}

int FlipbookLayout::framesOfOverlap(int length) const {
  const int faded = std::min(overlap, room() - 1);
  return std::max(1, (faded * length + room() - 1) / room());
}

FrameRange FlipbookLayout::loopLengths() const {
  if (framesBy == FramesBy::Step) return {room() * step, room() * step};
  // Half of what there is leaves enough to choose from; no cell twice.
  const int frames = lastFrame - firstFrame + 1;
  const int longest = frames * room() / (room() + std::min(overlap, room() - 1));
  return {std::max(room(), longest / 2), longest};
}

int FlipbookLayout::wantedFrames() const { return loop == LoopKind::PingPong ? room() / 2 + 1 : room(); }

std::vector<int> framesOf(const FrameRange& range, int step) {
  std::vector<int> frames;
  for (int frame = range.first; frame <= range.last; frame += step) frames.push_back(frame);
  return frames;
}

std::vector<int> evenlySpread(const FrameRange& range, int count, bool isLoop) {
  std::vector<int> frames;
  const int wanted = std::min(count, range.count());
  const double gap = isLoop       ? static_cast<double>(range.count()) / wanted
                     : wanted > 1 ? (range.count() - 1.0) / (wanted - 1)
                                  : 0;
  frames.reserve(static_cast<std::size_t>(std::max(0, wanted)));
  for (int i = 0; i < wanted; ++i)
    frames.push_back(range.first + static_cast<int>(std::floor(i * gap + 0.5)));
  return frames;
}

FlipbookLayout withFrames(const Scene& scene, const Item& bake, FlipbookLayout layout,
                          const std::vector<int>& frames) {
  layout.cells.clear();
  for (std::size_t variant = 0; variant < layout.variants.size(); ++variant)
    for (CellPlan cell : cellsOf(layout, scene, frames)) {
      cell.variant = variant;
      layout.cells.push_back(cell);
    }
  layout.framesPerSecond = cellRate(layout, bake, frameRate(scene));
  checkCells(layout, scene);
  return layout;
}

FlipbookLayout flipbookLayout(const Scene& scene, const Item& bake) {
  const auto whole = [&bake](const char* param) { return bake.integer(param, 0); };
  FlipbookLayout layout;
  layout.name = bake.name;
  layout.bake = bake.id;
  layout.framesBy = bake.choiceAs<FramesBy>("frame_choice", kFramesByNames);
  layout.loop = bake.choiceAs<LoopKind>("loop", kLoopNames);
  const bool isWhole = layout.loop == LoopKind::Exact || bake.chooses("frame_range", "scene");
  layout.firstFrame = isWhole ? frameRange(scene).first : whole("first");
  layout.lastFrame = isWhole ? frameRange(scene).last : whole("last");
  layout.step = layout.framesBy == FramesBy::Step ? whole("step") : 1;
  layout.overlap = whole("overlap");
  layout.findsLoop = layout.loop == LoopKind::CrossFade && bake.flag("find_loop");
  if (layout.loop == LoopKind::None && bake.flag("trim"))
    layout.trimBelow = bake.number("trim_threshold", 0) / 100;
  layout.variants.clear();
  for (const BakeVariant& variant : bakeVariants(scene, bake)) layout.variants.push_back(variant.label);
  layout.columns = whole("columns");
  layout.rows = whole("rows");
  layout.order = bake.choiceAs<CellOrder>("order", kCellOrderNames);
  layout.cellWidth = whole("cell_width");
  layout.cellHeight = whole("cell_height");
  layout.padding = whole("padding");
  layout.largestSheet = whole("max_sheet_size");
  layout.edgeBleed = bake.flag("edge_bleed");
  layout.supersampling = whole("supersampling");
  layout.format = bake.choiceAs<PictureFormat>("format", kFormatNames);
  layout.alpha = alphaOf(scene, bake, layout.format);
  layout.encoding = bake.choiceAs<PictureEncoding>("color_encoding", kEncodingNames);
  layout.motion = bake.choiceAs<MotionBits>("motion_vectors", kMotionNames);
  layout.glowApart = bake.flag("separate_glow");
  layout.fireApart = bake.flag("separate_fire");
  if (layout.motion != MotionBits::None) layout.layers.insert(DataLayer::Motion);
  if (bake.flag("depth_sheet")) layout.layers.insert(DataLayer::Depth);
  if (bake.flag("age_sheet")) layout.layers.insert(DataLayer::Age);
  if (bake.flag("density_sheet")) layout.layers.insert(DataLayer::Density);
  if (bake.flag("temperature_sheet")) layout.layers.insert(DataLayer::Temperature);
  if (bake.flag("normal_sheet")) layout.layers.insert(DataLayer::Normal);
  if (bake.flag("six_way_lighting")) layout.layers.insert({DataLayer::LightA, DataLayer::LightB});
  layout.ownSheets = layout.layers;
  if (bake.flag("channel_packing")) layout.packing = packingOf(bake);
  if (layout.packing)
    for (const PackSource* source : *layout.packing)
      if (source->layer) layout.layers.insert(*source->layer);
  if (!bake.chooses("video", "none")) layout.video = bake.choiceAs<VideoFormat>("video", kVideoNames);
  if (!bake.chooses("texture", "none") && !isFloat(layout.format))
    layout.texture = bake.choiceAs<TextureCompression>("texture", kTextureNames);
  layout.asSequence = bake.flag("image_sequence");
  layout.withPlayer = bake.flag("web_player");
  checkRange(layout);
  checkLoop(layout, scene);
  const FrameRange searched{layout.firstFrame, layout.lastFrame};
  // The first one stands for that which will be found.
  if (layout.findsLoop) {
    const int length = layout.loopLengths().last;
    layout.firstFrame += layout.framesOfOverlap(length);
    layout.lastFrame = layout.firstFrame + length - 1;
  }
  const FrameRange range{layout.firstFrame, layout.lastFrame};
  std::vector<int> frames = layout.framesBy == FramesBy::Step
                                ? framesOf(range, layout.step)
                                : evenlySpread(range, layout.wantedFrames(), layout.leadsCycle());
  // Trimmed, they may fit.
  if (layout.trimBelow) frames.resize(std::min(frames.size(), static_cast<std::size_t>(layout.room())));
  layout = withFrames(scene, bake, layout, frames);
  layout.firstFrame = searched.first;
  layout.lastFrame = searched.last;
  return layout;
}

Camera bakeView(const Scene& scene, const Item& bake, double frame) {
  return bake.chooses("view", "own") ? viewOf(bake, frame) : cameraOf(scene, frame);
}

double pixelDensity(const Scene& scene, const Item& bake, double frame) {
  const Camera view = bakeView(scene, bake, frame);
  return Projector(view, bake.integer("cell_width", frame), bake.integer("cell_height", frame))
      .project(view.aim)
      .pixelsPerUnit;
}

Finish bakeFinish(const Scene& scene, const Item& bake, double frame) {
  return finishOf(bake.chooses("post_processing", "own") ? bake : scene.camera(), frame);
}

std::vector<ItemId> leftOutOf(const Scene& scene, ItemId bake) {
  std::vector<ItemId> leftOut;
  for (const Scene::ItemPtr& item : scene.items())
    if (responds(item->kind->family()) && !scene.response(item->id, bake).percent)
      leftOut.push_back(item->id);
  return leftOut;
}

VideoMemory videoMemory(const FlipbookLayout& layout) {
  constexpr double kWithMips = 4.0 / 3;
  const double pixels = kWithMips * layout.width() * static_cast<double>(layout.height());
  switch (layout.channels()) {
    case PictureChannels::Grey:
      return {pixels, 0.5 * pixels};
    case PictureChannels::Rgb:
      return {4 * pixels, 0.5 * pixels};
    case PictureChannels::Rgba:
      return {4 * pixels, pixels};
  }
  return {};
}

}  // namespace comet
