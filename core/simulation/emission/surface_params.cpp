#include "simulation/emission/emitter_params.h"

namespace comet {

std::vector<ParamSpec> surfaceParams() {
  const auto ofSurface = [](ParamSpec spec) {
    return std::move(spec.in("Surface").affects(Affects::Look).when("surface", {"particles", "trails"}));
  };
  return {
      choice("surface", "Surface",
             {{"none", "None", "Sprites, trails and links are drawn as they are."},
              {"particles", "Particles", "A closed surface wraps the particles, by their sizes."},
              {"trails", "Trails", "A closed surface wraps the trails, by their widths."}})
          .in("Surface")
          .affects(Affects::Look)
          .tip("Draws the emitter as one lit surface: water, slime, roots. It can be exported as a mesh."),
      ofSurface(flag("surface_hide_sprites", "Hide sprites", true))
          .tip("Draws only the surface, without sprites, trails and links."),
      ofSurface(number("surface_thickness", "Thickness", 100))
          .unit("%")
          .range(1, 10000)
          .usual(10, 400)
          .keyed()
          .tip("The thickness of the surface, in percent of the particles' sizes or the trails' widths."),
      ofSurface(number("surface_voxel_size", "Voxel size", 0.05))
          .unit("units")
          .range(0.0001, 1000)
          .usual(0.01, 0.5)
          .tip("The resolution of the surface. Half the voxel size takes eight times the memory. Parts "
               "thinner than a voxel are made as thick as one and never fall apart."),
      ofSurface(integer("surface_smoothing", "Smoothing", 1))
          .range(0, 20)
          .usual(0, 8)
          .tip("How many times the surface is smoothed by about a voxel; parts of a few voxels get thinner."),
      ofSurface(color("surface_color", "Surface colour", {0.35, 0.5, 0.55}))
          .keyed()
          .tip("The colour of the surface under the scene's light."),
  };
}

}  // namespace comet
