#include "bake/bake_kind.h"

#include "bake/packing.h"
#include "render/camera.h"
#include "render/finish.h"

namespace comet {
namespace {

std::vector<ParamSpec> frameParams() {
  return {
      choice(
          "frames_by", "Cells show",
          {{"step", "Every step", "Every so-manieth frame of the range."},
           {"time", "Even time", "As many frames as there are cells, evenly spread over the range."},
           {"motion", "Even motion",
            "As many frames as there are cells, chosen so that the picture changes by as much from each to "
            "the next."}})
          .in("Frames")
          .tip("Which frames get a cell."),
      choice("loop", "Loop",
             {{"none", "None", "The effect is played once."},
              {"exact", "Exact", "The scene's own loop: its last frame leads into its first."},
              {"cross_fade", "Cross-fade", "The last cells fade into what came before the first one."},
              {"ping_pong", "Back and forth", "The cells between the ends follow once more, backwards."}})
          .in("Frames")
          .tip("How the last cell leads into the first."),
      choice("frame_range", "Frame range",
             {{"own", "Set here", "From the first to the last frame below."},
              {"scene", "All of the scene", "All frames of the scene, also when their number changes."}})
          .in("Frames")
          .when("loop", {"none", "cross_fade", "ping_pong"})
          .tip("Which part of the scene is baked."),
      integer("first", "First frame", 6)
          .in("Frames")
          .range(-100000, 100000)
          .usual(1, 200)
          .frame()
          .when("frame_range", {"own"})
          .when("loop", {"none", "cross_fade", "ping_pong"})
          .tip("The frame in the first cell."),
      integer("last", "Last frame", 96)
          .in("Frames")
          .range(-100000, 100000)
          .usual(1, 500)
          .frame()
          .when("frame_range", {"own"})
          .when("loop", {"none", "cross_fade", "ping_pong"})
          .tip("No frame after this one is baked."),
      integer("step", "Step", 6)
          .in("Frames")
          .range(1, 1000)
          .usual(1, 12)
          .when("frames_by", {"step"})
          .tip("Every how-manieth frame gets a cell."),
      integer("overlap", "Overlap", 4)
          .in("Frames")
          .unit("cells")
          .range(1, 256)
          .usual(1, 16)
          .when("loop", {"cross_fade"})
          .tip("How many of the last cells fade."),
      flag("trim", "Trim dull ends", false)
          .in("Frames")
          .when("loop", {"none"})
          .tip("Whether frames at the beginning and the end that show next to nothing are left out."),
      number("trim_below", "Dull below", 3)
          .in("Frames")
          .unit("%")
          .range(0, 100)
          .usual(0, 20)
          .when("trim", {"true"})
          .tip("Of the light and cover of the fullest frame."),
      choice("plays", "In the game",
             {{"scene", "As the scene", "Cells last as long as the frames that they stand for."},
              {"life", "Over a life", "All cells are spread over the life of a sprite."}})
          .in("Frames")
          .tip("How fast the game plays the cells."),
      number("game_life", "Life", 1)
          .in("Frames")
          .unit("s")
          .range(0.01, 3600)
          .usual(0.1, 10)
          .when("plays", {"life"})
          .tip("How long one of the game's sprites lives, and plays all cells once."),
  };
}

std::vector<ParamSpec> ownViewParams() {
  std::vector<ParamSpec> params{
      choice("view", "Seen by",
             {{"camera", "The camera", "As the scene's camera sees it, keys included."},
              {"own", "Its own view", "Set here; usually orthographic, and fitted to the effect."}})
          .in("View")
          .tip("From where the effect is seen."),
      number("margin", "Margin", 4)
          .in("View")
          .unit("%")
          .range(0, 100)
          .usual(0, 20)
          .when("view", {"own"})
          .tip("What Fit leaves free on each side, of the cell's width and height."),
  };
  for (ParamSpec& spec : viewParams(Affects::Bake)) {
    spec.when("view", {"own"});
    if (spec.id == "projection") spec.defaultValue.base = std::string("orthographic");
    params.push_back(std::move(spec));
  }
  return params;
}

std::vector<ParamSpec> sheetParams() {
  return {
      integer("columns", "Columns", 4)
          .in("Sheet")
          .range(1, 256)
          .usual(1, 16)
          .tip("Cells from left to right."),
      integer("rows", "Rows", 4).in("Sheet").range(1, 256).usual(1, 16).tip("Cells from top to bottom."),
      choice("order", "Order",
             {{"rows_from_top_left", "Rows from the top", "From left to right, then the row below."},
              {"rows_from_bottom_left", "Rows from the bottom", "From left to right, then the row above."},
              {"columns_from_top_left", "Columns", "From top to bottom, then the column to the right."}})
          .in("Sheet")
          .tip("How cells follow each other on the sheet."),
      integer("cell_width", "Cell width", 128)
          .in("Sheet")
          .unit("px")
          .range(1, 8192)
          .usual(32, 512)
          .tip("Width of a cell, padding not counted."),
      integer("cell_height", "Cell height", 128)
          .in("Sheet")
          .unit("px")
          .range(1, 8192)
          .usual(32, 512)
          .tip("Height of a cell; the view's picture fills it from bottom to top."),
      integer("padding", "Padding", 0)
          .in("Sheet")
          .unit("px")
          .range(0, 256)
          .usual(0, 8)
          .tip("Pixels around each cell, so that neighbours do not bleed in when a game shrinks the sheet: 8 "
               "keep three mip levels clean."),
      flag("edge_bleed", "Edge bleed", true)
          .in("Sheet")
          .tip("Whether the padding goes on with the colours at the cell's edge, instead of being empty."),
      integer("largest_sheet", "Largest sheet", 8192)
          .in("Sheet")
          .unit("px")
          .range(16, 16384)
          .usual(512, 8192)
          .tip("The most pixels a side of one sheet; what has more rows is written as several sheets."),
      number("budget", "Budget", 16)
          .in("Sheet")
          .unit("MB")
          .range(0.001, 100000)
          .usual(1, 64)
          .tip("The video memory that the sheet may take, with block compression and mip levels; the bake "
               "check says when it takes more."),
      integer("supersampling", "Supersampling", 2)
          .in("Quality")
          .unit("×")
          .range(1, 8)
          .usual(1, 4)
          .tip("Each pixel is the average of as many by as many; more is smoother and takes longer."),
  };
}

std::vector<ParamSpec> fileParams() {
  return {
      choice(
          "alpha", "Alpha",
          {{"auto", "Automatic",
            "On black for effects that only add light, premultiplied for all others and for OpenEXR: so that "
            "every "
            "reader shows them."},
           {"premultiplied", "Premultiplied",
            "Colour times alpha; keeps additive light. Best for engines that blend premultiplied."},
           {"straight", "Straight",
            "Colour apart from alpha, and going on beyond the edges. Additive light is turned into "
            "coverage."},
           {"on_black", "On black", "No alpha: the effect over black, for additive materials."},
           {"opacity", "Opacity alone", "One channel: how much is covered, for materials that colour it."}})
          .in("Files")
          .tip("How transparency is stored."),
      choice("format", "Format",
             {{"png8", "PNG, 8 bit", "Small; for most games."},
              {"png16", "PNG, 16 bit", "Finer steps."},
              {"tga", "TGA, 8 bit", "For engines that ask for it."},
              {"tiff16", "TIFF, 16 bit", "For compositing programs."},
              {"exr", "OpenEXR, half", "Linear light, brightness over 1 is kept."},
              {"exr_float", "OpenEXR, float", "As half, with every digit."}})
          .in("Files")
          .tip("The picture file that is written."),
      choice("encoding", "Colours as",
             {{"srgb", "sRGB", "As pictures for screens are: engines mark the texture as a colour."},
              {"linear", "Linear light", "As they are computed; dark colours get coarse steps in 8 bit."}})
          .in("Files")
          .when("format", {"png8", "png16", "tga", "tiff16"})
          .tip("How colours are stored in whole numbers; the description says which."),
      choice("motion", "Motion vectors",
             {{"none", "None", "No second sheet."},
              {"eight", "8 bit", "A PNG beside the sheet."},
              {"sixteen", "16 bit", "A PNG beside the sheet, with finer steps."}})
          .in("Files")
          .tip(
              "A second sheet that says for each pixel how far what is seen there moves until the next cell, "
              "so that a game can blend cells along the motion."),
      flag("glow_sheet", "Glow apart", false)
          .in("Files")
          .tip("Whether the glow gets a sheet of its own, to be added in the game, instead of lying in the "
               "colour."),
      flag("depth_sheet", "Depth", false)
          .in("Files")
          .tip("A sheet that says how far away what is seen lies, from 0 for the nearest to 1."),
      flag("age_sheet", "Age", false)
          .in("Files")
          .tip("A sheet that says how much of their lives the particles have behind them, 0 to 1, for "
               "colouring in the game."),
      flag("normal_sheet", "Normals", false)
          .in("Files")
          .tip("A sheet of the directions that what is seen faces: each sprite is taken as a ball."),
      flag("light_sheets", "Six lights", false)
          .in("Files")
          .tip("Two sheets that say how bright each pixel is when lit from the right, the top and behind, "
               "and from "
               "the left, below and the front, for lighting it in the game."),
      choice("film", "Film",
             {{"none", "None", "No film."},
              {"webm", "WebM", "Small, with alpha; for browsers and chats."},
              {"apng", "Animated PNG", "Lossless in 8 bit, with alpha."}})
          .in("Files")
          .tip("The cells as a film, for review."),
      flag("sequence", "Pictures", false)
          .in("Files")
          .tip("Whether each cell is written as a picture of its own too, numbered from 1."),
      flag("player", "Player page", false)
          .in("Files")
          .tip("A page for any browser that plays the flipbook; nothing else has to be sent along."),
  };
}

}  // namespace

const KindSpec& bakeKind() {
  static const KindSpec kind(
      "bake", "Flipbook", ItemFamily::Bake,
      "A sheet of cells, each a frame of the effect, for use in a game.", [] {
        std::vector<ParamSpec> params = frameParams();
        for (auto&& part : {ownViewParams(), sheetParams(), fileParams(), packingParams(),
                            std::vector<ParamSpec>{
                                choice("finish", "Finish",
                                       {{"camera", "As the camera",
                                         "Exposure, glow and motion blur as the camera has them."},
                                        {"own", "Its own", "Set here, for this bake alone."}})
                                    .in("Finish")
                                    .tip("What is done to the picture at the end."),
                            }})
          params.insert(params.end(), part.begin(), part.end());
        for (ParamSpec& spec : finishParams(Affects::Bake)) params.push_back(spec.when("finish", {"own"}));
        for (ParamSpec& spec : params) spec.affects(Affects::Bake);
        return params;
      }());
  return kind;
}

Item newBake(std::string name) {
  Item bake = newItem(bakeKind(), std::move(name));
  const auto set = [&bake](const char* param, const char* option) {
    bake.values[bake.kind->indexOf(param)].base = std::string(option);
  };
  set("frame_range", "scene");
  set("frames_by", "time");
  bake.values[bake.kind->indexOf("trim")].base = true;
  return bake;
}

}  // namespace comet
