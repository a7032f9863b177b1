// Whole emitters to start from: those of the demos, and those that the user kept.
#pragma once

#include "readers/file_reader.h"
#include "scene/scene.h"

#include <QImage>
#include <QString>
#include <vector>

namespace comet {

struct EmitterPreset {
  QString name;
  QString picturePath;  // of a file or resource; may not exist
  QString path;         // of a kept one; empty for a demo's
  QString demo;         // the demo it comes from
};

std::vector<EmitterPreset> emitterPresets();

// The emitter of a preset, without id. Throws Error(Input) if its file cannot be read.
Item emitterOf(const EmitterPreset& preset, const FileReaderPtr& files);

// Keeps an emitter under its name; an earlier one of that name is replaced. Throws Error(Write).
void keepEmitterPreset(const Item& emitter, const QImage& picture);
void forgetEmitterPreset(const EmitterPreset& preset);

}  // namespace comet
