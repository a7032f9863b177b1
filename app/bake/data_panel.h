// Writes particles, hits, trails, links, surfaces, gases or cards as data, beside the flipbooks.
#pragma once

#include "bake/data_export.h"
#include "session/document.h"
#include "session/worker.h"

#include <QWidget>
#include <functional>

class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;

namespace comet {

class NumberField;

class DataPanel : public QWidget {
  Q_OBJECT

 public:
  // Frames are taken from `cache` and kept there; `folder` says where files go.
  DataPanel(Document& document, std::shared_ptr<FrameCache> cache, std::function<QString()> folder,
            QWidget* parent = nullptr);

 Q_SIGNALS:
  // From the thread that writes.
  void progressed(int done, int total);
  void finished(int files, const QString& last);
  void failed(const QString& problem);

 private:
  struct Request {
    Scene scene;
    DataExport wanted;
  };
  void work(const Request& request, const Progress& progress);
  void showFormats();
  void showRange();
  void start();
  void setWriting(bool writing);
  void say(const QString& text, bool isTrouble);

  Document& document_;
  std::shared_ptr<FrameCache> cache_;
  std::function<QString()> folder_;
  QComboBox* what_;
  QComboBox* format_;
  NumberField* first_;
  NumberField* last_;
  NumberField* points_;
  QPushButton* write_;
  QPushButton* cancel_;
  QProgressBar* progress_;
  QLabel* message_;
  FrameRange range_;  // of the scene, when the fields were last set by it
  NewestRequestWorker<Request> worker_;
};

}  // namespace comet
