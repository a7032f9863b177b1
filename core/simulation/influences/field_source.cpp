#include "simulation/influences/field_source.h"

#include "fields/made_fields.h"
#include "io/picture_content.h"
#include "io/volume_content.h"

#include <array>
#include <cmath>
#include <glm/matrix.hpp>

namespace comet {
namespace {

enum class Source { Swirls, Whirls, Strokes, Picture, File };

constexpr std::array<std::string_view, 5> kSources{"swirls", "whirls", "strokes", "picture", "file"};

// What a grid is made from, and how: the digest tells whether it has been made already.
struct Making {
  Digest key;
  std::function<VectorGrid()> make;
};

FieldBox boxOf(const Item& field, double frame) {
  return FieldBox::withCells(field.vector("size", frame), field.integer("cells", frame));
}

Hasher& operator<<(Hasher& hasher, const FieldBox& box) {
  return hasher << box.size << box.counts[0] << box.counts[1] << box.counts[2];
}

Making swirlsOf(const Item& field, double frame, const FieldBox& box) {
  const double scale = field.number("swirl_scale", frame);
  const int octaves = field.integer("swirl_octaves", frame);
  const auto seed = static_cast<std::uint64_t>(field.number("field_seed", frame));
  Hasher key;
  key << "swirls" << box << scale << octaves << seed;
  return {key.digest(), [=] { return swirlField(box, scale, octaves, seed); }};
}

Making whirlsOf(const Item& field, double frame, const FieldBox& box) {
  Whirls whirls;
  whirls.count = field.integer("whirl_count", frame);
  whirls.radius = field.number("whirl_radius", frame);
  whirls.axis = unitOr(field.vector("whirl_axis", frame), Vec3d(0, 1, 0));
  whirls.spread = radians(field.number("whirl_spread", frame));
  whirls.bothWays = field.flag("whirl_both_ways");
  whirls.seed = static_cast<std::uint64_t>(field.number("field_seed", frame));
  Hasher key;
  key << "whirls" << box << whirls.count << whirls.radius << whirls.axis << whirls.spread << whirls.bothWays
      << whirls.seed;
  return {key.digest(), [=] { return whirlField(box, whirls); }};
}

Making strokesOf(const Item& field, double frame, const FieldBox& box) {
  const auto& drawn = std::get<StrokeList>(field.value("strokes").base);
  const double width = field.number("stroke_width", frame);
  Hasher key;
  key << "strokes" << box << width;
  for (const Stroke& stroke : drawn) {
    key << stroke.size();
    for (const Vec3d& point : stroke) key << point;
  }
  return {key.digest(), [=, &drawn] { return strokeField(box, drawn, width); }};
}

Making slopesOf(const Item& field, double frame, const FieldBox& box) {
  const auto content = field.content<PictureContent>("slope_picture");
  if (!content) return {(Hasher() << "no slopes").digest(), [] { return VectorGrid(); }};
  const int index = static_cast<int>(std::floor(frame));
  const SlopeWay way = field.chooses("slope_way", "along") ? SlopeWay::Along : SlopeWay::Down;
  const double blur = field.number("slope_blur", frame) / 100 * box.counts[0];
  Hasher key;
  key << "slopes" << box << content->digest() << content->indexAt(index) << way << blur;
  return {key.digest(), [=] { return slopeField(box, *content->at(index), way, blur); }};
}

Making makingOf(const Item& field, double frame, Source source) {
  const FieldBox box = boxOf(field, frame);
  switch (source) {
    case Source::Whirls:
      return whirlsOf(field, frame, box);
    case Source::Strokes:
      return strokesOf(field, frame, box);
    case Source::Picture:
      return slopesOf(field, frame, box);
    case Source::Swirls:
    case Source::File:
      break;
  }
  return swirlsOf(field, frame, box);
}

}  // namespace

FieldSource::FieldSource(const Item& field, double frame)
    : grid_(std::make_shared<const VectorGrid>()),
      pose_{field.vector("place", frame), rotationFromDegrees(field.vector("turn", frame))},
      beyond_(
          field.choiceAs<Beyond>("beyond", std::array<std::string_view, 3>{"nothing", "edge", "repeat"})) {
  const auto source = field.choiceAs<Source>("source", kSources);
  if (source != Source::File) {
    const Making making = makingOf(field, frame, source);
    size_ = glm::max(field.vector("size", frame), Vec3d(1e-9));
    content_ = making.key;
    grid_ = field.kept->get<VectorGrid>(
        making.key, [&making] { return std::make_shared<const VectorGrid>(making.make()); });
    return;
  }
  const auto content = field.content<VolumeContent>("volume");
  if (!content) return;
  const VectorVolume& volume = content->named(std::get<std::string>(field.value("volume_grid").base));
  const double scale = field.number("volume_scale", frame);
  pose_.place += pose_.turn * (volume.centre * scale);
  size_ = volume.size * scale;
  content_ = (Hasher() << content->digest() << volume.name).digest();
  // Lives as long as the content that holds it.
  grid_ = std::shared_ptr<const VectorGrid>(content, &volume.grid);
}

Vec3d FieldSource::at(const Vec3d& position) const {
  const Vec3d own = pose_.toOwn(position);
  return pose_.turn * grid_->sample(own / size_ + 0.5, beyond_);
}

void FieldSource::describe(Hasher& hasher) const {
  hasher << content_ << grid_->empty() << pose_.place << size_ << beyond_;
  for (int column = 0; column < 3; ++column) hasher << Vec3d(pose_.turn[column]);
}

std::vector<ParamSpec> fieldSourceParams() {
  return {
      choice("source", "Made from",
             {{"swirls", "Swirls", "Curl noise: mixes without piling up, and repeats at the box's sides."},
              {"whirls", "Whirls", "Round whirls at random places."},
              {"strokes", "Strokes", "Lines drawn by hand in the viewport: it flows along them."},
              {"picture", "Picture", "The slopes of a picture's brightness."},
              {"file", "File", "A grid of vectors from an OpenVDB file, such as a simulated wind."}})
          .in("Field")
          .tip("Where the vectors come from."),
      file("volume", "File", FileKind::Volume)
          .in("Field")
          .when("source", {"file"})
          .tip("An OpenVDB file (.vdb) with at least one grid of vectors."),
      text("volume_grid", "Grid")
          .in("Field")
          .when("source", {"file"})
          .tip("The name of the grid; without one, the file's first."),
      number("volume_scale", "Scale", 1)
          .in("Field")
          .range(0.0001, 10000)
          .usual(0.1, 10)
          .keyed()
          .when("source", {"file"})
          .tip("How large the file's box becomes. Its vectors stay as long as they are; strength changes "
               "them."),
      number("swirl_scale", "Swirl size", 2)
          .in("Field")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.2, 10)
          .when("source", {"swirls"})
          .tip("Size of the largest swirls, as near to it as fits the box."),
      integer("swirl_octaves", "Octaves", 2)
          .in("Field")
          .range(1, 5)
          .usual(1, 4)
          .when("source", {"swirls"})
          .tip("How many sizes of swirls are added up, each half as large and half as strong."),
      integer("whirl_count", "Count", 12)
          .in("Field")
          .range(1, 500)
          .usual(1, 40)
          .when("source", {"whirls"})
          .tip("How many whirls there are."),
      number("whirl_radius", "Radius", 1)
          .in("Field")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.2, 5)
          .when("source", {"whirls"})
          .tip("Where each whirl is fastest; twice as far out there is little left of it."),
      vector("whirl_axis", "Axis", {0, 1, 0})
          .in("Field")
          .range(-1000, 1000)
          .usual(-1, 1)
          .when("source", {"whirls"})
          .tip("What the whirls turn about."),
      number("whirl_spread", "Lean", 0)
          .in("Field")
          .unit("°")
          .range(0, 180)
          .usual(0, 180)
          .when("source", {"whirls"})
          .tip("By how much their axes lean away from it, at most, each its own way."),
      flag("whirl_both_ways", "Both ways", true)
          .in("Field")
          .when("source", {"whirls"})
          .tip("Half of them turn the other way round."),
      strokes("strokes", "Strokes")
          .in("Field")
          .range(-1e6, 1e6)
          .when("source", {"strokes"})
          .tip("Lines that it flows along, the way they were drawn."),
      number("stroke_width", "Width", 1.5)
          .in("Field")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.2, 5)
          .when("source", {"strokes"})
          .tip("How far from a stroke it still flows."),
      file("slope_picture", "Picture", FileKind::Picture)
          .in("Field")
          .when("source", {"picture"})
          .tip("It stands upright in the box, facing along z; its bright parts are the heights."),
      choice("slope_way", "Flows",
             {{"down", "Down the slopes", "From bright to dark."},
              {"along", "Around the heights", "Counter-clockwise around what is bright."}})
          .in("Field")
          .when("source", {"picture"})
          .tip("Which way the vectors point."),
      number("slope_blur", "Blur", 3)
          .in("Field")
          .unit("%")
          .range(0, 25)
          .usual(0, 10)
          .when("source", {"picture"})
          .tip("How softly the picture is seen, of its width: hard edges become wide slopes."),
      integer("field_seed", "Seed", 1)
          .in("Field")
          .range(0, 1e9)
          .usual(0, 100)
          .when("source", {"swirls", "whirls"})
          .tip("Another number gives another field."),
      vector("place", "Place", {0, 2, 0})
          .in("Box")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-20, 20)
          .keyed()
          .tip("The box's centre; for a file, where its origin is put."),
      vector("size", "Size", {6, 6, 6})
          .in("Box")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.5, 20)
          .when("source", {"swirls", "whirls", "strokes", "picture"})
          .tip("The box that the field fills."),
      vector("turn", "Turn", {0, 0, 0})
          .in("Box")
          .unit("°")
          .range(-3600, 3600)
          .usual(-180, 180)
          .keyed()
          .tip("How the box is turned, about x, then y, then z."),
      integer("cells", "Cells", 32)
          .in("Box")
          .range(2, 128)
          .usual(8, 96)
          .when("source", {"swirls", "whirls", "strokes", "picture"})
          .tip("How finely the field is stored: vectors along the box's longest side. Twice as many take "
               "eight times the memory."),
      choice("beyond", "Beyond",
             {{"nothing", "Nothing", "Acts in the box only."},
              {"edge", "Goes on", "Outside, vectors are as at the nearest side."},
              {"repeat", "Repeats", "The box is set next to itself without end."}})
          .in("Box")
          .tip("What there is outside of the box."),
  };
}

}  // namespace comet
