#include "base/error.h"

#include <algorithm>
#include <cstdio>
#include <string_view>

namespace comet {
namespace {

constexpr std::size_t kLongestQuote = 80;
// A path's steps may be as long as the system lets them be.
constexpr std::size_t kLongestStep = 255;
constexpr std::size_t kLongestText = 2000;

bool isMiddleOfCharacter(char c) { return (static_cast<unsigned char>(c) & 0xC0) == 0x80; }

// Its first characters, if there are more than so many; characters are not cut in the middle.
std::string cut(std::string_view text, std::size_t max) {
  if (text.size() <= max) return std::string(text);
  std::size_t end = max;
  while (end > 0 && isMiddleOfCharacter(text[end])) --end;
  return std::string(text.substr(0, end)) + "…";
}

enum class Cut { Each, EverySecond };

// With the parts between two marks cut.
std::string withPartsCut(const std::string& text, char mark, std::size_t max, Cut which) {
  std::string result;
  bool cuts = which == Cut::Each;
  for (std::size_t begin = 0; begin <= text.size(); cuts = !cuts || which == Cut::Each) {
    const std::size_t end = std::min(text.find(mark, begin), text.size());
    const std::string_view part = std::string_view(text).substr(begin, end - begin);
    result += cuts ? cut(part, max) : std::string(part);
    if (end < text.size()) result += mark;
    begin = end + 1;
  }
  return result;
}

// Without what moves a cursor or colours a terminal: control characters, those of two bytes as well.
std::string withoutControls(const std::string& text) {
  std::string result;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto byte = static_cast<unsigned char>(text[i]);
    const bool isLongControl =
        byte == 0xC2 && i + 1 < text.size() && static_cast<unsigned char>(text[i + 1]) < 0xA0;
    if (byte >= 0x20 && byte != 0x7F && !isLongControl) {
      result += text[i];
      continue;
    }
    char escape[8];
    std::snprintf(escape, sizeof escape, "\\x%02x",
                  isLongControl ? static_cast<unsigned char>(text[++i]) : byte);
    result += escape;
  }
  return result;
}

std::string shownPlace(const std::string& place) {
  return cut(withoutControls(withPartsCut(place, '/', kLongestStep, Cut::Each)), 2 * kLongestText);
}

std::string shownProblem(const std::string& problem) {
  return cut(withoutControls(withPartsCut(problem, '"', kLongestQuote, Cut::EverySecond)), kLongestText);
}

std::string sentence(const std::string& place, const std::string& problem, const std::string& remedy) {
  std::string text = place.empty() ? problem : place + ": " + problem;
  if (!remedy.empty()) text += ". " + remedy;
  return text;
}

}  // namespace

Error::Error(ErrorKind kind, const std::string& place, const std::string& problem, const std::string& remedy)
    : std::runtime_error(sentence(shownPlace(place), shownProblem(problem), shownProblem(remedy))),
      kind_(kind),
      place_(shownPlace(place)),
      problem_(shownProblem(problem)),
      remedy_(shownProblem(remedy)) {}

void refuseInput(const std::string& place, const std::string& problem, const std::string& remedy) {
  throw Error(ErrorKind::Input, place, problem, remedy);
}

Error Error::withRemedy(const std::string& remedy) const {
  return remedy_.empty() ? Error(kind_, place_, problem_, remedy) : *this;
}

Error Error::within(const std::string& outer) const {
  const std::string place = place_.empty() ? outer : outer + ": " + place_;
  return {kind_, place, problem_, remedy_};
}

}  // namespace comet
