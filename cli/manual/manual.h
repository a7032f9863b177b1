// What a program tells of itself, made from the table of its options: the manual page, and what a shell
// completes.
#pragma once

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace comet::cli {

// Paragraphs have an empty line between them. A paragraph "WORDS\tTEXT" is an entry of a list.
struct ManualSection {
  std::string title;  // in capitals
  std::string text;
};

// A page of section 1, in the macros of man(7): the options of the program and of each of its commands.
std::string manualPage(const CLI::App& app, const std::string& version,
                       const std::vector<ManualSection>& more);

// A script for bash: commands, options, the words that an option takes, and else files. `suffix`, such as
// ".comet", is that of the files that arguments without an option name.
std::string bashCompletion(const CLI::App& app, const std::string& suffix);

// Adds --manual and --bash-completion, which print and end the program as --help does.
void addManual(CLI::App& app, const std::string& version, const std::vector<ManualSection>& more);

}  // namespace comet::cli
