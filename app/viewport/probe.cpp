#include "viewport/probe.h"

#include "controls/typed_number.h"
#include "render/look.h"
#include "theme/theme.h"

#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <glm/geometric.hpp>

namespace comet {
namespace {

// While a run goes on, frames come in faster than anyone reads.
constexpr int kSettleMilliseconds = 120;

constexpr int kWidth = 216;
constexpr int kLineHeight = 17;
constexpr int kSpreadHeight = 46;
constexpr int kTop = 32;

double sizeOf(const Scene& scene, const ProbedParticle& particle, double frame, StampCache& stamps) {
  const Scene::ItemPtr emitter = scene.find(particle.emitter);
  if (!emitter) return 0;
  const ParticleFacts state{
      particle.id,
      lifeFraction(static_cast<float>(particle.age), static_cast<float>(particle.lifetime)),
      glm::length(particle.velocity),
      particle.age,
      particle.lifetime,
      particle.position,
      particle.lineage,
      particle.arrival.travelled()};
  return Look(scene, *emitter, frame, stamps).diameter(state);
}

// What an influence that gives particles points of their own makes of this one; empty for nothing.
QString arrivalWords(const Scene& scene, const Arrival& arrival) {
  const Scene::ItemPtr influence = scene.find(arrival.influence);
  if (!influence) return {};
  const QString name = QString::fromStdString(influence->name);
  switch (arrival.stage) {
    case ArrivalStage::Waiting:
      return Probe::tr("%1: waits for a point").arg(name);
    case ArrivalStage::Led:
      return arrival.isHeld() ? Probe::tr("%1: held at point %L2").arg(name).arg(arrival.point + 1)
                              : Probe::tr("%1: to point %L2, %3 %")
                                    .arg(name)
                                    .arg(arrival.point + 1)
                                    .arg(100 * arrival.travelled(), 0, 'f', 0);
    case ArrivalStage::Released:
      return Probe::tr("%1: released").arg(name);
    case ArrivalStage::None:
      break;
  }
  return {};
}

QString short1(double number) { return QString::number(number, 'f', std::abs(number) < 10 ? 2 : 1); }

}  // namespace

Probe::Probe(Document& document, BackgroundRun& run, QObject* parent)
    : QObject(parent),
      document_(document),
      run_(run),
      stamps_(std::make_shared<StampCache>()),
      atFrame_(this,
               [this](const Now& known) {
                 if (!id_ || *id_ != known.id) return;
                 now_ = known;
                 Q_EMIT changed();
               }),
      overTime_(this, [this](const OverTime& known) {
        if (!id_ || *id_ != known.id) return;
        path_ = known.path;
        spreads_ = known.spreads;
        Q_EMIT changed();
      }) {
  connect(&document_, &Document::frameChanged, this, &Probe::follow);
  connect(&document_, &Document::sceneChanged, this, &Probe::follow);
  connect(&run_, &BackgroundRun::changed, this, &Probe::follow);
  settle_.setSingleShot(true);
  settle_.setInterval(kSettleMilliseconds);
  connect(&settle_, &QTimer::timeout, this, &Probe::readAllFrames);
}

void Probe::pick(std::optional<ParticleId> id) {
  id_ = id;
  now_ = {};
  path_.clear();
  spreads_ = {};
  readParticle();
  readAllFrames();
}

void Probe::follow() {
  if (!id_) return;
  readParticle();
  settle_.start();
  Q_EMIT changed();
}

void Probe::readParticle() {
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!id_ || !frame) {
    now_ = {};
    return;
  }
  atFrame_.askWhenFree(
      [id = *id_, scene = document_.scene(), frame, stamps = stamps_](const Progress&) -> Now {
        Now now{id, frame->number, probeParticle(scene, *frame, id)};
        if (now.particle) now.size = sizeOf(scene, *now.particle, frame->number, *stamps);
        return now;
      });
}

