#include "scene/scene_file.h"

#include "base/error.h"
#include "base/file.h"
#include "demos.h"
#include "scene/reference.h"
#include "support/files.h"
#include "support/scenes.h"

#include <filesystem>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>
#include <rapidcheck.h>

namespace comet {
namespace {

using nlohmann::json;
using testing::HasSubstr;

std::string fileWith(const std::string& items) {
  return R"({"format":"tawny-comet-scene","version":1,"items":[)" + items + "]}";
}

std::string messageFor(const std::string& text) {
  try {
    (void)sceneFromText(text, catalog());
  } catch (const Error& error) {
    EXPECT_EQ(error.kind(), ErrorKind::Input);
    return error.what();
  }
  return "no error";
}

TEST(SceneFile, SaysWhereANumberIsTooLarge) {
  EXPECT_THAT(messageFor("{\n \"format\": 1e999}"), HasSubstr("line 2, column 12"));
}

TEST(SceneFile, NamesWhereAWrongReferenceStands) {
  const std::string message = messageFor(fileWith(
      R"({"kind":"emitter","name":"a"},{"kind":"emitter","name":"b","params":{"parent":"nobody"}})"));
  EXPECT_THAT(message, HasSubstr("/items/1/params/parent"));
}

TEST(SceneFile, CountsTheCharactersOfANameNotItsBytes) {
  std::string umlauts;
  for (int i = 0; i < 64; ++i) umlauts += "ü";
  EXPECT_EQ(problemWithName(umlauts), "");
  EXPECT_THAT(problemWithName(umlauts + "x"), HasSubstr("64 characters"));
}

TEST(SceneFile, EveryDemoReadsAndComesBackEqual) {
  ASSERT_GE(demos().size(), 2U);
  for (const Demo& demo : demos()) {
    const Scene scene = sceneFromText(demo.sceneText, catalog());
    EXPECT_FALSE(scene.itemsOf(ItemFamily::Emitter).empty() && scene.itemsOf(ItemFamily::Gas).empty())
        << demo.name;
    EXPECT_EQ(sceneFromText(textFromScene(scene), catalog()), scene) << demo.name;
  }
}

// Any value that a parameter's table allows.
rc::Gen<ParamValue> anyValue(const ParamSpec& spec) {
  return rc::gen::exec([&spec] {
    ParamValue value = spec.defaultValue;
    const auto number = [&] {
      const double fraction = *rc::gen::inRange(0, 10001) / 10000.0;
      const double x = spec.usualMin + fraction * (spec.usualMax - spec.usualMin);
      return spec.type == ParamType::Integer ? std::round(x) : x;
    };
    const auto constant = [&]() -> Value {
      if (spec.type == ParamType::Choice) return (*rc::gen::elementOf(spec.choices)).id;
      if (spec.type == ParamType::Vector || spec.type == ParamType::Color)
        return Vec3d(number(), number(), number());
      if (spec.type == ParamType::Number || spec.type == ParamType::Integer) return number();
      if (spec.type == ParamType::Gradient)
        return Gradient({{0.0, {number() * 0 + 0.25, 0.5, 1}}, {*rc::gen::inRange(1, 10) / 10.0, {1, 0, 0}}});
      if (spec.type == ParamType::Bursts) return BurstList{{*rc::gen::inRange(1, 99) * 1.0, 10, 2, 5, 3}};
      if (spec.type == ParamType::Strokes)
        return StrokeList{{{number(), number(), 0.5}, {1, 2, number()}}, {{0, 0, 0}, {1, 1, 1}, {2, 3, 4}}};
      if (spec.type == ParamType::Markers) return MarkerList{{*rc::gen::inRange(1, 99) * 1.0, "the rim"}};
      if (spec.type == ParamType::Flag) return *rc::gen::arbitrary<bool>();
      return value.base;
    };
    value.base = constant();
    if (spec.canVary) value.variation = *rc::gen::inRange(0, 100) / 64.0;
    if (spec.canBeKeyed && *rc::gen::arbitrary<bool>())
      for (int frame = 1; frame < 20; frame += *rc::gen::inRange(1, 12)) {
        Key key{static_cast<double>(frame), constant(),
                *rc::gen::element(Interpolation::Linear, Interpolation::Smooth, Interpolation::Hold,
                                  Interpolation::Bezier)};
        for (int i = 0; i < componentsOf(key.value); ++i) {
          key.before[i] = {-*rc::gen::inRange(0, 9) / 8.0, i - 1.0};
          key.after[i] = {*rc::gen::inRange(0, 9) / 8.0, 0.5 * i};
        }
        value.keys = withKey(value.keys, key);
      }
    if (spec.mapsOverAge && *rc::gen::arbitrary<bool>())
      value.overAge = Curve({{0, *rc::gen::inRange(0, 9) / 8.0, Interpolation::Bezier, {}, {0.25, 1}},
                             {1, 0.5, Interpolation::Linear, {-0.5, 0.125}, {}}});
    return value;
  });
}

TEST(SceneFile, EveryValueOfEveryParameterComesBackExactly) {
  EXPECT_TRUE(rc::check([] {
    Scene scene = bareScene(catalog());
    for (const KindSpec* kind : catalog().kinds()) {
      const bool isSingle = kind->family() == ItemFamily::Settings || kind->family() == ItemFamily::Camera;
      Item item = isSingle ? scene.theOnly(kind->family()) : newItem(*kind, scene.freeName(kind->id()));
      for (std::size_t i = 0; i < item.values.size(); ++i) {
        item.values[i] = *anyValue(kind->params()[i]);
        RC_ASSERT(problemWith(kind->params()[i], item.values[i]) == std::nullopt);
      }
      scene = isSingle ? scene.withReplaced(item) : scene.withAdded(item);
    }
    const ItemId emitter = scene.itemsOf(ItemFamily::Emitter).front()->id;
    for (const auto& influence : scene.itemsOf(ItemFamily::Influence))
      scene = scene.withResponse(
          emitter, influence->id,
          {*rc::gen::arbitrary<bool>() ? std::optional<double>(*rc::gen::inRange(-200, 200)) : std::nullopt,
           *rc::gen::arbitrary<bool>() ? std::optional<Curve>(Curve({{0, 1}, {1, 0.5}})) : std::nullopt,
           *rc::gen::element<std::string>("", "value * age_fraction", "100 * rand(id)")});
    RC_ASSERT(sceneFromText(textFromScene(scene), catalog()) == scene);
  }));
}

TEST(SceneFile, UnknownFieldsSurvive) {
  const std::string text =
      R"({"format":"tawny-comet-scene","version":1,"author":{"name":"Ada"},
          "items":[{"kind":"emitter","name":"e","colour_tag":"reed","params":{"rate":5,"sparkle":[1,2]}}]})";
  const json written = json::parse(textFromScene(sceneFromText(text, catalog())));
  EXPECT_EQ(written["author"]["name"], "Ada");
  const auto emitter = std::find_if(written["items"].begin(), written["items"].end(),
                                    [](const json& item) { return item["kind"] == "emitter"; });
  EXPECT_EQ((*emitter)["colour_tag"], "reed");
  EXPECT_EQ((*emitter)["params"]["sparkle"], json::array({1, 2}));
  EXPECT_EQ((*emitter)["params"]["rate"], 5);
}

