#include "simulation/deflectors/deflector_params.h"

#include <iterator>

namespace comet {
namespace {

std::vector<ParamSpec> shapeParams() {
  return {

      choice("shape", "Shape",
             {{"plane", "Plane", "Endless; everything below it is solid."},
              {"rectangle", "Rectangle", "Flat, hit from both sides."},
              {"disc", "Disc", "Flat and round, hit from both sides."},
              {"box", "Box", "A box along its own axes."},
              {"sphere", "Sphere", "A sphere."},
              {"cylinder", "Cylinder", "Upright, with flat ends."},
              {"capsule", "Capsule", "Upright, with round ends."},
              {"mesh", "Mesh", "From a file: a closed mesh is solid, an open one is hit from both sides."},
              {"heightmap", "Heightmap",
               "A picture that lies flat, as high as it is bright; hit from both sides."},
              {"cut_out", "Cut-out", "The opaque part of a picture, standing upright as a solid wall."}})
          .in("Shape")
          .tip("The shape that particles collide with."),
      file("mesh", "Mesh", FileKind::Mesh)
          .in("Shape")
          .when("shape", {"mesh"})
          .tip("The mesh that particles collide with."),
      number("mesh_scale", "Scale", 1)
          .in("Shape")
          .range(0.0001, 10000)
          .usual(0.1, 10)
          .when("shape", {"mesh"})
          .tip("How many times its own size the mesh has."),
      file("picture", "Picture", FileKind::Picture)
          .in("Shape")
          .when("shape", {"heightmap", "cut_out"})
          .tip("The picture that the shape is made from; # stands for each digit of a sequence."),
      number("picture_width", "Width", 4)
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.5, 20)
          .when("shape", {"heightmap", "cut_out"})
          .tip("The width of the picture in the scene; its height follows."),
      number("heightmap_height", "Height of white", 1)
          .in("Shape")
          .unit("units")
          .range(0, 1e6)
          .usual(0, 5)
          .when("shape", {"heightmap"})
          .tip("The height of white above black."),
      number("thickness", "Thickness", 0.5)
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.05, 5)
          .when("shape", {"cut_out"})
          .tip("The thickness of the wall, half of it on either side of the picture."),
      number("opacity_threshold", "Opacity threshold", 50)
          .in("Shape")
          .unit("%")
          .range(0, 100)
          .usual(1, 99)
          .when("shape", {"cut_out"})
          .tip("Parts of the picture less opaque than this are left out."),
      integer("picture_resolution", "Picture resolution", 64)
          .in("Shape")
          .range(4, 256)
          .usual(16, 128)
          .when("shape", {"heightmap", "cut_out"})
          .tip("The number of pieces along the picture's longer side: how closely the shape follows it."),
      choice("collision_test", "Collision test",
             {{"automatic", "Automatic",
               "A signed distance field for a closed mesh that particles hit with their radius, rays for all "
               "others."},
              {"rays", "Rays", "Exact, along each particle's path; for any mesh."},
              {"distance_field", "Signed distance field",
               "Distances on a grid: rounder edges, and quick where many particles lie on the mesh. For "
               "closed meshes."}})
          .in("Shape")
          .when("shape", {"mesh", "cut_out"})
          .tip("How collisions with the mesh are found."),
      integer("field_resolution", "Field resolution", 96)
          .in("Shape")
          .range(8, 512)
          .usual(32, 256)
          .when("shape", {"mesh", "cut_out"})
          .when("collision_test", {"automatic", "distance_field"})
          .tip("The cells of the distance field along the mesh's longest side. Twice as many take eight "
               "times the memory."),
      flag("inside_out", "Inside out", false)
          .keyed()
          .in("Shape")
          .when("shape", {"box", "sphere", "cylinder", "capsule", "mesh", "cut_out"})
          .tip("Makes the shape hollow: it holds particles inside, and brings back those outside. A mesh has "
               "to be closed for this."),
      vector("size", "Size", {4, 1, 4})
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 20)
          .keyed()
          .when("shape", {"box", "rectangle"})
          .tip("The full lengths of the shape; a rectangle has no height."),
      number("radius", "Radius", 1)
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 10)
          .keyed()
          .when("shape", {"disc", "sphere", "cylinder", "capsule"})
          .tip("The distance from its centre, or its axis, to its surface."),
      number("height", "Height", 2)
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 20)
          .keyed()
          .when("shape", {"cylinder", "capsule"})
          .tip("The height from bottom to top; of a capsule without its round ends."),
  };
}

std::vector<ParamSpec> placeParams() {
  return {
      vector("position", "Position", {0, 0, 0})
          .in("Position")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-20, 20)
          .keyed()
          .tip("The position of the shape, or of a point on the plane. A moving deflector hits what it "
               "sweeps over."),
      vector("rotation", "Rotation", {0, 0, 0})
          .in("Position")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .tip("Rotates the shape about x, then y, then z. Its surface carries particles along."),
  };
}

