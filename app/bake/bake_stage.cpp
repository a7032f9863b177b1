#include "bake/bake_stage.h"

#include "bake/cell_player.h"
#include "bake/cell_plot.h"
#include "bake/compare_view.h"
#include "bake/game_view.h"
#include "bake/sheet_view.h"
#include "controls/choice_box.h"
#include "theme/theme.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace comet {
namespace {

constexpr int kMipLevels = 5;

}  // namespace

BakeStage::BakeStage(QWidget* parent)
    : QWidget(parent),
      pages_(new QButtonGroup(this)),
      stack_(new QStackedWidget),
      channel_(new ChoiceBox),
      ground_(new ChoiceBox),
      mip_(new ChoiceBox),
      compareWith_(new ChoiceBox),
      difference_(new QCheckBox(tr("Difference"))),
      play_(new QPushButton(theme::mark("play"), tr("Play"))),
      hover_(new QLabel),
      view_(new SheetView),
      player_(new CellPlayer),
      plot_(new CellPlot),
      game_(new GameView),
      compare_(new CompareView) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(4);
  layout->addWidget(makeBar());
  auto* cells = new QWidget;
  auto* column = new QVBoxLayout(cells);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  player_->setCompares(true);
  column->addWidget(player_, 1);
  column->addWidget(plot_);
  for (QWidget* page :
       {static_cast<QWidget*>(view_), cells, static_cast<QWidget*>(game_), static_cast<QWidget*>(compare_)})
    stack_->addWidget(page);
  layout->addWidget(stack_, 1);
  const auto choose = [this](int cell) {
    play_->setChecked(false);
    player_->setCell(cell);
  };
  connect(view_, &SheetView::cellChosen, this, choose);
  connect(plot_, &CellPlot::cellChosen, this, choose);
  connect(player_, &CellPlayer::cellShown, view_, &SheetView::setCell);
  connect(player_, &CellPlayer::cellShown, plot_, &CellPlot::setCell);
  connect(view_, &SheetView::hovered, hover_, &QLabel::setText);
  showPage(Page::Sheet);
}

QWidget* BakeStage::makeBar() {
  auto* bar = new QWidget;
  bar->setProperty("panel", true);
  auto* column = new QVBoxLayout(bar);
  column->setContentsMargins(8, 6, 8, 4);
  column->setSpacing(4);
  auto* row = new QHBoxLayout;
  const QStringList names{tr("Sheet"), tr("Cells"), tr("Game"), tr("Compare")};
  const QStringList tips{tr("The whole sheet, down to single pixels"),
                         tr("Plays the cells: one by one, blended, and along motion vectors"),
                         tr("Many sprites that play the sheet over their lives, as in a game"),
                         tr("This bake beside the previous one")};
  for (int page = 0; page < names.size(); ++page) {
    auto* button = new QPushButton(names[page]);
    button->setObjectName(QString("bake_page.%1").arg(page));
    button->setCheckable(true);
    button->setToolTip(tips[page]);
    pages_->addButton(button, page);
    row->addWidget(button);
  }
  pages_->button(0)->setChecked(true);
  play_->setObjectName("bake_play");
  play_->setCheckable(true);
  row->addWidget(play_);
  row->addStretch(1);
  channel_->setObjectName("bake_channel");
  channel_->addItem(channelNames().front(), 0);
  channel_->setToolTip(tr("Which channel of the sheet is shown"));
  mip_->setObjectName("bake_mip");
  for (int level = 0; level < kMipLevels; ++level)
    mip_->addItem(level == 0 ? tr("full size") : tr("mip level %1").arg(level));
  mip_->setToolTip(tr("The sheet as a game shrinks it: each level has half the size"));
  ground_->setObjectName("bake_ground");
  ground_->addItems(groundNames());
  ground_->setToolTip(tr("The background behind the sheet"));
  difference_->setObjectName("bake_difference");
  compareWith_->setObjectName("bake_compare_with");
  compareWith_->addItems({tr("Previous bake"), tr("GPU texture")});
  compareWith_->setToolTip(tr("What the sheet is compared with"));
  for (QWidget* widget :
       {static_cast<QWidget*>(compareWith_), static_cast<QWidget*>(difference_),
        static_cast<QWidget*>(channel_), static_cast<QWidget*>(mip_), static_cast<QWidget*>(ground_)})
    row->addWidget(widget);
  column->addLayout(row);
  hover_->setObjectName("bake_hover");
  hover_->setProperty("quiet", true);
  hover_->setFont(theme::font(11));
  hover_->setMinimumWidth(10);
  column->addWidget(hover_);
  connect(pages_, &QButtonGroup::idClicked, this, &BakeStage::showPage);
  connect(play_, &QPushButton::toggled, this, &BakeStage::setPlaying);
  for (QComboBox* box : {channel_, mip_, ground_})
    connect(box, &QComboBox::currentIndexChanged, this, &BakeStage::setLook);
  connect(compareWith_, &QComboBox::currentIndexChanged, compare_,
          [this](int index) { compare_->setWith(static_cast<CompareWith>(index)); });
  connect(difference_, &QCheckBox::toggled, compare_, &CompareView::setShowsDifference);
  return bar;
}

void BakeStage::showPage(int page) {
  stack_->setCurrentIndex(page);
  channel_->setVisible(page == Page::Sheet);
  mip_->setVisible(page == Page::Sheet);
  hover_->setVisible(page == Page::Sheet);
  compareWith_->setVisible(page == Page::Compare);
  difference_->setVisible(page == Page::Compare);
  setPlaying(play_->isChecked());
}

void BakeStage::setLook() {
  const auto ground = static_cast<Ground>(ground_->currentIndex());
  const auto channel = static_cast<SheetChannel>(std::max(0, channel_->currentData().toInt()));
  view_->setLook({channel, ground, mip_->currentIndex()});
  player_->setGround(ground);
  game_->setGround(ground);
  compare_->setGround(ground);
}

void BakeStage::setPlaying(bool playing) {
  play_->setChecked(playing);
  player_->setPlaying(playing);
  game_->setPlaying(playing && stack_->currentIndex() == Page::Game);
}

bool BakeStage::isPlaying() const { return play_->isChecked(); }

void BakeStage::setSheet(const std::shared_ptr<const BakedSheet>& sheet) {
  const auto before = sheet ? std::exchange(sheet_, sheet) : nullptr;
  if (!sheet) {
    setPlaying(false);
    sheet_.reset();
  }
  {
    const QSignalBlocker blocker(channel_);
    const QString shown = channel_->currentText();
    channel_->clear();
    const QStringList names = channelNames();
    for (int i = 0; i < names.size(); ++i)
      if (i == 0 || (sheet && hasChannel(sheet->book, static_cast<SheetChannel>(i))))
        channel_->addItem(names[i], i);
    channel_->setCurrentIndex(std::max(0, channel_->findText(shown)));
  }
  setLook();
  view_->setSheet(sheet);
  player_->setSheet(sheet);
  plot_->setSheet(sheet);
  game_->setSheet(sheet);
  compare_->setSheets(before, sheet);
}

void BakeStage::mark(const std::vector<int>& cells) {
  pages_->button(Page::Sheet)->setChecked(true);
  showPage(Page::Sheet);
  view_->setMarked(cells);
}

}  // namespace comet
