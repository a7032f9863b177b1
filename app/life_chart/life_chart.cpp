#include "life_chart/life_chart.h"

#include "controls/curve_lane.h"
#include "controls/curve_preset_bar.h"
#include "controls/follow_field.h"
#include "controls/gradient_editor.h"
#include "controls/typed_number.h"
#include "life_chart/life_axis.h"
#include "life_chart/sprite_strip.h"
#include "render/look.h"
#include "simulation/emission/emitter_kind.h"
#include "theme/theme.h"

#include <QGridLayout>
#include <QLabel>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

namespace comet {
namespace {

constexpr int kHeadWidth = 84;
constexpr int kHeadHeight = 18;
constexpr std::size_t kHistogramSteps = 48;

}  // namespace

LifeChart::LifeChart(Document& document, BackgroundRun& run, QWidget* parent)
    : QWidget(parent),
      document_(document),
      run_(run),
      title_(new QLabel),
      lifetime_(new QLabel),
      axis_(new LifeAxis),
      strip_(new SpriteStrip),
      colorHead_(new QLabel),
      gradient_(new GradientEditor),
      ages_(this, [this](const std::vector<int>& counts) {
        for (Lane& lane : lanes_) lane.curve->setHistogram(counts);
      }) {
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(8, 3, 4, 2);
  outer->setSpacing(1);
  auto* head = new QHBoxLayout;
  title_->setFont(theme::font(12, true));
  head->addWidget(title_);
  head->addStretch(1);
  lifetime_->setProperty("quiet", true);
  head->addWidget(lifetime_);
  outer->addLayout(head);

  auto* content = new QWidget;
  content->setProperty("panel", true);
  auto* grid = new QGridLayout(content);
  grid->setContentsMargins(0, 0, 4, 0);
  grid->setHorizontalSpacing(4);
  grid->setVerticalSpacing(2);
  grid->setColumnMinimumWidth(0, kHeadWidth);
  grid->setColumnStretch(1, 1);
  grid->addWidget(strip_, 0, 1);
  grid->addWidget(axis_, 1, 1);
  for (const ParamSpec& spec : emitterKind().params())
    if (spec.mapsOverAge) addLane(spec, *grid);
  colorHead_->setProperty("quiet", true);
  colorHead_->setIndent(6);
  colorHead_->setFont(theme::font(11));
  const int row = grid->rowCount();
  grid->addWidget(colorHead_, row, 0);
  grid->addWidget(gradient_, row, 1);
  grid->setRowStretch(row + 1, 1);
  gradient_->setObjectName("life_color");
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setWidget(content);
  outer->addWidget(scroll, 1);

  connect(gradient_, &GradientEditor::edited, this, [this](const Gradient& gradient) {
    if (emitter()) document_.setBase(emitter()->id, "color", gradient, "life.color");
  });
  connect(gradient_, &GradientEditor::finished, this, [this] { document_.endMerge(); });
  connect(&document_, &Document::sceneChanged, this, &LifeChart::refresh);
  connect(&document_, &Document::selectionChanged, this, &LifeChart::refresh);
  connect(&document_, &Document::frameChanged, this, &LifeChart::showHistogram);
  connect(&run_, &BackgroundRun::changed, this, &LifeChart::showHistogram);
  open("opacity");
  refresh();
}

Scene::ItemPtr LifeChart::emitter() const { return document_.scene().find(document_.selectedEmitter()); }

void LifeChart::addLane(const ParamSpec& spec, QGridLayout& grid) {
  const QString name = QString::fromStdString(spec.id);
  Lane lane{spec.id, new QToolButton, new CurveLane, new QWidget, new FollowField(Qt::Vertical)};
  lane.head->setText(QString::fromStdString(spec.label));
  lane.head->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
  lane.head->setToolTip(QString::fromStdString(spec.tipText));
  lane.head->setFixedSize(kHeadWidth, kHeadHeight);
  lane.head->setFont(theme::font(11));
  lane.curve->setObjectName("lane." + name);
  auto* presets = new CurvePresetBar(name);
  presets->follow(lane.curve);
  auto* tools = new QHBoxLayout(lane.tools);
  tools->setContentsMargins(0, 0, 4, 0);
  tools->setSpacing(2);
  tools->addWidget(presets, 0, Qt::AlignTop);
  tools->addStretch(1);
  tools->addWidget(lane.follows);
  const int row = grid.rowCount();
  grid.addWidget(lane.head, row, 0, Qt::AlignTop);
  grid.addWidget(lane.curve, row, 1);
  grid.addWidget(lane.tools, row + 1, 1);
  const std::string param = spec.id;
  connect(lane.head, &QToolButton::clicked, this, [this, param] { open(param); });
  connect(lane.curve, &CurveLane::pressed, this, [this, param] { open(param); });
  connect(lane.curve, &CurveLane::edited, this,
          [this, param](const Curve& curve) { setCurve(param, curve, true); });
  connect(lane.curve, &CurveLane::finished, this, [this] { document_.endMerge(); });
  connect(presets, &CurvePresetBar::chosen, this,
          [this, param](const Curve& curve) { setCurve(param, curve, false); });
  connect(lane.follows, &FollowField::edited, this,
          [this, param](CurveInput input, double fastest) { setFollows(param, input, fastest); });
  connect(lane.follows, &FollowField::finished, this, [this] { document_.endMerge(); });
  lanes_.push_back(lane);
}

void LifeChart::setFollows(const std::string& param, CurveInput input, double fastest) {
  if (!emitter()) return;
  ParamValue changed = emitter()->value(param);
  changed.input = input;
  changed.fastest = fastest;
  document_.setParam(emitter()->id, param, changed, "follows." + QString::fromStdString(param));
}

void LifeChart::setCurve(const std::string& param, const Curve& curve, bool merges) {
  if (!emitter()) return;
  ParamValue changed = emitter()->value(param);
  changed.overAge = curve;
  document_.setParam(emitter()->id, param, changed,
                     merges ? "life." + QString::fromStdString(param) : QString());
}

void LifeChart::open(const std::string& param) {
  open_ = param;
  showTools();
}

void LifeChart::showTools() {
  const Scene::ItemPtr item = emitter();
  for (Lane& lane : lanes_) {
    const bool applies = !item || item->applies(item->kind->indexOf(lane.param));
    const bool isOpen = lane.param == open_;
    lane.head->setVisible(applies);
    lane.curve->setVisible(applies);
    lane.curve->setOpen(isOpen);
    lane.tools->setVisible(isOpen && applies);
    lane.head->setIcon(theme::mark(isOpen ? "unfolded" : "folded"));
  }
}

void LifeChart::refresh() {
  const Scene::ItemPtr item = emitter();
  setEnabled(item != nullptr);
  strip_->show(document_.scene(), item, document_.frame());
  if (!item) {
    title_->setText(tr("Life: add an emitter to shape its particles' life"));
    lifetime_->clear();
    return;
  }
  title_->setText(tr("Life of %1").arg(QString::fromStdString(item->name)));
  showLifetime(*item);
  for (Lane& lane : lanes_) {
    const ParamValue& value = item->value(lane.param);
    lane.curve->setCurve(value.overAge.value_or(Curve::constant(1)));
    const double base = item->number(lane.param, document_.frame());
    lane.curve->setBand(base > 0 ? value.variation / base : 0);
    lane.follows->show(value);
  }
  gradient_->setGradient(std::get<Gradient>(item->value("color").base), colorMixOf(*item));
  showColorHead(*item);
  showTools();
  showHistogram();
}

// What the colours run over, and how much of them the emitter gives itself.
void LifeChart::showColorHead(const Item& emitter) {
  QString words = tr("Colour");
  const CurveInput input = emitter.value("color").input;
  const auto parent = emitter.kind->find("inherit_color");
  if (parent && emitter.applies(*parent) && emitter.number("inherit_color", document_.frame()) > 0)
    words += tr("\n%1 % parent's").arg(emitter.number("inherit_color", document_.frame()));
  else if (input == CurveInput::Speed)
    words += tr("\nover speed");
  else if (input == CurveInput::Arrival)
    words += tr("\nover arrival");
  else if (input != CurveInput::Age)
    words += tr("\nrandom");
  colorHead_->setText(words);
}

void LifeChart::showLifetime(const Item& emitter) {
  const bool hasOwn = emitter.chooses("lifetime_mode", "lifetime");
  const double seconds = emitter.number("lifetime", document_.frame());
  const double variation = emitter.value("lifetime").variation;
  axis_->setLifetime(hasOwn ? seconds : 0);
  if (hasOwn)
    lifetime_->setText(
        tr("birth to death: %1%2 s")
            .arg(textFromNumber(seconds), variation > 0 ? " ± " + textFromNumber(variation) : QString()));
  else
    lifetime_->setText(emitter.chooses("lifetime_mode", "endless")
                           ? tr("endless")
                           : tr("until frame %1").arg(textFromNumber(emitter.number("lifetime_until", 0))));
}

void LifeChart::showHistogram() {
  const SceneFramePtr frame = run_.frame(document_.frame());
  ages_.ask([frame, emitter = document_.selectedEmitter()](const Progress&) {
    std::vector<int> counts(kHistogramSteps, 0);
    const ParticleGroup* group = frame ? frame->particles->find(emitter) : nullptr;
    for (std::size_t i = 0; group && i < group->particles.size(); ++i) {
      const double fraction = lifeFraction(group->particles.field(ParticleStore::Age)[i],
                                           group->particles.field(ParticleStore::Lifetime)[i]);
      ++counts[std::min(kHistogramSteps - 1, static_cast<std::size_t>(fraction * kHistogramSteps))];
    }
    return counts;
  });
}

}  // namespace comet
