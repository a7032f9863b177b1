#include "bake/bake_run.h"

#include "base/error.h"

namespace comet {

BakeRun::BakeRun(QObject* parent)
    : QObject(parent),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {
  qRegisterMetaType<std::shared_ptr<const BakedSheet>>();
}

void BakeRun::start(const Scene& scene, ItemId bake) { worker_.ask({scene, bake}); }

void BakeRun::cancel() {
  if (worker_.cancel()) Q_EMIT cancelled();
}

void BakeRun::work(const Request& request, const Progress& progress) {
  try {
    const Scene::ItemPtr bake = request.scene.find(request.bake);
    auto result = std::make_shared<BakedSheet>();
    result->layout = flipbookLayout(request.scene, *bake);
    result->scene = request.scene;
    result->bake = request.bake;
    SceneRun run(request.scene, std::make_shared<FrameCache>(memoryBudget(request.scene)));
    const Progress steps([&](int done, int total) {
      progress.stopIfCancelled();
      Q_EMIT progressed(done, total);
    });
    result->sheet = bakeSheet(run, result->layout, steps);
    Q_EMIT finished(std::move(result));
  } catch (const Error& error) {
    if (error.kind() == ErrorKind::Cancelled)
      Q_EMIT cancelled();
    else
      Q_EMIT failed(QString::fromUtf8(error.what()));
  }
}

}  // namespace comet
