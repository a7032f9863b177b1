#include "params/schema.h"

#include "catalog.h"

#include <limits>

namespace comet {
namespace {

TEST(Schema, EveryDefaultIsValid) {
  for (const KindSpec* kind : catalog().kinds())
    for (const ParamSpec& spec : kind->params())
      EXPECT_EQ(problemWith(spec, spec.defaultValue), std::nullopt) << kind->id() << "." << spec.id;
}

TEST(Schema, EveryParameterIsDescribed) {
  for (const KindSpec* kind : catalog().kinds()) {
    EXPECT_FALSE(kind->tip().empty()) << kind->id();
    for (const ParamSpec& spec : kind->params()) {
      EXPECT_GT(spec.tipText.size(), 10U) << kind->id() << "." << spec.id;
      EXPECT_FALSE(spec.label.empty());
      EXPECT_FALSE(spec.section.empty()) << kind->id() << "." << spec.id;
      EXPECT_LE(spec.min, spec.usualMin) << spec.id;
      EXPECT_GE(spec.max, spec.usualMax) << spec.id;
      for (const ChoiceOption& option : spec.choices) EXPECT_FALSE(option.tip.empty()) << option.id;
      for (const Condition& condition : spec.conditions) {
        const ParamSpec& on = kind->params()[kind->indexOf(condition.param)];
        for (const std::string& id : condition.choices) {
          ParamValue value = on.defaultValue;
          if (on.type == ParamType::Item) {
            EXPECT_TRUE(id == "none" || id == "named") << spec.id;
            continue;
          }
          if (on.type == ParamType::Flag) {
            EXPECT_TRUE(id == "true" || id == "false") << spec.id;
            continue;
          }
          if (on.type == ParamType::Number || on.type == ParamType::Integer) {
            EXPECT_TRUE(id == "zero" || id == "positive") << spec.id;
            continue;
          }
          value.base = id;
          EXPECT_EQ(problemWith(on, value), std::nullopt) << spec.id << " depends on an unknown choice";
        }
      }
    }
  }
}

TEST(Schema, ValuesOutsideTheRangeAreNamed) {
  const ParamSpec spec = number("rate", "Rate", 10).range(0, 100);
  ParamValue value = spec.defaultValue;
  for (const double bad :
       {-1.0, 101.0, std::numeric_limits<double>::quiet_NaN(), std::numeric_limits<double>::infinity()}) {
    value.base = bad;
    EXPECT_TRUE(problemWith(spec, value)) << bad;
    EXPECT_EQ(problemWith(spec, nearestValid(spec, value)), std::nullopt) << bad;
  }
  value.base = 100.0;
  EXPECT_FALSE(problemWith(spec, value));
}

TEST(Schema, WhatTheTableForbidsIsRefused) {
  const ParamSpec plain = number("a", "A", 1);
  ParamValue value = plain.defaultValue;
  value.variation = 1;
  EXPECT_TRUE(problemWith(plain, value));
  value = plain.defaultValue;
  value.keys = {{1, 2.0}};
  EXPECT_TRUE(problemWith(plain, value));
  value = plain.defaultValue;
  value.overAge = Curve::constant(1);
  EXPECT_TRUE(problemWith(plain, value));
  value = plain.defaultValue;
  value.base = true;
  EXPECT_TRUE(problemWith(plain, value));
  const ParamSpec whole = integer("n", "N", 1);
  value = whole.defaultValue;
  value.base = 1.5;
  EXPECT_TRUE(problemWith(whole, value));
}

TEST(Schema, KeysMustRiseAndBeOfTheSameType) {
  const ParamSpec spec = number("a", "A", 1).keyed();
  ParamValue value = spec.defaultValue;
  value.keys = {{1, 1.0}, {2, 2.0}};
  EXPECT_FALSE(problemWith(spec, value));
  value.keys = {{2, 1.0}, {1, 2.0}};
  EXPECT_TRUE(problemWith(spec, value));
  value.keys = {{1, 1.0}, {2, Vec3d(1.0)}};
  EXPECT_TRUE(problemWith(spec, value));
}

TEST(ParamValue, KeysReplaceTheConstant) {
  ParamValue value;
  value.base = Vec3d(9.0);
  value.keys = {{0, Vec3d(0, 2, 4), Interpolation::Linear}, {10, Vec3d(10, 2, 0), Interpolation::Linear}};
  EXPECT_EQ(value.vectorAt(5), Vec3d(5, 2, 2));
  EXPECT_EQ(value.vectorAt(99), Vec3d(10, 2, 0));
}

TEST(KeyTrack, OneKeyAFrameInOrder) {
  KeyTrack track;
  for (const double frame : {5.0, 1.0, 3.0}) track = withKey(track, {frame, frame});
  track = withKey(track, {3, 30.0});
  ASSERT_EQ(track.size(), 3U);
  EXPECT_EQ(track[1], (Key{3, 30.0}));
  EXPECT_TRUE(hasKeyAt(track, 5));
  EXPECT_FALSE(hasKeyAt(withoutKey(track, 5), 5));
}

}  // namespace
}  // namespace comet
