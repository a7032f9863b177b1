#include "simulation/deflectors/deflector_params.h"

#include <iterator>

namespace comet {
namespace {

std::vector<ParamSpec> shapeParams() {
  return {

      choice("shape", "Shape",
             {{"plane", "Plane", "Without end; what is below it is solid."},
              {"rectangle", "Rectangle", "A flat piece, hit from both sides."},
              {"disc", "Disc", "A flat round piece, hit from both sides."},
              {"box", "Box", "Along its own axes."},
              {"sphere", "Sphere", "A ball."},
              {"cylinder", "Cylinder", "Upright, with flat ends."},
              {"capsule", "Capsule", "Upright, with round ends."},
              {"mesh", "Mesh", "From a file: a closed one is solid, an open one is hit from both sides."},
              {"relief", "Relief", "A picture lying flat, as high as it is bright; hit from both sides."},
              {"cut_out", "Cut-out", "What is opaque in a picture, standing upright, as a solid wall."}})
          .in("Shape")
          .tip("What particles meet."),
      file("mesh", "Mesh", FileKind::Mesh)
          .in("Shape")
          .when("shape", {"mesh"})
          .tip("The mesh that particles meet."),
      number("mesh_scale", "Scale", 1)
          .in("Shape")
          .range(0.0001, 10000)
          .usual(0.1, 10)
          .when("shape", {"mesh"})
          .tip("How many times its own size the mesh has."),
      file("picture", "Picture", FileKind::Picture)
          .in("Shape")
          .when("shape", {"relief", "cut_out"})
          .tip("The picture that the shape is made from. A name with # for each digit stands for a "
               "sequence."),
      number("picture_width", "Width", 4)
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.5, 20)
          .when("shape", {"relief", "cut_out"})
          .tip("How wide the picture is in the scene; its height follows."),
      number("relief_height", "Height", 1)
          .in("Shape")
          .unit("units")
          .range(0, 1e6)
          .usual(0, 5)
          .when("shape", {"relief"})
          .tip("How high white lies over black."),
      number("thickness", "Thickness", 0.5)
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.05, 5)
          .when("shape", {"cut_out"})
          .tip("How thick the wall is, half of it on either side of the picture."),
      number("opaque_from", "Opaque from", 50)
          .in("Shape")
          .unit("%")
          .range(0, 100)
          .usual(1, 99)
          .when("shape", {"cut_out"})
          .tip("What is less opaque than this is left out."),
      integer("picture_cells", "Fineness", 64)
          .in("Shape")
          .range(4, 256)
          .usual(16, 128)
          .when("shape", {"relief", "cut_out"})
          .tip("How closely the shape follows the picture: pieces along its longer side."),
      choice("met_by", "Met by",
             {{"fitting", "What fits",
               "A distance field for a closed mesh that particles meet with their own "
               "size; rays for all others."},
              {"rays", "Rays", "Exact, along each particle's way; for anything."},
              {"field", "A distance field",
               "Distances on a grid: rounder edges, quick where many particles "
               "lie on the mesh. For closed meshes."}})
          .in("Shape")
          .when("shape", {"mesh", "cut_out"})
          .tip("How it is found out where particles meet the mesh."),
      integer("field_cells", "Cells", 96)
          .in("Shape")
          .range(8, 512)
          .usual(32, 256)
          .when("shape", {"mesh", "cut_out"})
          .when("met_by", {"fitting", "field"})
          .tip("How finely a distance field is stored: cells along the mesh's longest side. Twice as "
               "many take "
               "eight times the memory."),
      flag("inside_out", "Inside out", false)
          .keyed()
          .in("Shape")
          .when("shape", {"box", "sphere", "cylinder", "capsule", "mesh", "cut_out"})
          .tip("Hollow: it holds in what is within it, and puts back in what is outside. A mesh has to be "
               "closed for this."),
      vector("size", "Size", {4, 1, 4})
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 20)
          .keyed()
          .when("shape", {"box", "rectangle"})
          .tip("The lengths of its edges; a rectangle has no height."),
      number("radius", "Radius", 1)
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 10)
          .keyed()
          .when("shape", {"disc", "sphere", "cylinder", "capsule"})
          .tip("From its middle, or its axis, to its surface."),
      number("height", "Height", 2)
          .in("Shape")
          .unit("units")
          .range(0.001, 1e6)
          .usual(0.1, 20)
          .keyed()
          .when("shape", {"cylinder", "capsule"})
          .tip("From bottom to top; of a capsule without its round ends."),
  };
}

