// The presets that can be chosen from: the user's own, those that come with the program, and the emitters of
// the demos.
#pragma once

#include "presets.h"

#include <QString>
#include <memory>
#include <vector>

namespace comet {

struct OfferedPreset {
  std::shared_ptr<const Preset> preset;
  QString category;  // as it is shown
  QString path;      // of one of the user's own; empty for others
  QString still;     // the picture of a demo; empty for others, whose pictures are drawn
};

// Files that cannot be read are left out. Throws Error(Cancelled).
std::vector<OfferedPreset> offeredPresets(const FileReaderPtr& files, const Progress& progress);

QString ownCategory();

// Keeps a preset among the user's own; an earlier one of its name is replaced. Throws Error(Write).
void keepPreset(const Preset& preset);
// Takes a preset's file among the user's own. Throws Error if it is none.
void importPreset(const QString& path, const FileReaderPtr& files);
void forgetPreset(const OfferedPreset& preset);

}  // namespace comet
