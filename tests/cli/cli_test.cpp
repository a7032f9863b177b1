// The command line as scripts use it: the real program, its exit codes, messages and files.
#include "base/file.h"
#include "geometry/mesh_file.h"
#include "support/demo_names.h"
#include "support/files.h"
#include "support/read.h"

#include <OpenImageIO/imageio.h>
#include <algorithm>
#include <array>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>
#include <signal.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace comet {
namespace {

using testing::HasSubstr;
using testing::Not;

struct Result {
  int code;
  std::string output;  // standard output and standard error
};

Result output(const std::string& command) {
  FILE* pipe = popen((command + " 2>&1").c_str(), "r");
  Result result{-1, {}};
  std::array<char, 4096> buffer;
  while (const std::size_t count = std::fread(buffer.data(), 1, buffer.size(), pipe))
    result.output.append(buffer.data(), count);
  const int status = pclose(pipe);
  result.code = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
  return result;
}

Result comet(const std::string& arguments) { return output(COMET_BINARY " " + arguments); }

class CommandLine : public testing::Test {
 protected:
  std::string scene() const { return (folder_ / "scene.comet").string(); }
  std::string out() const { return (folder_ / "out").string(); }
  void SetUp() override { ASSERT_EQ(comet("new --force " + scene() + " --demo paddle_spray").code, 0); }
  void write(const std::string& text) const { writeFileAtomically(scene(), text); }
  nlohmann::json stats(const std::string& options) const {
    const Result result = comet("stats " + scene() + " --json " + options);
    EXPECT_EQ(result.code, 0) << result.output;
    return nlohmann::json::parse(result.output);
  }

