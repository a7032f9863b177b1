#include "params/cell_order_choice.h"
#include "simulation/emission/emitter_params.h"

namespace comet {
namespace {

Curve fadeOut() { return Curve({{0, 1, Interpolation::Smooth}, {1, 0, Interpolation::Smooth}}); }

ParamSpec percent(const char* id, const char* label, double value) {
  return number(id, label, value).unit("%").range(0, 100).usual(0, 100).affects(Affects::Look);
}

// The fraction of something that a child takes over from the particle that it comes from.
ParamSpec inherited(const char* id, const char* label) {
  return number(id, label, 0)
      .unit("%")
      .range(0, 100)
      .usual(0, 100)
      .keyed()
      .affects(Affects::Look)
      .when("birth_trigger",
            {"parent_birth", "parent_life", "parent_path", "parent_death", "parent_hit", "rules"});
}

std::vector<ParamSpec> pictureParams() {
  return {
      file("picture", "Picture", FileKind::Picture)
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"picture", "flipbook", "card"})
          .tip("A PNG, TGA, TIFF or OpenEXR file. Its colour is multiplied with the particle's."),
      choice(
          "picture_alpha", "Alpha",
          {{"straight", "Straight", "Colours are apart from alpha, as most files have them."},
           {"premultiplied", "Premultiplied",
            "Colours are multiplied by alpha already, so that light may cover nothing: as most flipbooks are "
            "exported."}})
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"picture", "flipbook", "card"})
          .tip("What the colours of PNG, TGA and TIFF files are; those of OpenEXR are always premultiplied."),
      file("sprite_mesh", "Mesh", FileKind::Mesh)
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"mesh"})
          .tip("An OBJ, PLY, STL or glTF file. Its longest side is as long as the size says."),
      choice("shading", "Shading",
             {{"smooth", "Smooth", "Faces look round, by the normals of the file."},
              {"flat", "Flat", "Each face has one shade."}})
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"mesh"})
          .tip("How light falls on the mesh."),
      outline("mask", "Mask")
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"picture"})
          .tip("Cuts the picture out along an outline that you draw on it."),
      percent("crop_left", "Crop left", 0)
          .in("Sprite")
          .when("sprite", {"picture"})
          .keyed()
          .tip("How much of the picture is cut off at its left edge."),
      percent("crop_right", "Crop right", 0)
          .in("Sprite")
          .when("sprite", {"picture"})
          .keyed()
          .tip("How much of the picture is cut off at its right edge."),
      percent("crop_top", "Crop top", 0)
          .in("Sprite")
          .when("sprite", {"picture"})
          .keyed()
          .tip("How much of the picture is cut off at its upper edge."),
      percent("crop_bottom", "Crop bottom", 0)
          .in("Sprite")
          .when("sprite", {"picture"})
          .keyed()
          .tip("How much of the picture is cut off at its lower edge."),
      number("pivot_x", "Pivot x", 50)
          .in("Sprite")
          .unit("%")
          .range(-500, 500)
          .usual(0, 100)
          .affects(Affects::Look)
          .when("sprite", {"picture", "flipbook"})
          .keyed()
          .tip("The point of the sprite, from left to right, that lies at the particle and that it rotates "
               "about."),
      number("pivot_y", "Pivot y", 50)
          .in("Sprite")
          .unit("%")
          .range(-500, 500)
          .usual(0, 100)
          .affects(Affects::Look)
          .when("sprite", {"picture", "flipbook"})
          .keyed()
          .tip("The point of the sprite, from top to bottom, that lies at the particle and that it rotates "
               "about."),
      integer("flipbook_columns", "Columns", 4)
          .in("Sprite")
          .range(1, 256)
          .usual(1, 16)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("The cells of the flipbook from left to right."),
      integer("flipbook_rows", "Rows", 4)
          .in("Sprite")
          .range(1, 256)
          .usual(1, 16)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("The cells of the flipbook from top to bottom."),
      integer("flipbook_cells", "Cells used", 0)
          .in("Sprite")
          .range(0, 65536)
          .usual(0, 64)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("How many cells are used, of each variant; 0 uses all."),
      integer("flipbook_variants", "Variants", 1)
          .in("Sprite")
          .range(1, 64)
          .usual(1, 8)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("How many variants of the effect the sheet holds, one after the other, each with as many "
               "cells; every particle plays one of them."),
      integer("flipbook_padding", "Padding", 0)
          .in("Sprite")
          .unit("px")
          .range(0, 256)
          .usual(0, 8)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("The pixels around each cell that are not shown: they only keep its neighbours away."),
      cellOrderChoice("flipbook_order").in("Sprite").affects(Affects::Look).when("sprite", {"flipbook"}),
      choice(
          "flipbook_play_mode", "Play mode",
          {{"life", "Over life", "All cells are played from birth to death, as the life chart's lane says."},
           {"rate", "At a rate", "Cells repeat at a given number a second."},
           {"one", "One cell", "Each particle keeps one cell of its own."}})
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .tip("How the cells follow each other."),
      number("flipbook_cell", "Cell", 100)
          .in("Sprite")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .overAge(Curve({{0, 0, Interpolation::Linear}, {1, 1, Interpolation::Linear}}))
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .when("flipbook_play_mode", {"life"})
          .tip("The cell that is shown: 0 is the first, 100 the end of the last. Its curve over life is in "
               "the life chart."),
      number("flipbook_rate", "Cell rate", 12)
          .in("Sprite")
          .unit("fps")
          .range(0, 240)
          .usual(0, 60)
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .when("flipbook_play_mode", {"rate"})
          .tip("How many cells are shown in a second."),
      choice("flipbook_start", "Start cell",
             {{"first", "First", "All particles begin with the first cell."},
              {"random", "Random", "Each particle begins with a cell of its own."}})
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .when("flipbook_play_mode", {"rate"})
          .tip("The cell with which a particle begins."),
      flag("flipbook_blend", "Blend cells", true)
          .in("Sprite")
          .affects(Affects::Look)
          .when("sprite", {"flipbook"})
          .when("flipbook_play_mode", {"life", "rate"})
          .keyed()
          .tip("Fades each cell into the next one."),
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
              {"puff", "Puff", "A lump of smoke; each particle shows one of several variants."},
              {"picture", "Picture", "A picture from a file, or a part of it."},
              {"flipbook", "Flipbook", "The cells of a picture, one after the other."},
              {"mesh", "Mesh", "A mesh from a file, lit by the scene's lights."},
              {"card", "Card", "A sheet that bends and flutters in the air, lit by the scene's lights."}})
          .in("Sprite")
          .affects(Affects::Look)
          .simulatedToo()
          .tip("What is drawn for each particle."),
      percent("hardness", "Hardness", 0)
          .in("Sprite")
          .when("sprite", {"soft_disc"})
          .keyed()
          .tip("How much of the disc is opaque before it begins to fade."),
      number("ring_width", "Ring width", 25)
          .in("Sprite")
          .unit("%")
          .range(1, 100)
          .usual(1, 100)
          .affects(Affects::Look)
          .when("sprite", {"ring"})
          .keyed()
          .tip("The width of the ring, in percent of its radius."),
      integer("star_points", "Points", 5)
          .in("Sprite")
          .range(3, 12)
          .usual(3, 12)
          .affects(Affects::Look)
          .when("sprite", {"star"})
          .tip("The corners of the polygon, or the points of the star."),
      percent("pointedness", "Pointedness", 50)
          .in("Sprite")
          .when("sprite", {"star"})
          .keyed()
          .tip("How deep the rim is cut between the points; 0 makes a polygon."),
      integer("puff_variants", "Variants", 8)
          .in("Sprite")
          .range(1, 16)
          .usual(1, 16)
          .affects(Affects::Look)
          .when("sprite", {"puff"})
          .tip("The number of different puffs; each particle shows one of them."),
      percent("puff_detail", "Detail", 60)
          .in("Sprite")
          .when("sprite", {"puff"})
          .tip("How torn the puffs look: 0 is a smooth ball."),
  };
  for (ParamSpec& spec : pictureParams()) params.push_back(std::move(spec));
  for (ParamSpec& spec : std::vector<ParamSpec>{
           choice("facing", "Facing",
                  {{"camera", "Camera",
                    "Sprites lie flat in the picture; meshes and cards tumble about axes of their own."},
                   {"velocity", "Velocity", "The sprite's upper end points along the particle's velocity."},
                   {"launch_direction", "Launch direction",
                    "The sprite's upper end points in the direction of the launch."},
                   {"plane", "Plane", "Sprites lie in a plane of the scene."},
                   {"tumbling", "Tumbling",
                    "Everything turns in space about axes of its own, by rotation and spin: leaves, scraps, "
                    "flakes. Seen edge-on, sprites are thin; lit ones catch the light by turns."}})
               .in("Sprite")
               .affects(Affects::Look)
               .simulatedToo()
               .tip("How a sprite is oriented; of a card, how it is born."),
           vector("plane_normal", "Plane normal", {0, 1, 0})
               .in("Sprite")
               .range(-1000, 1000)
               .usual(-1, 1)
               .affects(Affects::Look)
               .simulatedToo()
               .when("facing", {"plane"})
               .keyed()
               .tip("The normal of the plane in which sprites lie; its length does not matter."),
           choice("blend", "Blend mode",
                  {{"normal", "Normal", "Covers what lies behind: smoke, drops, leaves."},
                   {"additive", "Additive", "Adds light to what lies behind: sparks, fire."},
                   {"screen", "Screen", "Brightens what lies behind, but never beyond white: glows, haze."},
                   {"multiply", "Multiply", "Darkens what lies behind by its colour: shade, soot."}})
               .in("Sprite")
               .affects(Affects::Look)
               .tip("How sprites combine with what lies behind them."),
           number("ground_fade", "Ground fade", 0)
               .in("Sprite")
               .unit("units")
               .range(0, 10000)
               .usual(0, 2)
               .affects(Affects::Look)
               .keyed()
               .tip("The height above the ground over which sprites fade in, so that no hard edge shows "
                    "where they touch it; 0 turns it off."),
       })
    params.push_back(std::move(spec));
  return params;
}

