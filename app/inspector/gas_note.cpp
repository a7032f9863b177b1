#include "inspector/gas_note.h"

#include "base/memory.h"
#include "simulation/gas/gas_edits.h"
#include "simulation/gas/gas_kind.h"
#include "theme/theme.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <optional>

namespace comet {
namespace {

constexpr double kMegabyte = 1 << 20;

QString countsOf(const GasGrid& grid) {
  return QObject::tr("%1 × %2 × %3").arg(grid.counts[0]).arg(grid.counts[1]).arg(grid.counts[2]);
}

const GasStats* statsOf(const SceneFrame& frame, ItemId gas) {
  for (const GasStats& stats : frame.report->gases)
    if (stats.gas == gas) return &stats;
  return nullptr;
}

}  // namespace

GasCostNote::GasCostNote(Document& document, BackgroundRun* run, ItemId gas, QWidget* parent)
    : NoteLabel("gas_cost", 3, parent), document_(document), run_(run), gas_(gas) {
  connect(&document_, &Document::sceneChanged, this, &GasCostNote::refresh);
  connect(&document_, &Document::frameChanged, this, &GasCostNote::refresh);
  if (run_) connect(run_, &BackgroundRun::changed, this, &GasCostNote::refresh);
  refresh();
}

void GasCostNote::refresh() {
  const Scene::ItemPtr gas = document_.item(gas_, ItemFamily::Gas);
  if (!gas) return;
  const GasGrid grid = gasGridOf(*gas);
  const GasExtras extras = gasExtrasOf(document_.scene(), *gas);
  const std::size_t needed = gasMemory(grid, extras);
  if (needed > availableMemory())
    return say(tr("%1 voxels need %L2 MB, more than there is: lower the resolution to %3")
                   .arg(countsOf(grid))
                   .arg(static_cast<double>(needed) / kMegabyte, 0, 'f', 0)
                   .arg(largestResolution(*gas, extras, availableMemory())),
               true);
  QString words = tr("%1 voxels, up to %L2 MB a frame, %L3 MB while they are simulated")
                      .arg(countsOf(grid))
                      .arg(static_cast<double>(gasFrameMemory(grid, extras)) / kMegabyte, 0, 'f', 1)
                      .arg(static_cast<double>(needed) / kMegabyte, 0, 'f', 0);
  const Scene preview = atPreviewResolution(document_.scene());
  const GasGrid coarse = gasGridOf(*preview.find(gas_));
  if (!(coarse == grid)) words += tr("; the preview has %1").arg(countsOf(coarse));
  if (extras.detail > 1) words += tr("; bakes are seen in %1").arg(countsOf(finerGrid(grid, extras.detail)));
  const SceneFramePtr frame = run_ ? run_->frame(document_.frame()) : nullptr;
  if (frame && statsOf(*frame, gas_))
    words += tr(". All gases took %L1 ms in this frame")
                 .arg(frame->report->stats.millisecondsOf(StepStage::Gases), 0, 'f', 0);
  say(words);
}

GasWallsNote::GasWallsNote(Document& document, BackgroundRun* run, ItemId gas, QWidget* parent)
    : QWidget(parent),
      document_(document),
      run_(run),
      gas_(gas),
      words_(new NoteLabel("gas_walls", 0)),
      button_(new QPushButton(tr("Enlarge box"))) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(words_, 1);
  layout->addWidget(button_, 0, Qt::AlignTop);
  button_->setObjectName("enlarge_box");
  button_->setToolTip(tr("Makes the box a quarter larger where the gas leaves it; voxels keep their size"));
  connect(button_, &QPushButton::clicked, this, &GasWallsNote::enlarge);
  connect(&document_, &Document::sceneChanged, this, &GasWallsNote::refresh);
  if (run_) connect(run_, &BackgroundRun::changed, this, &GasWallsNote::refresh);
  refresh();
}

void GasWallsNote::refresh() {
  walls_ = 0;
  std::optional<int> first;
  const FrameRange range = frameRange(document_.scene());
  for (int number = range.first; run_ && number <= range.last; ++number) {
    const SceneFramePtr frame = run_->frame(number);
    const GasStats* stats = frame ? statsOf(*frame, gas_) : nullptr;
    if (!stats || stats->wallsMet == 0) continue;
    walls_ |= stats->wallsMet;
    if (!first) first = number;
  }
  words_->say(
      first ? tr("the gas reaches an open wall in frame %1 and is cut off there").arg(*first) : QString(),
      first.has_value());
  button_->setVisible(first.has_value());
}

void GasWallsNote::enlarge() {
  const Scene::ItemPtr gas = document_.item(gas_, ItemFamily::Gas);
  if (gas && walls_ != 0) document_.edit(withEnlargedGas(document_.scene(), *gas, walls_), tr("enlarge box"));
}

}  // namespace comet
