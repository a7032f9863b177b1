#include "bake/bake_kind.h"

#include "render/finish.h"

namespace comet {

const KindSpec& bakeKind() {
  static const KindSpec kind(
      "bake", "Flipbook", ItemFamily::Bake,
      "A sheet of cells, each a frame of the effect, for use in a game.", [] {
        std::vector<ParamSpec> params{
            integer("first", "First frame", 6)
                .in("Frames")
                .range(-100000, 100000)
                .usual(1, 200)
                .affects(Affects::Bake)
                .tip("The frame in the first cell."),
            integer("last", "Last frame", 96)
                .in("Frames")
                .range(-100000, 100000)
                .usual(1, 500)
                .affects(Affects::Bake)
                .tip("No frame after this one is baked."),
            integer("step", "Step", 6)
                .in("Frames")
                .range(1, 1000)
                .usual(1, 12)
                .affects(Affects::Bake)
                .tip("Every how-manieth frame gets a cell."),
            integer("columns", "Columns", 4)
                .in("Sheet")
                .range(1, 256)
                .usual(1, 16)
                .affects(Affects::Bake)
                .tip("Cells from left to right."),
            integer("rows", "Rows", 4)
                .in("Sheet")
                .range(1, 256)
                .usual(1, 16)
                .affects(Affects::Bake)
                .tip("Cells from top to bottom."),
            integer("cell_width", "Cell width", 128)
                .in("Sheet")
                .unit("px")
                .range(1, 8192)
                .usual(32, 512)
                .affects(Affects::Bake)
                .tip("Width of a cell, padding not counted."),
            integer("cell_height", "Cell height", 128)
                .in("Sheet")
                .unit("px")
                .range(1, 8192)
                .usual(32, 512)
                .affects(Affects::Bake)
                .tip("Height of a cell; the camera's picture fills it from bottom to top."),
            integer("padding", "Padding", 0)
                .in("Sheet")
                .unit("px")
                .range(0, 256)
                .usual(0, 8)
                .affects(Affects::Bake)
                .tip("Empty pixels around each cell, so that neighbours do not bleed in when a game shrinks "
                     "the sheet."),
            integer("supersampling", "Supersampling", 2)
                .in("Quality")
                .unit("×")
                .range(1, 8)
                .usual(1, 4)
                .affects(Affects::Bake)
                .tip("Each pixel is the average of as many by as many; more is smoother and takes longer."),
            choice(
                "alpha", "Alpha",
                {{"premultiplied", "Premultiplied",
                  "Colour times alpha; keeps additive light. Best for engines that blend premultiplied."},
                 {"straight", "Straight", "Colour apart from alpha. Additive light is turned into coverage."},
                 {"on_black", "On black", "No alpha: the effect over black, for additive materials."}})
                .in("File")
                .affects(Affects::Bake)
                .tip("How transparency is stored."),
            choice("format", "Format",
                   {{"png8", "PNG, 8 bit", "Small; for most games. Values are sRGB."},
                    {"png16", "PNG, 16 bit", "Finer steps; values are sRGB."},
                    {"exr", "OpenEXR, half", "Linear light, brightness over 1 is kept."}})
                .in("File")
                .affects(Affects::Bake)
                .tip("The picture file that is written."),
            choice("finish", "Finish",
                   {{"camera", "As the camera", "Exposure, glow and motion blur as the camera has them."},
                    {"own", "Its own", "Set here, for this bake alone."}})
                .in("Finish")
                .affects(Affects::Bake)
                .tip("What is done to the picture at the end."),
        };
        for (ParamSpec& spec : finishParams(Affects::Bake)) params.push_back(spec.when("finish", {"own"}));
        return params;
      }());
  return kind;
}

}  // namespace comet
