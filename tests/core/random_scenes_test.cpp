// Scenes that nobody made, from the schema: every kind of item, values within, at and beyond what is
// accepted, references right and wrong. Each is accepted, and then runs and bakes, or is refused with place
// and remedy.
//
// COMET_SEED chooses other scenes, and COMET_RANDOM_SCENES how many; 500 take some minutes.
#include "bake/bake_sheet.h"
#include "base/file.h"
#include "base/parallel.h"
#include "catalog.h"
#include "scene/scene_file.h"
#include "support/environment.h"
#include "support/files.h"
#include "support/scenes.h"

#include <chrono>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <random>

namespace comet {
namespace {

using nlohmann::json;

using test::numberFromEnvironment;

class SceneMaker {
 public:
  explicit SceneMaker(int seed) : random_(static_cast<unsigned>(seed)) {}

  json scene() {
    json items = json::array({settings(), camera()});
    names_.clear();
    const int emitters = 1 + below(2), influences = below(4);
    for (int i = 0; i < emitters; ++i) items.push_back(item(ItemFamily::Emitter, fmt::format("e{}", i)));
    for (int i = 0; i < influences; ++i) items.push_back(item(ItemFamily::Influence, fmt::format("i{}", i)));
    items.push_back(bake());
    json responses = json::object();
    for (int e = 0; e < emitters; ++e)
      for (int i = 0; i < influences; ++i)
        if (chance(0.7)) responses[fmt::format("e{}", e)][fmt::format("i{}", i)] = fraction() * 240 - 40;
    return {{"format", "tawny-comet-scene"},
            {"version", 1},
            {"items", std::move(items)},
            {"responses", std::move(responses)}};
  }

 private:
  int below(int count) { return static_cast<int>(random_() % static_cast<unsigned>(count)); }
  double fraction() { return std::uniform_real_distribution<double>(0, 1)(random_); }
  bool chance(double of) { return fraction() < of; }

  // Few particles and frames, so that much can be tried.
  json settings() {
    json params = paramsOf(*catalog().kindsOf(ItemFamily::Settings).front(), 0.2);
    params.update({{"first_frame", 1},
                   {"last_frame", 30},
                   {"rate", 24},
                   {"max_particles", 800},
                   {"frame_cache", 512},
                   {"disk_cache", false}});
    params.erase("exact_loop");
    params.erase("start_data");
    return {{"kind", catalog().kindsOf(ItemFamily::Settings).front()->id()}, {"params", params}};
  }
  json camera() { return item(ItemFamily::Camera, "camera"); }
  json bake() {
    json made = item(ItemFamily::Bake, "bake");
    made["params"].update({{"cell_width", 24}, {"cell_height", 24}, {"first", 1}, {"last", 30}});
    return made;
  }

  json item(ItemFamily family, const std::string& name) {
    const auto kinds = catalog().kindsOf(family);
    const KindSpec& kind = *kinds[static_cast<std::size_t>(below(static_cast<int>(kinds.size())))];
    json made = {{"kind", kind.id()}, {"name", name}, {"params", paramsOf(kind, 0.3)}};
    names_.push_back(name);
    return made;
  }

  json paramsOf(const KindSpec& kind, double part) {
    json params = json::object();
    for (const ParamSpec& spec : kind.params())
      if (chance(part))
        if (json value = valueOf(spec); !value.is_null()) params[spec.id] = std::move(value);
    return params;
  }

  // Mostly as a hand sets it, sometimes at an end of what is accepted, seldom beyond.
  double numberOf(const ParamSpec& spec) {
    const double dice = fraction();
    double number = spec.usualMin + fraction() * (spec.usualMax - spec.usualMin);
    if (dice < 0.06) number = chance(0.5) ? spec.min : spec.max;
    if (dice < 0.0008) number = spec.max * 2 + 1;
    return spec.type == ParamType::Integer ? std::round(number) : number;
  }

  double axisOf(const ParamSpec& spec) { return std::clamp(fraction() * 6 - 3, spec.min, spec.max); }

