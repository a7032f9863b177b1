#include "simulation/emission/emitter_kind.h"

namespace comet {
namespace {

Curve curve(std::vector<CurvePoint> points) { return Curve(std::move(points)); }

std::vector<ParamSpec> birthParams() {
  return {
      choice("shape", "Shape",
             {{"point", "Point", "All births in one place."},
              {"line", "Line", "Births along a line."},
              {"ring", "Ring", "Births on a circle."},
              {"disc", "Disc", "Births all over a flat disc."},
              {"rectangle", "Rectangle", "Births all over a flat rectangle."},
              {"box", "Box", "Births in a box or on its faces."},
              {"sphere", "Sphere", "Births in a ball or on its surface."}})
          .in("Birth")
          .tip("Where particles are born."),
      choice("births_on", "Births",
             {{"inside", "Inside", "Births all through the shape."},
              {"surface", "Surface", "Births on the outside of the shape only."}})
          .in("Birth")
          .when("shape", {"box", "sphere"})
          .tip("Whether births fill the shape or lie on its surface."),
      vector("extent", "Extent", {1, 1, 1})
          .in("Birth")
          .unit("units")
          .range(0, 100000)
          .usual(0, 10)
          .keyed()
          .when("shape", {"line", "rectangle", "box"})
          .tip("Full lengths of the shape: a line uses x, a rectangle x and z."),
      number("radius", "Radius", 0.5)
          .in("Birth")
          .unit("units")
          .range(0, 100000)
          .usual(0, 5)
          .keyed()
          .when("shape", {"ring", "disc", "sphere"})
          .tip("Distance from the centre to the rim."),
      vector("place", "Place", {0, 0, 0})
          .in("Birth")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-10, 10)
          .keyed()
          .tip("Where the shape is. When keyed, births lie along its path, also between frames."),
      vector("turn", "Turn", {0, 0, 0})
          .in("Birth")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .tip("How the shape and its launch direction are turned about x, y and z."),
      number("rate", "Rate", 120)
          .in("Birth")
          .unit("/s")
          .range(0, 5e6)
          .usual(0, 1000)
          .keyed()
          .varied()
          .tip("Particles born each second, evenly in time. The variation changes it from frame to frame."),
      bursts("bursts", "Bursts").in("Birth").tip("Many births at one moment, once or repeated."),
      integer("seed", "Seed", 1)
          .in("Birth")
          .range(0, 1e9)
          .usual(0, 100)
          .tip("Another number gives other random choices for this emitter alone."),
  };
}

std::vector<ParamSpec> launchParams() {
  return {
      vector("direction", "Direction", {0, 1, 0})
          .in("Launch")
          .range(-1000, 1000)
          .usual(-1, 1)
          .keyed()
          .tip("Where particles are thrown to; only the direction counts. It turns with the shape."),
      number("cone", "Cone", 20)
          .in("Launch")
          .unit("°")
          .range(0, 180)
          .usual(0, 180)
          .keyed()
          .tip("How far a launch may point away from the direction; 180 throws to all sides."),
      number("speed", "Speed", 3)
          .in("Launch")
          .unit("units/s")
          .range(-100000, 100000)
          .usual(0, 20)
          .keyed()
          .varied()
          .tip("How fast particles are thrown."),
      number("lifetime", "Lifetime", 2)
          .in("Life")
          .unit("s")
          .range(0.001, 100000)
          .usual(0.1, 10)
          .keyed()
          .varied()
          .tip("How long a particle lives."),
  };
}

std::vector<ParamSpec> lookParams() {
  const Curve full = Curve::constant(1);
  const Curve fadeOut = curve({{0, 1, Interpolation::Smooth}, {1, 0, Interpolation::Smooth}});
  return {
      choice("sprite", "Sprite",
             {{"soft_disc", "Soft disc", "Fades from the middle to the rim."},
              {"dot", "Dot", "A disc with a sharp rim."},
              {"ring", "Ring", "A sharp ring."}})
          .in("Look")
          .affects(Affects::Look)
          .tip("What is drawn for each particle."),
      number("hardness", "Hardness", 0)
          .in("Look")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .affects(Affects::Look)
          .when("sprite", {"soft_disc"})
          .tip("How much of the disc is full before it fades."),
      number("ring_width", "Ring width", 25)
          .in("Look")
          .unit("%")
          .range(1, 100)
          .usual(1, 100)
          .affects(Affects::Look)
          .when("sprite", {"ring"})
          .tip("Width of the ring as a share of its radius."),
      number("size", "Size", 0.2)
          .in("Look")
          .unit("units")
          .range(0, 10000)
          .usual(0.01, 2)
          .keyed()
          .varied()
          .overAge(full)
          .affects(Affects::Look)
          .tip("Diameter of a sprite."),
      number("opacity", "Opacity", 100)
          .in("Look")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .keyed()
          .varied()
          .overAge(fadeOut)
          .affects(Affects::Look)
          .tip("How much of what lies behind a sprite it covers."),
      gradient("color", "Colour", Gradient(Vec3d(1.0)))
          .in("Look")
          .affects(Affects::Look)
          .tip("Colour over life, from birth on the left to death on the right."),
      number("brightness", "Brightness", 1)
          .in("Look")
          .unit("×")
          .range(0, 1000)
          .usual(0, 10)
          .keyed()
          .affects(Affects::Look)
          .tip("Multiplies the colour; over 1, overlapping additive sprites turn white."),
      choice("blend", "Blend",
             {{"normal", "Normal", "Covers what lies behind: smoke, drops, leaves."},
              {"additive", "Additive", "Adds light to what lies behind: sparks, fire."}})
          .in("Look")
          .affects(Affects::Look)
          .tip("How sprites meet what lies behind them."),
  };
}

}  // namespace

const KindSpec& emitterKind() {
  static const KindSpec kind("emitter", "Emitter", ItemFamily::Emitter, "Gives birth to particles.", [] {
    std::vector<ParamSpec> params;
    for (auto&& part : {birthParams(), launchParams(), lookParams()})
      params.insert(params.end(), part.begin(), part.end());
    return params;
  }());
  return kind;
}

}  // namespace comet
