#include "timeline/transport.h"

#include "base/error.h"
#include "controls/number_field.h"
#include "simulation/start_state.h"
#include "theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStyle>
#include <QToolButton>

namespace comet {

Transport::Transport(Document& document, BackgroundRun& run, PictureRun& pictures, Playback& playback,
                     QWidget* parent)
    : QWidget(parent), document_(document), run_(run), pictures_(pictures), playback_(playback) {
  connect(&run_, &BackgroundRun::changed, this, &Transport::refresh);
  connect(&pictures_, &PictureRun::changed, this, &Transport::refresh);
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(6, 4, 6, 4);
  row->setSpacing(4);
  connect(addButton("rewind", "rewind", tr("First frame (Home)")), &QToolButton::clicked, &playback_,
          &Playback::rewind);
  connect(addButton("step_back", "step_back", tr("Previous frame (Left)")), &QToolButton::clicked, &playback_,
          [this] { playback_.step(-1); });
  play_ = addButton("play", "play", tr("Play or pause (Space)"));
  connect(play_, &QToolButton::clicked, &playback_, &Playback::toggle);
  connect(addButton("step_forward", "step_forward", tr("Next frame (Right)")), &QToolButton::clicked,
          &playback_, [this] { playback_.step(1); });
  QToolButton* loop = addButton("loop", "loop", tr("Loop playback"));
  loop->setCheckable(true);
  loop->setChecked(playback_.loops());
  connect(loop, &QToolButton::toggled, &playback_, &Playback::setLoops);
  QToolButton* every = addButton("every_frame", "every_frame",
                                 tr("Show every frame, even if playback becomes slower than the frame rate"));
  every->setCheckable(true);
  connect(every, &QToolButton::toggled, &playback_, &Playback::setShowsEveryFrame);

  frame_ = new NumberField;
  frame_->setObjectName("frame");
  frame_->setWhole(true);
  frame_->setShowsBar(false);
  frame_->setFixedWidth(96);
  row->addWidget(frame_);
  connect(frame_, &NumberField::edited, this, [this](double frame) {
    playback_.pause();
    document_.setFrame(static_cast<int>(frame));
  });
  time_ = new QLabel;
  time_->setProperty("quiet", true);
  row->addWidget(time_);
  row->addStretch(1);
  start_ = new QPushButton;
  start_->setObjectName("start_state");
  row->addWidget(start_);
  connect(start_, &QPushButton::clicked, this, &Transport::toggleStartState);
  connect(&document_, &Document::frameChanged, this, &Transport::refresh);
  connect(&document_, &Document::sceneChanged, this, &Transport::refresh);
  connect(&document_, &Document::timeDisplayChanged, this, &Transport::refresh);
  connect(&playback_, &Playback::stateChanged, this, &Transport::refresh);
  refresh();
}

QToolButton* Transport::addButton(const QString& mark, const QString& name, const QString& tip) {
  auto* button = new QToolButton;
  button->setIcon(theme::mark(mark));
  button->setObjectName(name);
  button->setToolTip(tip);
  layout()->addWidget(button);
  return button;
}

void Transport::toggleStartState() {
  if (hasStartState(document_.scene())) {
    document_.edit(withoutStartState(document_.scene()), tr("clear start state"));
    return;
  }
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!frame) return;
  playback_.pause();
  try {
    document_.edit(withStartState(document_.scene(), *frame->particles, *frame->gases),
                   tr("take start state"));
    playback_.rewind();
  } catch (const Error& error) {
    start_->setToolTip(QString::fromUtf8(error.what()));
  }
}

void Transport::refresh() {
  const bool started = hasStartState(document_.scene());
  start_->setText(started ? tr("Clear start state") : tr("Set start state"));
  start_->setToolTip(started ? tr("The scene begins with particles and gas taken from a frame. Click to "
                                  "begin without them again")
                             : tr("The scene will begin with the particles and the gas of this frame"));
  if (start_->property("main").toBool() != started) {
    start_->setProperty("main", started);
    start_->style()->polish(start_);
  }

  play_->setIcon(theme::mark(playback_.isPlaying() ? "pause" : "play",
                             playback_.isPlaying() ? theme::kAccent : theme::kText));
  const FrameRange range = frameRange(document_.scene());
  frame_->setRange(range.first, range.last);
  frame_->setUsualRange(range.first, range.last + 1);
  frame_->setUnits(momentUnits(document_.scene(), document_.timeDisplay()));
  frame_->setPrefix(document_.timeDisplay() == TimeDisplay::Seconds ? tr("time") : tr("frame"));
  frame_->setValue(document_.frame());
  const double rate = frameRate(document_.scene());
  QString text = tr("%1 s  ·  %2 fps").arg((document_.frame() - range.first) / rate, 0, 'f', 2).arg(rate);
  if (playback_.isPlaying() && playback_.measuredRate() > 0)
    text += tr("  ·  playing at %1").arg(playback_.measuredRate(), 0, 'f', 1);
  int missing = 0;
  for (int frame = range.first; frame <= range.last; ++frame) missing += run_.isSimulated(frame) ? 0 : 1;
  if (missing > 0)
    text += tr("  ·  %1 frames to simulate").arg(missing);
  else if (const int toDraw = pictures_.missing(); toDraw > 0)
    text += tr("  ·  %1 frames to draw ahead").arg(toDraw);
  time_->setText(text);
}

}  // namespace comet
