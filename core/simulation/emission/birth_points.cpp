#include "simulation/emission/birth_points.h"

#include <cmath>

namespace comet {
namespace {

double fractionOf(double number) { return number - std::floor(number); }

}  // namespace

BirthPoints::BirthPoints(const Item& emitter)
    : BirthPoints(static_cast<std::uint64_t>(emitter.number("birth_points", 0)),
                  emitter.chooses("birth_point_spread", "even")) {}

BirthPoints::Draws BirthPoints::drawsOf(const RandomSource& random, std::uint64_t birth) const {
  if (count_ == 0) return {random, birth};
  // Points have a key of their own, so that they have nothing in common with the births of their numbers.
  return {RandomSource(combineKeys(random.key(), static_cast<std::uint64_t>(Draw::BirthPoint))),
          pointOf(birth)};
}

Vec3d BirthPoints::numbers(const RandomSource& random, std::uint64_t birth) const {
  if (count_ > 0 && isEven_) {
    // A lattice: equal parts along the first number, multiples of irrational ones across. On a ring these are
    // equal angles, on a sphere the spiral of Vogel, "A better way to construct the sunflower head", 1979.
    constexpr double kGoldenRatio = 1.618033988749895, kSilverRatio = 2.414213562373095;
    const double middle = static_cast<double>(pointOf(birth)) + 0.5;
    return {middle / static_cast<double>(count_), fractionOf(middle / kGoldenRatio),
            fractionOf(middle / kSilverRatio)};
  }
  const auto [source, identity] = drawsOf(random, birth);
  return {source.unit(identity, Draw::ShapeA), source.unit(identity, Draw::ShapeB),
          source.unit(identity, Draw::ShapeC)};
}

Vec3d BirthPoints::moreNumbers(const RandomSource& random, std::uint64_t birth, std::uint32_t counter) const {
  const auto [source, identity] = drawsOf(random, birth);
  // A stream of its own for each further try, so that the draws' order stays as it is.
  const RandomSource again(combineKeys(source.key(), counter));
  return {again.unit(identity, Draw::ShapeMore), again.unit(identity, Draw::ShapeB),
          again.unit(identity, Draw::ShapeC)};
}

}  // namespace comet
