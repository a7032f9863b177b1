#include "scene/sweep.h"

#include "base/error.h"
#include "support/scenes.h"

namespace comet {
namespace {

using ::testing::DoubleEq;
using ::testing::ElementsAre;
using ::testing::HasSubstr;

std::vector<double> numbersOf(const SweepAxis& axis) {
  std::vector<double> numbers;
  for (const ParamValue& value : axis.values) numbers.push_back(std::get<double>(value.base));
  return numbers;
}

std::string problemOf(const std::string& text) {
  try {
    (void)axisFromText(test::starting(), text);
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Usage);
    return error.what();
  }
  return {};
}

TEST(EvenNumbers, IncludeBothEndsAndAreShort) {
  EXPECT_THAT(evenNumbers(100, 400, 4), ElementsAre(100, 200, 300, 400));
  EXPECT_THAT(evenNumbers(0, 1, 4), ElementsAre(0, DoubleEq(0.333), DoubleEq(0.667), 1));
  EXPECT_THAT(evenNumbers(0.1, -0.1, 3), ElementsAre(0.1, DoubleEq(0), -0.1));
  EXPECT_THAT(evenNumbers(5, 9, 1), ElementsAre(5));
  EXPECT_THAT(evenNumbers(5, 5, 3), ElementsAre(5, 5, 5));
}

TEST(EvenNumbers, AscendEvenlyWhateverTheEnds) {
  ASSERT_TRUE(rc::check([] {
    const double from = *rc::gen::inRange(-1000, 1000) * 0.37, length = *rc::gen::inRange(1, 5000) * 0.013;
    const int count = *rc::gen::inRange(2, kMaxSweepValues + 1);
    const auto numbers = evenNumbers(from, from + length, count);
    const double step = length / (count - 1);
    for (std::size_t i = 1; i < numbers.size(); ++i)
      RC_ASSERT(std::abs(numbers[i] - numbers[i - 1] - step) <= 0.0101 * step);
    RC_ASSERT(numbers.front() == from && numbers.back() == from + length);
  }));
}

TEST(SweepAxis, IsReadFromText) {
  const Scene scene = test::starting();
  EXPECT_THAT(numbersOf(axisFromText(scene, "emitter.rate=100..400/4")), ElementsAre(100, 200, 300, 400));
  EXPECT_THAT(numbersOf(axisFromText(scene, "emitter.rate=-0..8")), ElementsAre(0, 2, 4, 6, 8));
  EXPECT_THAT(numbersOf(axisFromText(scene, "emitter.rate=7,30")), ElementsAre(7, 30));
  const SweepAxis vectors = axisFromText(scene, "camera.position=0,2,9;1,2,9");
  ASSERT_EQ(vectors.values.size(), 2U);
  EXPECT_EQ(std::get<Vec3d>(vectors.values[1].base), Vec3d(1, 2, 9));
  EXPECT_EQ(std::get<std::string>(axisFromText(scene, "emitter.shape=box,sphere").values[1].base), "sphere");
}

TEST(SweepAxis, SaysWhatIsWrong) {
  EXPECT_THAT(problemOf("rate"), HasSubstr("ITEM.PARAM=VALUES"));
  EXPECT_THAT(problemOf("emitter.rats=1,2"), HasSubstr("--vary emitter.rats=1,2"));
  EXPECT_THAT(problemOf("nobody.rate=1,2"), HasSubstr("nobody"));
  EXPECT_THAT(problemOf("emitter.rate=1,x"), HasSubstr("\"x\""));
  EXPECT_THAT(problemOf("emitter.rate=1..e/3"), HasSubstr("FROM..TO/N"));
  EXPECT_THAT(problemOf("emitter.rate="), HasSubstr("emitter.rate"));
}

TEST(SweepAxis, OfNumbersLeavesAllElseOfTheParameter) {
  const Scene scene = test::with(test::starting(), {"emitter.rate=120±30", R"(emitter.speed={"keys":[
      {"frame":1,"value":1},{"frame":9,"value":3}]})"});
  const ItemId emitter = scene.findByName("emitter")->id;
  const SweepAxis rates = axisOfNumbers(scene, emitter, "rate", {50, 70}, 5);
  EXPECT_THAT(numbersOf(rates), ElementsAre(50, 70));
  EXPECT_EQ(rates.values[0].variation, 30);
  const SweepAxis speeds = axisOfNumbers(scene, emitter, "speed", {7}, 9);
  EXPECT_EQ(speeds.values[0].numberAt(9), 7) << "the key there";
  EXPECT_EQ(speeds.values[0].numberAt(1), 1) << "the others stay";
}

TEST(Sweep, OfTwoIsAGridOfAllCombinations) {
  const Scene scene = test::starting();
  const Sweep sweep(scene,
                    {axisFromText(scene, "emitter.rate=10,20,30"), axisFromText(scene, "emitter.speed=1,2")});
  ASSERT_EQ(sweep.size(), 6U);
  EXPECT_EQ(sweep.columns(), 3U);
  EXPECT_EQ(sweep.rows(), 2U);
  const Scene::ItemPtr emitter = sweep.scene(4).findByName("emitter");
  EXPECT_EQ(emitter->number("rate", 1), 20);
  EXPECT_EQ(emitter->number("speed", 1), 2);
  EXPECT_THAT(sweep.label(4), HasSubstr("20"));
  EXPECT_EQ(sweep.scene(4), test::with(scene, {"emitter.rate=20", "emitter.speed=2"}));
}

TEST(Sweep, RefusesWhatIsTooMuch) {
  const Scene scene = test::starting();
  const auto many = [&](const char* text) { return axisFromText(scene, text); };
  EXPECT_THROW(Sweep(scene, {}), Error);
  EXPECT_THROW(Sweep(scene, {many("emitter.rate=1..90/17")}), Error);
  EXPECT_NO_THROW(Sweep(scene, {many("emitter.rate=1..90/16"), many("emitter.speed=1..4/4")}));
  EXPECT_THROW(Sweep(scene, {many("emitter.rate=1..90/16"), many("emitter.speed=1..5/5")}), Error);
  EXPECT_THROW(Sweep(scene, {many("emitter.rate=1,2"), many("emitter.rate=3,4")}), Error);
}

}  // namespace
}  // namespace comet
