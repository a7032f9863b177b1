#include "window/start_options.h"

#include "demos.h"
#include "manual/manual.h"

#include <CLI/CLI.hpp>

namespace comet {
namespace {

std::vector<std::string> demoNames() {
  std::vector<std::string> names;
  for (const Demo& demo : demos()) names.emplace_back(demo.name);
  return names;
}

std::vector<cli::ManualSection> manualSections() {
  return {{"DESCRIPTION",
           "The window in which particle and smoke effects for games are made, and baked into flipbooks. "
           "Its user guide can be read in the window. "
           "Options of the window toolkit, such as \"-platform wayland\", are understood too."},
          {"FILES",
           "Scenes are JSON files whose names end in .comet.\n\n"
           "~/.config/Tawny Comet/\tWhat the window remembers: its layout, the files that were open.\n\n"
           "~/.local/share/Tawny Comet/\tCopies of unsaved work, and an artist's own presets."},
          {"SEE ALSO", "comet(1)"}};
}

}  // namespace

std::optional<int> readStartOptions(const std::vector<std::string>& arguments, UnknownArguments unknown,
                                    StartOptions& options) {
  CLI::App app("particle and smoke effects for games", "tawny-comet");
  app.add_option("SCENE", options.scene, "a scene file to open");
  app.add_option("--demo", options.demo, "open a demo and play it")->check(CLI::IsMember(demoNames()));
  app.set_version_flag("--version", COMET_VERSION);
  cli::addManual(app, COMET_VERSION, manualSections());
  app.allow_extras(unknown == UnknownArguments::Pass);
  try {
    // It takes them from the back.
    app.parse(std::vector<std::string>(arguments.rbegin(), arguments.rend()));
    return {};
  } catch (const CLI::Success& answered) {
    return app.exit(answered);
  } catch (const CLI::ParseError& error) {
    constexpr int kWrongUse = 2;
    if (unknown == UnknownArguments::Pass) return {};
    app.exit(error);
    return kWrongUse;
  }
}

}  // namespace comet