  json valueOf(const ParamSpec& spec) {
    switch (spec.type) {
      case ParamType::Number:
      case ParamType::Integer: {
        json value = numberOf(spec);
        if (spec.canVary && chance(0.2))
          value = {{"value", value}, {"variation", fraction() * (spec.usualMax - spec.usualMin)}};
        if (spec.canBeKeyed && chance(0.1))
          value = {{"value", value},
                   {"keys", {{{"frame", 2}, {"value", value}}, {{"frame", 20}, {"value", numberOf(spec)}}}}};
        return value.is_object() && value["value"].is_object() ? value["value"] : value;
      }
      case ParamType::Flag:
        return chance(0.5);
      case ParamType::Choice:
        return spec.choices[static_cast<std::size_t>(below(static_cast<int>(spec.choices.size())))].id;
      case ParamType::Vector:
      case ParamType::Color:
        return {axisOf(spec), axisOf(spec), axisOf(spec)};
      case ParamType::Bursts:
        return json::array({{{"frame", 1 + below(20)}, {"count", below(200)}}});
      case ParamType::Item:
        if (names_.empty()) return {};
        return chance(0.02) ? "nobody"
                            : names_[static_cast<std::size_t>(below(static_cast<int>(names_.size())))];
      default:
        // Curves, strokes and the like are as they are by default; wrong ones are the business of the tests
        // of the file format.
        return chance(0.002) ? json(7) : json();
    }
  }

  std::mt19937 random_;
  std::vector<std::string> names_;
};

void expectNumbers(const SceneFrame& frame) {
  for (const ParticleGroup& group : frame.particles->groups)
    for (std::size_t i = 0; i < group.particles.size(); ++i) {
      const Vec3d position = test::positionOf(group.particles, i);
      ASSERT_TRUE(std::isfinite(position.x + position.y + position.z));
    }
}

// Throws Error for what a scene may be refused for only once it runs, such as too little memory.
void runAndBake(const Scene& scene) {
  std::vector<Digest> digests;
  for (const int threads : {1, 2}) {
    const ThreadLimit limit(threads);
    SceneRun run(scene, std::make_shared<FrameCache>(memoryBudget(scene)));
    for (int frame = 1; frame <= 30; ++frame) expectNumbers(*run.frame(frame));
    digests.push_back(run.frame(30)->particles->digest());
    if (threads == 1) continue;
    const Scene::ItemPtr bake = scene.findByName("bake");
    const Flipbook book = bakeFlipbook(run, flipbookLayout(scene, *bake), Progress());
    for (const Vec4& pixel : book.color.pixels())
      ASSERT_TRUE(std::isfinite(pixel.x + pixel.y + pixel.z + pixel.w));
  }
  EXPECT_EQ(digests[0], digests[1]);
}

TEST(RandomScenes, RunAndBakeOrAreRefusedWithPlaceAndRemedy) {
  const int seed = numberFromEnvironment("COMET_SEED", 11);
  const int count = numberFromEnvironment("COMET_RANDOM_SCENES", 20);
  const test::TemporaryFolder folder;
  const auto path = folder / "random.comet";
  int accepted = 0;
  for (int i = 0; i < count; ++i) {
    const std::string text = SceneMaker(seed * 1000 + i).scene().dump(1);
    writeFileAtomically(path, text);
    const auto begin = std::chrono::steady_clock::now();
    try {
      const Scene scene = readScene(path, catalog());
      runAndBake(scene);
      ++accepted;
    } catch (const Error& error) {
      EXPECT_TRUE(error.kind() == ErrorKind::Input || error.kind() == ErrorKind::Budget) << error.what();
      EXPECT_FALSE(error.place().empty()) << error.what();
      EXPECT_FALSE(error.remedy().empty()) << error.what();
    }
    constexpr auto kSoon = std::chrono::seconds(60);
    EXPECT_LT(std::chrono::steady_clock::now() - begin, kSoon);
    if (testing::Test::HasFailure()) FAIL() << "scene " << i << " of seed " << seed << ":\n" << text;
  }
  EXPECT_GT(accepted, count / 3);
}

}  // namespace
}  // namespace comet
