#include "simulation/emission/emitter_params.h"

namespace comet {

std::vector<ParamSpec> linkParams() {
  const auto ofLink = [](ParamSpec spec) {
    return std::move(spec.in("Links").affects(Affects::Look).when("links", {"near", "item"}));
  };
  return {
      choice("links", "Links",
             {{"none", "None", "Nothing is drawn between particles."},
              {"near", "Near particles", "A line joins particles that are near each other."},
              {"item", "To an item", "A line runs from each particle to another item of the scene."}})
          .in("Links")
          .affects(Affects::Look)
          .tip("Draws lines from particles to others."),
      reference("link_emitter", "Link to", RefersTo::Emitter)
          .in("Links")
          .affects(Affects::Look)
          .when("links", {"near"})
          .tip("The emitter whose particles are linked to; none links to the emitter's own."),
      reference("link_item", "Item", RefersTo::Placed)
          .in("Links")
          .affects(Affects::Look)
          .when("links", {"item"})
          .tip("The item at whose position the lines end."),
      ofLink(number("link_max_length", "Max length", 1))
          .unit("units")
          .range(0.0001, 10000)
          .usual(0.1, 5)
          .keyed()
          .tip("Particles farther apart than this are not linked."),
      integer("link_max_count", "Max links", 3)
          .in("Links")
          .affects(Affects::Look)
          .range(1, 32)
          .usual(1, 8)
          .when("links", {"near"})
          .tip("The largest number of links of one particle; the nearest are linked first."),
      ofLink(number("link_width", "Link width", 0.02))
          .unit("units")
          .range(0, 1000)
          .usual(0, 0.2)
          .keyed()
          .tip("The width of a link."),
      ofLink(curve("link_width_by_distance", "Width by distance", Curve::constant(1)))
          .tip("The width by distance, from touching on the left to the max length on the right."),
      ofLink(number("link_opacity", "Link opacity", 100))
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("The opacity of all links; unless they have their own colour, it multiplies that of the "
               "particles."),
      ofLink(curve("link_opacity_by_distance", "Opacity by distance",
                   Curve({{0, 1, Interpolation::Linear}, {1, 0}})))
          .tip("The opacity by distance, from touching on the left to the max length on the right."),
      ofLink(choice("link_color_source", "Link colour source",
                    {{"particles", "Particles", "It runs from one particle's colour to the other's."},
                     {"own", "Own", "All links have one colour."}}))
          .tip("Where the colour of links comes from."),
      ofLink(color("link_color", "Link colour", {1, 1, 1}))
          .keyed()
          .when("link_color_source", {"own"})
          .tip("The colour of all links."),
  };
}

}  // namespace comet
