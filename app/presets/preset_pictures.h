// Moving pictures of presets, drawn behind the window by what draws effects.
#pragma once

#include "cache/picture_cache.h"
#include "presets.h"
#include "render/renderer.h"
#include "render/stamp_cache.h"
#include "session/worker.h"

#include <QImage>
#include <QObject>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

namespace comet {

class PresetPictures : public QObject {
  Q_OBJECT

 public:
  using PresetPtr = std::shared_ptr<const Preset>;

  explicit PresetPictures(QObject* parent = nullptr);

  static PictureSize size() { return {116, 87}; }
  static constexpr int kPictures = 16;  // over the preset's frames
  // The one that shows most of a preset, usually.
  static constexpr int kMiddle = 6;

  // Draws those of these presets that are not drawn yet, in this order, and no others for now.
  void draw(std::vector<PresetPtr> presets);
  // Draws nothing for now.
  void rest() { worker_.cancel(); }
  // Empty while they are not drawn.
  std::vector<QImage> of(const PresetPtr& preset) const;

 Q_SIGNALS:
  // Those of one more preset are drawn; comes on the window's thread.
  void changed();

 private:
  void work(const std::vector<PresetPtr>& presets, const Progress& progress);
  std::vector<QImage> drawn(const Preset& preset, const Progress& progress);

  Renderer renderer_;  // the worker's own, as the next
  StampCache backdrops_;
  mutable std::mutex mutex_;  // guards what follows
  std::map<PresetPtr, std::vector<QImage>> pictures_;
  NewestRequestWorker<std::vector<PresetPtr>> worker_;  // last: its thread uses all above
};

}  // namespace comet
