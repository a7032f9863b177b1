#include "scene_files.h"

#include "base/error.h"
#include "catalog.h"
#include "demos.h"
#include "geometry/mesh_content.h"
#include "geometry/mesh_file.h"
#include "io/picture_content.h"
#include "io/picture_file.h"
#include "io/volume_content.h"
#include "scene/scene_file.h"
#include "scene/snapshot.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace comet {
namespace {

namespace fs = std::filesystem;

using ContentPtr = std::shared_ptr<const FileContent>;

ContentPtr readSample(FileKind kind, const std::string& name) {
  for (const DemoFile& file : demoFiles()) {
    if (file.name != name) continue;
    if (kind == FileKind::Mesh) return std::make_shared<const MeshContent>(meshFromBytes(file.bytes, name));
    if (kind == FileKind::Volume)
      return std::make_shared<const VolumeContent>(vectorVolumesFromBytes(file.bytes, name));
    return std::make_shared<const PictureContent>(pictureFromBytes(file.bytes, name),
                                                  std::vector<fs::path>{name},
                                                  [&file](const fs::path& path, StoredAlpha alpha) {
                                                    return pictureFromBytes(file.bytes, path.string(), alpha);
                                                  });
  }
  refuseInput(name, "is not a sample of this program");
}

ContentPtr readPictures(const fs::path& path, const FileReaderPtr& reader, const Progress& progress) {
  const bool isSequence = path.filename().string().find('#') != std::string::npos;
  std::vector<fs::path> files = isSequence ? filesOfSequence(path) : std::vector<fs::path>{path};
  if (files.empty()) refuseInput(path.string(), "names no files", "Each run of # stands for a number");
  Picture first = reader->picture(files.front(), progress);
  return std::make_shared<const PictureContent>(
      std::move(first), std::move(files),
      [reader](const fs::path& file, StoredAlpha alpha) { return reader->picture(file, {}, alpha); });
}

ContentPtr readContent(FileKind kind, const std::string& path, const fs::path& folder,
                       const FileReaderPtr& reader, const Progress& progress) {
  if (path.rfind(kSamplePrefix, 0) == 0) return readSample(kind, path.substr(kSamplePrefix.size()));
  if (!reader) refuseInput(path, "cannot be read here", "Only the program's own samples can");
  const fs::path full = folder / path;  // an absolute path replaces the folder
  if (kind == FileKind::Mesh) return std::make_shared<const MeshContent>(reader->mesh(full, progress));
  if (kind == FileKind::Volume) return std::make_shared<const VolumeContent>(reader->volumes(full, progress));
  return readPictures(full, reader, progress);
}

}  // namespace

FileRef readSceneFile(FileKind kind, const std::string& path, const fs::path& folder,
                      const FileReaderPtr& reader, const Progress& progress) {
  FileRef file{path, nullptr, {}};
  if (path.empty()) return file;
  try {
    file.content = readContent(kind, path, folder, reader, progress);
  } catch (const Error& error) {
    if (error.kind() == ErrorKind::Cancelled) throw;
    file.problem = error.what();
  } catch (const std::bad_alloc&) {
    file.problem = path + ": needs more memory than there is";
  }
  return file;
}

namespace {

// Files that were read already, by what and where they are.
using ReadFiles = std::map<std::pair<FileKind, std::string>, FileRef>;

Scene withItemFilesRead(const Scene& scene, const fs::path& folder, const FileReaderPtr& reader,
                        const Progress& progress, ReadFiles& files) {
  Scene result = scene;
  for (const Scene::ItemPtr& item : scene.items())
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      const auto* file = std::get_if<FileRef>(&item->values[i].base);
      if (!file || file->path.empty()) continue;
      const ParamSpec& spec = item->kind->params()[i];
      const auto [known, isNew] = files.try_emplace({spec.fileKind, file->path}, *file);
      if (!file->isMissing()) continue;
      if (isNew) known->second = readSceneFile(spec.fileKind, file->path, folder, reader, progress);
      ParamValue value = item->values[i];
      value.base = known->second;
      result = result.withParam(item->id, spec.id, std::move(value));
    }
  return result;
}

}  // namespace

Scene withFilesRead(const Scene& scene, const fs::path& folder, const FileReaderPtr& reader,
                    const Progress& progress) {
  ReadFiles files;
  const Scene result = withItemFilesRead(scene, folder, reader, progress, files);
  std::vector<SnapshotPtr> snapshots;
  for (const SnapshotPtr& snapshot : scene.snapshots()) {
    Snapshot whole = *snapshot;
    whole.scene = withItemFilesRead(whole.scene, folder, reader, progress, files);
    snapshots.push_back(std::make_shared<const Snapshot>(std::move(whole)));
  }
  return result.withSnapshots(std::move(snapshots));
}

namespace {

// The parameters that name a file and apply.
template <typename Visit>
void forFiles(const Scene& scene, const Visit& visit) {
  for (const Scene::ItemPtr& item : scene.items())
    for (std::size_t i = 0; i < item->values.size(); ++i) {
      const auto* file = std::get_if<FileRef>(&item->values[i].base);
      if (file && item->applies(i)) visit(*item, item->kind->params()[i], *file);
    }
}

const PictureContent* picturesOf(const FileRef& file) {
  return dynamic_cast<const PictureContent*>(file.content.get());
}

}  // namespace

std::vector<MissingFile> missingFiles(const Scene& scene) {
  std::vector<MissingFile> missing;
  forFiles(scene, [&](const Item& item, const ParamSpec& spec, const FileRef& file) {
    const PictureContent* pictures = picturesOf(file);
    const std::string problem = file.isMissing() ? file.problem : pictures ? pictures->problem() : "";
    if (!problem.empty())
      missing.push_back({item.id, spec.id, fmt::format("{}, \"{}\": {}", item.name, spec.label, problem)});
  });
  return missing;
}

void readWholeSequences(const Scene& scene, const Progress& progress) {
  forFiles(scene, [&](const Item&, const ParamSpec&, const FileRef& file) {
    const PictureContent* pictures = picturesOf(file);
    for (int frame = 1; pictures && frame <= pictures->count(); ++frame) {
      progress.stopIfCancelled();
      static_cast<void>(pictures->at(frame));
    }
  });
}

Scene openScene(const fs::path& path, const FileReaderPtr& reader, const Progress& progress) {
  return withFilesRead(readScene(path, catalog()), path.parent_path(), reader, progress);
}

Scene openDemo(std::string_view name) {
  std::string known;
  for (const Demo& demo : demos()) {
    if (demo.name == name) return withFilesRead(sceneFromText(demo.sceneText, catalog()), {}, nullptr);
    known += (known.empty() ? "" : ", ") + std::string(demo.name);
  }
  throw Error(ErrorKind::Usage, std::string(name), "is not the name of a demo", "There are: " + known);
}

std::string pathFrom(const fs::path& folder, const std::string& path) {
  if (folder.empty() || !fs::path(path).is_absolute()) return path;
  const fs::path relative = fs::path(path).lexically_relative(fs::absolute(folder));
  return relative.empty() || *relative.begin() == ".." ? path : relative.string();
}

}  // namespace comet
