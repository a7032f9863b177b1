#include "bake/checks/bake_check.h"
#include "bake/flipbook_file.h"
#include "bake/framing.h"
#include "bake/sweep_files.h"
#include "base/error.h"
#include "base/file.h"
#include "base/memory.h"
#include "commands.h"
#include "console.h"
#include "file_change.h"
#include "render/camera_picture.h"
#include "scene/item_reference.h"

#include <algorithm>
#include <cstdio>
#include <fmt/format.h>
#include <utility>

namespace comet::cli {
namespace {

std::vector<Scene::ItemPtr> chosenBakes(const Scene& scene, const std::string& name) {
  std::vector<Scene::ItemPtr> bakes = scene.itemsOf(ItemFamily::Bake);
  if (name.empty()) {
    if (bakes.empty()) throw Error(ErrorKind::Input, "", "the scene has no bake", "Add one in the Bake view");
    return bakes;
  }
  std::string known;
  for (const Scene::ItemPtr& bake : bakes) {
    if (bake->name == name) return {bake};
    known += (known.empty() ? "" : ", ") + bake->name;
  }
  throw Error(ErrorKind::Usage, "--bake " + name, "the scene has no such bake", "It has: " + known);
}

}  // namespace

FlipbookLayout layoutOf(const Scene& scene, const Item& bake) {
  try {
    return flipbookLayout(scene, bake);
  } catch (const Error& error) {
    throw error.within(placeOf(scene, bake));
  }
}

namespace {

// The run's scene with the bakes' views fitted to the effect.
Scene fittedScene(SceneRun& run, const std::vector<Scene::ItemPtr>& bakes, const Progress& progress) {
  Scene scene = run.scene();
  for (const Scene::ItemPtr& bake : bakes) {
    const auto view = fittedView(run, layoutOf(scene, *bake), progress);
    if (!view)
      throw Error(ErrorKind::Input, placeOf(scene, *bake),
                  "its frames show nothing that the view could be fitted to", "Choose other frames");
    scene = withFittedView(scene, bake->id, *view);
  }
  return scene;
}

// What is lost in the files is told even if nobody asked for checks.
void warnBeforeWriting(const Flipbook& book, const Scene& scene) {
  const Checked checked(book, scene);
  for (const BakeCheck& check : bakeChecks()) {
    if (check.id != kLightWithoutAlpha) continue;
    if (const auto finding = check.find(checked))
      fmt::print(stderr, "{}: warning: {}. {}\n", book.layout.name, finding->text, finding->remedy->label);
  }
}

void printFindings(const Flipbook& book, const Scene& scene) {
  for (const Finding& finding : checkBake(book, scene)) {
    fmt::print("{}: {}: {}: {}", book.layout.name, finding.isTrouble ? "trouble" : "note", finding.check,
               finding.text);
    if (finding.remedy) fmt::print(" ({})", finding.remedy->label);
    fmt::print("\n");
  }
}

// Returns what its simulation has lost.
Losses bakeOne(SceneRun& run, const Item& bake, const BakeOptions& options, const Progress& progress) {
  ProgressLine line("baking " + bake.name, options.scene.quiet);
  const Progress steps(progress, [&line](int done, int total) { line.show(done, total); });
  const Flipbook book = bakeFlipbook(run, layoutOf(run.scene(), bake), steps);
  if (!options.checks) warnBeforeWriting(book, run.scene());
  for (const auto& path : writeFlipbook(book, options.folder, progress))
    if (!options.scene.quiet) fmt::print("{}\n", path.string());
  if (book.texture && !options.scene.quiet)
    fmt::print("{}: texture {}, {} mip levels, {:.1f} dB, worst cell {} with {:.1f} dB\n", book.layout.name,
               traitsOf(book.texture->format).name, book.texture->levels, book.texture->all,
               book.texture->worst() + 1, book.texture->cells[book.texture->worst()]);
  if (options.checks) printFindings(book, run.scene());
  return book.losses;
}

// Frames that are in `frames` are taken from there.
void bakeAll(const BakeOptions& options, std::shared_ptr<FrameCache>& frames, const Progress& progress) {
  const Scene scene = options.scene.load(progress);
  const auto bakes = chosenBakes(scene, options.bakeName);
  makeFolder(options.folder);
  SceneRun run = options.scene.run(scene, frames);
  // Where bakes look from changes no frame.
  if (options.fits) run = run.of(fittedScene(run, bakes, progress));
  Losses losses;
  for (const Scene::ItemPtr& bake : bakes) {
    const Losses of = bakeOne(run, *bake, options, progress);
    losses = {std::max(losses.refused, of.refused), std::max(losses.lost, of.lost)};
  }
  options.scene.requireFiles(scene);
  SceneOptions::keepFrames(run);
  options.scene.reportLosses(losses);
}

// What is wrong with a scene is reported, since it may be corrected and saved again.
void bakeUnlessFaulty(const BakeOptions& options, std::shared_ptr<FrameCache>& frames,
                      const Progress& progress) {
  try {
    options.scene.inScene([&] { bakeAll(options, frames, progress); });
  } catch (const Error& error) {
    if (error.kind() == ErrorKind::Cancelled || error.kind() == ErrorKind::Usage) throw;
    fmt::print(stderr, "comet: {}\n", error.what());
  }
}

}  // namespace

void bake(const BakeOptions& options, Progress& progress) {
  const auto limit = options.scene.limitThreads();
  std::shared_ptr<FrameCache> frames;
  if (!options.watches) return bakeAll(options, frames, progress);
  for (;;) {
    const FileChange change(options.scene.path);
    bakeUnlessFaulty(options, frames, progress);
    if (!options.scene.quiet) fmt::print(stderr, "waiting until {} is saved\n", options.scene.path);
    std::fflush(stdout);
    change.wait(progress);
  }
}

namespace {

// As the option says, where there is memory for such pictures.
PictureSize pictureSize(const std::string& option, const Scene& scene, int frame) {
  PictureSize size;
  parseSize(option, size.width, size.height);
  requireMemory(pictureMemory(size, finishOf(scene.camera(), frame)), "--size " + option,
                "Render smaller pictures, or close other programs");
  return size;
}

// Without its ending.
std::string sceneName(const SceneOptions& options) {
  return std::filesystem::path(options.path).stem().string();
}

}  // namespace

void sweep(const SweepOptions& options, Progress& progress) {
  const auto limit = options.scene.limitThreads();
  const Scene scene = options.scene.load(progress);
  std::vector<SweepAxis> axes;
  for (const std::string& axis : options.axes) axes.push_back(axisFromText(scene, axis));
  const Sweep sweep(scene, std::move(axes));
  const FrameRange range = parseFrames(options.frames);
  const PictureSize size = pictureSize(options.size, scene, range.first);
  makeFolder(options.folder);
  ProgressLine line("sweeping", options.scene.quiet);
  SceneRun run = options.scene.run(scene);
  const auto written =
      writeSweep(sweep, run, {options.folder, sceneName(options.scene), range, size},
                 Progress(progress, [&line](int done, int total) { line.show(done, total); }));
  if (!options.scene.quiet) fmt::print("{}\n", written.back().string());
  options.scene.requireFiles(scene);
}

void render(const RenderOptions& options, Progress& progress) {
  const auto limit = options.scene.limitThreads();
  const Scene scene = options.scene.load(progress);
  const FrameRange range = parseFrames(options.frames);
  const PictureSize size = pictureSize(options.size, scene, range.first);
  makeFolder(options.folder);
  const PictureFormat format = options.exr ? PictureFormat::ExrHalf : PictureFormat::Png8;
  const std::string stem = sceneName(options.scene);
  ProgressLine line("rendering", options.scene.quiet);
  SceneRun run = options.scene.run(scene);
  Renderer renderer;
  for (int frame = range.first; frame <= range.last; ++frame) {
    progress.stopIfCancelled();
    line.show(frame - range.first, range.count());
    Picture picture = cameraPicture(renderer, run, frame, size, progress);
    // PNG readers expect straight alpha; OpenEXR keeps the premultiplied values.
    if (!options.exr) picture = withAlphaKind(std::move(picture), AlphaKind::Straight, progress);
    const std::string name = fmt::format("{}.{:04}{}", stem, frame, extensionOf(format));
    writePicture(std::filesystem::path(options.folder) / name, rowsOf(picture), format, PictureChannels::Rgba,
                 PictureEncoding::Srgb, Progress(progress, {}));
  }
  line.show(range.count(), range.count());
  options.scene.requireFiles(scene);
  SceneOptions::keepFrames(run);
  options.scene.reportLosses(run.lossesUntil(range.last));
}

}  // namespace comet::cli