  test::TemporaryFolder folder_;
};

TEST_F(CommandLine, MakesASceneThatUsesAFlipbook) {
  ASSERT_EQ(comet("bake " + scene() + " --out " + out()).code, 0);
  std::string description;
  for (const auto& entry : std::filesystem::directory_iterator(out()))
    if (entry.path().extension() == ".json") description = entry.path().string();
  const std::string use = (folder_ / "use.comet").string();
  const Result made = comet("new " + use + " --sheet '" + description + "'");
  ASSERT_EQ(made.code, 0) << made.output;
  EXPECT_EQ(comet("validate " + use).code, 0);
  EXPECT_EQ(comet("render " + use + " --frames 30-30 --size 64x48 --out " + out()).code, 0);
  EXPECT_TRUE(std::filesystem::exists(folder_ / "out" / "use.0030.png"));
  // Not over a file that is there, not of what is no flipbook, and not of a demo at the same time.
  EXPECT_EQ(comet("new " + use + " --sheet '" + description + "'").code, 4);
  const Result wrong = comet("new --force " + use + " --sheet " + scene());
  EXPECT_EQ(wrong.code, 3);
  EXPECT_THAT(wrong.output, HasSubstr("describes no flipbook"));
  EXPECT_EQ(comet("new --force " + use + " --demo paddle_spray --sheet " + scene()).code, 2);
}

TEST_F(CommandLine, BakesEveryDemo) {
  for (const char* demo : {"funnel_sparks", "paddle_spray"}) {
    ASSERT_EQ(comet("new --force " + scene() + " --demo " + demo).code, 0);
    EXPECT_EQ(comet("validate " + scene()).code, 0);
    const Result result = comet("bake " + scene() + " --out " + out());
    ASSERT_EQ(result.code, 0) << result.output;
  }
  const auto json = nlohmann::json::parse(readFile(folder_ / "out/paddle spray.json", 1 << 20));
  const auto image = OIIO::ImageInput::open(out() + "/" + std::string(json["image"]));
  ASSERT_TRUE(image);
  EXPECT_EQ(image->spec().width, json["width"]);
}

TEST_F(CommandLine, FramesAreKeptBesideTheSceneIfItWants) {
  const std::string bake = "bake " + scene() + " --quiet --set scene.disk_cache=true --out ";
  ASSERT_EQ(comet(bake + out()).code, 0);
  const auto frames = std::filesystem::path(scene() + ".frames");
  ASSERT_TRUE(std::filesystem::exists(frames));
  const auto count = std::distance(std::filesystem::directory_iterator(frames), {});
  EXPECT_GT(count, 10);
  // What comes from the disk is what was simulated, to the last pixel.
  ASSERT_EQ(comet(bake + (folder_ / "again").string()).code, 0);
  EXPECT_EQ(std::distance(std::filesystem::directory_iterator(frames), {}), count);
  EXPECT_EQ(readFile(folder_ / "out/paddle spray.png", 1 << 24),
            readFile(folder_ / "again/paddle spray.png", 1 << 24));
}

TEST_F(CommandLine, OverridesReachTheBake) {
  const Result result = comet("bake " + scene() + " --out " + out() +
                              " --quiet --set 'paddle spray.columns=8' --set 'paddle spray.rows=2' "
                              "--set 'paddle spray.format=exr' --bake 'paddle spray'");
  ASSERT_EQ(result.code, 0) << result.output;
  EXPECT_EQ(result.output, "");
  const auto image = OIIO::ImageInput::open(out() + "/paddle spray.exr");
  ASSERT_TRUE(image);
  EXPECT_EQ(image->spec().width, 8 * 260);
  EXPECT_EQ(image->spec().height, 2 * 260);
  EXPECT_EQ(image->spec().format, OIIO::TypeDesc::HALF);
}

TEST_F(CommandLine, ChecksTheBakeAndFitsTheView) {
  const std::string small = "bake " + scene() + " --quiet --out " + out() +
                            " --set 'paddle spray.cell_width=64' --set 'paddle spray.cell_height=64' --check";
  const Result plain = comet(small);
  ASSERT_EQ(plain.code, 0) << plain.output;
  EXPECT_THAT(plain.output, testing::HasSubstr("paddle spray: trouble: clipped: "));
  const Result fitted = comet(small + " --fit");
  ASSERT_EQ(fitted.code, 0) << fitted.output;
  EXPECT_THAT(fitted.output, testing::Not(testing::HasSubstr("clipped")));
  EXPECT_EQ(readFile(scene(), 1 << 22).find("\"view\""), std::string::npos)
      << "the scene's file stays as it is";
}

TEST_F(CommandLine, RendersFullPictures) {
  ASSERT_EQ(comet("render " + scene() + " --frames 20-21 --size 320x180 --out " + out()).code, 0);
  const auto image = OIIO::ImageInput::open(out() + "/scene.0021.png");
  ASSERT_TRUE(image);
  EXPECT_EQ(image->spec().width, 320);
  EXPECT_EQ(image->spec().height, 180);
}

TEST_F(CommandLine, HashesDependOnNeitherThreadsNorVectorUnit) {
  const auto hashes = [this](const std::string& options) {
    std::vector<std::string> list;
    for (const auto& frame : stats("--frames 1-40 " + options)) list.push_back(frame["hash"]);
    return list;
  };
  const auto plain = hashes("");
  ASSERT_EQ(plain.size(), 40U);
  EXPECT_NE(plain[10], plain[11]);
  EXPECT_EQ(hashes("--threads 1"), plain);
  EXPECT_EQ(hashes("--threads 2"), plain);
  EXPECT_EQ(hashes("--vector-unit baseline"), plain);
}

TEST_F(CommandLine, StatsAddUp) {
  // Warmed up, the scene has particles before its first frame.
  const auto frames = stats("--frames 1-60");
  const auto number = [](const auto& frame, const char* name) {
    return frame[name].template get<std::int64_t>();
  };
  std::int64_t living =
      number(frames[0], "living") - number(frames[0], "births") + number(frames[0], "deaths");
  for (const auto& frame : frames) {
    living += frame["births"].get<std::int64_t>() - frame["deaths"].get<std::int64_t>();
    EXPECT_EQ(frame["living"], living) << frame["frame"];
  }
  EXPECT_GT(living, 100);
}

TEST_F(CommandLine, ExportsOneLinePerParticle) {
  ASSERT_EQ(comet("export " + scene() + " --what particles --format csv --frames 20 --out " + out()).code, 0);
  std::ifstream csv(out() + "/scene.0020.csv");
  std::string line;
  std::getline(csv, line);
  EXPECT_EQ(line, "id,emitter,x,y,z,vx,vy,vz,age,lifetime,size,red,green,blue,opacity,parent");
  int lines = 0;
  while (std::getline(csv, line)) ++lines;
  EXPECT_EQ(lines, stats("--frames 20")[0]["living"]);
}

TEST_F(CommandLine, ExportsPlyThatItsHeaderDescribes) {
  ASSERT_EQ(comet("export " + scene() + " --what particles --format ply --frames 20-21 --out " + out()).code,
            0);
  const std::string ply = readFile(out() + "/scene.0021.ply", 1 << 24);
  const auto living = stats("--frames 21")[0]["living"].get<std::size_t>();
  EXPECT_THAT(ply, HasSubstr("element vertex " + std::to_string(living) + "\n"));
  EXPECT_THAT(ply, HasSubstr("comment emitter 1 is mist"));
  // Two doubles, an int and thirteen floats for each particle.
  EXPECT_EQ(ply.size() - ply.find("end_header\n") - 11, living * (2 * 8 + 4 + 13 * 4));
}

// Read by the library's own tool.
TEST_F(CommandLine, ExportsPointsThatTheLibrarysToolReads) {
  ASSERT_EQ(comet("export " + scene() + " --what particles --format vdb --frames 20 --out " + out()).code, 0);
  const std::string listing = (folder_ / "listing").string();
  ASSERT_EQ(std::system(("vdb_print -l '" + out() + "/scene.0020.vdb' > '" + listing + "' 2>&1").c_str()), 0);
  const std::string text = readFile(listing, 1 << 20);
  EXPECT_THAT(text, HasSubstr("particles"));
  EXPECT_THAT(text, HasSubstr("ptdataidx32"));
  EXPECT_EQ(text.find("active voxels:       0\n"), std::string::npos) << "there are points";
}

// The job at the end of the guide's page, as it is written there.
TEST_F(CommandLine, TheGuidesJobWorks) {
  const std::string page =
      readFile(std::filesystem::path(COMET_SOURCE_DIR) / "docs/guide/command-line.md", 1 << 20);
  EXPECT_THAT(
      page, HasSubstr("**Try it.** `comet new steam.comet --demo funnel_steam`, then `comet bake steam.comet "
                      "--out steam --check`."));
  const std::string steam = (folder_ / "steam").string();
  ASSERT_EQ(comet("new " + steam + ".comet --demo funnel_steam").code, 0);
  ASSERT_EQ(comet("bake " + steam + ".comet --out " + steam + " --check").code, 0);
  EXPECT_TRUE(std::filesystem::exists(steam + "/funnel steam.png"));
  EXPECT_TRUE(std::filesystem::exists(steam + "/funnel steam.json"));
}

TEST_F(CommandLine, ExportsGasesThatTheLibrarysToolReadsAndCountsThem) {
  const std::string file = (folder_ / "puff.comet").string();
  ASSERT_EQ(comet("new " + file + " --demo whistle_puff").code, 0);
  const std::string coarse = file + " --set steam.resolution=24 --quiet";
  ASSERT_EQ(comet("export " + coarse + " --what gas --format vdb --frames 6-7 --out " + out()).code, 0);
  const std::string listing = (folder_ / "listing").string();
  ASSERT_EQ(
      std::system(("vdb_print -l '" + out() + "/puff.gas.steam.0007.vdb' > '" + listing + "' 2>&1").c_str()),
      0);
  const std::string text = readFile(listing, 1 << 20);
  for (const char* grid : {"density", "temperature", "velocity"}) EXPECT_THAT(text, HasSubstr(grid));
  EXPECT_THAT(text, HasSubstr("vec3s"));
  const Result counted = comet("stats " + coarse + " --frames 7 --json");
  ASSERT_EQ(counted.code, 0);
  const auto gas = nlohmann::json::parse(counted.output)[0]["gases"][0];
  EXPECT_EQ(gas["gas"], "steam");
  EXPECT_GT(gas["voxels"], gas["filled"]);
  EXPECT_GT(gas["filled"], 100);
  EXPECT_GT(gas["solver_rounds"], 0);
  EXPECT_EQ(comet("export " + coarse + " --what gas --format csv --frames 6 --out " + out()).code, 2);
}

TEST_F(CommandLine, ExportsTrailsAndLinksInEveryFormat) {
  const std::string lines = scene() +
                            " --set mist.trail=ribbon --set mist.trail_time=0.2 --set mist.links=near"
                            " --set mist.link_max_length=0.3 --quiet --out " +
                            out();
  for (const std::string what : {"trails", "links"}) {
    for (const std::string format : {"csv", "ply", "obj"}) {
      ASSERT_EQ(comet("export " + lines + " --what " + what + " --frames 20-21 --format " + format).code, 0);
      EXPECT_GT(readFile(out() + "/scene." + what + ".0021." + format, 1 << 26).size(), 1000U) << format;
    }
    ASSERT_EQ(comet("export " + lines + " --what " + what + " --frames 20-21 --format usda --points 5").code,
              0);
    const std::string usd = readFile(out() + "/scene." + what + ".usda", 1 << 26);
    EXPECT_THAT(usd, HasSubstr("            21: ["));
    EXPECT_THAT(usd, HasSubstr("[5, 5, 5"));
  }
  EXPECT_EQ(comet("export " + scene() + " --what particles --format obj --frames 20 --out " + out()).code, 2);
}

TEST_F(CommandLine, ExportsSurfacesAndRefusesThoseOfTooMuchMemory) {
  const std::string surface = "export " + scene() +
                              " --what surface --frames 20 --quiet --set mist.surface=particles"
                              " --set mist.surface_voxel_size=0.05 --out " +
                              out();
  for (const std::string format : {"obj", "ply", "glb"}) {
    ASSERT_EQ(comet(surface + " --format " + format).code, 0) << format;
    const Mesh mesh = test::readMesh(folder_ / ("out/scene.surface.mist.0020." + format));
    EXPECT_GT(mesh.triangles.size(), 500U) << format;
    EXPECT_TRUE(reportOn(mesh).isClosed()) << format;
  }
  const auto refused = comet(surface + " --format obj --set mist.surface_voxel_size=0.0002");
  EXPECT_EQ(refused.code, 5);
  EXPECT_THAT(refused.output, HasSubstr("mist"));
  EXPECT_THAT(refused.output, HasSubstr("GiB"));
  EXPECT_THAT(refused.output, HasSubstr("Raise the voxel size"));
}

TEST_F(CommandLine, ExportsHitsOnDeflectorsAndCountsThem) {
  ASSERT_EQ(comet("export " + scene() + " --what hits --format csv --frames 20 --out " + out()).code, 0);
  std::istringstream lines(readFile(folder_ / "out/scene.hits.0020.csv", 1 << 24));
  std::string line;
  std::getline(lines, line);
  EXPECT_EQ(line, "time,id,emitter,deflector,x,y,z,nx,ny,nz,speed");
  std::size_t hits = 0, onWater = 0;
  while (std::getline(lines, line)) {
    ++hits;
    EXPECT_THAT(line, HasSubstr("drops"));
    onWater += line.find("water") != std::string::npos ? 1 : 0;
  }
  EXPECT_GT(onWater, 10U);
  const auto frames = stats("--frames 20");
  std::size_t counted = 0;
  for (const auto& each : frames[0]["deflections"]) {
    counted += each["hits"].get<std::size_t>();
    const bool isWater = each["deflector"] == "water";
    EXPECT_TRUE(!isWater || each["hits"] == onWater);
  }
  EXPECT_EQ(counted, hits);
}

TEST_F(CommandLine, BeginsWithPresets) {
  const std::string use = (folder_ / "use.comet").string();
  const Result made = comet("new " + use + " --preset fountain --preset 'mist bank'");
  ASSERT_EQ(made.code, 0) << made.output;
  const auto file = nlohmann::json::parse(readFile(use, 1 << 20));
  std::vector<std::string> emitters;
  for (const auto& item : file["items"])
    if (item["kind"] == "emitter") emitters.push_back(item["name"]);
  EXPECT_THAT(emitters, testing::ElementsAre("drops", "haze", "mist"));
  EXPECT_EQ(comet("render " + use + " --frames 20 --size 64x48 --out " + out()).code, 0);
  const std::string again = (folder_ / "again.comet").string();
  EXPECT_EQ(comet("new " + again + " --preset " + use).code, 0) << "a file of one's own";
  const Result unknown = comet("new " + again + " --force --preset nothing");
  EXPECT_EQ(unknown.code, 2);
  EXPECT_THAT(unknown.output, HasSubstr("fountain"));
}

TEST_F(CommandLine, WorksOnASnapshot) {
  nlohmann::json file = nlohmann::json::parse(readFile(scene(), 1 << 20));
  nlohmann::json calm = {{"name", "calm"}, {"items", file["items"]}};
  if (file.contains("responses")) calm["responses"] = file["responses"];
  for (nlohmann::json& item : calm["items"])
    if (item["kind"] == "emitter") item["enabled"] = false;
  file["snapshots"] = {calm};
  write(file.dump());
  EXPECT_GT(stats("--frames 20")[0]["living"], 0);
  EXPECT_EQ(stats("--frames 20 --snapshot calm")[0]["living"], 0);
  const Result unknown = comet("stats " + scene() + " --frames 20 --snapshot gale");
  EXPECT_EQ(unknown.code, 2);
  EXPECT_THAT(unknown.output, HasSubstr("There are: calm"));
}

TEST_F(CommandLine, SweepsValues) {
  const std::string how = " --frames 8-9 --size 96x54 --quiet --out ";
  ASSERT_EQ(
      comet("sweep " + scene() + how + out() + " --vary drops.rate=100..300/2 --vary drops.speed=2,5").code,
      0);
  const auto told = nlohmann::json::parse(test::bytesOf(folder_ / "out" / "scene.sweep.json"));
  ASSERT_EQ(told["variants"].size(), 4U);
  // The last has both of the last values.
  const std::string single = (folder_ / "single").string();
  ASSERT_EQ(comet("render " + scene() + how + single + " --set drops.rate=300 --set drops.speed=5").code, 0);
  EXPECT_EQ(test::bytesOf(folder_ / "out" / told["variants"][3]["images"][1].get<std::string>()),
            test::bytesOf(folder_ / "single" / "scene.0009.png"));
  const auto sheet = OIIO::ImageInput::open((folder_ / "out" / "scene.sheet.png").string());
  ASSERT_TRUE(sheet);
  EXPECT_EQ(sheet->spec().width, 2 * 96);
  EXPECT_EQ(sheet->spec().height, 2 * 54);
  const Result wrong = comet("sweep " + scene() + how + out() + " --vary drops.rate=100..300/17");
  EXPECT_EQ(wrong.code, 2);
  EXPECT_THAT(wrong.output, HasSubstr("more than 16 values"));
  EXPECT_THAT(comet("sweep " + scene() + how + out() + " --vary drops.rats=1,2").output, HasSubstr("rats"));
}

TEST_F(CommandLine, RendersLinearPicturesOnRequest) {
  ASSERT_EQ(comet("render " + scene() + " --frames 20 --size 64x64 --exr --quiet --out " + out()).code, 0);
  const auto image = OIIO::ImageInput::open(out() + "/scene.0020.exr");
  ASSERT_TRUE(image);
  EXPECT_EQ(image->spec().format, OIIO::TypeDesc::HALF);
  std::vector<float> pixels(64 * 64 * 4);
  image->read_image(0, 0, 0, 4, OIIO::TypeDesc::FLOAT, pixels.data());
  double alpha = 0;
  for (std::size_t i = 3; i < pixels.size(); i += 4) alpha += pixels[i];
  EXPECT_GT(alpha, 20);
}

TEST_F(CommandLine, BakedCellIsTheRenderedPicture) {
  // Without supersampling and padding, the first cell is what "render" gives for its frame at the cell's
  // size.
  ASSERT_EQ(comet("bake " + scene() + " --quiet --out " + out() +
                  " --set 'paddle spray.supersampling=1' --set 'paddle spray.padding=0' --set 'paddle "
                  "spray.format=exr'")
                .code,
            0);
  ASSERT_EQ(comet("render " + scene() + " --frames 17 --size 256x256 --exr --out " + out()).code, 0);
  const auto readPixels = [&](const std::string& name, int& width) {
    const auto image = OIIO::ImageInput::open(out() + "/" + name);
    width = image->spec().width;
    std::vector<float> pixels(static_cast<std::size_t>(width * image->spec().height * 4));
    image->read_image(0, 0, 0, 4, OIIO::TypeDesc::FLOAT, pixels.data());
    return pixels;
  };
  int sheetWidth = 0, width = 0;
  const auto sheet = readPixels("paddle spray.exr", sheetWidth),
             picture = readPixels("scene.0017.exr", width);
  ASSERT_EQ(width, 256);
  for (int y = 0; y < 256; ++y)
    for (int i = 0; i < 256 * 4; ++i)
      ASSERT_EQ(sheet[static_cast<std::size_t>(y * sheetWidth * 4 + i)],
                picture[static_cast<std::size_t>(y * 256 * 4 + i)]);
}

TEST_F(CommandLine, ASceneWrittenByAScriptBakes) {
  write(R"({"format":"tawny-comet-scene","version":1,"items":[
    {"kind":"emitter","name":"reed fluff","params":{"shape":"box","rate":90}},
    {"kind":"wind","params":{"speed":2}},
    {"kind":"bake","name":"fluff","params":{"columns":2,"rows":1,"first":10,"last":20,"step":10}}],
    "responses":{"reed fluff":{"wind":40}}})");
  const Result result = comet("bake " + scene() + " --out " + out());
  ASSERT_EQ(result.code, 0) << result.output;
  EXPECT_THAT(result.output, HasSubstr("fluff.png"));
}

