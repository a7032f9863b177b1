#include "bake/bake_run.h"

#include "bake/flipbook_file.h"
#include "base/error.h"

#include <filesystem>
#include <new>

namespace comet {

BakedSheet::BakedSheet(Flipbook baked, Scene from)
    : flipbook(std::make_shared<const Flipbook>(std::move(baked))),
      book(*flipbook),
      scene(std::move(from)),
      findings(checkBake(book, scene)),
      preview(flipbook) {}

BakeRun::BakeRun(std::shared_ptr<FrameCache> cache, QObject* parent)
    : QObject(parent),
      cache_(std::move(cache)),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {
  qRegisterMetaType<std::shared_ptr<const BakedSheet>>();
  qRegisterMetaType<Camera>("comet::Camera");
  qRegisterMetaType<ItemId>("comet::ItemId");
}

void BakeRun::cancel() {
  if (worker_.cancel()) Q_EMIT cancelled();
}

void BakeRun::perform(const Request& request, const Progress& steps) {
  const auto tell = [this](const std::vector<std::filesystem::path>& files) {
    qint64 bytes = 0;
    for (const auto& file : files) bytes += static_cast<qint64>(std::filesystem::file_size(file));
    Q_EMIT written(static_cast<int>(files.size()), QString::fromStdString(files.front().filename().string()),
                   bytes);
  };
  const std::filesystem::path folder = request.folder.toStdString();
  if (request.task == Task::Write) return tell(writeFlipbook(request.sheet->book, folder, steps));
  SceneRun run(request.scene, cache_);
  if (request.task == Task::WriteAll) {
    std::vector<std::filesystem::path> files;
    for (const Scene::ItemPtr& bake : request.scene.itemsOf(ItemFamily::Bake)) {
      const auto more =
          writeFlipbook(bakeFlipbook(run, flipbookLayout(request.scene, *bake), steps), folder, steps);
      files.insert(files.end(), more.begin(), more.end());
    }
    return tell(files);
  }
  const FlipbookLayout layout = flipbookLayout(request.scene, *request.scene.find(request.bake));
  if (request.task == Task::Fit) {
    const std::optional<Camera> view = fittedView(run, layout, steps);
    Q_EMIT fitted(request.bake, view.value_or(Camera()), !view.has_value());
    return;
  }
  Q_EMIT finished(std::make_shared<const BakedSheet>(bakeFlipbook(run, layout, steps), request.scene));
}

void BakeRun::work(const Request& request, const Progress& progress) {
  try {
    perform(request, Progress(progress, [this](int done, int total) { Q_EMIT progressed(done, total); }));
  } catch (const Error& error) {
    if (error.kind() == ErrorKind::Cancelled)
      Q_EMIT cancelled();
    else
      Q_EMIT failed(QString::fromUtf8(error.what()));
  } catch (const std::bad_alloc&) {
    Q_EMIT failed(tr("There is not enough memory for this bake. Make its cells smaller or fewer."));
  }
}

}  // namespace comet
