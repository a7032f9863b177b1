#include "simulation/emission/emitter_params.h"

namespace comet {

std::vector<ParamSpec> surfaceParams() {
  const auto ofSurface = [](ParamSpec spec) {
    return std::move(spec.in("Surface").affects(Affects::Look).when("surface", {"particles", "trails"}));
  };
  return {
      choice("surface", "Surface",
             {{"none", "None", "Sprites, trails and links as they are."},
              {"particles", "Of particles", "A closed surface around the particles, by their sizes."},
              {"trails", "Of trails", "A closed surface around the trails, by their widths."}})
          .in("Surface")
          .affects(Affects::Look)
          .tip(
              "Draws the emitter as one lit surface: for water, slime, roots. It can be exported as a mesh."),
      ofSurface(flag("surface_alone", "Alone", true)).tip("Without sprites, trails and links."),
      ofSurface(number("surface_thickness", "Thickness", 100))
          .unit("%")
          .range(1, 10000)
          .usual(10, 400)
          .keyed()
          .tip("How thick it is, of the particles' sizes or the trails' widths."),
      ofSurface(number("surface_voxel", "Voxel size", 0.05))
          .unit("units")
          .range(0.0001, 1000)
          .usual(0.01, 0.5)
          .tip("How fine the surface is. Half as large takes eight times the memory; what is thinner than "
               "this is made as thick, and never falls apart."),
      ofSurface(integer("surface_smoothing", "Smoothing", 1))
          .range(0, 20)
          .usual(0, 8)
          .tip("How often it is rounded off by about a voxel; parts of a few voxels get thinner."),
      ofSurface(color("surface_color", "Surface colour", {0.35, 0.5, 0.55}))
          .keyed()
          .tip("Its colour under the scene's light."),
  };
}

}  // namespace comet