std::vector<ParamSpec> surfaceParams() {
  return {
      choice("on_hit", "On a hit",
             {{"bounce", "Bounce", "They bounce off."},
              {"slide", "Slide", "They slide along the surface."},
              {"stick", "Stick", "They stay where they hit and are carried along."},
              {"die", "Die", "They die."}})
          .in("Surface")
          .tip("What happens to particles that hit it."),
      number("bounce", "Bounce", 50)
          .in("Surface")
          .unit("%")
          .range(0, 300)
          .usual(0, 100)
          .keyed()
          .varied()
          .when("on_hit", {"bounce"})
          .tip("How much of the speed against the surface is kept; more than 100 throws particles back "
               "harder. With ±, each hit has its own."),
      number("friction", "Friction", 0.2)
          .in("Surface")
          .range(0, 100)
          .usual(0, 1)
          .keyed()
          .when("on_hit", {"bounce", "slide", "stick"})
          .tip("The friction coefficient: particles rest on slopes up to a rise of this to one. 0 is ice, 1 "
               "is rubber. Sticking particles feel it once they are released."),
      flag("rolling", "Rolling", false)
          .in("Surface")
          .when("on_hit", {"bounce", "slide"})
          .tip("Friction turns particles, so that they roll over it as balls; meshes are seen to turn. Where "
               "this is off, they slide."),
      number("rolling_friction", "Rolling friction", 0.02)
          .in("Surface")
          .range(0, 100)
          .usual(0, 0.2)
          .keyed()
          .when("rolling", {"true"})
          .tip("The coefficient of rolling friction: balls come to rest on slopes up to a rise of this to "
               "one. At 0 they roll on for ever."),
      number("roughness", "Roughness", 0)
          .in("Surface")
          .unit("°")
          .range(0, 90)
          .usual(0, 45)
          .keyed()
          .when("on_hit", {"bounce"})
          .tip("The largest angle by which a bounce is turned aside at random."),
      number("stick_time", "Stick time", 0)
          .in("Surface")
          .unit("s")
          .range(0, 100000)
          .usual(0, 5)
          .keyed()
          .varied()
          .when("on_hit", {"stick"})
          .tip("How long particles stick before they are released; 0 is for as long as they live."),
      number("release_speed", "Release speed", 0)
          .in("Surface")
          .unit("units/s")
          .range(0, 1e6)
          .usual(0, 10)
          .keyed()
          .when("on_hit", {"stick"})
          .tip("The speed at which particles leave the surface when they are released. At 0 they lie there, "
               "free to fall or to slide."),
      number("stick_strength", "Stick strength", 1000)
          .in("Surface")
          .unit("units/s²")
          .range(0, 1e6)
          .usual(0, 100)
          .keyed()
          .when("on_hit", {"stick"})
          .tip("Particles come off where influences, or the deflector's motion, pull them away more strongly "
               "than this."),
      number("pass_through", "Pass-through", 0)
          .in("Surface")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .tip("The percentage of particles that go through as if it were not there."),
      number("particle_radius", "Particle radius", 0)
          .in("Surface")
          .unit("%")
          .range(0, 200)
          .usual(0, 100)
          .tip("Where particles are stopped: at 0 by their centre, at 100 by their rim, as large as they are "
               "born."),
  };
}

// How it is drawn, which is no concern of the simulation.
std::vector<ParamSpec> drawnParams() {
  return {
      choice("viewport_display", "In viewport",
             {{"wire", "Wireframe", "The viewport shows its edges."},
              {"shaded", "Shaded",
               "The viewport shows its surface under the scene's light; it hides what lies behind it."},
              {"hidden", "Hidden", "The viewport shows its edges only while it is selected."}})
          .in("Display")
          .affects(Affects::View)
          .tip("How the viewport shows it."),
      choice("render_display", "In renders",
             {{"hidden", "Hidden", "Particles behind it are seen through it."},
              {"holdout", "Holdout", "It leaves a hole: what lies behind it is cut out of the picture."},
              {"visible", "Visible",
               "It shows its surface under the scene's light and hides what lies behind it."}})
          .in("Display")
          .affects(Affects::Look)
          .tip("How bakes and pictures, and the viewport with them, show it."),
      color("surface_color", "Colour", {0.16, 0.19, 0.2})
          .in("Display")
          .keyed()
          .affects(Affects::Look)
          .tip("The colour of its surface where that is shown."),
  };
}

}  // namespace

std::vector<ParamSpec> deflectorParams() {
  std::vector<ParamSpec> params;
  for (std::vector<ParamSpec>& part :
       std::vector<std::vector<ParamSpec>>{shapeParams(), placeParams(), surfaceParams(), drawnParams()})
    params.insert(params.end(), std::make_move_iterator(part.begin()), std::make_move_iterator(part.end()));
  return params;
}

}  // namespace comet