TEST_F(CommandLine, ABakeThatTheSceneDoesNotHaveIsNamed) {
  const Result result = comet("bake " + scene() + " --out " + out() + " --bake smoke");
  EXPECT_EQ(result.code, 2);
  EXPECT_THAT(result.output, HasSubstr("It has: paddle spray"));
}

TEST_F(CommandLine, AnImpossibleBakeIsFoundByValidate) {
  const Result result = comet("validate " + scene() + " --set 'paddle spray.columns=1'");
  EXPECT_EQ(result.code, 3);
  EXPECT_THAT(result.output, HasSubstr("do not fit"));
}

TEST_F(CommandLine, HelpAndVersionAreNoErrors) {
  EXPECT_EQ(comet("--help").code, 0);
  EXPECT_THAT(comet("bake --help").output, HasSubstr("--set"));
  EXPECT_THAT(comet("--version").output, HasSubstr("0.1.0"));
}

TEST_F(CommandLine, WrongUseIsTwo) {
  for (const char* arguments : {"", "fly", "bake", "stats nothing.comet", "new x --demo no_such_demo"})
    EXPECT_EQ(comet(arguments).code, 2) << arguments;
  EXPECT_EQ(comet("stats " + scene() + " --frames 9-3").code, 2);
  EXPECT_EQ(comet("render " + scene() + " --frames 1 --size big --out " + out()).code, 2);
  const Result unknown = comet("bake " + scene() + " --out " + out() + " --set drops.rat=1");
  EXPECT_EQ(unknown.code, 2);
  EXPECT_THAT(unknown.output, HasSubstr("no parameter \"rat\""));
}

