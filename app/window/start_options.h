// The command line of the desktop application.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace comet {

struct StartOptions {
  std::string scene;  // a file; empty for none
  std::string demo;   // the name of one; empty for none
};

// Whether arguments that are not the program's own are refused. The window toolkit has some too, which are
// still there before its application is made.
enum class UnknownArguments { Pass, Refused };

// Reads the arguments, without the program's name. The exit code is set if the program is to end at once:
// help and the like were asked for and are printed, or something is wrong and was said. Needs no display.
std::optional<int> readStartOptions(const std::vector<std::string>& arguments, UnknownArguments unknown,
                                    StartOptions& options);

}  // namespace comet
