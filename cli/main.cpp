// comet: the command line of Tawny Comet.
#include "bake/data_export.h"
#include "base/error.h"
#include "commands.h"
#include "console.h"
#include "manual/manual.h"
#include "readers/file_reader.h"

#include <CLI/CLI.hpp>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <fmt/format.h>
#include <functional>
#include <memory>
#include <new>
#include <string>
#include <system_error>
#include <vector>

namespace {

using namespace comet;
using namespace comet::cli;

enum ExitCode {
  Done = 0,
  WrongUse = 2,
  BadInput = 3,
  CannotWrite = 4,
  OverBudget = 5,
  LacksSomething = 6,
  Stopped = 130
};

std::vector<ManualSection> manualSections() {
  return {
      {"EXIT STATUS",
       fmt::format(
           "{}\tdone\n\n{}\twrong use\n\n{}\tbad input\n\n{}\tcannot write\n\n{}\tover the memory "
           "budget\n\n{}\tdone, but births were refused or particles lost (with --strict)\n\n{}\tcancelled",
           int{Done}, int{WrongUse}, int{BadInput}, int{CannotWrite}, int{OverBudget}, int{LacksSomething},
           int{Stopped})},
      {"FILES",
       "Scenes are JSON files whose names end in .comet. Messages go to standard error and name file, place "
       "and "
       "remedy. What is written is complete under its final name or does not exist.\n\n"
       "NAME.comet.frames\tThe simulated frames of a scene whose disk cache is on. It may be deleted at any "
       "time."},
      {"EXAMPLES",
       "comet new steam.comet --demo funnel_steam\tWrites a demo.\n\n"
       "comet bake steam.comet --out steam --check\tBakes its flipbooks and lists their faults.\n\n"
       "comet render steam.comet --set steam.buoyancy=20 --frames 1-48 --size 640x360 --out pictures\tDraws "
       "it "
       "with "
       "another value."},
      {"SEE ALSO", "tawny-comet(1)"},
  };
}

int exitCodeFor(ErrorKind kind) {
  switch (kind) {
    case ErrorKind::Usage:
      return WrongUse;
    case ErrorKind::Input:
      return BadInput;
    case ErrorKind::Write:
      return CannotWrite;
    case ErrorKind::Budget:
      return OverBudget;
    case ErrorKind::Cancelled:
      return Stopped;
    case ErrorKind::Incomplete:
      return LacksSomething;
  }
  return BadInput;
}

// Every subcommand, bound to its options; `chosen` is set to the one that the arguments name.
struct Commands {
  using Run = std::function<void(Progress&)>;

  Commands(CLI::App& app, const FileReaderPtr& files) {
    CLI::App* command = add(app, "bake", "bake the flipbooks of a scene", [this](Progress& p) {
      bakeOptions.scene.inScene([&] { bake(bakeOptions, p); });
    });
    bakeOptions.scene.addTo(*command, files);
    command->add_option("--out", bakeOptions.folder, "the folder to write to")->required();
    command->add_option("--bake", bakeOptions.bakeName, "only the bake of this name");
    command->add_flag("--fit", bakeOptions.fits, "fit the view to the effect first");
    command->add_flag("--check", bakeOptions.checks, "list the faults that the bake check finds");
    command->add_flag("--watch", bakeOptions.watches,
                      "bake again whenever the scene's file is saved, until Ctrl+C");

    command = add(app, "render", "full pictures through the scene's camera",
                  [this](Progress& p) { renderOptions.scene.inScene([&] { render(renderOptions, p); }); });
    renderOptions.scene.addTo(*command, files);
    command->add_option("--frames", renderOptions.frames, "A-B")->required();
    command->add_option("--size", renderOptions.size, "WxH, in pixels")->required();
    command->add_option("--out", renderOptions.folder, "the folder to write to")->required();
    command->add_flag("--exr", renderOptions.exr, "OpenEXR instead of PNG");

    command = add(app, "sweep", "pictures of a scene with several values of a parameter, or of two",
                  [this](Progress& p) { sweepOptions.scene.inScene([&] { sweep(sweepOptions, p); }); });
    sweepOptions.scene.addTo(*command, files);
    command
        ->add_option("--vary", sweepOptions.axes,
                     "ITEM.PARAM=VALUES: the values with commas between (semicolons where they have commas "
                     "themselves), or FROM..TO/N for N numbers; given twice, all combinations")
        ->expected(1)
        ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll)
        ->required();
    command->add_option("--frames", sweepOptions.frames, "A-B")->required();
    command->add_option("--size", sweepOptions.size, "WxH, in pixels")->required();
    command->add_option("--out", sweepOptions.folder, "the folder to write to")->required();