TEST_F(CommandLine, BadInputIsThreeAndNamesThePlace) {
  EXPECT_EQ(comet("validate /no/such/file.comet").code, 3);
  write("not a scene");
  EXPECT_EQ(comet("bake " + scene() + " --out " + out()).code, 3);
  write(
      R"({"format":"tawny-comet-scene","version":1,"items":[{"kind":"emitter","params":{"lifetime":-2}}]})");
  const Result result = comet("validate " + scene());
  EXPECT_EQ(result.code, 3);
  EXPECT_THAT(result.output, HasSubstr("scene.comet: /items/0/params/lifetime: is -2"));
}

TEST_F(CommandLine, UnwritableFolderIsFourAndLeavesNothing) {
  writeFileAtomically(folder_ / "taken", "a file where a folder is wanted");
  const Result result = comet("bake " + scene() + " --out " + (folder_ / "taken").string());
  EXPECT_EQ(result.code, 4);
  EXPECT_THAT(result.output, HasSubstr("taken"));
  EXPECT_EQ(readFile(folder_ / "taken", 100), "a file where a folder is wanted");
}

TEST_F(CommandLine, OverTheMemoryBudgetIsFive) {
  const Result result = comet("stats " + scene() +
                              " --frames 20 --set scene.frame_cache=16 --set drops.rate=5000000 "
                              "--set scene.max_particles=50000000");
  EXPECT_EQ(result.code, 5) << result.output;
  EXPECT_THAT(result.output, HasSubstr("Frame cache"));
}

