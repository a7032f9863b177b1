#include "bake/bake_kind.h"

#include "bake/bake_variants.h"
#include "bake/packing.h"
#include "params/cell_order_choice.h"
#include "render/camera.h"
#include "render/finish.h"

namespace comet {
namespace {

std::vector<ParamSpec> frameParams() {
  return {
      choice("frame_choice", "Frames",
             {{"step", "Every nth frame", "Frames at a fixed step through the range."},
              {"time", "Even time", "As many frames as there are cells, evenly spread over the range."},
              {"motion", "Even motion",
               "As many frames as there are cells, chosen so that the picture changes equally from each to "
               "the next."}})
          .in("Frames")
          .tip("Which frames get a cell."),
      choice("loop", "Loop",
             {{"none", "None", "The effect is played once."},
              {"exact", "Exact", "The scene's exact loop: its last frame leads into its first."},
              {"cross_fade", "Cross-fade", "The last cells fade into what came before the first one."},
              {"ping_pong", "Ping-pong", "The cells play forwards and then backwards."}})
          .in("Frames")
          .tip("How the last cell leads into the first."),
      choice("frame_range", "Frame range",
             {{"own", "From … to", "The frames between the two below."},
              {"scene", "Whole scene", "All frames of the scene, also when their number changes."}})
          .in("Frames")
          .when("loop", {"none", "cross_fade", "ping_pong"})
          .tip("Which frames of the scene are baked."),
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
          .tip("The last frame that is baked."),
      integer("step", "Every nth frame", 6)
          .in("Frames")
          .range(1, 1000)
          .usual(1, 12)
          .when("frame_choice", {"step"})
          .tip("One frame out of this many gets a cell."),
      integer("overlap", "Overlap", 4)
          .in("Frames")
          .unit("cells")
          .range(1, 256)
          .usual(1, 16)
          .when("loop", {"cross_fade"})
          .tip("How many of the last cells fade."),
      flag("find_loop", "Find the best loop", false)
          .in("Frames")
          .when("loop", {"cross_fade"})
          .tip("Looks within the range for the frames whose end agrees best with what came before their "
               "beginning, in what is seen and in how it moves. The range has to be longer than the loop."),
      flag("trim", "Trim empty ends", false)
          .in("Frames")
          .when("loop", {"none"})
          .tip("Leaves out frames at the beginning and the end that show next to nothing."),
      number("trim_threshold", "Trim threshold", 3)
          .in("Frames")
          .unit("%")
          .range(0, 100)
          .usual(0, 20)
          .when("trim", {"true"})
          .tip("Frames with less light and coverage than this, in percent of the fullest frame, count as "
               "empty."),
      choice("game_playback", "Playback in game",
             {{"scene", "Scene rate", "Each cell lasts as long as the frames that it stands for."},
              {"life", "Over sprite lifetime", "All cells are played once during the life of a sprite."}})
          .in("Frames")
          .tip("How fast the game plays the cells."),
      number("sprite_lifetime", "Sprite lifetime", 1)
          .in("Frames")
          .unit("s")
          .range(0.01, 3600)
          .usual(0.1, 10)
          .when("game_playback", {"life"})
          .tip("How long one of the game's sprites lives; it plays all cells once."),
  };
}

std::vector<ParamSpec> ownViewParams() {
  std::vector<ParamSpec> params{
      choice(
          "view", "View",
          {{"camera", "Camera", "The scene's camera, keys included."},
           {"own", "Own view", "A view of the bake's own; usually orthographic, and fitted to the effect."}})
          .in("View")
          .tip("The view from which the effect is baked."),
      number("margin", "Margin", 4)
          .in("View")
          .unit("%")
          .range(0, 100)
          .usual(0, 20)
          .when("view", {"own"})
          .tip("The free space that Fit leaves on each side, in percent of the cell."),
  };
  for (ParamSpec& spec : viewParams(Affects::Bake)) {
    spec.when("view", {"own"});
    if (spec.id == "projection") spec.defaultValue.base = std::string("orthographic");
    params.push_back(std::move(spec));
  }
  return params;
}

std::vector<ParamSpec> variantParams() {
  return {
      choice("variants", "Variants",
             {{"none", "One", "The effect as it is."},
              {"seeds", "By seed",
               "The same frames several times, each time with other seeds: a game picks one at random, and "
               "nothing is seen twice."},
              {"values", "By value", "The same frames once for each of several values of a parameter."}})
          .in("Variants")
          .tip("Bakes several variants of the effect into one sheet, one after the other."),
      integer("variant_count", "Count", 4)
          .in("Variants")
          .range(2, kMaxBakeVariants)
          .usual(2, 8)
          .when("variants", {"seeds"})
          .tip("How many variants there are; the first has the seeds of the scene."),
      text("varied", "Varied values")
          .in("Variants")
          .when("variants", {"values"})
          .tip("The parameter and its values, as in drops.rate=20, 40, 80 or drops.rate=20..80/4: the item, "
               "a dot, and the name that the parameter has in files. Try values of … in a number's menu "
               "writes them here."),
  };
}

std::vector<ParamSpec> sheetParams() {
  return {
      integer("columns", "Columns", 4)
          .in("Sheet")
          .range(1, 256)
          .usual(1, 16)
          .tip("The cells from left to right."),
      integer("rows", "Rows", 4)
          .in("Sheet")
          .range(1, 256)
          .usual(1, 16)
          .tip("The cells from top to bottom, for each variant."),
      cellOrderChoice("order").in("Sheet"),
      integer("cell_width", "Cell width", 128)
          .in("Sheet")
          .unit("px")
          .range(1, 8192)
          .usual(32, 512)
          .tip("The width of a cell without its padding."),
      integer("cell_height", "Cell height", 128)
          .in("Sheet")
          .unit("px")
          .range(1, 8192)
          .usual(32, 512)
          .tip("The height of a cell without its padding; the view's picture fills it from bottom to top."),
      integer("padding", "Padding", 0)
          .in("Sheet")
          .unit("px")
          .range(0, 256)
          .usual(0, 8)
          .tip("The pixels around each cell, so that neighbours do not bleed in when a game shrinks the "
               "sheet: 8 pixels keep three mip levels clean."),
      flag("edge_bleed", "Edge bleed", true)
          .in("Sheet")
          .tip("Extends the colours at the cell's edge into the padding."),
      integer("max_sheet_size", "Max sheet size", 8192)
          .in("Sheet")
          .unit("px")
          .range(16, 16384)
          .usual(512, 8192)
          .tip("The largest side of a sheet; longer flipbooks are written as several sheets."),
      number("memory_budget", "Memory budget", 16)
          .in("Sheet")
          .unit("MB")
          .range(0.001, 100000)
          .usual(1, 64)
          .tip("The video memory that the sheet may take, with block compression and mip levels. The bake "
               "check says when it takes more."),
      integer("supersampling", "Supersampling", 2)
          .in("Quality")
          .unit("×")
          .range(1, 8)
          .usual(1, 4)
          .tip("Each pixel is the average of this many by this many samples; more is smoother and takes "
               "longer."),
  };
}

std::vector<ParamSpec> fileParams() {
  return {
      choice("alpha", "Alpha",
             {{"auto", "Automatic",
               "On black for effects that only add light; premultiplied for all others and for OpenEXR. "
               "Every reader shows them correctly."},
              {"premultiplied", "Premultiplied",
               "Colour times alpha; keeps additive light. Best for engines that blend premultiplied."},
              {"straight", "Straight",
               "Colour apart from alpha, extended beyond the edges. Additive light is turned into coverage."},
              {"on_black", "On black", "The effect over black, without alpha, for additive materials."},
              {"opacity", "Opacity only",
               "One channel with the coverage, for materials that colour it themselves."}})
          .in("Files")
          .tip("How transparency is stored."),
      choice("format", "Format",
             {{"png8", "PNG, 8 bit", "Small; for most games."},
              {"png16", "PNG, 16 bit", "Finer steps."},
              {"tga", "TGA, 8 bit", "For engines that ask for it."},
              {"tiff16", "TIFF, 16 bit", "For compositing."},
              {"exr", "OpenEXR, half", "Linear light; brightness above 1 is kept."},
              {"exr_float", "OpenEXR, float", "Linear light with full precision."}})
          .in("Files")
          .tip("The file format of the sheets."),
      choice("color_encoding", "Colour encoding",
             {{"srgb", "sRGB", "As in pictures for screens: engines mark the texture as a colour."},
              {"linear", "Linear light", "As they are computed; dark colours get coarse steps in 8 bit."}})
          .in("Files")
          .when("format", {"png8", "png16", "tga", "tiff16"})
          .tip("How colours are stored in integer formats; the sheet's description says which."),
      choice("motion_vectors", "Motion vectors",
             {{"none", "None", "No motion vectors."},
              {"eight", "8 bit", "A PNG beside the sheet."},
              {"sixteen", "16 bit", "A PNG beside the sheet, with finer steps."}})
          .in("Files")
          .tip("A second sheet that says how far each pixel moves until the next cell, so that a game can "
               "blend cells along the motion."),
      flag("separate_glow", "Separate glow", false)
          .in("Files")
          .tip("Writes the glow into a sheet of its own, to be added in the game, instead of into the "
               "colour."),
      flag("separate_fire", "Separate fire", false)
          .in("Files")
          .tip("Writes the light of fire into a sheet of its own, to be added in the game, and its smoke "
               "alone into the colour: each can be blended and brightened by itself."),
      flag("depth_sheet", "Depth", false)
          .in("Files")
          .tip("Writes a sheet with the depth of each pixel, from 0 for the nearest to 1."),
      flag("age_sheet", "Age", false)
          .in("Files")
          .tip("Writes a sheet with the age of the particles as a fraction of their lives, 0 to 1, for "
               "colouring in the game."),
      flag("density_sheet", "Density", false)
          .in("Files")
          .tip("Writes a sheet with the density of the gas that is seen, from 0 to the most there is, for "
               "colouring and dissolving it in the game."),
      flag("temperature_sheet", "Temperature", false)
          .in("Files")
          .tip("Writes a sheet with the temperature of the gas that is seen, in kelvin above the air's."),
      flag("normal_sheet", "Normals", false)
          .in("Files")
          .tip("Writes a sheet of normals: each sprite is taken as a ball."),
      flag("six_way_lighting", "Six-way lighting", false)
          .in("Files")
          .tip("Writes two sheets with the brightness of each pixel when lit from the right, the top and "
               "behind, and from the left, below and the front, for lighting it in the game."),
      choice(
          "texture", "GPU texture",
          {{"none", "None", "Pictures only; the engine compresses them itself."},
           {"bc", "BC",
            "For desktop machines and consoles: a byte for each pixel, half of one without alpha."},
           {"astc_4x4", "ASTC 4 × 4", "For phones: a byte for each pixel."},
           {"astc_6x6", "ASTC 6 × 6", "For phones: less than half of a byte for each pixel, and coarser."}})
          .in("Files")
          .when("format", {"png8", "png16", "tga", "tiff16"})
          .tip("Writes each sheet as a block-compressed texture (KTX2) too, with mip levels that keep cells "
               "apart, "
               "ready for the graphics processor. The bake check says how much it loses."),
      choice("video", "Video",
             {{"none", "None", "No video."},
              {"webm", "WebM", "Small, with alpha; for browsers and chats."},
              {"apng", "Animated PNG", "Lossless in 8 bit, with alpha."}})
          .in("Files")
          .tip("A video of the cells, for review."),
      flag("image_sequence", "Image sequence", false)
          .in("Files")
          .tip("Writes each cell as a picture of its own too, numbered from 1."),
      flag("web_player", "Web player", false)
          .in("Files")
          .tip("Writes a page for any browser that plays the flipbook; it needs no other file."),
  };
}

}  // namespace

const KindSpec& bakeKind() {
  static const KindSpec kind(
      "bake", "Flipbook", ItemFamily::Bake,
      "A sheet of cells, each a frame of the effect, for use in a game.", [] {
        std::vector<ParamSpec> params = frameParams();
        for (auto&& part : {variantParams(), ownViewParams(), sheetParams(), fileParams(), packingParams(),
                            std::vector<ParamSpec>{
                                choice("post_processing", "Post-processing",
                                       {{"camera", "Camera", "The settings of the scene's camera."},
                                        {"own", "Own", "Settings for this bake alone."}})
                                    .in("Post-processing")
                                    .tip("Exposure, glow and motion blur of the bake."),
                            }})
          params.insert(params.end(), part.begin(), part.end());
        for (ParamSpec& spec : finishParams(Affects::Bake))
          params.push_back(spec.when("post_processing", {"own"}));
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
  set("frame_choice", "time");
  bake.values[bake.kind->indexOf("trim")].base = true;
  return bake;
}

}  // namespace comet
