#include "params/value_digest.h"

namespace comet {
namespace {

// One overload for each kind of value; the number of parts comes first, so that lists cannot run together.
class Describer {
 public:
  explicit Describer(Hasher& hasher) : hasher_(hasher) {}

  void operator()(double number) const { hasher_ << number; }
  void operator()(bool flag) const { hasher_ << flag; }
  void operator()(const std::string& text) const { hasher_ << std::string_view(text); }
  void operator()(const Vec3d& vector) const { hasher_ << vector; }
  void operator()(const Gradient& gradient) const {
    hasher_ << gradient.stops().size();
    for (const GradientStop& stop : gradient.stops()) hasher_ << stop.position << stop.color;
  }
  void operator()(const BurstList& bursts) const {
    hasher_ << bursts.size();
    for (const Burst& burst : bursts)
      hasher_ << burst.frame << burst.count << burst.variation << burst.duration << burst.every
              << burst.times;
  }
  void operator()(const Curve& curve) const {
    hasher_ << curve.points().size();
    for (const CurvePoint& point : curve.points())
      hasher_ << point.x << point.y << point.toNext << point.before.dx << point.before.dy << point.after.dx
              << point.after.dy;
  }
  void operator()(const OutlinePoints& outline) const {
    hasher_ << outline.size();
    for (const OutlinePoint& point : outline) hasher_ << point.at.x << point.at.y << point.smooth;
  }
  // What is in the file decides, wherever it is.
  void operator()(const FileRef& file) const {
    hasher_ << (file.content != nullptr);
    if (file.content)
      hasher_ << file.content->digest();
    else
      hasher_ << std::string_view(file.path);
  }
  void operator()(const Data& data) const {
    hasher_ << (data.bytes != nullptr);
    if (data.bytes) hasher_ << std::string_view(*data.bytes);
  }
  void operator()(const StrokeList& strokes) const {
    hasher_ << strokes.size();
    for (const Stroke& stroke : strokes) {
      hasher_ << stroke.size();
      for (const Vec3d& point : stroke) hasher_ << point;
    }
  }
  void operator()(const MarkerList& markers) const {
    hasher_ << markers.size();
    for (const Marker& marker : markers) hasher_ << marker.frame << std::string_view(marker.note);
  }
  // Names can be exchanged between items.
  void operator()(const ItemRef& reference) const {
    hasher_ << std::string_view(reference.name) << reference.id;
  }
  void operator()(const RuleList& rules) const {
    hasher_ << rules.size();
    for (const Rule& rule : rules) {
      hasher_ << rule.anyOf << rule.chance << rule.chanceEachFrame << rule.max;
      for (const auto* clauses : {&rule.when, &rule.then}) {
        hasher_ << clauses->size();
        for (const RuleClause& clause : *clauses) {
          hasher_ << clause.form << clause.first << clause.second << clause.isNot;
          (*this)(clause.item);
        }
      }
    }
  }

 private:
  Hasher& hasher_;
};

}  // namespace

void describe(const Value& value, Hasher& hasher) {
  hasher << value.index();
  std::visit(Describer(hasher), value);
}

void describe(const Curve& curve, Hasher& hasher) { Describer{hasher}(curve); }

}  // namespace comet
