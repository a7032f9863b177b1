// Bakes a flipbook behind the window.
#pragma once

#include "bake/flipbook.h"
#include "session/worker.h"

#include <QObject>
#include <QString>
#include <memory>

namespace comet {

// A finished sheet and what it was made from.
struct BakedSheet {
  Picture sheet;  // linear, premultiplied
  FlipbookLayout layout;
  Scene scene;
  ItemId bake = 0;
};

class BakeRun : public QObject {
  Q_OBJECT

 public:
  explicit BakeRun(QObject* parent = nullptr);

  void start(const Scene& scene, ItemId bake);
  void cancel();

 Q_SIGNALS:
  // All on the window's thread.
  void progressed(int done, int total);
  void finished(std::shared_ptr<const comet::BakedSheet> sheet);
  void failed(const QString& problem);
  void cancelled();

 private:
  struct Request {
    Scene scene;
    ItemId bake;
  };
  void work(const Request& request, const Progress& progress);

  NewestRequestWorker<Request> worker_;
};

}  // namespace comet
