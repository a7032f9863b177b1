#include "inspector/births_note.h"

#include "scene/item_reference.h"
#include "theme/theme.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

namespace comet {
namespace {

constexpr int kTextHeight = 16;

}  // namespace

BirthsNote::BirthsNote(Document& document, BackgroundRun* run, ItemId emitter, QWidget* parent)
    : QWidget(parent),
      document_(document),
      run_(run),
      emitter_(emitter),
      answer_(this, [this](const BirthsOutlook& outlook) {
        outlook_ = outlook;
        // What others give cannot be foreseen: there is nothing to draw.
        setFixedHeight(outlook_.isChild ? kTextHeight : BirthsNote::sizeHint().height());
        update();
      }) {
  setObjectName("expected_births");
  setFixedHeight(BirthsNote::sizeHint().height());
  setToolTip(
      tr("The expected number of living particles of this emitter over the frames; the line marks the "
         "current frame."));
  connect(&document_, &Document::sceneChanged, this, &BirthsNote::ask);
  connect(&document_, &Document::frameChanged, this, qOverload<>(&QWidget::update));
  if (run_) connect(run_, &BackgroundRun::changed, this, qOverload<>(&QWidget::update));
  ask();
}

void BirthsNote::ask() {
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (!emitter) return;
  answer_.ask([scene = document_.scene(), emitter, frame = document_.frame()](const Progress&) {
    return birthsOutlook(scene, *emitter, frame);
  });
}

std::optional<std::size_t> BirthsNote::aliveNow() const {
  const SceneFramePtr frame = run_ ? run_->frame(document_.frame()) : nullptr;
  const ParticleGroup* group = frame ? frame->particles->find(emitter_) : nullptr;
  if (!group) return std::nullopt;
  return group->particles.size();
}

QString BirthsNote::text() const {
  const Scene::ItemPtr emitter = document_.emitter(emitter_);
  if (!emitter) return {};
  if (!outlook_.none.empty()) return QString::fromStdString(outlook_.none);
  const auto alive = aliveNow();
  if (outlook_.isChild) {
    const QString from =
        tr("births from %1").arg(QString::fromStdString(sourceNames(document_.scene(), *emitter)));
    return alive ? from + tr(", now %L1 alive").arg(*alive) : from;
  }
  // An estimate never stands below what is counted.
  const double peak = std::max(outlook_.peak(), static_cast<double>(alive.value_or(0)));
  QString text = tr("about %L1 births, peak %L2").arg(outlook_.births(), 0, 'f', 0).arg(peak, 0, 'f', 0);
  if (alive) text += tr(", now %L1").arg(*alive);
  return text;
}

void BirthsNote::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setFont(theme::font(11));
  painter.setPen(theme::kQuietText);
  painter.drawText(QRect(theme::kFieldsIndent, 0, width() - theme::kFieldsIndent, kTextHeight),
                   Qt::AlignVCenter | Qt::AlignLeft, text());
  if (height() <= kTextHeight) return;
  const QRectF area(theme::kFieldsIndent, kTextHeight + 2, width() - theme::kFieldsIndent - 24,
                    height() - kTextHeight - 6);
  painter.fillRect(area, theme::kField);
  const std::vector<double>& living = outlook_.living;
  const double peak = outlook_.peak();
  if (peak <= 0 || living.size() < 2) return;
  const auto xOf = [&](double index) {
    return area.left() + index / static_cast<double>(living.size() - 1) * area.width();
  };
  QPainterPath path(area.bottomLeft());
  for (std::size_t i = 0; i < living.size(); ++i)
    path.lineTo(xOf(static_cast<double>(i)), area.bottom() - 0.92 * area.height() * living[i] / peak);
  path.lineTo(area.bottomRight());
  painter.fillPath(path, theme::withAlpha(theme::kAccent, 90));
  const double x = xOf(document_.frame() - frameRange(document_.scene()).first);
  painter.setPen(QPen(theme::kText, 1));
  painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
}

}  // namespace comet