    command =
        add(app, "export",
            "particles, their hits on deflectors, trails, links, surfaces, gases or cards, as data",
            [this](Progress& p) { exportOptions.scene.inScene([&] { exportData(exportOptions, p); }); });
    exportOptions.scene.addTo(*command, files);
    command->add_option("--what", exportOptions.what, "what to export")
        ->check(CLI::IsMember(std::vector<std::string>(kDataKinds.begin(), kDataKinds.end())))
        ->required();
    command
        ->add_option(
            "--format", exportOptions.format,
            "csv, ply or vdb; of particles also usda; of trails and links csv, ply, obj or usda; of surfaces "
            "obj, ply or glb; of gases vdb; of cards obj, ply, glb or usda")
        ->check(CLI::IsMember({"csv", "ply", "vdb", "obj", "usda", "glb"}))
        ->required();
    command->add_option("--frames", exportOptions.frames, "A-B")->required();
    command->add_option("--points", exportOptions.points, "points of each trail or link, evenly along it")
        ->check(CLI::Range(2, 10000));
    command->add_option("--out", exportOptions.folder, "the folder to write to")->required();

    command = add(app, "stats", "counts, times, memory and a hash for each frame",
                  [this](Progress& p) { statsOptions.scene.inScene([&] { stats(statsOptions, p); }); });
    statsOptions.scene.addTo(*command, files);
    command->add_option("--frames", statsOptions.frames, "A-B")->required();
    command->add_flag("--json", statsOptions.json, "as JSON");

    command = add(app, "validate", "check a scene file",
                  [this](Progress& p) { validateOptions.inScene([&] { validate(validateOptions, p); }); });
    validateOptions.addTo(*command, files);

    command = add(app, "new", "write a starting scene, a demo, or a scene that uses a flipbook",
                  [this](Progress& p) { newScene(newOptions, p); });
    command->add_option("OUT", newOptions.path, "the file to write")->required();
    CLI::Option* demo = command->add_option("--demo", newOptions.demo, "name of a demo");
    command
        ->add_option("--sheet", newOptions.sheet,
                     "the JSON file of an exported flipbook, which the scene's emitters play")
        ->excludes(demo);
    command
        ->add_option("--preset", newOptions.presets,
                     "a preset by its name, or its file; several for a scene that has them all")
        ->expected(1)
        ->multi_option_policy(CLI::MultiOptionPolicy::TakeAll)
        ->excludes(demo);
    newOptions.files = files;
    command->add_flag("--force", newOptions.force, "also over a file that is there");

    command = add(app, "schema", "every parameter of every kind", [this](Progress&) { schema(schemaForm); });
    const auto form = [this, command](const char* flag, SchemaForm value, const char* help) {
      command->add_flag_callback(
          flag, [this, value] { schemaForm = value; }, help);
    };
    form("--json", SchemaForm::Json, "as JSON");
    form("--markdown", SchemaForm::Markdown, "as the reference page of the user guide");
    form("--json-schema", SchemaForm::JsonSchema, "as a JSON Schema for scene files");
  }

  CLI::App* add(CLI::App& app, const char* name, const char* help, Run run) {
    CLI::App* command = app.add_subcommand(name, help);
    command->callback([this, run = std::move(run)] { chosen = run; });
    return command;
  }

  BakeOptions bakeOptions;
  RenderOptions renderOptions;
  SweepOptions sweepOptions;
  ExportOptions exportOptions;
  StatsOptions statsOptions;
  SceneOptions validateOptions;
  NewOptions newOptions;
  SchemaForm schemaForm = SchemaForm::Text;
  Run chosen;
};

int complain(const std::string& message, int code) {
  fmt::print(stderr, "comet: {}\n", message);
  return code;
}

}  // namespace

int main(int argc, char** argv) {
  // A file that would be larger than allowed is then an error like any other.
  std::signal(SIGXFSZ, SIG_IGN);
  // First of all, before there are threads.
  const auto files = std::make_shared<const FileReader>();
  CLI::App app("bakes, renders and exports scenes of Tawny Comet", "comet");
  app.require_subcommand(1);
  app.set_version_flag("--version", COMET_VERSION);
  addManual(app, COMET_VERSION, manualSections());
  Commands commands(app, files);
  try {
    app.parse(argc, argv);
    Progress progress;
    const CancelOnSignal signals(progress);
    commands.chosen(progress);
    if (std::fflush(stdout) != 0) return complain("the results cannot be written to the output", CannotWrite);
    return Done;
  } catch (const CLI::ParseError& error) {
    return app.exit(error) == 0 ? Done : WrongUse;
  } catch (const Error& error) {
    const int code = complain(error.what(), exitCodeFor(error.kind()));
    // All of ours is tidied up; taking down the libraries would only keep who wants to leave waiting.
    if (error.kind() == ErrorKind::Cancelled) std::_Exit(code);
    return code;
  } catch (const std::bad_alloc&) {
    return complain("there is not enough memory", OverBudget);
  } catch (const std::system_error& error) {
    return complain(std::string("the results cannot be written: ") + error.what(), CannotWrite);
  }
}