TEST_F(CommandLine, InterruptedIs130AndLeavesNoSheet) {
  const pid_t child = fork();
  if (child == 0) {
    execl(COMET_BINARY, COMET_BINARY, "bake", scene().c_str(), "--out", out().c_str(), "--set",
          "drops.rate=300000", "--set", "paddle spray.supersampling=8", nullptr);
    _exit(99);
  }
  // The folder is made once the work has begun.
  for (int i = 0; i < 500 && !std::filesystem::exists(out()); ++i)
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  kill(child, SIGINT);
  int status = 0;
  waitpid(child, &status, 0);
  ASSERT_TRUE(WIFEXITED(status));
  EXPECT_EQ(WEXITSTATUS(status), 130);
  EXPECT_TRUE(std::filesystem::is_empty(out()));
}

// A picture that is gone would be missing from every result without a word.
TEST_F(CommandLine, AMissingPictureIsNamedAndNothingIsBaked) {
  write(R"({"format":"tawny-comet-scene","version":1,"items":[{"kind":"bake"},
            {"kind":"emitter","name":"stamp","params":{"sprite":"picture","picture":"gone.png"}}]})");
  const Result result = comet("bake " + scene() + " --out " + out());
  EXPECT_EQ(result.code, 3) << result.output;
  EXPECT_THAT(result.output, HasSubstr("gone.png"));
  EXPECT_THAT(result.output, HasSubstr("--set"));
  EXPECT_FALSE(std::filesystem::exists(out() + "/bake.png"));
  // The way out that it names.
  EXPECT_EQ(comet("bake " + scene() + " --out " + out() + " --set stamp.picture=sample:hull_planks.png").code,
            0);
  EXPECT_TRUE(std::filesystem::exists(out() + "/bake.png"));
}

