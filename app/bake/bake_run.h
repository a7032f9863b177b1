// Bakes flipbooks, fits their views to the effect and writes their files, behind the window.
#pragma once

#include "bake/checks/bake_check.h"
#include "bake/framing.h"
#include "bake/game_preview.h"
#include "session/worker.h"

#include <QObject>
#include <QString>
#include <functional>
#include <memory>
#include <vector>

namespace comet {

// A finished flipbook and what it was made from.
struct BakedSheet {
  BakedSheet(Flipbook baked, Scene from);

  std::shared_ptr<const Flipbook> flipbook;
  const Flipbook& book;
  Scene scene;
  std::vector<Finding> findings;
  GamePreview preview;

  const FlipbookLayout& layout() const { return book.layout; }
};

class BakeRun : public QObject {
  Q_OBJECT

 public:
  // Frames are taken from `cache` and kept there, so that what the viewport has simulated is not run again.
  explicit BakeRun(std::shared_ptr<FrameCache> cache, QObject* parent = nullptr);

  // Each takes the place of what still runs, of which nothing more is heard.
  void start(const Scene& scene, ItemId bake) { ask({Task::Bake, scene, bake}); }
  void fit(const Scene& scene, ItemId bake) { ask({Task::Fit, scene, bake}); }
  void write(std::shared_ptr<const BakedSheet> sheet, const QString& folder) {
    ask({Task::Write, sheet->scene, 0, folder, std::move(sheet)});
  }
  // Bakes every bake of the scene and writes its files.
  void writeAll(const Scene& scene, const QString& folder) { ask({Task::WriteAll, scene, 0, folder}); }
  void cancel();

 Q_SIGNALS:
  // All on the window's thread, and only of the request that was made last.
  void progressed(int done, int total);
  void finished(std::shared_ptr<const comet::BakedSheet> sheet);
  // `seesNothing` if there was nothing to fit the view to.
  void fitted(comet::ItemId bake, comet::Camera view, bool seesNothing);
  // How many files, the first one's name, the bytes of all, and the path of the last flipbook's description.
  void written(int files, const QString& first, qint64 bytes, const QString& description);
  void failed(const QString& problem);
  void cancelled();

 private:
  enum class Task { Bake, Fit, Write, WriteAll };
  struct Request {
    Task task = Task::Bake;
    Scene scene;
    ItemId bake = 0;
    QString folder{};
    std::shared_ptr<const BakedSheet> sheet{};
    std::uint64_t number = 0;
  };
  void ask(Request request);
  // On the worker's thread.
  void perform(const Request& request, const Progress& steps);
  void work(const Request& request, const Progress& progress);
  // Emits on the window's thread, unless another request has taken the place of this one by then.
  void report(const Request& request, std::function<void()> emits);

  std::shared_ptr<FrameCache> cache_;
  std::uint64_t newest_ = 0;  // the number of the request that was made last
  NewestRequestWorker<Request> worker_;
};

}  // namespace comet
