#include "simulation/emission/emitter_params.h"

namespace comet {
namespace {

Curve fadeOut() { return Curve({{0, 1, Interpolation::Smooth}, {1, 0, Interpolation::Smooth}}); }

ParamSpec percent(const char* id, const char* label, double value) {
  return number(id, label, value).unit("%").range(0, 100).usual(0, 100).affects(Affects::Look);
}

// The share of something that a child takes over from the particle that it comes from.
ParamSpec inherited(const char* id, const char* label) {
  return number(id, label, 0)
      .unit("%")
      .range(0, 100)
      .usual(0, 100)
      .keyed()
      .affects(Affects::Look)
      .when("births_come", {"births", "lives", "ways", "deaths", "hits", "rules"});
}

std::vector<ParamSpec> pictureParams() {
  return {
      file("picture", "Picture", FileKind::Picture)
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"picture", "flipbook"})
          .tip("PNG, TGA, TIFF or OpenEXR. Its colour is multiplied with the particle's."),
      file("sprite_mesh", "Mesh", FileKind::Mesh)
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"mesh"})
          .tip("OBJ, PLY, STL or glTF. Its longest side is as long as the size says."),
      choice("shading", "Shading",
             {{"smooth", "Smooth", "Round, by the normals of the file."},
              {"flat", "Flat", "Each face for itself."}})
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"mesh"})
          .tip("How light falls on the faces."),
      outline("mask", "Mask")
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"picture"})
          .tip("Cuts the picture out along an outline drawn on it."),
      percent("crop_left", "Crop left", 0)
          .in("Sprite")
          .when("sprite", {"picture"})
          .keyed()
          .tip("How much of the picture is left out at its left edge."),
      percent("crop_right", "Crop right", 0)
          .in("Sprite")
          .when("sprite", {"picture"})
          .keyed()
          .tip("How much of the picture is left out at its right edge."),
      percent("crop_top", "Crop top", 0)
          .in("Sprite")
          .when("sprite", {"picture"})
          .keyed()
          .tip("How much of the picture is left out at its upper edge."),
      percent("crop_bottom", "Crop bottom", 0)
          .in("Sprite")
          .when("sprite", {"picture"})
          .keyed()
          .tip("How much of the picture is left out at its lower edge."),
      number("pivot_x", "Pivot x", 50)
          .in("Sprite")
          .unit("%")
          .range(-500, 500)
          .usual(0, 100)
          .affects(Affects::Look)
          .when("sprite", {"picture", "flipbook"})
          .keyed()
          .tip("Which part of the sprite lies at the particle and is turned round, from left to right."),
      number("pivot_y", "Pivot y", 50)
          .in("Sprite")
          .unit("%")
          .range(-500, 500)
          .usual(0, 100)
          .affects(Affects::Look)
          .when("sprite", {"picture", "flipbook"})
          .keyed()
          .tip("Which part of the sprite lies at the particle and is turned round, from top to bottom."),
      integer("book_columns", "Columns", 4)
          .in("Sprite")
          .range(1, 256)
          .usual(1, 16)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("Cells of the flipbook from left to right."),
      integer("book_rows", "Rows", 4)
          .in("Sprite")
          .range(1, 256)
          .usual(1, 16)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("Cells of the flipbook from top to bottom."),
      integer("book_count", "Cells", 0)
          .in("Sprite")
          .range(0, 65536)
          .usual(0, 64)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("How many cells are used; 0 for all."),
      choice("book_play", "Plays",
             {{"age", "Over life", "From birth to death, as the life chart's lane says."},
              {"rate", "At a rate", "Again and again, so many cells a second."},
              {"one", "One cell", "Each particle keeps one cell of its own."}})
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("How the cells follow each other."),
      number("book_course", "Cell", 100)
          .in("Sprite")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .overAge(Curve({{0, 0, Interpolation::Linear}, {1, 1, Interpolation::Linear}}))
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .when("book_play", {"age"})
          .tip("Which cell is shown: 0 the first, 100 the end of the last. Its course over life is in the "
               "life "
               "chart."),
      number("book_rate", "Cell rate", 12)
          .in("Sprite")
          .unit("/s")
          .range(0, 240)
          .usual(0, 60)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .when("book_play", {"rate"})
          .tip("Cells a second."),
      choice("book_start", "Starts",
             {{"first", "At the first cell", "All particles alike."},
              {"chance", "At any cell", "Each particle at a cell of its own."}})
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .when("book_play", {"rate"})
          .tip("With which cell a particle begins."),
      flag("book_mix", "Blend cells", true)
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .when("book_play", {"age", "rate"})
          .keyed()
          .tip("Whether a cell fades into the next one."),
  };
}

}  // namespace