TEST_F(CommandLine, ABrokenPictureOfASequenceIsNamed) {
  ASSERT_EQ(comet("new --force " + scene()).code, 0);
  const Picture picture(4, 4);
  for (const char* name : {"s.1.png", "s.2.png"})
    writePicture(folder_ / name, picture, PictureFormat::Png8, PictureChannels::Rgba);
  const std::string pictures = scene() + " --set emitter.sprite=picture --set emitter.picture=s.#.png";
  EXPECT_EQ(comet("validate " + pictures).code, 0);
  writeFileAtomically(folder_ / "s.2.png", "this is no picture");
  const Result checked = comet("validate " + pictures);
  EXPECT_EQ(checked.code, 3);
  EXPECT_THAT(checked.output, HasSubstr("s.2.png"));
  EXPECT_EQ(comet("render " + pictures + " --frames 1-2 --size 32x32 --quiet --out " + out()).code, 3);
}

TEST_F(CommandLine, AFileThatEndsItsReaderIsAMessage) {
  ASSERT_EQ(comet("new --force " + scene()).code, 0);
  writeFileAtomically(folder_ / "face.ply",
                      "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\n"
                      "property float z\nelement face 1\nproperty list uchar int vertex_indices\n"
                      "end_header\n0 0 0\n0\n");
  const Result refused =
      comet("validate " + scene() + " --set emitter.shape=mesh --set emitter.mesh=face.ply");
  EXPECT_EQ(refused.code, 3);
  EXPECT_THAT(refused.output, HasSubstr("face.ply"));
  EXPECT_EQ(std::count(refused.output.begin(), refused.output.end(), '\n'), 1) << refused.output;
}

