#include "simulation/cards/card_grid.h"
#include "simulation/emission/emitter_params.h"

namespace comet {
namespace {

ParamSpec ofCard(ParamSpec spec) { return std::move(spec.in("Card").when("sprite", {"card"})); }

ParamSpec cells(const char* id, const char* label) {
  return ofCard(integer(id, label, 4))
      .range(CardGrid::kMinCells, CardGrid::kMaxCells)
      .usual(CardGrid::kMinCells, CardGrid::kMaxCells);
}

ParamSpec resistance(const char* id, const char* label) {
  return ofCard(number(id, label, 100)).unit("%").range(0, 100).usual(0, 100).keyed();
}

}  // namespace

std::vector<ParamSpec> cardParams() {
  return {
      cells("card_cells_across", "Cells across")
          .tip("How many cells a card has from side to side. It bends between them."),
      cells("card_cells_along", "Cells along")
          .tip("How many cells a card has along its length. It bends between them; with twice as many it "
               "takes "
               "twice as long."),
      ofCard(number("card_mass", "Mass by area", 80))
          .unit("g/unit²")
          .range(0.01, 1e6)
          .usual(10, 500)
          .keyed()
          .tip("What a card weighs against the air and its own stiffness: writing paper weighs 80 where a "
               "unit "
               "is a metre, thin cardboard 300. Forces push it by its mass at birth, as all particles."),
      ofCard(number("card_bending_stiffness", "Bending stiffness", 100))
          .unit("%")
          .range(0, 1e7)
          .usual(0, 400)
          .keyed()
          .tip("How firmly a card resists bending: 100 is writing paper where a unit is a metre, 5 a cloth, "
               "and thousands are cardboard. Large cards of the same stiffness bend more."),
      resistance("card_stretch_stiffness", "Stretch stiffness")
          .tip("How firmly a card keeps its length and width: 100 does not give way, as paper; at 0 nothing "
               "holds its points together."),
      resistance("card_shear_stiffness", "Shear stiffness")
          .tip("How firmly the cells of a card stay rectangles: 100 does not give way, as paper; less drapes "
               "as cloth does."),
      ofCard(number("card_curl", "Curl", 0))
          .unit("°")
          .range(-1080, 1080)
          .usual(-180, 180)
          .keyed()
          .varied()
          .tip(
              "How far a card is bent along its length when nothing bends it: 0 is flat, 180 half a tube. It "
              "is born so."),
      ofCard(number("card_thickness", "Thickness", 0.002))
          .unit("units")
          .range(0, 1000)
          .usual(0, 0.02)
          .keyed()
          .tip("Half of it is kept between a card and a deflector whose own size is 100 %."),
      ofCard(number("card_air_resistance", "Air resistance", 100))
          .unit("%")
          .range(0, 1e5)
          .usual(0, 200)
          .keyed()
          .tip("How firmly air acts on the faces of a card, by which it flutters, glides and is carried by "
               "wind: 100 is air where a unit is a metre."),
      ofCard(integer("card_steps", "Steps", 16))
          .range(1, 200)
          .usual(4, 40)
          .tip("How many steps a substep is divided into. More make small cells stretch less, and take as "
               "much "
               "longer."),
      ofCard(choice("card_back", "Back",
                    {{"same", "Same", "Both sides have the same colour."},
                     {"own", "Own colour", "The back has a colour of its own."}}))
          .affects(Affects::Look)
          .tip("What the back of a card looks like."),
      ofCard(gradient("card_back_color", "Back colour", Gradient(Vec3d(0.8, 0.75, 0.65))))
          .follows()
          .affects(Affects::Look)
          .when("card_back", {"own"})
          .tip("The colour of the back over life, from birth on the left to death on the right; or over "
               "speed; "
               "or chosen at random."),
      ofCard(file("card_back_picture", "Back picture", FileKind::Picture))
          .affects(Affects::Look)
          .tip("A picture for the back. Without one, the back shows the picture of the front in mirror "
               "image."),
  };
}

}  // namespace comet
