#include "inspector/packing_board.h"

#include "theme/theme.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

namespace comet {
namespace {

constexpr int kMargin = 4, kGap = 4;
constexpr int kChannelHeight = 40, kChipHeight = 20, kChipPadding = 7;

QString labelOf(const PackSource& source) {
  return QString::fromUtf8(source.label.data(), static_cast<qsizetype>(source.label.size()));
}

std::string paramOf(std::size_t channel) { return "pack_" + std::string(kPackChannels[channel]); }

// What a channel holds when all is dragged off; it is no chip.
const PackSource& nothing() { return packSources().front(); }

void paintChip(QPainter& painter, const QRect& box, const QString& label, bool isRaised) {
  painter.setPen(theme::kLine);
  painter.setBrush(isRaised ? theme::kRaised : theme::kPanel);
  painter.drawRoundedRect(box, theme::kRadius, theme::kRadius);
  painter.setPen(theme::kText);
  painter.drawText(box, Qt::AlignCenter, label);
}

}  // namespace

PackingBoard::PackingBoard(Document& document, ItemId bake, QWidget* parent)
    : QWidget(parent), document_(document), bake_(bake) {
  setObjectName("packing_board");
  setFont(theme::font(11));
  setMouseTracking(true);
  QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Preferred);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
  connect(&document_, &Document::sceneChanged, this, &PackingBoard::refresh);
  refresh();
}

void PackingBoard::refresh() {
  const Scene::ItemPtr bake = document_.item(bake_, ItemFamily::Bake);
  setVisible(bake && bake->flag("channel_packing"));
  update();
}

std::vector<PackingBoard::Chip> PackingBoard::chips(int width) const {
  std::vector<Chip> all;
  QPoint at(kMargin, kMargin + kChannelHeight + 2 * kGap);
  for (std::size_t i = 1; i < packSources().size(); ++i) {
    const PackSource& source = packSources()[i];
    const int wide = fontMetrics().horizontalAdvance(labelOf(source)) + 2 * kChipPadding;
    if (at.x() > kMargin && at.x() + wide > width - kMargin) at = {kMargin, at.y() + kChipHeight + kGap};
    all.push_back({&source, {at, QSize(wide, kChipHeight)}});
    at.rx() += wide + kGap;
  }
  return all;
}

int PackingBoard::heightForWidth(int width) const { return chips(width).back().box.bottom() + 1 + kMargin; }

QSize PackingBoard::sizeHint() const {
  constexpr int kUsualWidth = 320;
  return {kUsualWidth, heightForWidth(kUsualWidth)};
}

QRect PackingBoard::sourceBox(std::string_view id) const {
  for (const Chip& chip : chips(width()))
    if (chip.source->id == id) return chip.box;
  return {};
}

QRect PackingBoard::channelBox(std::size_t channel) const {
  const int count = static_cast<int>(kPackChannels.size()), index = static_cast<int>(channel);
  const int wide = (width() - 2 * kMargin - (count - 1) * kGap) / count;
  return {kMargin + index * (wide + kGap), kMargin, wide, kChannelHeight};
}

int PackingBoard::channelAt(const QPoint& place) const {
  for (std::size_t channel = 0; channel < kPackChannels.size(); ++channel)
    if (channelBox(channel).contains(place)) return static_cast<int>(channel);
  return -1;
}

const PackSource* PackingBoard::held(int channel) const {
  const Scene::ItemPtr bake = document_.item(bake_, ItemFamily::Bake);
  if (channel < 0 || !bake) return nullptr;
  const PackSource* source = packSource(bake->choice(paramOf(static_cast<std::size_t>(channel))));
  return source == &nothing() ? nullptr : source;
}

const PackSource* PackingBoard::sourceAt(const QPoint& place) const {
  for (const Chip& chip : chips(width()))
    if (chip.box.contains(place)) return chip.source;
  return held(channelAt(place));
}

void PackingBoard::paintEvent(QPaintEvent*) {
  if (!document_.item(bake_, ItemFamily::Bake)) return;
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const int under = drag_.source ? channelAt(drag_.at) : -1;
  for (std::size_t channel = 0; channel < kPackChannels.size(); ++channel) {
    const QRect box = channelBox(channel);
    painter.setPen(static_cast<int>(channel) == under ? theme::kAccent : theme::kLine);
    painter.setBrush(theme::kField);
    painter.drawRoundedRect(box, theme::kRadius, theme::kRadius);
    const QRect inside = box.adjusted(4, 3, -4, -3);
    painter.setPen(theme::kQuietText);
    painter.drawText(inside, Qt::AlignHCenter | Qt::AlignTop,
                     QString(QChar(kPackChannels[channel].front())).toUpper());
    const PackSource* source = held(static_cast<int>(channel));
    painter.setPen(source ? theme::kText : theme::kQuietText);
    painter.drawText(inside, Qt::AlignHCenter | Qt::AlignBottom,
                     source ? fontMetrics().elidedText(labelOf(*source), Qt::ElideRight, inside.width())
                            : tr("drop here"));
  }
  for (const Chip& chip : chips(width())) paintChip(painter, chip.box, labelOf(*chip.source), false);
  if (!drag_.source) return;
  const QString label = labelOf(*drag_.source);
  QRect box(0, 0, fontMetrics().horizontalAdvance(label) + 2 * kChipPadding, kChipHeight);
  box.moveCenter(drag_.at);
  paintChip(painter, box, label, true);
}

void PackingBoard::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  drag_ = {sourceAt(event->pos()), channelAt(event->pos()), event->pos()};
  update();
}

void PackingBoard::mouseMoveEvent(QMouseEvent* event) {
  setCursor(drag_.source             ? Qt::ClosedHandCursor
            : sourceAt(event->pos()) ? Qt::OpenHandCursor
                                     : Qt::ArrowCursor);
  drag_.at = event->pos();
  if (drag_.source) update();
}

void PackingBoard::mouseReleaseEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  if (drag_.source) drop(event->pos());
  drag_ = {};
  update();
}

void PackingBoard::drop(const QPoint& place) {
  const int onto = channelAt(place);
  if (onto == drag_.from || !document_.item(bake_, ItemFamily::Bake)) return;
  Scene next = document_.scene();
  const auto put = [&](int channel, const PackSource& source) {
    if (channel < 0) return;
    ParamValue value;
    value.base = std::string(source.id);
    next = next.withParam(bake_, paramOf(static_cast<std::size_t>(channel)), value);
  };
  // From one channel to another they change places; off the channels, nothing is left there.
  const PackSource* instead = held(onto);
  put(drag_.from, instead ? *instead : nothing());
  put(onto, *drag_.source);
  document_.edit(next, tr("pack channels"));
}

bool PackingBoard::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const PackSource* source = held(channelAt(help->pos()));
  QToolTip::showText(help->globalPos(), source ? labelOf(*source) : tr("Drag sources onto channels"));
  return true;
}

}  // namespace comet
