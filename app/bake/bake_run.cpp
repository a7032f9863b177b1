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
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {}

void BakeRun::ask(Request request) {
  request.number = ++newest_;
  worker_.ask(std::move(request));
}

void BakeRun::cancel() {
  if (worker_.cancel()) Q_EMIT cancelled();
}

void BakeRun::report(const Request& request, std::function<void()> emits) {
  QMetaObject::invokeMethod(
      this,
      [this, number = request.number, emits = std::move(emits)] {
        if (number == newest_) emits();
      },
      Qt::QueuedConnection);
}

void BakeRun::perform(const Request& request, const Progress& steps) {
  const auto tell = [&](const std::vector<std::filesystem::path>& files) {
    qint64 bytes = 0;
    for (const auto& file : files) bytes += static_cast<qint64>(std::filesystem::file_size(file));
    const int count = static_cast<int>(files.size());
    const QString first = QString::fromStdString(files.front().filename().string());
    const QString description = QString::fromStdString(files.back().string());
    report(request, [=, this] { Q_EMIT written(count, first, bytes, description); });
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
    return report(request, [this, bake = request.bake, view] {
      Q_EMIT fitted(bake, view.value_or(Camera()), !view.has_value());
    });
  }
  const auto sheet = std::make_shared<const BakedSheet>(bakeFlipbook(run, layout, steps), request.scene);
  report(request, [this, sheet] { Q_EMIT finished(sheet); });
}

void BakeRun::work(const Request& request, const Progress& progress) {
  const auto fail = [&](const QString& problem) {
    report(request, [this, problem] { Q_EMIT failed(problem); });
  };
  try {
    perform(request, Progress(progress, [&](int done, int total) {
              report(request, [=, this] { Q_EMIT progressed(done, total); });
            }));
  } catch (const Error& error) {
    if (error.kind() == ErrorKind::Cancelled)
      report(request, [this] { Q_EMIT cancelled(); });
    else
      fail(QString::fromUtf8(error.what()));
  } catch (const std::bad_alloc&) {
    fail(tr("There is not enough memory for this bake. Make its cells smaller or fewer."));
  }
}

}  // namespace comet
