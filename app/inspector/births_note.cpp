#include "inspector/births_note.h"

#include "scene/item_reference.h"
#include "simulation/emission/emission.h"
#include "simulation/loop.h"
#include "theme/theme.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

namespace comet {
namespace {

constexpr int kIndent = 96;
constexpr int kTextHeight = 16;

}  // namespace

BirthsNote::BirthsNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent)
    : QWidget(parent), document_(document), run_(run), emitter_(emitter) {
  setObjectName("expected_births");
  setFixedHeight(BirthsNote::sizeHint().height());
  setToolTip(
      tr("How many particles of this emitter are to be expected alive over the range; the line is the frame "
         "that "
         "is shown."));
  connect(&document_, &Document::sceneChanged, this, &BirthsNote::reread);
  connect(&document_, &Document::frameChanged, this, qOverload<>(&QWidget::update));
  if (run_) connect(run_, &BackgroundRun::changed, this, qOverload<>(&QWidget::update));
  reread();
}

void BirthsNote::reread() {
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (!emitter) return;
  // What others give cannot be foreseen: there is nothing to draw.
  const bool isChild = !emitter->chooses("births_come", "alone");
  setFixedHeight(isChild ? kTextHeight : BirthsNote::sizeHint().height());
  const FrameRange range = frameRange(document_.scene());
  const double rate = frameRate(document_.scene());
  births_ = 0;
  for (const ExpectedBirths& frame : expectedBirths(*emitter, range, rate)) births_ += frame.all();
  living_ = expectedLiving(*emitter, range, rate, loops(document_.scene()));
  update();
}

std::optional<std::size_t> BirthsNote::aliveNow() const {
  const ParticleFramePtr frame = run_ ? run_->frame(document_.frame()) : nullptr;
  const ParticleGroup* group = frame ? frame->find(emitter_) : nullptr;
  if (!group) return std::nullopt;
  return group->particles.size();
}

QString BirthsNote::text() const {
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (emitter && !emitter->chooses("births_come", "alone")) {
    const QString names = QString::fromStdString(sourceNames(document_.scene(), *emitter));
    if (names.isEmpty())
      return emitter->chooses("births_come", "rules")
                 ? tr("no births: no rule gives any")
                 : tr("no births: choose whose particles they come from");
    const auto alive = aliveNow();
    const QString from = tr("births from %1").arg(names);
    return alive ? from + tr(", now %L1 alive").arg(*alive) : from;
  }
  const double peak = living_.empty() ? 0 : *std::max_element(living_.begin(), living_.end());
  QString text = tr("about %L1 births, peak %L2").arg(births_, 0, 'f', 0).arg(peak, 0, 'f', 0);
  if (const auto alive = aliveNow()) text += tr(", now %L1").arg(*alive);
  return text;
}

void BirthsNote::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setFont(theme::font(11));
  painter.setPen(theme::kQuietText);
  painter.drawText(QRect(kIndent, 0, width() - kIndent, kTextHeight), Qt::AlignVCenter | Qt::AlignLeft,
                   text());
  if (height() <= kTextHeight) return;
  const QRectF area(kIndent, kTextHeight + 2, width() - kIndent - 24, height() - kTextHeight - 6);
  painter.fillRect(area, theme::kField);
  const double peak = living_.empty() ? 0 : *std::max_element(living_.begin(), living_.end());
  if (peak <= 0 || living_.size() < 2) return;
  const auto xOf = [&](double index) {
    return area.left() + index / static_cast<double>(living_.size() - 1) * area.width();
  };
  QPainterPath path(area.bottomLeft());
  for (std::size_t i = 0; i < living_.size(); ++i)
    path.lineTo(xOf(static_cast<double>(i)), area.bottom() - 0.92 * area.height() * living_[i] / peak);
  path.lineTo(area.bottomRight());
  painter.fillPath(path, theme::withAlpha(theme::kAccent, 90));
  const double x = xOf(document_.frame() - frameRange(document_.scene()).first);
  painter.setPen(QPen(theme::kText, 1));
  painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
}

}  // namespace comet
