#include "bake/data_panel.h"

#include "base/error.h"
#include "controls/choice_box.h"
#include "controls/number_field.h"
#include "controls/number_unit.h"
#include "theme/theme.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QStyle>
#include <QVBoxLayout>
#include <new>

namespace comet {
namespace {

constexpr int kMaxPoints = 10000;

}  // namespace

DataPanel::DataPanel(Document& document, std::shared_ptr<FrameCache> cache, std::function<QString()> folder,
                     QWidget* parent)
    : QWidget(parent),
      document_(document),
      cache_(std::move(cache)),
      folder_(std::move(folder)),
      what_(new ChoiceBox),
      format_(new ChoiceBox),
      first_(new NumberField),
      last_(new NumberField),
      points_(new NumberField),
      write_(new QPushButton(theme::mark("save"), tr("Export data"))),
      cancel_(new QPushButton(tr("Cancel"))),
      progress_(new QProgressBar),
      message_(new QLabel),
      worker_([this](const Request& request, const Progress& progress) { work(request, progress); }) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 8, 0, 0);
  auto* title = new QLabel(tr("Data"));
  title->setFont(theme::font(12, true));
  layout->addWidget(title);
  auto* row = new QHBoxLayout;
  what_->setObjectName("data_what");
  what_->addItems(
      {tr("Particles"), tr("Hits"), tr("Trails"), tr("Links"), tr("Surfaces"), tr("Gases"), tr("Cards")});
  format_->setObjectName("data_format");
  row->addWidget(what_, 1);
  row->addWidget(format_);
  layout->addLayout(row);
  row = new QHBoxLayout;
  for (NumberField* field : {first_, last_, points_}) {
    field->setWhole(true);
    field->setShowsBar(false);
    row->addWidget(field, 1);
  }
  first_->setObjectName("data_first");
  first_->setPrefix(tr("from"));
  first_->setRange(-100000, 100000);
  last_->setObjectName("data_last");
  last_->setPrefix(tr("to"));
  last_->setRange(-100000, 100000);
  points_->setObjectName("data_points");
  points_->setPrefix(tr("points"));
  points_->setRange(0, kMaxPoints);
  points_->setToolTip(tr("The number of points of each line, spaced evenly; 0 keeps the points that it has"));
  for (NumberField* field : {first_, last_, points_})
    connect(field, &NumberField::edited, field, &NumberField::setValue);
  const auto setUnits = [this] {
    for (NumberField* field : {first_, last_})
      field->setUnits(momentUnits(document_.scene(), document_.timeDisplay()));
  };
  setUnits();
  connect(&document_, &Document::timeDisplayChanged, this, setUnits);
  connect(&document_, &Document::sceneChanged, this, setUnits);
  layout->addLayout(row);
  row = new QHBoxLayout;
  write_->setObjectName("data_write");
  write_->setToolTip(tr("Exported to the folder of the flipbooks"));
  cancel_->setObjectName("data_cancel");
  row->addWidget(write_, 1);
  row->addWidget(cancel_);
  layout->addLayout(row);
  layout->addWidget(progress_);
  message_->setObjectName("data_message");
  message_->setWordWrap(true);
  layout->addWidget(message_);
  connect(what_, &QComboBox::activated, this, &DataPanel::showFormats);
  connect(write_, &QPushButton::clicked, this, &DataPanel::start);
  connect(cancel_, &QPushButton::clicked, this, [this] {
    if (worker_.cancel()) setWriting(false);
  });
  connect(&document_, &Document::sceneChanged, this, &DataPanel::showRange);
  connect(this, &DataPanel::progressed, progress_, [this](int done, int total) {
    progress_->setRange(0, total);
    progress_->setValue(done);
  });
  connect(this, &DataPanel::finished, this, [this](int files, const QString& last) {
    setWriting(false);
    say(files == 1 ? tr("Exported %1.").arg(last)
                   : tr("Exported %1 files, the last one is %2.").arg(files).arg(last),
        files == 0);
    if (files == 0) say(tr("Nothing to export: the scene has none."), true);
  });
  connect(this, &DataPanel::failed, this, [this](const QString& problem) {
    setWriting(false);
    say(problem, true);
  });
  showFormats();
  showRange();
  setWriting(false);
}

void DataPanel::showFormats() {
  const auto kind = static_cast<DataKind>(what_->currentIndex());
  format_->clear();
  for (const std::string& format : formatsOf(kind))
    format_->addItem(QString::fromStdString(format).toUpper(), QString::fromStdString(format));
  points_->setVisible(kind == DataKind::Trails || kind == DataKind::Links);
}

// The whole range, until the user sets another one.
void DataPanel::showRange() {
  const FrameRange range = frameRange(document_.scene());
  if (range == range_) return;
  range_ = range;
  first_->setValue(range.first);
  last_->setValue(range.last);
}

void DataPanel::start() {
  DataExport wanted;
  wanted.kind = static_cast<DataKind>(what_->currentIndex());
  wanted.format = format_->currentData().toString().toStdString();
  wanted.frames = {static_cast<int>(first_->value()), static_cast<int>(last_->value())};
  wanted.points = points_->isVisible() ? static_cast<std::size_t>(points_->value()) : 0;
  wanted.folder = folder_().toStdString();
  wanted.stem = document_.displayName().toStdString();
  if (wanted.frames.last < wanted.frames.first)
    return say(tr("The last frame is before the first one: choose a later one."), true);
  setWriting(true);
  say({}, false);
  worker_.ask({document_.scene(), wanted});
}

void DataPanel::work(const Request& request, const Progress& progress) {
  try {
    SceneRun run(request.scene, cache_);
    const Progress steps(progress, [this](int done, int total) { Q_EMIT progressed(done, total); });
    const auto written = exportData(run, request.wanted, steps);
    Q_EMIT finished(static_cast<int>(written.size()),
                    written.empty() ? QString() : QString::fromStdString(written.back().filename().string()));
  } catch (const Error& error) {
    Q_EMIT failed(error.kind() == ErrorKind::Cancelled ? tr("Cancelled. The files exported so far are kept.")
                                                       : QString::fromUtf8(error.what()));
  } catch (const std::bad_alloc&) {
    Q_EMIT failed(tr("There is not enough memory for this. Export fewer frames at once."));
  }
}

void DataPanel::setWriting(bool writing) {
  write_->setEnabled(!writing);
  cancel_->setEnabled(writing);
  progress_->setVisible(writing);
}

void DataPanel::say(const QString& text, bool isTrouble) {
  message_->setText(text);
  theme::setState(*message_, "trouble", isTrouble);
}

}  // namespace comet
