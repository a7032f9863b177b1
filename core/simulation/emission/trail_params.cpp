#include "simulation/emission/emitter_params.h"

namespace comet {

std::vector<ParamSpec> trailParams() {
  const auto ofTrail = [](ParamSpec spec) {
    return std::move(spec.in("Trail").affects(Affects::Look).when("trail", {"ribbon", "thread", "tube"}));
  };
  // Of what lies flat in the picture.
  const auto ofBand = [](ParamSpec spec) {
    return std::move(spec.in("Trail").affects(Affects::Look).when("trail", {"ribbon", "thread"}));
  };
  Curve fadeOut({{0, 1, Interpolation::Linear}, {1, 0}});
  return {
      choice("trail", "Trail",
             {{"none", "None", "Particles leave nothing behind."},
              {"ribbon", "Ribbon", "A flat band that faces the camera."},
              {"thread", "Thread", "A round thread, whose edges are darker than its middle."},
              {"tube", "Tube", "A solid, round tube in the light of the scene."}})
          .in("Trail")
          .affects(Affects::Look)
          .tip("What is drawn along the path of a particle."),
      ofTrail(flag("trail_hide_sprites", "Hide sprites", false))
          .tip("Draws only the trails, not the particles."),
      ofTrail(choice("trail_connect", "Connect",
                     {{"path", "Each path", "One trail behind each particle."},
                      {"birth_point", "Each birth point",
                       "A line through the particles of each birth point, from the youngest to the oldest; "
                       "without birth points, one through all."},
                      {"all", "All particles",
                       "One line through all particles, from the youngest to the oldest."}}))
          .tip("Which particles share a trail."),
      ofTrail(choice("trail_length_mode", "Length mode",
                     {{"time", "Time", "By the time that its particle took."},
                      {"distance", "Distance", "By the distance along the trail."}}))
          .when("trail_connect", {"path"})
          .tip("How the length of a trail is given."),
      ofTrail(number("trail_time", "Trail time", 0.5))
          .unit("s")
          .range(0, 20)
          .usual(0, 2)
          .keyed()
          .varied()
          .when("trail_connect", {"path"})
          .when("trail_length_mode", {"time"})
          .tip("A trail reaches back to where its particle was this long ago."),
      ofTrail(number("trail_length", "Trail length", 2))
          .unit("units")
          .range(0, 100000)
          .usual(0, 10)
          .keyed()
          .varied()
          .when("trail_connect", {"path"})
          .when("trail_length_mode", {"distance"})
          .tip("The length of a trail, measured along it."),
      ofTrail(choice("trail_at_death", "At death",
                     {{"dies", "Dies with particle", "The trail vanishes with its particle."},
                      {"lingers", "Lingers", "The trail stays where it lies and fades out."}}))
          .when("trail_connect", {"path"})
          .tip("What happens to the trail when its particle dies."),
      ofTrail(number("trail_fade_out", "Fade-out time", 0.5))
          .unit("s")
          .range(0, 10)
          .usual(0, 2)
          .when("trail_connect", {"path"})
          .when("trail_at_death", {"lingers"})
          .tip("How long a trail takes to fade out after its particle has died."),
      ofTrail(number("trail_width", "Trail width", 0.08))
          .unit("units")
          .range(0, 10000)
          .usual(0, 1)
          .keyed()
          .varied()
          .overAge(Curve::constant(1))
          .tip("The width of a trail where it is widest; its curve is over the life of the particle."),
      ofTrail(curve("trail_width_along", "Width along", fadeOut))
          .tip("The width along the trail, from the particle on the left to the tail on the right."),
      ofBand(number("trail_softness", "Softness", 20))
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .tip("How much of the width fades out to the sides."),
      ofTrail(number("trail_smoothness", "Smoothness", 0))
          .unit("s")
          .range(0, 2)
          .usual(0, 0.5)
          .when("trail_connect", {"path"})
          .tip("Smooths bends that are shorter than this time; 0 follows the path exactly."),
      ofTrail(number("trail_point_spacing", "Point spacing", 0))
          .unit("units")
          .range(0, 1000)
          .usual(0, 0.5)
          .when("trail_connect", {"birth_point", "all"})
          .tip("Resamples the line: points at this distance along it take the place of the particles; 0 "
               "leads it through each particle."),
      ofTrail(integer("trail_smoothing", "Smoothing", 0))
          .range(0, 100)
          .usual(0, 20)
          .when("trail_connect", {"birth_point", "all"})
          .tip("How many times the line is smoothed: each time, its points move towards the middle between "
               "their neighbours."),
      ofTrail(
          choice("trail_color_source", "Trail colour source",
                 {{"particle", "Particle now", "The colour that the particle has now."},
                  {"path", "Particle then", "The colour that the particle had at that point of its path."},
                  {"own", "Own", "A gradient along the trail."}}))
          .tip("Where the trail's colour comes from."),
      ofTrail(gradient("trail_color", "Colour along", Gradient(Vec3d(1.0))))
          .when("trail_color_source", {"own"})
          .tip("The colour along the trail, from the particle on the left to the tail on the right."),
      ofBand(file("trail_picture", "Trail picture", FileKind::Picture))
          .tip("A picture along the trail, its left edge at the particle. Its colours multiply the trail's."),
      ofBand(number("trail_picture_length", "Picture length", 0))
          .unit("units")
          .range(0, 100000)
          .usual(0, 5)
          .tip("The length of trail that the picture covers before it repeats; 0 stretches it over the whole "
               "trail."),
      ofBand(number("trail_opacity", "Trail opacity", 100))
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .tip("The opacity of the whole trail; unless the trail has its own colour, it multiplies the "
               "particle's."),
      ofBand(curve("trail_opacity_along", "Opacity along", fadeOut))
          .tip("The opacity along the trail, from the particle on the left to the tail on the right."),
  };
}

}  // namespace comet
