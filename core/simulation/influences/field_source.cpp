#include "simulation/influences/field_source.h"

#include "fields/made_fields.h"
#include "io/picture_content.h"
#include "io/volume_content.h"

#include <array>
#include <cmath>
#include <glm/matrix.hpp>

namespace comet {
namespace {

enum class Source { Swirls, Vortices, Strokes, Picture, File };

constexpr std::array<std::string_view, 5> kSources{"curl_noise", "vortices", "strokes", "picture", "file"};

// What a grid is made from, and how: the digest tells whether it has been made already.
struct Making {
  Digest key;
  std::function<VectorGrid()> make;
};

FieldBox boxOf(const Item& field, double frame) {
  return FieldBox::withCells(field.vector("size", frame), field.integer("resolution", frame));
}

Hasher& operator<<(Hasher& hasher, const FieldBox& box) {
  return hasher << box.size << box.counts[0] << box.counts[1] << box.counts[2];
}

Making swirlsOf(const Item& field, double frame, const FieldBox& box) {
  const double scale = field.number("noise_scale", frame);
  const int octaves = field.integer("noise_octaves", frame);
  const auto seed = static_cast<std::uint64_t>(field.number("field_seed", frame));
  Hasher key;
  key << "swirls" << box << scale << octaves << seed;
  return {key.digest(), [=] { return curlNoiseField(box, scale, octaves, seed); }};
}

Making whirlsOf(const Item& field, double frame, const FieldBox& box) {
  Vortices vortices;
  vortices.count = field.integer("vortex_count", frame);
  vortices.radius = field.number("vortex_radius", frame);
  vortices.axis = unitOr(field.vector("vortex_axis", frame), Vec3d(0, 1, 0));
  vortices.spread = radians(field.number("vortex_axis_spread", frame));
  vortices.bothWays = field.flag("vortex_both_directions");
  vortices.seed = static_cast<std::uint64_t>(field.number("field_seed", frame));
  Hasher key;
  key << "vortices" << box << vortices.count << vortices.radius << vortices.axis << vortices.spread
      << vortices.bothWays << vortices.seed;
  return {key.digest(), [=] { return vortexField(box, vortices); }};
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
  const SlopeDirection direction =
      field.chooses("slope_direction", "around") ? SlopeDirection::Along : SlopeDirection::Down;
  const double blur = field.number("slope_blur", frame) / 100 * box.counts[0];
  Hasher key;
  key << "slopes" << box << content->digest() << content->indexAt(index) << direction << blur;
  return {key.digest(), [=] { return slopeField(box, *content->at(index), direction, blur); }};
}

Making makingOf(const Item& field, double frame, Source source) {
  const FieldBox box = boxOf(field, frame);
  switch (source) {
    case Source::Vortices:
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
      pose_{field.vector("position", frame), rotationFromDegrees(field.vector("rotation", frame))},
      beyond_(
          field.choiceAs<Beyond>("beyond", std::array<std::string_view, 3>{"nothing", "clamp", "repeat"})) {
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
  pose_.position += pose_.rotation * (volume.centre * scale);
  size_ = volume.size * scale;
  content_ = (Hasher() << content->digest() << volume.name).digest();
  // Lives as long as the content that holds it.
  grid_ = std::shared_ptr<const VectorGrid>(content, &volume.grid);
}

Vec3d FieldSource::at(const Vec3d& position) const {
  const Vec3d own = pose_.toOwn(position);
  return pose_.rotation * grid_->sample(own / size_ + 0.5, beyond_);
}

void FieldSource::describe(Hasher& hasher) const {
  hasher << content_ << grid_->empty() << pose_.position << size_ << beyond_;
  for (int column = 0; column < 3; ++column) hasher << Vec3d(pose_.rotation[column]);
}

std::vector<ParamSpec> fieldSourceParams() {
  return {
      choice("source", "Source",
             {{"curl_noise", "Curl noise",
               "Noise without divergence: particles mix without piling up. It repeats at the box's sides."},
              {"vortices", "Vortices", "Round vortices at random positions."},
              {"strokes", "Strokes", "Lines that you draw in the viewport: particles flow along them."},
              {"picture", "Picture", "The slopes of a picture's brightness."},
              {"file", "OpenVDB file", "A grid of vectors from an OpenVDB file, such as a simulated wind."}})
          .in("Field")
          .tip("Where the vectors come from."),
      file("volume", "File", FileKind::Volume)
          .in("Field")
          .when("source", {"file"})
          .tip("An OpenVDB file (.vdb) with at least one grid of vectors."),
      text("volume_grid", "Grid")
          .in("Field")
          .when("source", {"file"})
          .tip("The name of the grid; empty for the first one of the file."),
      number("volume_scale", "File scale", 1)
          .in("Field")
          .range(0.0001, 10000)
          .usual(0.1, 10)
          .keyed()
          .when("source", {"file"})
          .tip("Scales the file's box. Its vectors keep their length; the strength changes them."),
      number("noise_scale", "Noise scale", 2)
          .in("Field")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.2, 10)
          .when("source", {"curl_noise"})
          .tip("The size of the largest vortices, as near to it as fits the box."),
      integer("noise_octaves", "Octaves", 2)
          .in("Field")
          .range(1, 5)
          .usual(1, 4)
          .when("source", {"curl_noise"})
          .tip("How many sizes of vortices are added up, each half as large and half as strong."),
      integer("vortex_count", "Vortex count", 12)
          .in("Field")
          .range(1, 500)
          .usual(1, 40)
          .when("source", {"vortices"})
          .tip("The number of vortices."),
      number("vortex_radius", "Vortex radius", 1)
          .in("Field")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.2, 5)
          .when("source", {"vortices"})
          .tip("The radius at which each vortex is fastest; at twice the radius little of it is left."),
      vector("vortex_axis", "Vortex axis", {0, 1, 0})
          .in("Field")
          .range(-1000, 1000)
          .usual(-1, 1)
          .when("source", {"vortices"})
          .tip("The axis about which the vortices turn."),
      number("vortex_axis_spread", "Axis spread", 0)
          .in("Field")
          .unit("°")
          .range(0, 180)
          .usual(0, 180)
          .when("source", {"vortices"})
          .tip("The largest angle by which their axes differ from it, each at random."),
      flag("vortex_both_directions", "Both directions", true)
          .in("Field")
          .when("source", {"vortices"})
          .tip("Half of the vortices turn the other way."),
      strokes("strokes", "Strokes")
          .in("Field")
          .range(-1e6, 1e6)
          .when("source", {"strokes"})
          .tip("Lines in the direction in which you drew them."),
      number("stroke_width", "Width", 1.5)
          .in("Field")
          .unit("units")
          .range(0.001, 10000)
          .usual(0.2, 5)
          .when("source", {"strokes"})
          .tip("The distance from a stroke at which the flow ends."),
      file("slope_picture", "Picture", FileKind::Picture)
          .in("Field")
          .when("source", {"picture"})
          .tip("A picture that stands upright in the box, facing along z; its bright parts are high."),
      choice("slope_direction", "Flow direction",
             {{"down", "Downhill", "From bright to dark."},
              {"around", "Around hills", "Counter-clockwise around what is bright."}})
          .in("Field")
          .when("source", {"picture"})
          .tip("The direction of the vectors."),
      number("slope_blur", "Blur", 3)
          .in("Field")
          .unit("%")
          .range(0, 25)
          .usual(0, 10)
          .when("source", {"picture"})
          .tip("Blurs the picture by this much of its width, so that hard edges become wide slopes."),
      integer("field_seed", "Seed", 1)
          .in("Field")
          .range(0, 1e9)
          .usual(0, 100)
          .when("source", {"curl_noise", "vortices"})
          .tip("Another seed gives another field."),
      vector("position", "Position", {0, 2, 0})
          .in("Box")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-20, 20)
          .keyed()
          .tip("The centre of the box; for a file, the position of its origin."),
      vector("size", "Size", {6, 6, 6})
          .in("Box")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.5, 20)
          .when("source", {"curl_noise", "vortices", "strokes", "picture"})
          .tip("The full lengths of the box that the field fills."),
      vector("rotation", "Rotation", {0, 0, 0})
          .in("Box")
          .unit("°")
          .range(-3600, 3600)
          .usual(-180, 180)
          .keyed()
          .tip("Rotates the box about x, then y, then z."),
      integer("resolution", "Resolution", 32)
          .in("Box")
          .range(2, 128)
          .usual(8, 96)
          .when("source", {"curl_noise", "vortices", "strokes", "picture"})
          .tip("The number of vectors along the box's longest side. Twice as many take eight times the "
               "memory."),
      choice("beyond", "Beyond",
             {{"nothing", "Nothing", "The field acts in the box only."},
              {"clamp", "Clamp", "Outside, vectors are those at the nearest side."},
              {"repeat", "Repeat", "The box is repeated without end."}})
          .in("Box")
          .tip("What there is outside of the box."),
  };
}

}  // namespace comet