TEST(SceneFile, SettingsAndCameraMayBeLeftOut) {
  const Scene scene = sceneFromText(fileWith(R"({"kind":"emitter"},{"kind":"gravity","id":1})"), catalog());
  EXPECT_EQ(scene.items().size(), 4U);
  EXPECT_EQ(frameRate(scene), 24);
  EXPECT_EQ(scene.findByName("gravity")->id, 1U);
  EXPECT_NE(scene.findByName("emitter")->id, 1U);
}

TEST(SceneFile, FaultsAreNamedWithTheirPlace) {
  EXPECT_THAT(messageFor("particles!"), HasSubstr("is not JSON"));
  EXPECT_THAT(messageFor(R"({"format":"tawny-comet-scene","version":1,"items":[)"), HasSubstr("is not JSON"));
  EXPECT_THAT(messageFor("{}"), HasSubstr("/format"));
  EXPECT_THAT(messageFor(R"({"format":"tawny-comet-scene","version":99})"), HasSubstr("/version: is 99"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"volcano"})")),
              HasSubstr("/items/0/kind: \"volcano\" is not known"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"emitter","params":{"rate":"fast"}})")),
              HasSubstr("/items/0/params/rate: must be a number, but is string"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"emitter","params":{"lifetime":-1}})")),
              HasSubstr("/items/0/params/lifetime: is -1, but must lie between"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"emitter","params":{"rate":1000000000}})")),
              HasSubstr("/items/0/params/rate"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"emitter","params":{"rate":1e999}})")),
              HasSubstr("is not JSON"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"emitter","params":{"rate":NaN}})")), HasSubstr("is not JSON"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"bake","params":{"cell_width":0}})")),
              HasSubstr("/items/0/params/cell_width"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"emitter"},{"kind":"emitter"})")),
              HasSubstr("name of two items"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"camera"},{"kind":"camera","name":"b"})")),
              HasSubstr("one camera only"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"emitter","params":{"color":[]}})")),
              HasSubstr("at least one stop"));
  EXPECT_THAT(messageFor(std::string(100000, '[')), HasSubstr("nested"));
  EXPECT_THAT(messageFor(fileWith(R"({"kind":"emitter","params":{"size":{"follows":"luck"}}})")),
              HasSubstr("/items/0/params/size/follows: must be one of: age, speed, random"));
  EXPECT_EQ(messageFor(fileWith(R"({"kind":"emitter","params":{"size":{"follows":"random"}}})")), "no error");
}