std::vector<ParamSpec> spriteParams() {
  std::vector<ParamSpec> params{
      choice("sprite", "Sprite",
             {{"soft_disc", "Soft disc", "Fades from the middle to the rim."},
              {"dot", "Dot", "A disc with a sharp rim."},
              {"ring", "Ring", "A sharp ring."},
              {"streak", "Streak", "A line that thins out at both ends."},
              {"star", "Star", "A polygon or a star with a sharp rim."},
              {"puff", "Puff", "A lump of smoke, each particle one of several."},
              {"picture", "Picture", "A picture from a file, or a part of it."},
              {"flipbook", "Flipbook", "The cells of a picture, one after the other."},
              {"mesh", "Mesh", "A mesh from a file, under the scene's light."}})
          .in("Sprite")
          .affects(Affects::Look)
          .tip("What is drawn for each particle."),
      percent("hardness", "Hardness", 0)
          .in("Sprite")
          .when("sprite", {"soft_disc"})
          .keyed()
          .tip("How much of the disc is full before it fades."),
      number("ring_width", "Ring width", 25)
          .in("Sprite")
          .unit("%")
          .range(1, 100)
          .usual(1, 100)
          .affects(Affects::Look)
          .when("sprite", {"ring"})
          .keyed()
          .tip("Width of the ring as a share of its radius."),
      integer("star_points", "Points", 5)
          .in("Sprite")
          .range(3, 12)
          .usual(3, 12)
          .affects(Affects::Look)
          .when("sprite", {"star"})
          .tip("Corners of the polygon, or points of the star."),
      percent("pointedness", "Pointedness", 50)
          .in("Sprite")
          .when("sprite", {"star"})
          .keyed()
          .tip("How deep the rim goes in between the points; 0 for a polygon."),
      integer("puff_variants", "Variants", 8)
          .in("Sprite")
          .range(1, 16)
          .usual(1, 16)
          .affects(Affects::Look)
          .when("sprite", {"puff"})
          .tip("How many different puffs there are; each particle takes one."),
      percent("puff_detail", "Detail", 60)
          .in("Sprite")
          .when("sprite", {"puff"})
          .tip("How torn the puffs are: 0 is a smooth ball."),
  };
  for (ParamSpec& spec : pictureParams()) params.push_back(std::move(spec));
  for (ParamSpec& spec : std::vector<ParamSpec>{
           choice("facing_mode", "Faces",
                  {{"camera", "The camera", "Flat in the picture; meshes tumble about an axis of their own."},
                   {"motion", "Along motion", "Its upper end points where the particle moves."},
                   {"launch", "Along launch", "Its upper end points where the particle was thrown."},
                   {"plane", "A plane", "Lies in a plane of the scene."}})
               .in("Sprite")
               .affects(Affects::Look)
               .tip("How a sprite lies."),
           vector("plane_normal", "Plane faces", {0, 1, 0})
               .in("Sprite")
               .range(-1000, 1000)
               .usual(-1, 1)
               .affects(Affects::Look)
               .when("facing_mode", {"plane"})
               .keyed()
               .tip("The way the plane looks in which sprites lie; only the direction counts."),
           choice("blend", "Blend",
                  {{"normal", "Normal", "Covers what lies behind: smoke, drops, leaves."},
                   {"additive", "Additive", "Adds light to what lies behind: sparks, fire."},
                   {"screen", "Screen", "Brightens what lies behind, but never over white: glows, haze."},
                   {"multiply", "Multiply", "Darkens what lies behind by its colour: shade, soot."}})
               .in("Sprite")
               .affects(Affects::Look)
               .tip("How sprites meet what lies behind them."),
           number("ground_fade", "Ground fade", 0)
               .in("Sprite")
               .unit("units")
               .range(0, 10000)
               .usual(0, 2)
               .affects(Affects::Look)
               .keyed()
               .tip("Over which height above the ground sprites come into view, so that no edge shows where "
                    "they "
                    "touch it; 0 for none."),
       })
    params.push_back(std::move(spec));
  return params;
}

