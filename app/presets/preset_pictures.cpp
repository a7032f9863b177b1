#include "presets/preset_pictures.h"

#include "base/error.h"
#include "cache/scene_run.h"
#include "controls/screen_image.h"
#include "render/screen_picture.h"
#include "render/trail.h"
#include "simulation/gas/gas_kind.h"

#include <new>
#include <tbb/task_arena.h>

namespace comet {
namespace {

constexpr std::size_t kFrameBudget = std::size_t{128} << 20;  // bytes

}  // namespace

PresetPictures::PresetPictures(QObject* parent)
    : QObject(parent), worker_([this](const std::vector<PresetPtr>& presets, const Progress& progress) {
        // What is drawn for the scene itself goes first.
        tbb::task_arena arena(tbb::task_arena::automatic, 1, tbb::task_arena::priority::low);
        arena.execute([&] { work(presets, progress); });
      }) {}

void PresetPictures::draw(std::vector<PresetPtr> presets) { worker_.ask(std::move(presets)); }

std::vector<QImage> PresetPictures::of(const PresetPtr& preset) const {
  const std::lock_guard lock(mutex_);
  const auto found = pictures_.find(preset);
  return found == pictures_.end() ? std::vector<QImage>() : found->second;
}

void PresetPictures::work(const std::vector<PresetPtr>& presets, const Progress& progress) {
  for (const PresetPtr& preset : presets) {
    if (!of(preset).empty()) continue;
    try {
      std::vector<QImage> pictures = drawn(*preset, progress);
      const std::lock_guard lock(mutex_);
      pictures_[preset] = std::move(pictures);
    } catch (const Error& error) {
      if (error.kind() == ErrorKind::Cancelled) return;
      continue;  // its tile stays empty; adding it says why
    } catch (const std::bad_alloc&) {
      continue;
    }
    Q_EMIT changed();
  }
}

std::vector<QImage> PresetPictures::drawn(const Preset& preset, const Progress& progress) {
  const Scene scene = atPreviewResolution(preset.scene);
  SceneRun run(scene, std::make_shared<FrameCache>(kFrameBudget));
  const FrameRange range = playedRange(scene);
  std::vector<QImage> pictures;
  for (int i = 0; i < kPictures; ++i) {
    const int frame = range.first + i * (range.count() - 1) / (kPictures - 1);
    const SceneFramePtr states = run.frame(frame, progress);
    const ScreenShot shot{{scene, *states, run.past(frame, pastNeeded(scene, frame), progress),
                           cameraOf(scene, frame), size(), 1, RenderPurpose::Viewport},
                          finishOf(scene.camera(), frame),
                          true};
    pictures.push_back(imageOf(
        std::make_shared<const ScreenPicture>(drawForScreen(renderer_, backdrops_, shot, 1, progress))));
  }
  return pictures;
}

}  // namespace comet
