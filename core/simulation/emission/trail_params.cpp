#include "simulation/emission/emitter_params.h"

namespace comet {

std::vector<ParamSpec> trailParams() {
  const auto ofTrail = [](ParamSpec spec) {
    return std::move(spec.in("Trail").affects(Affects::Look).when("trail", {"ribbon", "thread"}));
  };
  Curve fadeOut({{0, 1, Interpolation::Linear}, {1, 0}});
  return {
      choice("trail", "Trail",
             {{"none", "None", "Particles leave nothing behind."},
              {"ribbon", "Ribbon", "A flat band that faces the camera."},
              {"thread", "Thread", "Round, so that its edges are darker than its middle."}})
          .in("Trail")
          .affects(Affects::Look)
          .tip("What is drawn along the way that a particle has come."),
      ofTrail(flag("trail_alone", "Without sprites", false))
          .tip("Only the trails are drawn, not the particles."),
      ofTrail(choice("trail_joins", "Runs",
                     {{"ways", "Along each way", "One trail behind each particle."},
                      {"births", "Through all",
                       "One line through all particles, from the youngest to the "
                       "oldest."}}))
          .tip("Whether each particle has a trail of its own."),
      ofTrail(choice("trail_measure", "Length by",
                     {{"time", "Time", "As far as it came in a number of seconds."},
                      {"distance", "Distance", "A number of units."}}))
          .when("trail_joins", {"ways"})
          .tip("What a trail's length is measured in."),
      ofTrail(number("trail_time", "Length", 0.5))
          .unit("s")
          .range(0, 20)
          .usual(0, 2)
          .keyed()
          .varied()
          .when("trail_joins", {"ways"})
          .when("trail_measure", {"time"})
          .tip("A trail reaches back to where its particle was so long ago."),
      ofTrail(number("trail_length", "Length", 2))
          .unit("units")
          .range(0, 100000)
          .usual(0, 10)
          .keyed()
          .varied()
          .when("trail_joins", {"ways"})
          .when("trail_measure", {"distance"})
          .tip("How long a trail is, measured along it."),
      ofTrail(choice("trail_ends", "At death",
                     {{"goes", "Goes", "The trail is gone with its particle."},
                      {"stays", "Stays and fades", "The trail fades where it lies."}}))
          .when("trail_joins", {"ways"})
          .tip("What becomes of the trail when its particle dies."),
      ofTrail(number("trail_fade", "Fades in", 0.5))
          .unit("s")
          .range(0, 10)
          .usual(0, 2)
          .when("trail_joins", {"ways"})
          .when("trail_ends", {"stays"})
          .tip("How long a trail can still be seen after the death of its particle."),
      ofTrail(number("trail_width", "Trail width", 0.08))
          .unit("units")
          .range(0, 10000)
          .usual(0, 1)
          .keyed()
          .varied()
          .overAge(Curve::constant(1))
          .tip("How wide a trail is where it is widest; its course is over the life of the particle."),
      ofTrail(curve("trail_taper", "Width along", fadeOut))
          .tip("The width along the trail, from the particle on the left to its end on the right."),
      ofTrail(number("trail_softness", "Softness", 20))
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .tip("How much of the width fades out to the sides."),
      ofTrail(number("trail_smoothness", "Smoothness", 0))
          .unit("s")
          .range(0, 2)
          .usual(0, 0.5)
          .tip("Bends are smoothed that are shorter than this time; 0 follows the way exactly."),
      ofTrail(choice("trail_color_from", "Trail colour",
                     {{"particle", "The particle's", "As its particle is now."},
                      {"way", "As it was there", "As its particle was when it was there."},
                      {"own", "Its own", "A gradient along the trail."}}))
          .tip("Where a trail has its colour from."),
      ofTrail(gradient("trail_color", "Colour along", Gradient(Vec3d(1.0))))
          .when("trail_color_from", {"own"})
          .tip("The colour along the trail, from the particle on the left to its end on the right."),
      ofTrail(file("trail_picture", "Trail picture", FileKind::Picture))
          .tip("A picture that lies along the trail, its left edge at the particle; its colours multiply the "
               "trail's."),
      ofTrail(number("trail_picture_length", "Picture length", 0))
          .unit("units")
          .range(0, 100000)
          .usual(0, 5)
          .tip("How long the picture is along the trail, over which it repeats; 0 stretches it over the "
               "whole."),
      ofTrail(number("trail_opacity", "Trail opacity", 100))
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("Of the whole trail; where its colour is not its own, this is a share of the particle's."),
      ofTrail(curve("trail_fades_along", "Opacity along", fadeOut))
          .tip("The opacity along the trail, from the particle on the left to its end on the right."),
  };
}

}  // namespace comet
