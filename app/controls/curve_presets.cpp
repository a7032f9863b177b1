#include "controls/curve_presets.h"

#include "base/error.h"
#include "params/schema.h"
#include "scene/scene_file.h"
#include "theme/theme.h"

#include <QObject>
#include <QPainter>
#include <QPainterPath>
#include <QPixmap>
#include <QSettings>
#include <QStringList>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

Curve smooth(std::initializer_list<std::pair<double, double>> points) {
  std::vector<CurvePoint> list;
  for (const auto& [x, y] : points) list.push_back({x, y, Interpolation::Smooth});
  return Curve(std::move(list));
}

constexpr const char* kOwnKey = "curves/own";

const ParamSpec& anyCurve() {
  static const ParamSpec spec = curve("curve", "Curve", Curve::constant(1));
  return spec;
}

}  // namespace

const std::vector<CurvePreset>& curvePresets() {
  static const std::vector<CurvePreset> presets{
      {"hold", QObject::tr("Constant"), Curve::constant(1)},
      {"fade_out", QObject::tr("Fade out"), smooth({{0, 1}, {1, 0}})},
      {"fade_in_out", QObject::tr("Fade in and out"), smooth({{0, 0}, {0.2, 1}, {0.6, 1}, {1, 0}})},
      {"hold_fall", QObject::tr("Constant, then fall"), smooth({{0, 1}, {0.75, 1}, {1, 0}})},
      {"grow", QObject::tr("Grow"), smooth({{0, 0.15}, {1, 1}})},
      {"pulse", QObject::tr("Pulse"), smooth({{0, 0.3}, {0.25, 1}, {0.5, 0.3}, {0.75, 1}, {1, 0.3}})},
      {"flicker", QObject::tr("Flicker"),
       smooth({{0, 1},
               {0.08, 0.4},
               {0.17, 0.9},
               {0.24, 0.5},
               {0.37, 1},
               {0.44, 0.3},
               {0.58, 0.8},
               {0.66, 0.45},
               {0.8, 0.7},
               {0.9, 0.2},
               {1, 0}})},
  };
  return presets;
}

std::vector<Curve> ownCurvePresets() {
  std::vector<Curve> curves;
  for (const QString& text : QSettings().value(kOwnKey).toStringList())
    if (const std::optional<Curve> curve = curveFromText(text)) curves.push_back(*curve);
  return curves;
}

void setOwnCurvePresets(const std::vector<Curve>& curves) {
  QStringList texts;
  for (const Curve& curve : curves) texts << textFromCurve(curve);
  QSettings().setValue(kOwnKey, texts);
}

QString textFromCurve(const Curve& shape) {
  ParamValue value;
  value.base = shape;
  return QString::fromStdString(jsonFromParam(anyCurve(), value).dump());
}

std::optional<Curve> curveFromText(const QString& text) {
  const nlohmann::json json = nlohmann::json::parse(text.toStdString(), nullptr, false);
  if (!json.is_array()) return std::nullopt;
  try {
    return std::get<Curve>(paramFromJson(anyCurve(), json, {}).base);
  } catch (const Error&) {
    return std::nullopt;
  }
}

QIcon curveIcon(const Curve& curve) {
  constexpr int kWidth = 22, kHeight = 14, kScale = 2;
  QPixmap pixmap(kWidth * kScale, kHeight * kScale);
  pixmap.setDevicePixelRatio(kScale);
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(QPen(theme::kText, 1.4));
  QPainterPath path;
  for (int x = 0; x <= kWidth - 4; ++x) {
    const QPointF point(2 + x, kHeight - 3 - curve.at(x / (kWidth - 4.0)) * (kHeight - 6));
    x == 0 ? path.moveTo(point) : path.lineTo(point);
  }
  painter.drawPath(path);
  return QIcon(pixmap);
}

}  // namespace comet
