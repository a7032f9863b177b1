// What is said of cards before and while they are simulated.
#include "simulation/cards/card_report.h"

#include "base/error.h"
#include "particles/particle_bytes.h"
#include "simulation/cards/card_rule.h"
#include "support/scenes.h"

#include <gmock/gmock.h>

namespace comet {
namespace {

using test::with;
using testing::HasSubstr;

constexpr std::size_t kRoom = std::size_t{1} << 32;

CardOutlook outlookOf(const Scene& scene, std::size_t memory = kRoom) {
  return cardOutlook(scene, *scene.findByName("emitter"), 1, memory);
}

Scene burst(int count) {
  return with(test::oneBurst(count), {"emitter.sprite=card", "emitter.lifetime_mode=endless"});
}

TEST(CardOutlook, ForeseesCardsAndWhatTheyTake) {
  const CardOutlook few = outlookOf(burst(100)), many = outlookOf(burst(1000));
  EXPECT_EQ(few.cards, 100);
  EXPECT_EQ(few.points, 25U);
  EXPECT_NEAR(many.milliseconds, 10 * few.milliseconds, 1e-9);
  EXPECT_NEAR(outlookOf(with(burst(100), {"emitter.card_steps=32"})).milliseconds, 2 * few.milliseconds,
              1e-9);
  const double frames = frameRange(burst(100)).count();
  EXPECT_NEAR(few.bytes, frames * 100 * 25 * 7 * 4, 0.01 * few.bytes);
  EXPECT_EQ(few.problem, "");
}

TEST(CardOutlook, WarnsOfTooManyAndTooSoft) {
  const Scene huge = with(burst(20000), {"emitter.card_cells_across=8", "emitter.card_cells_along=8"});
  EXPECT_THAT(outlookOf(huge, std::size_t{1} << 40).problem, HasSubstr("take fewer cards, cells or steps"));
  EXPECT_THAT(outlookOf(huge, 1 << 28).problem, HasSubstr("more than the scene's frame cache"));
  EXPECT_THAT(outlookOf(with(burst(10), {"emitter.card_stretch_stiffness=0"})).problem,
              HasSubstr("raise the stretch stiffness"));
}

TEST(CardOutlook, RefusesACardOfOneCell) {
  try {
    (void)with(burst(1), {"emitter.card_cells_along=1"});
    FAIL() << "it has to bend somewhere";
  } catch (const Error& error) {
    EXPECT_THAT(error.what(), HasSubstr("card_cells_along"));
    EXPECT_THAT(error.what(), HasSubstr("2"));
  }
}

TEST(CardCount, CountsWhatThereIs) {
  const Scene scene = test::withInfluence(burst(12), "gravity");
  const std::vector<CardCount> counts = countCards(scene, *test::simulate(scene, 10));
  ASSERT_EQ(counts.size(), 1U);
  EXPECT_EQ(counts.front().cards, 12U);
  EXPECT_EQ(counts.front().points, 300U);
  EXPECT_LT(counts.front().largestStretch, 0.02);
  EXPECT_TRUE(countCards(test::oneBurst(), *test::simulate(test::oneBurst(), 1)).empty());
}

TEST(CardBody, GoesThroughBytesAsItIs) {
  const SceneFramePtr frame = test::simulate(burst(3), 5);
  const ParticleGroup& group = frame->particles->groups.front();
  std::string bytes;
  putGroup(bytes, group);
  ByteReader reader(bytes);
  ParticleState again;
  again.groups.push_back(takeGroup(reader, 100));
  EXPECT_EQ(reader.left(), 0U);
  EXPECT_EQ(again.digest(), frame->particles->digest());
  for (const std::size_t length : {bytes.size() - 4, bytes.size() - 700, std::size_t{60}}) {
    const std::string cut = bytes.substr(0, length);
    ByteReader shorter(cut);
    EXPECT_THROW((void)takeGroup(shorter, 100), DamagedBytes) << length;
  }
}

// Those that die leave no gap, and take their bodies along.
TEST(CardBody, IsRemovedWithItsParticle) {
  ParticleStore store(4, {}, 3);
  store.resize(4);
  for (std::size_t i = 0; i < 4; ++i) {
    std::fill_n(store.body(i), 3, static_cast<float>(i));
    store.ids()[i] = i;
  }
  store.remove({1, 2});
  ASSERT_EQ(store.size(), 2U);
  EXPECT_EQ(store.body(1)[0], 3.0F);
  EXPECT_EQ(store.body(1)[2], 3.0F);
  ParticleStore more(3, {}, 3);
  more.append(store, 0, 2);
  more.append(store, 1, 1);
  EXPECT_EQ(more.body(2)[1], 3.0F);
  more.moveDown(2, 0, 1);
  EXPECT_EQ(more.body(0)[1], 3.0F);
}

}  // namespace
}  // namespace comet