TEST_F(CommandLine, NewTakesNoFilesPlaceUnasked) {
  write("mine");
  const Result refused = comet("new " + scene());
  EXPECT_EQ(refused.code, 4);
  EXPECT_THAT(refused.output, HasSubstr("--force"));
  EXPECT_EQ(readFile(scene(), 100), "mine");
}

TEST_F(CommandLine, WhatCannotBeWrittenIsFour) {
  const auto full = [](const std::string& command) {
    return WEXITSTATUS(
        std::system((std::string(COMET_BINARY) + " " + command + " >/dev/full 2>/dev/null").c_str()));
  };
  EXPECT_EQ(full("schema --json"), 4);
  EXPECT_EQ(full("stats " + scene() + " --frames 1-2"), 4);
  EXPECT_EQ(full("stats " + scene() + " --frames 1-2 --json"), 4);
}

// What the program says and how it exits within a limit of the shell.
Result cometWithin(const std::string& limit, const std::string& arguments) {
  const std::string command =
      "bash -c 'ulimit " + limit + "; exec " + std::string(COMET_BINARY) + " " + arguments + "'";
  return output(command);
}

TEST_F(CommandLine, ADiskThatIsFullLeavesWhatWasThere) {
  const std::string bake = "bake " + scene() + " --quiet --out " + out();
  ASSERT_EQ(comet(bake).code, 0);
  const std::string before = readFile(out() + "/paddle spray.png", 1 << 24);
  const auto count = [this] {
    return std::distance(std::filesystem::directory_iterator(out()), std::filesystem::directory_iterator());
  };
  const auto files = count();
  // Sheets of other cells, which are larger than a file may be.
  const Result full = cometWithin("-f 16", bake + " --set \"paddle spray.cell_width=200\"");
  EXPECT_EQ(full.code, 4) << full.output;
  EXPECT_THAT(full.output, HasSubstr("paddle spray.png"));
  EXPECT_THAT(full.output, testing::Not(HasSubstr(".partial")));
  EXPECT_EQ(readFile(out() + "/paddle spray.png", 1 << 24), before);
  EXPECT_EQ(count(), files);
}

TEST_F(CommandLine, WhatNeedsMoreMemoryThanThereIsSaysSo) {
  const Result picture =
      cometWithin("-v 3000000", "render " + scene() + " --frames 1 --size 12000x12000 --out " + out());
  EXPECT_EQ(picture.code, 5) << picture.output;
  EXPECT_THAT(picture.output, HasSubstr("GB of memory"));
  EXPECT_FALSE(std::filesystem::exists(out())) << "before anything was done";
  const Result particles = cometWithin(
      "-v 1000000", "stats " + scene() +
                        " --frames 1-3 --set scene.max_particles=20000000 --set drops.rate=5000000 --set "
                        "drops.lifetime=100");
  EXPECT_EQ(particles.code, 5) << particles.output;
  EXPECT_THAT(particles.output, HasSubstr("memory"));
}

TEST_F(CommandLine, NeedsNoFolderForTemporaryFiles) {
  const std::string bake = "bake " + scene() + " --quiet --set 'paddle spray.format=tiff16' --out " + out();
  EXPECT_EQ(
      WEXITSTATUS(std::system(("TMPDIR=/nowhere/at/all " + std::string(COMET_BINARY) + " " + bake).c_str())),
      0);
  EXPECT_TRUE(OIIO::ImageInput::open(out() + "/paddle spray.tif"));
}

