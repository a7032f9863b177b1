// Scenes together with the pictures and meshes that they use.
//
// Paths in a scene are absolute, or relative to the scene's file; `sample:NAME` is a file that comes with the
// program and is found on every machine.
#pragma once

#include "readers/file_reader.h"
#include "scene/scene.h"

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace comet {

constexpr std::string_view kSamplePrefix = "sample:";

// Reads one file; `reader` may be null for samples. Throws only Error(Cancelled): a file that cannot be used
// leaves its reason in FileRef::problem.
FileRef readSceneFile(FileKind kind, const std::string& path, const std::filesystem::path& folder,
                      const FileReaderPtr& reader, const Progress& progress = {});

// The scene with every file read that has not been yet. Throws Error(Cancelled).
Scene withFilesRead(const Scene& scene, const std::filesystem::path& folder, const FileReaderPtr& reader,
                    const Progress& progress = {});

// A file of the scene that could not be read, or of whose sequence one could not be when it was wanted, with
// the reason and the way out.
struct MissingFile {
  ItemId item = 0;
  std::string param;
  std::string message;
};
std::vector<MissingFile> missingFiles(const Scene& scene);

// Reads the pictures of all sequences, so that missingFiles knows of each. Throws Error(Cancelled).
void readWholeSequences(const Scene& scene, const Progress& progress);

// A scene and its files. Throws Error(Input) for faults of the scene itself only: one whose pictures are gone
// opens, so that their paths can be fixed.
// Throws Error(Cancelled).
Scene openScene(const std::filesystem::path& path, const FileReaderPtr& reader,
                const Progress& progress = {});

// A demo by its name; throws Error(Usage) if there is none.
Scene openDemo(std::string_view name);

// How a scene saved in `folder` names a file: relative if the file lies in it, otherwise as it is.
std::string pathFrom(const std::filesystem::path& folder, const std::string& path);

}  // namespace comet