void Probe::readAllFrames() {
  settle_.stop();
  const SceneFramePtr frame = run_.frame(document_.frame());
  if (!id_ || !frame) {
    path_.clear();
    spreads_ = {};
    return Q_EMIT changed();
  }
  std::vector<SceneFramePtr> frames;
  const FrameRange range = frameRange(document_.scene());
  for (int f = range.first; f <= range.last; ++f)
    if (SceneFramePtr simulated = run_.frame(f)) frames.push_back(std::move(simulated));
  overTime_.ask(
      [id = *id_, emitter = emitterOfId(*id_), frame, frames](const Progress& progress) -> OverTime {
        std::vector<PathPoint> path = pathOf(id, frames);
        progress.stopIfCancelled();
        return {id, std::move(path), spreadsOf(emitter, *frame, frames)};
      });
  Q_EMIT changed();
}

ProbePanel::ProbePanel(Document& document, Probe& probe, GasProbe& gas, QWidget* parent)
    : QWidget(parent), document_(document), probe_(probe), gas_(gas) {
  setObjectName("probe_panel");
  setFixedWidth(kWidth);
  hide();
  auto* close = new QPushButton(tr("End probe"), this);
  close->setObjectName("end_probe");
  close->move(kWidth - 82, 5);
  close->setFixedSize(76, 22);
  connect(close, &QPushButton::clicked, this, [this] {
    probe_.pick(std::nullopt);
    gas_.end();
  });
  const auto follow = [this] {
    setVisible(probe_.isActive() || gas_.isActive());
    update();
  };
  connect(&probe_, &Probe::changed, this, follow);
  connect(&gas_, &GasProbe::changed, this, follow);
}

QStringList ProbePanel::lines() const {
  if (gas_.isActive()) return gas_.lines();
  const std::optional<ProbedParticle>& particle = probe_.particle();
  if (!particle) return {tr("It is not alive at this frame.")};
  const Scene& scene = document_.scene();
  const Scene::ItemPtr emitter = document_.emitter(particle->emitter);
  if (!emitter) return {tr("Its emitter has been removed.")};
  const double rate = frameRate(scene);
  QStringList lines;
  lines << tr("%1, birth %L2")
               .arg(QString::fromStdString(emitter->name))
               .arg(birthOfId(withoutCycle(particle->id)) + 1);
  lines << tr("age  %1 frames, %2 s").arg(particle->age * rate, 0, 'f', 1).arg(short1(particle->age));
  lines << (std::isinf(particle->lifetime) ? tr("lifetime  endless")
                                           : tr("lifetime  %1 s").arg(short1(particle->lifetime)));
  lines << tr("speed  %1 units/s").arg(short1(glm::length(particle->velocity)));
  lines << tr("size  %1 units").arg(short1(probe_.size()));
  if (particle->mass != 1) lines << tr("mass  %1").arg(short1(particle->mass));
  if (const Scene::ItemPtr parent = scene.find(emitterOfId(particle->lineage.front().id)))
    lines << tr("from  %1, birth %L2")
                 .arg(QString::fromStdString(parent->name))
                 .arg(birthOfId(withoutCycle(particle->lineage.front().id)) + 1);
  for (std::size_t rule = 0; rule < particle->rulesFired.size(); ++rule)
    lines << tr("rule %1  fired %2 ×").arg(rule + 1).arg(particle->rulesFired[rule]);
  if (const QString words = arrivalWords(scene, particle->arrival); !words.isEmpty()) lines << words;
  if (particle->stretch) lines << tr("stretched by %1 %").arg(100 * *particle->stretch, 0, 'f', 1);
  if (particle->isStill) lines << tr("frozen by a rule");
  if (const auto& touches = particle->touches; !touches.empty()) {
    const auto deepest = std::max_element(touches.begin(), touches.end(),
                                          [](const auto& a, const auto& b) { return a.depth < b.depth; });
    lines << tr("touches %L1, deepest %2 % of a radius")
                 .arg(touches.size())
                 .arg(100 * std::max(0.0, deepest->depth), 0, 'f', 1);
  }
  if (!probe_.path().empty()) {
    const PathPoint top = highestPoint(probe_.path());
    const double age = particle->age - (probe_.frame() - top.frame) / rate;
    lines << tr("highest  %1 units, frame %2").arg(short1(top.position.y)).arg(top.frame);
    lines << tr("highest at age  %1 frames, %2 s").arg(age * rate, 0, 'f', 1).arg(short1(age));
  }
  if (!particle->influences.empty()) lines << tr("pushed, in units/s², by");
  for (const ProbedInfluence& influence : particle->influences)
    if (const Scene::ItemPtr item = scene.find(influence.influence))
      lines << tr("%1  %2 at %3 %")
                   .arg(QString::fromStdString(item->name), short1(glm::length(influence.acceleration)),
                        textFromNumber(influence.response * 100));
  if (particle->influences.empty()) lines << tr("nothing acts on it");
  return lines;
}

