// Bakes flipbooks, fits their views to the effect and writes their files, behind the window.
#pragma once

#include "bake/bake_check.h"
#include "bake/framing.h"
#include "bake/game_preview.h"
#include "session/worker.h"

#include <QObject>
#include <QString>
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

  void start(const Scene& scene, ItemId bake) { worker_.ask({Task::Bake, scene, bake}); }
  void fit(const Scene& scene, ItemId bake) { worker_.ask({Task::Fit, scene, bake}); }
  void write(std::shared_ptr<const BakedSheet> sheet, const QString& folder) {
    worker_.ask({Task::Write, sheet->scene, 0, folder, std::move(sheet)});
  }
  // Bakes every bake of the scene and writes its files.
  void writeAll(const Scene& scene, const QString& folder) {
    worker_.ask({Task::WriteAll, scene, 0, folder});
  }
  void cancel();

 Q_SIGNALS:
  // All on the window's thread.
  void progressed(int done, int total);
  void finished(std::shared_ptr<const comet::BakedSheet> sheet);
  // `seesNothing` if there was nothing to fit the view to.
  void fitted(comet::ItemId bake, comet::Camera view, bool seesNothing);
  // How many files, the first one's name, and the bytes of all.
  void written(int files, const QString& first, qint64 bytes);
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
  };
  void perform(const Request& request, const Progress& steps);
  void work(const Request& request, const Progress& progress);

  std::shared_ptr<FrameCache> cache_;
  NewestRequestWorker<Request> worker_;
};

}  // namespace comet
