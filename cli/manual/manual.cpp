#include "manual/manual.h"

#include <CLI/CLI.hpp>
#include <algorithm>
#include <cctype>
#include <cstdio>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <sstream>

namespace comet::cli {
namespace {

constexpr const char* kSceneSuffix = ".comet";

std::vector<const CLI::App*> commandsOf(const CLI::App& app) {
  return app.get_subcommands([](const CLI::App*) { return true; });
}

std::vector<const CLI::Option*> optionsOf(const CLI::App& app, bool positional) {
  return app.get_options(
      [positional](const CLI::Option* option) { return option->get_positional() == positional; });
}

bool takesAValue(const CLI::Option& option) { return option.get_items_expected_max() > 0; }

// Those that it is restricted to; none if it is free.
std::vector<std::string> wordsOf(const CLI::Option& option) {
  const std::string type = option.get_type_name();
  const auto open = type.find('{'), close = type.find('}');
  if (open == std::string::npos || close == std::string::npos) return {};
  std::vector<std::string> words;
  std::istringstream list(type.substr(open + 1, close - open - 1));
  for (std::string word; std::getline(list, word, ',');) words.push_back(word);
  return words;
}

std::string flagsOf(const CLI::Option& option) {
  std::vector<std::string> flags;
  for (const std::string& name : option.get_snames()) flags.push_back("-" + name);
  for (const std::string& name : option.get_lnames()) flags.push_back("--" + name);
  return fmt::format("{}", fmt::join(flags, ", "));
}

// As it stands in a page: nothing of it is a command of the formatter.
std::string escaped(const std::string& text) {
  std::string result;
  bool isLineStart = true;
  for (const char c : text) {
    if (isLineStart && (c == '.' || c == '\'')) result += "\\&";
    if (c == '\\')
      result += "\\e";
    else if (c == '-')
      result += "\\-";
    else
      result += c;
    isLineStart = c == '\n';
  }
  return result;
}

std::string sentence(std::string text) {
  if (text.empty()) return text;
  text.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(text.front())));
  if (text.back() != '.') text += '.';
  return text;
}

std::string upper(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
  return text;
}

std::string entry(const std::string& words, const std::string& text) {
  return fmt::format(".TP\n.B {}\n{}\n", escaped(words), escaped(text));
}

std::string entryOf(const CLI::Option& option) {
  std::string words = option.get_positional() ? option.get_name(true) : flagsOf(option);
  if (!option.get_positional() && takesAValue(option)) words += " VALUE";
  std::string text = sentence(option.get_description());
  if (const auto allowed = wordsOf(option); !allowed.empty())
    text += fmt::format(" One of: {}.", fmt::join(allowed, ", "));
  return entry(words, text);
}

std::string entriesOf(const CLI::App& app) {
  std::string page;
  for (const bool positional : {true, false})
    for (const CLI::Option* option : optionsOf(app, positional)) page += entryOf(*option);
  return page;
}

std::string synopsisOf(const CLI::App& app, const std::string& before) {
  std::string line = fmt::format(".B {}\n", escaped(before));
  for (const CLI::Option* option : optionsOf(app, true))
    line +=
        escaped(option->get_required() ? option->get_name(true) : "[" + option->get_name(true) + "]") + "\n";
  for (const CLI::Option* option : optionsOf(app, false))
    if (option->get_required()) line += escaped(flagsOf(*option) + " VALUE") + "\n";
  return line + (optionsOf(app, false).empty() ? "" : "[OPTIONS]\n");
}

std::string textOf(const ManualSection& section) {
  std::string page = fmt::format(".SH {}\n", section.title);
  std::istringstream text(section.text);
  std::string paragraph, line;
  const auto end = [&] {
    if (paragraph.empty()) return;
    if (const auto tab = paragraph.find('\t'); tab != std::string::npos)
      page += entry(paragraph.substr(0, tab), paragraph.substr(tab + 1));
    else
      page += ".PP\n" + escaped(paragraph) + "\n";
    paragraph.clear();
  };
  while (std::getline(text, line)) {
    if (line.empty())
      end();
    else
      paragraph += (paragraph.empty() ? "" : "\n") + line;
  }
  end();
  return page;
}