void ProbePanel::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), theme::kPanel);
  painter.setFont(theme::font(12, true));
  painter.setPen(theme::kText);
  painter.drawText(QRect(10, 5, 120, 22), Qt::AlignVCenter | Qt::AlignLeft, tr("Probe"));
  painter.setFont(theme::font(12));
  int y = kTop;
  for (const QString& line : lines()) {
    const QRect place(10, y, width() - 16, kLineHeight);
    painter.drawText(place, Qt::AlignVCenter | Qt::AlignLeft,
                     painter.fontMetrics().elidedText(line, Qt::ElideRight, place.width()));
    y += kLineHeight;
  }
  const std::optional<ProbedParticle>& particle = probe_.particle();
  if (!particle) return;
  const EmitterSpreads& spreads = probe_.spreads();
  y += 8;
  const auto next = [&y, this] {
    const QRect place(10, y, width() - 20, kSpreadHeight);
    y += kSpreadHeight + 6;
    return place;
  };
  const PathPoint top = highestPoint(probe_.path());
  paintSpread(painter, next(), tr("age of all"), spreads.age, tr("s"), particle->age);
  paintSpread(painter, next(), tr("speed of all"), spreads.speed, tr("units/s"),
              glm::length(particle->velocity));
  paintSpread(painter, next(), tr("highest of all"), spreads.highest, tr("units"), top.position.y);
  paintSpread(painter, next(), tr("age when highest"), spreads.highestAge, tr("s"), std::nullopt);
}

void ProbePanel::paintSpread(QPainter& painter, const QRect& place, const QString& name, const Spread& spread,
                             const QString& unit, std::optional<double> own) const {
  painter.setFont(theme::font(10));
  painter.setPen(theme::kQuietText);
  painter.drawText(place, Qt::AlignTop | Qt::AlignLeft, name);
  painter.drawText(place, Qt::AlignTop | Qt::AlignRight,
                   tr("%1 to %2 %3").arg(short1(spread.min), short1(spread.max), unit));
  const QRectF area(place.left(), place.top() + 14, place.width(), place.height() - 14);
  painter.fillRect(area, theme::kField);
  const int max = spread.counts.empty() ? 0 : *std::max_element(spread.counts.begin(), spread.counts.end());
  if (max == 0) return;
  const double step = area.width() / static_cast<double>(spread.counts.size());
  for (std::size_t i = 0; i < spread.counts.size(); ++i) {
    const double height = area.height() * spread.counts[i] / max;
    painter.fillRect(
        QRectF(area.left() + step * static_cast<double>(i), area.bottom() - height, step - 0.7, height),
        theme::withAlpha(theme::kWell, 150));
  }
  if (!own || spread.max <= spread.min) return;
  const double x = area.left() + (*own - spread.min) / (spread.max - spread.min) * area.width();
  painter.setPen(QPen(theme::kAccent, 1.6));
  painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
}

}  // namespace comet
