// The key mark beside a parameter: whether it is keyed, and whether it has a key at the current frame.
#pragma once

#include <QAbstractButton>

namespace comet {

class KeyMark : public QAbstractButton {
  Q_OBJECT

 public:
  enum class State { None, Keyed, KeyedHere };

  explicit KeyMark(QWidget* parent = nullptr);
  void setState(State state);
  State state() const { return state_; }
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  State state_ = State::None;
};

}  // namespace comet