std::vector<ParamSpec> courseParams() {
  const Curve full = Curve::constant(1);
  return {
      number("size", "Size", 0.2)
          .in("Size and rotation")
          .unit("units")
          .range(0, 10000)
          .usual(0.01, 2)
          .keyed()
          .perParticle()
          .varied()
          .overAge(full)
          .affects(Affects::Look)
          .simulatedToo()
          .tip("The diameter of a sprite; of a card, its longer side."),
      inherited("inherit_size", "Inherit size")
          .in("Size and rotation")
          .tip("How much the size follows that of the parent particle at the birth."),
      curve("size_distribution", "Size distribution", full)
          .in("Size and rotation")
          .affects(Affects::Look)
          .simulatedToo()
          .tip("How often each size of the variation occurs, from the smallest on the left to the largest on "
               "the right."),
      number("aspect_ratio", "Aspect ratio", 1)
          .in("Size and rotation")
          .unit("×")
          .range(0.001, 1000)
          .usual(0.1, 4)
          .affects(Affects::Look)
          .keyed()
          .simulatedToo()
          .tip("The width of a sprite for each unit of its height; of a card, of its length."),
      number("stretch", "Stretch", 0)
          .in("Size and rotation")
          .unit("s")
          .range(0, 100)
          .usual(0, 0.2)
          .keyed()
          .perParticle()
          .varied()
          .overAge(full)
          .affects(Affects::Look)
          .tip("Lengthens a sprite by the distance that its particle travels in this time."),
      number("sprite_rotation", "Rotation", 0)
          .in("Size and rotation")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .varied()
          .affects(Affects::Look)
          .perParticle()
          .simulatedToo()
          .tip("The rotation of a sprite at birth; ± 180 gives every rotation."),
      number("spin", "Spin", 0)
          .in("Size and rotation")
          .unit("°/s")
          .range(-36000, 36000)
          .usual(-360, 360)
          .varied()
          .overAge(full)
          .affects(Affects::Look)
          .simulatedToo()
          .tip("The angular speed of a sprite; of a card, the one that it is born with."),
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
          .tip("How much of what lies behind it a sprite covers."),
      inherited("inherit_opacity", "Inherit opacity")
          .in("Colour")
          .tip("How much the opacity follows that of the parent particle at the birth."),
      gradient("color", "Colour", Gradient(Vec3d(1.0)))
          .in("Colour")
          .follows()
          .affects(Affects::Look)
          .when("color_source", {"gradient", "arrival"})
          .tip("The colour over life, from birth on the left to death on the right; or over speed; or chosen "
               "at random."),
      choice(
          "color_source", "Colour source",
          {{"gradient", "Gradient", "The gradient gives the colour over life, over speed or at random."},
           {"picture", "Birth picture", "The birth picture gives the colour at the position of the birth."},
           {"arrival", "Arrival picture",
            "The gradient gives the colour at first; on the way to a point of a picture, the particle takes "
            "on "
            "the picture's colour there."}})
          .in("Colour")
          .affects(Affects::Look)
          .tip("Where the colour comes from."),
      inherited("inherit_color", "Inherit colour")
          .in("Colour")
          .tip("How much the colour follows that of the parent particle at the birth."),
      choice("color_blend_space", "Blend space",
             {{"linear", "Linear RGB", "As light mixes: between red and green lies yellow."},
              {"oklab", "Oklab", "In steps that look equally large."},
              {"hsv", "HSV", "Around the hue circle the shorter way, as vivid as the stops."}})
          .in("Colour")
          .affects(Affects::Look)
          .when("color_source", {"gradient", "arrival"})
          .tip("How colours between two stops are computed."),
      number("brightness", "Brightness", 1)
          .in("Colour")
          .unit("×")
          .range(0, 1000)
          .usual(0, 10)
          .keyed()
          .affects(Affects::Look)
          .tip("Multiplies the colour; above 1, overlapping additive sprites turn white."),
      flag("lit", "Lit", false)
          .in("Colour")
          .keyed()
          .affects(Affects::Look)
          .when("sprite", {"soft_disc", "dot", "ring", "streak", "star", "puff", "picture", "flipbook"})
          .tip("Multiplies the colour by the light that reaches the particle: of the scene, of its light "
               "items, and from all around. Otherwise sprites shine by themselves."),
      number("hue", "Hue", 0)
          .in("Colour")
          .unit("°")
          .range(-180, 180)
          .usual(-180, 180)
          .varied()
          .affects(Affects::Look)
          .keyed()
          .perParticle()
          .tip("Shifts the colour around the hue circle."),
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
          .tip("How bright the colour is; its variation gives each particle its own brightness."),
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
          .tip("How much a sprite contributes to the glow of the post-processing. It shows only while glow "
               "is on."),
  };
}

}  // namespace comet
