#include "simulation/emission/emitter_params.h"

namespace comet {

std::vector<ParamSpec> linkParams() {
  const auto ofLink = [](ParamSpec spec) {
    return std::move(spec.in("Links").affects(Affects::Look).when("links", {"near", "place"}));
  };
  return {
      choice("links", "Links",
             {{"none", "None", "Nothing is drawn between particles."},
              {"near", "Between near ones", "A line between particles that are near each other."},
              {"place", "To a place", "A line from each particle to where another item is."}})
          .in("Links")
          .affects(Affects::Look)
          .tip("Lines from particles to others."),
      reference("link_to", "To those of", RefersTo::Emitter)
          .in("Links")
          .affects(Affects::Look)
          .when("links", {"near"})
          .tip("The emitter whose particles are linked to; none for its own."),
      reference("link_place", "To", RefersTo::Placed)
          .in("Links")
          .affects(Affects::Look)
          .when("links", {"place"})
          .tip("The item at whose place the lines end."),
      ofLink(number("link_within", "Within", 1))
          .unit("units")
          .range(0.0001, 10000)
          .usual(0.1, 5)
          .keyed()
          .tip("Farther apart nothing is linked."),
      integer("link_most", "At most", 3)
          .in("Links")
          .affects(Affects::Look)
          .range(1, 32)
          .usual(1, 8)
          .when("links", {"near"})
          .tip("How many links a particle has at most: to the nearest."),
      ofLink(number("link_width", "Link width", 0.02))
          .unit("units")
          .range(0, 1000)
          .usual(0, 0.2)
          .keyed()
          .tip("How wide a link is."),
      ofLink(curve("link_width_by", "Width by distance", Curve::constant(1)))
          .tip("The width, from touching on the left to as far as links reach on the right."),
      ofLink(number("link_opacity", "Link opacity", 100))
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("Of all links; where the colour is that of the ends, this is a share of theirs."),
      ofLink(curve("link_opacity_by", "Opacity by distance", Curve({{0, 1, Interpolation::Linear}, {1, 0}})))
          .tip("The opacity, from touching on the left to as far as links reach on the right."),
      ofLink(choice("link_color_from", "Link colour",
                    {{"ends", "Of its ends", "From one particle's colour to the other's."},
                     {"own", "Its own", "The same for all links."}}))
          .tip("Where links have their colour from."),
      ofLink(color("link_color", "Own colour", {1, 1, 1}))
          .keyed()
          .when("link_color_from", {"own"})
          .tip("The colour of all links."),
  };
}

}  // namespace comet