TEST(SceneFile, ResponsesNameTheirItems) {
  const std::string items = R"({"kind":"emitter","name":"moths"},{"kind":"gravity","name":"pull"})";
  const auto text = [&](const std::string& responses) {
    return R"({"format":"tawny-comet-scene","version":1,"items":[)" + items + R"(],"responses":)" +
           responses + "}";
  };
  const Scene scene = sceneFromText(text(R"({"moths":{"pull":null}})"), catalog());
  EXPECT_EQ(scene.response(scene.findByName("moths")->id, scene.findByName("pull")->id).percent,
            std::nullopt);
  EXPECT_THAT(messageFor(text(R"({"gulls":{"pull":1}})")), HasSubstr("/responses/gulls"));
  EXPECT_THAT(messageFor(text(R"({"moths":{"moths":1}})")), HasSubstr("is not an influence"));
  EXPECT_THAT(messageFor(text(R"({"moths":{"pull":1e6}})")), HasSubstr("/responses/moths/pull"));
}

// Cutting a file off anywhere, or changing any byte, gives an error or a scene, never anything else.
TEST(SceneFile, DamagedFilesNeverCrash) {
  const std::string whole = textFromScene(test::busyScene());
  for (std::size_t length = 0; length < whole.size() - 2; length += 7)
    EXPECT_NE(messageFor(whole.substr(0, length)), "no error") << length;
  for (std::size_t at = 0; at < whole.size(); at += 5) {
    std::string damaged = whole;
    damaged[at] = static_cast<char>(damaged[at] ^ 0x15);
    try {
      (void)textFromScene(sceneFromText(damaged, catalog()));
    } catch (const Error& error) {
      EXPECT_EQ(error.kind(), ErrorKind::Input);
    }
  }
}

TEST(SceneFile, WritingReplacesTheOldFileAsAWhole) {
  const test::TemporaryFolder folder;
  const auto path = folder / "a.comet";
  writeScene(path, test::starting());
  writeScene(path, test::busyScene());
  EXPECT_EQ(readScene(path, catalog()), test::busyScene());
}

TEST(Reference, DocumentsAreUpToDate) {
  const std::filesystem::path docs = std::filesystem::path(COMET_SOURCE_DIR) / "docs";
  EXPECT_EQ(readFile(docs / "parameters.md", 1 << 23), referenceMarkdown(catalog()))
      << "run: comet schema --markdown > docs/parameters.md";
  EXPECT_EQ(json::parse(readFile(docs / "scene.schema.json", 1 << 23)), json(sceneJsonSchema(catalog())))
      << "run: comet schema --json-schema > docs/scene.schema.json";
}

}  // namespace
}  // namespace comet
