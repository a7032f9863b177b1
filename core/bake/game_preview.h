// A flipbook as a game would show it: many sprites that play the sheet over their lives, each a variant that
// is picked at random.
//
// What is shown at a time depends on the time alone, so that it can be stopped, stepped and drawn again.
#pragma once

#include "bake/bake_sheet.h"
#include "base/random.h"

#include <memory>

namespace comet {

enum class Ground { Checker, Black, White, Grey, Busy };

// Linear light, without holes.
Picture groundPicture(Ground ground, int width, int height);

// How cells follow each other.
enum class CellBlend { None, Mixed, AlongMotion };

struct GameSprites {
  double birthRate = 8;        // a second
  double lifetime = 1;         // seconds, in which all cells are played once
  double lifeVariation = 0.2;  // fraction of it
  double size = 0.45;          // of the picture's height, across a cell
  double sizeVariation = 0.3;  // fraction of it
  double rotation = 0;         // degrees, at random either way
  double sizeAtBirth = 1;      // fraction of what it grows to until its death
  double spread = 0.15;        // of the picture's height, around the emitter
  double rise = 0.12;          // speed upwards at birth, of the picture's height, a second
  double cone = 10;            // degrees to either side within which it goes
  double drag = 0;             // rate at which its speed fades, 1 / s
  double sway = 0;             // how far the emitter moves to either side, of the picture's height
  Vec3d tint{1.0};             // linear, multiplied with the colours
  double flicker = 0;          // how much of the light of the whole effect goes out, 0 to 1
  double groundLight = 0;      // the brightness of the light that the emitter throws on the ground
  CellBlend blend = CellBlend::Mixed;
};

class GamePreview {
 public:
  // Reads the sheet as it is stored: straight alpha is multiplied in again, what is on black is added.
  explicit GamePreview(std::shared_ptr<const Flipbook> book);

  // Over the ground, which gives the size, and is a floor below the picture's middle where light falls on it.
  Picture draw(const GameSprites& sprites, double seconds, const Picture& ground) const;
  // How often each pixel is drawn: red counts the sprites that cover it with their squares.
  Picture overdraw(const GameSprites& sprites, double seconds, int width, int height) const;
  // Whether any of its light covers nothing, as that of fire.
  bool shines() const { return shines_; }
  // One cell alone, as it is at a time of playing a variant: `seconds` at the sheet's own rate, round and
  // round.
  Picture cellAt(std::size_t variant, double seconds, CellBlend blend) const;

 private:
  // A sprite in the picture.
  struct Placed {
    Vec2d middle;
    double width, height;  // pixels
    double cosine, sine;
    std::size_t variant;
    double cell;  // which of its variant's it shows, with the fraction of the way to the next

    // Calls visit(x, u, v) for each pixel of a row that it covers; u and v go from 0 to 1 over a cell.
    template <typename Visit>
    void forRow(int y, int pictureWidth, const Visit& visit) const;
  };
  void lightGround(const GameSprites& sprites, double seconds, double light, Picture& picture) const;
  std::vector<Placed> placed(const GameSprites& sprites, double seconds, int width, int height) const;
  // The value at (u, v), 0 to 1 over a cell.
  Vec4 valueAt(std::size_t variant, double cell, double u, double v, CellBlend blend) const;
  // Of the sheet at a point of a cell, in pixels, with the light of a fire that was baked apart.
  Vec4 colorAt(std::size_t cell, double x, double y) const;
  Vec4 sheetAt(const Picture& sheet, std::size_t cell, double x, double y) const;

  const FlipbookLayout& layout() const { return book_->layout; }
  const Picture& sheet() const { return stored_.empty() ? book_->color : stored_; }

  std::shared_ptr<const Flipbook> book_;
  Vec3d hue_{1.0};           // the mean colour of what shines, at its brightest
  Picture stored_;           // premultiplied again; empty where the sheet is stored so
  const DataSheet* motion_;  // may be null
  bool shines_ = false;
};

}  // namespace comet