std::vector<std::string> flagListOf(const CLI::App& app) {
  std::vector<std::string> flags;
  for (const CLI::Option* option : optionsOf(app, false)) {
    for (const std::string& name : option->get_snames()) flags.push_back("-" + name);
    for (const std::string& name : option->get_lnames()) flags.push_back("--" + name);
  }
  return flags;
}

// The lines of the script that answer for one command, or for the program itself.
void addCases(const CLI::App& app, const std::string& command, std::string& values, std::string& flags) {
  for (const CLI::Option* option : optionsOf(app, false))
    if (const auto words = wordsOf(*option); !words.empty())
      values +=
          fmt::format("    \"{} {}\") words=\"{}\" ;;\n", command, flagsOf(*option), fmt::join(words, " "));
  flags += fmt::format("    \"{}\") words=\"{}\" ;;\n", command, fmt::join(flagListOf(app), " "));
}

}  // namespace

std::string manualPage(const CLI::App& app, const std::string& version,
                       const std::vector<ManualSection>& more) {
  const std::string& name = app.get_name();
  std::string page =
      fmt::format(".TH {} 1 \"\" \"Tawny Comet {}\" \"User commands\"\n", escaped(upper(name)), version);
  page += fmt::format(".SH NAME\n{} \\- {}\n.SH SYNOPSIS\n", escaped(name), escaped(app.get_description()));
  const auto commands = commandsOf(app);
  if (commands.empty()) page += synopsisOf(app, name);
  for (const CLI::App* command : commands)
    page +=
        synopsisOf(*command, name + " " + command->get_name()) + (command == commands.back() ? "" : ".br\n");
  if (!commands.empty()) page += ".SH COMMANDS\n";
  for (const CLI::App* command : commands)
    page += fmt::format(".SS {}\n{}\n{}", escaped(command->get_name()),
                        escaped(sentence(command->get_description())), entriesOf(*command));
  page += ".SH OPTIONS\n" + entriesOf(app);
  for (const ManualSection& section : more) page += textOf(section);
  return page;
}

std::string bashCompletion(const CLI::App& app, const std::string& suffix) {
  const std::string& name = app.get_name();
  std::string function = "_" + name;
  std::replace(function.begin(), function.end(), '-', '_');
  std::vector<std::string> commands;
  std::string values, flags;
  addCases(app, "", values, flags);
  for (const CLI::App* command : commandsOf(app)) {
    commands.push_back(command->get_name());
    addCases(*command, command->get_name(), values, flags);
  }
  return fmt::format(R"(# Completion of {name} for bash.
{function}() {{
  local word=${{COMP_WORDS[COMP_CWORD]}} before=${{COMP_WORDS[COMP_CWORD - 1]}} command="" words=""
  local commands="{commands}"
  [[ -n $commands && $COMP_CWORD -gt 1 ]] && command=${{COMP_WORDS[1]}}
  case "$command $before" in
{values}  esac
  if [[ -z $words && $word == -* ]]; then
    case "$command" in
{flags}    esac
  fi
  [[ -z $words && $COMP_CWORD -eq 1 ]] && words=$commands
  if [[ -n $words ]]; then
    mapfile -t COMPREPLY < <(compgen -W "$words" -- "$word")
  elif [[ $before == -* ]]; then
    COMPREPLY=()
  else
    compopt -o filenames 2>/dev/null
    mapfile -t COMPREPLY < <(compgen -f -X '!*{suffix}' -- "$word"; compgen -d -- "$word")
  fi
}}
complete -o default -F {function} {name}
)",
                     fmt::arg("name", name), fmt::arg("function", function),
                     fmt::arg("commands", fmt::join(commands, " ")), fmt::arg("values", values),
                     fmt::arg("flags", flags), fmt::arg("suffix", suffix));
}

void addManual(CLI::App& app, const std::string& version, const std::vector<ManualSection>& more) {
  const auto add = [&app](const char* flag, const char* help, const std::function<std::string()>& text) {
    app.add_flag_callback(
           flag,
           [text] {
             fmt::print("{}", text());
             throw CLI::Success();
           },
           help)
        ->trigger_on_parse();
  };
  add("--manual", "print the manual page, as man(1) reads it",
      [&app, version, more] { return manualPage(app, version, more); });
  add("--bash-completion", "print a script that completes commands and options in bash",
      [&app] { return bashCompletion(app, kSceneSuffix); });
}

}  // namespace comet::cli