TEST_F(CommandLine, WhatASimulationLostIsSaidAndStrictlyAnError) {
  const std::string bake =
      "bake " + scene() + " --quiet --check --set scene.max_particles=100 --out " + out();
  const Result told = comet(bake);
  EXPECT_EQ(told.code, 0);
  EXPECT_THAT(told.output, HasSubstr("warning"));
  EXPECT_THAT(told.output, HasSubstr("births were refused"));
  EXPECT_THAT(told.output, Not(HasSubstr("particles were lost"))) << "none was";
  EXPECT_THAT(told.output, HasSubstr("births_refused"));
  EXPECT_GT(
      nlohmann::json::parse(readFile(out() + "/paddle spray.json", 1 << 20))["losses"]["births_refused"], 0);
  const Result strict = comet(bake + " --strict");
  EXPECT_EQ(strict.code, 6);
  EXPECT_TRUE(std::filesystem::exists(out() + "/paddle spray.json")) << "it is written all the same";
  EXPECT_EQ(comet("bake " + scene() + " --quiet --strict --out " + out()).code, 0);
}

class CommandLineDemo : public CommandLine, public testing::WithParamInterface<std::string> {};

TEST_P(CommandLineDemo, IsWrittenCheckedAndDrawn) {
  const std::string file = (folder_ / (GetParam() + ".comet")).string();
  ASSERT_EQ(comet("new " + file + " --demo " + GetParam()).code, 0);
  ASSERT_EQ(comet("validate " + file).code, 0);
  ASSERT_EQ(comet("render " + file + " --frames 20 --size 160x120 --out " + out()).code, 0);
  const auto input = OIIO::ImageInput::open(out() + "/" + GetParam() + ".0020.png");
  ASSERT_TRUE(input);
  std::vector<float> pixels(160 * 120 * 4);
  ASSERT_TRUE(input->read_image(0, 0, 0, 4, OIIO::TypeDesc::FLOAT, pixels.data()));
  int seen = 0;
  for (std::size_t i = 3; i < pixels.size(); i += 4) seen += pixels[i] > 0.05F ? 1 : 0;
  EXPECT_GT(seen, 50);
}

INSTANTIATE_TEST_SUITE_P(Demos, CommandLineDemo, testing::ValuesIn(test::demoNames()),
                         [](const auto& demo) { return demo.param; });

TEST_F(CommandLine, SchemaListsEveryKind) {
  const auto json = nlohmann::json::parse(comet("schema --json").output);
  std::vector<std::string> ids;
  for (const auto& kind : json["kinds"]) ids.push_back(kind["id"]);
  EXPECT_THAT(ids, testing::IsSupersetOf(
                       {"scene", "camera", "emitter", "gravity", "wind", "drag", "turbulence", "bake"}));
}

// An independent validator reads the schemas and what the program writes.
TEST_F(CommandLine, FilesFollowTheirPublishedSchemas) {
  if (std::system("python3 -c 'import jsonschema' 2>/dev/null") != 0)
    GTEST_SKIP() << "no JSON Schema validator here";
  ASSERT_EQ(comet("bake " + scene() + " --out " + out()).code, 0);
  const std::string docs = std::string(COMET_SOURCE_DIR) + "/docs/";
  const auto check = [&](const std::string& schema, const std::string& file) {
    return std::system(
        ("python3 -m jsonschema -i '" + file + "' '" + docs + schema + "' 2>/dev/null").c_str());
  };
  EXPECT_EQ(check("flipbook.schema.json", out() + "/paddle spray.json"), 0);
  const std::string all =
      " --set 'paddle spray.motion_vectors=eight' --set 'paddle spray.depth_sheet=true' "
      "--set 'paddle spray.six_way_lighting=true' --set 'paddle spray.normal_sheet=true' "
      "--set 'paddle spray.separate_glow=true' --set 'paddle spray.loop=cross_fade' "
      "--set 'paddle spray.cell_width=32' --set 'paddle spray.cell_height=32' "
      "--set 'paddle spray.max_sheet_size=150' --set 'paddle spray.channel_packing=true' "
      "--set 'paddle spray.pack_red=depth' --set 'paddle spray.texture=astc_4x4'";
  ASSERT_EQ(comet("bake " + scene() + " --out " + out() + all).code, 0);
  EXPECT_EQ(check("flipbook.schema.json", out() + "/paddle spray.json"), 0);
  ASSERT_EQ(comet("bake " + scene() + " --out " + out() + all + " --set 'paddle spray.format=exr'").code, 0);
  EXPECT_EQ(check("flipbook.schema.json", out() + "/paddle spray.json"), 0);
  EXPECT_EQ(check("scene.schema.json", scene()), 0);
  write(
      R"({"format":"tawny-comet-scene","version":1,"items":[{"kind":"emitter","params":{"rate":"fast"}}]})");
  EXPECT_NE(check("scene.schema.json", scene()), 0) << "the schema lets a wrong scene pass";
}

}  // namespace
}  // namespace comet