std::vector<ParamSpec> placeParams() {
  return {
      vector("place", "Place", {0, 0, 0})
          .in("Place")
          .unit("units")
          .range(-1e6, 1e6)
          .usual(-20, 20)
          .keyed()
          .tip("Its middle, or a point on the plane. A deflector that moves hits what it sweeps over."),
      vector("turn", "Turn", {0, 0, 0})
          .in("Place")
          .unit("°")
          .range(-36000, 36000)
          .usual(-180, 180)
          .keyed()
          .tip("How it is turned, about x, then y, then z. Its surface takes particles along."),
  };
}

std::vector<ParamSpec> surfaceParams() {
  return {
      choice("on_hit", "On a hit",
             {{"bounce", "Bounce", "Particles are thrown back."},
              {"slide", "Slide", "Particles cling to the surface and move along it."},
              {"stick", "Stick", "Particles stay where they hit and are carried along."},
              {"end", "End", "Particles end."}})
          .in("Surface")
          .tip("What becomes of particles that meet it."),
      number("bounce", "Bounce", 50)
          .in("Surface")
          .unit("%")
          .range(0, 300)
          .usual(0, 100)
          .keyed()
          .varied()
          .when("on_hit", {"bounce"})
          .tip("How much of the speed against the surface is kept; over 100 it throws back harder. With "
               "±, "
               "each hit has its own."),
      number("friction", "Friction", 0.2)
          .in("Surface")
          .range(0, 100)
          .usual(0, 1)
          .keyed()
          .when("on_hit", {"bounce", "slide", "stick"})
          .tip("How much it holds back what moves along it: particles stay on a slope up to a rise of "
               "this to one. 0 is ice, 1 rubber. Where particles stick, it counts once they are let go."),
      number("roughness", "Roughness", 0)
          .in("Surface")
          .unit("°")
          .range(0, 90)
          .usual(0, 45)
          .keyed()
          .when("on_hit", {"bounce"})
          .tip("By how much a bounce may be turned aside."),
      number("stick_time", "Sticks for", 0)
          .in("Surface")
          .unit("s")
          .range(0, 100000)
          .usual(0, 5)
          .keyed()
          .varied()
          .when("on_hit", {"stick"})
          .tip("How long particles stick before they are let go; 0 for as long as they live."),
      number("let_go_speed", "Lets go at", 0)
          .in("Surface")
          .unit("units/s")
          .range(0, 1e6)
          .usual(0, 10)
          .keyed()
          .when("on_hit", {"stick"})
          .tip("How fast particles leave the surface when their time is over. At 0 they lie there, free "
               "to "
               "fall or to slide."),
      number("hold", "Hold", 1000)
          .in("Surface")
          .unit("units/s²")
          .range(0, 1e6)
          .usual(0, 100)
          .keyed()
          .when("on_hit", {"stick"})
          .tip("Particles come off where influences, or the deflector's turning, pull them away from the "
               "surface more strongly than this."),
      number("pass", "Lets pass", 0)
          .in("Surface")
          .unit("%")
          .range(0, 100)
          .usual(0, 100)
          .tip("How many of the particles go through as if it were not there."),
      number("own_size", "Own size", 0)
          .in("Surface")
          .unit("%")
          .range(0, 200)
          .usual(0, 100)
          .tip("Where particles are stopped: at 0 by their middle, at 100 by their rim, as large as they "
               "are "
               "born."),
  };
}

// How it is drawn, which is no concern of the simulation.
std::vector<ParamSpec> drawnParams() {
  return {
      choice("in_view", "In the viewport",
             {{"wire", "As lines", "Its edges."},
              {"shaded", "Shaded", "Its surface, under the scene's light; it hides what lies behind it."},
              {"hidden", "Hidden", "Its edges only while it is selected."}})
          .in("Drawn")
          .affects(Affects::View)
          .tip("How it is shown in the viewport."),
      choice("in_picture", "In pictures",
             {{"nothing", "Not at all", "Particles behind it are seen through it."},
              {"hides", "Hides", "Leaves a hole: what lies behind it is cut out of the picture."},
              {"visible", "Visible", "Its surface, under the scene's light; it hides what lies behind it."}})
          .in("Drawn")
          .affects(Affects::Look)
          .tip("What bakes and pictures, and the viewport with them, show of it."),
      color("surface_color", "Colour", {0.16, 0.19, 0.2})
          .in("Drawn")
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