std::vector<ParamSpec> courseParams() {
  const Curve full = Curve::constant(1);
  return {
      number("size", "Size", 0.2)
          .in("Size and turn")
          .unit("units")
          .range(0, 10000)
          .usual(0.01, 2)
          .keyed()
          .perParticle()
          .varied()
          .overAge(full)
          .affects(Affects::Look)
          .simulatedToo()
          .tip("Diameter of a sprite."),
      inherited("from_size", "From parent")
          .in("Size and turn")
          .tip("How much of the size is that of the particle that it comes from, as it was at the birth."),
      curve("size_spread", "Size spread", full)
          .in("Size and turn")
          .affects(Affects::Look)
          .simulatedToo()
          .tip("How often each size of the variation occurs, the smallest left and the largest right: high "
               "on the "
               "left for many tiny and few large."),
      number("aspect", "Aspect", 1)
          .in("Size and turn")
          .unit("×")
          .range(0.001, 1000)
          .usual(0.1, 4)
          .affects(Affects::Look)
          .keyed()
          .tip("How many times as wide as high a sprite is."),
      number("stretch", "Stretch", 0)
          .in("Size and turn")
          .unit("s")
          .range(0, 100)
          .usual(0, 0.2)
          .keyed()
          .perParticle()
          .varied()
          .overAge(full)
          .affects(Affects::Look)
          .tip("How much longer a sprite is by its speed: the way it goes in this time is added to its "
               "height."),
      number("rotation", "Rotation", 0)
          .in("Size and turn")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .varied()
          .affects(Affects::Look)
          .perParticle()
          .tip("How a sprite is turned at birth; ± 180 for any way."),
      number("spin", "Spin", 0)
          .in("Size and turn")
          .unit("°/s")
          .range(-36000, 36000)
          .usual(-360, 360)
          .varied()
          .overAge(full)
          .affects(Affects::Look)
          .tip("How fast a sprite turns."),
  };
}

std::vector<ParamSpec> colorParams() {
  return {
      percent("opacity", "Opacity", 100)
          .in("Colour")
          .keyed()
          .perParticle()
          .varied()
          .overAge(fadeOut())
          .tip("How much of what lies behind a sprite it covers."),
      inherited("from_opacity", "From parent")
          .in("Colour")
          .tip("How much of the opacity of the particle that it comes from, as it was at the birth, it is "
               "multiplied with."),
      gradient("color", "Colour", Gradient(Vec3d(1.0)))
          .in("Colour")
          .follows()
          .affects(Affects::Look)
          .when("color_from", {"gradient"})
          .tip(
              "Colour over life, from birth on the left to death on the right; or by speed, from standing to "
              "fastest; or by chance."),
      choice("color_from", "Colour from",
             {{"gradient", "A gradient", "Over life, by speed or by chance."},
              {"picture", "The birth picture", "What the picture shows where a particle was born."}})
          .in("Colour")
          .affects(Affects::Look)
          .tip("Where colour comes from."),
      inherited("from_color", "From parent")
          .in("Colour")
          .tip("How much of the colour is that of the particle that it comes from, as it was at the birth."),
      choice("color_mix", "Mixed in",
             {{"linear", "Light", "As light mixes: between red and green it is yellow."},
              {"perceptual", "Even steps", "Steps that look equally large (Oklab)."},
              {"hsv", "Hue circle", "Along the shorter way round the hues, as vivid as the stops."}})
          .in("Colour")
          .affects(Affects::Look)
          .when("color_from", {"gradient"})
          .tip("How colours between two stops are made."),
      number("brightness", "Brightness", 1)
          .in("Colour")
          .unit("×")
          .range(0, 1000)
          .usual(0, 10)
          .keyed()
          .affects(Affects::Look)
          .tip("Multiplies the colour; over 1, overlapping additive sprites turn white."),
      number("hue", "Hue", 0)
          .in("Colour")
          .unit("°")
          .range(-180, 180)
          .usual(-180, 180)
          .varied()
          .affects(Affects::Look)
          .keyed()
          .perParticle()
          .tip("Turns the colour round the hue circle."),
      number("saturation", "Saturation", 100)
          .in("Colour")
          .unit("%")
          .range(0, 1000)
          .usual(0, 200)
          .varied()
          .affects(Affects::Look)
          .keyed()
          .perParticle()
          .tip("How vivid the colour is; 0 is grey."),
      number("value", "Value", 100)
          .in("Colour")
          .unit("%")
          .range(0, 1000)
          .usual(0, 200)
          .varied()
          .affects(Affects::Look)
          .keyed()
          .perParticle()
          .tip("How bright the colour is; its variation gives each particle its own."),
      number("glow", "Glow", 100)
          .in("Colour")
          .unit("%")
          .range(0, 1000)
          .usual(0, 200)
          .keyed()
          .perParticle()
          .varied()
          .overAge(Curve::constant(1))
          .affects(Affects::Look)
          .tip("How much a sprite gives to the glow that the finishing adds; nothing happens while that is "
               "off."),
  };
}

}  // namespace comet
