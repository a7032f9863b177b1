#include "grid/response_popup.h"

#include "controls/curve_lane.h"
#include "controls/curve_preset_bar.h"
#include "theme/theme.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace comet {

void ResponsePopup::open(Document& document, ItemId emitter, ItemId influence, const QPoint& place,
                         QWidget* parent) {
  auto* popup = new ResponsePopup(document, emitter, influence, parent);
  popup->move(place);
  popup->show();
}

ResponsePopup::ResponsePopup(Document& document, ItemId emitter, ItemId influence, QWidget* parent)
    : QWidget(parent, Qt::Popup),
      document_(document),
      emitter_(emitter),
      influence_(influence),
      lane_(new CurveLane) {
  setObjectName("response_popup");
  setProperty("panel", true);
  setAttribute(Qt::WA_StyledBackground);
  setAttribute(Qt::WA_DeleteOnClose);
  setFixedWidth(320);
  const auto nameOf = [this](ItemId id) { return QString::fromStdString(document_.scene().find(id)->name); };
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 8, 10, 10);
  column->setSpacing(5);
  auto* title = new QLabel(tr("Response of %1 to %2 over life").arg(nameOf(emitter_), nameOf(influence_)));
  title->setFont(theme::font(12, true));
  title->setWordWrap(true);
  column->addWidget(title);
  lane_->setObjectName("response_lane");
  lane_->setOpen(true);
  lane_->setCurve(document_.scene().response(emitter_, influence_).overAge.value_or(Curve::constant(1)));
  column->addWidget(lane_);
  auto* presets = new CurvePresetBar("response");
  presets->follow(lane_);
  column->addWidget(presets);
  auto* note =
      new QLabel(tr("From birth on the left to death on the right; it multiplies the cell's percentage."));
  note->setProperty("quiet", true);
  note->setWordWrap(true);
  column->addWidget(note);
  auto* same = new QPushButton(tr("The same at all ages"));
  same->setObjectName("response_same");
  column->addWidget(same);
  connect(lane_, &CurveLane::edited, this, [this](const Curve& curve) { set(curve, true); });
  connect(lane_, &CurveLane::finished, this, [this] { document_.endMerge(); });
  connect(presets, &CurvePresetBar::chosen, this, [this](const Curve& curve) {
    lane_->setCurve(curve);
    set(curve, false);
  });
  connect(same, &QPushButton::clicked, this, [this] {
    set(std::nullopt, false);
    close();
  });
}

void ResponsePopup::set(const std::optional<Curve>& overAge, bool merges) {
  Response response = document_.scene().response(emitter_, influence_);
  response.overAge = overAge;
  document_.edit(document_.scene().withResponse(emitter_, influence_, response),
                 tr("change response over age"), merges ? "response.over_age" : QString());
}

}  // namespace comet
