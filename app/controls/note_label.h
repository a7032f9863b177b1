// A few words below a control about what it does. Room for them is kept whether there is something to say or
// not, and what once needed more room keeps it: nothing below moves under the pointer when notes come and go.
#pragma once

#include <QLabel>

namespace comet {

class NoteLabel : public QLabel {
  Q_OBJECT

 public:
  // With room for so many lines from the start.
  explicit NoteLabel(const QString& name, int lines = 1, QWidget* parent = nullptr);

  void say(const QString& words, bool isTrouble = false);

  // As high as the room that is kept, whatever a layout thinks of long words.
  QSize sizeHint() const override { return {QLabel::sizeHint().width(), minimumHeight()}; }
  QSize minimumSizeHint() const override { return {0, minimumHeight()}; }

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void keepRoom();

  int lines_;  // for which there is room from the start
};

}  // namespace comet
