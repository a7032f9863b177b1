// The user guide, in a window of its own beside the work.
#pragma once

#include <QDialog>
#include <QString>
#include <vector>

class QTextBrowser;

namespace comet {

struct GuidePage {
  QString file;     // in the guide's folder
  QString title;    // its heading
  QString opening;  // its first words, to be found by
};

// All pages, in the order of the work.
const std::vector<GuidePage>& guidePages();

class GuideView : public QDialog {
  Q_OBJECT

 public:
  explicit GuideView(QWidget* parent);

  // With `words` at the first place that has them, marked; where there are none, at the top.
  void open(const QString& file, const QString& words = {});

 private:
  QTextBrowser* text_;
};

}  // namespace comet
