#include "base/error.h"

namespace comet {
namespace {

std::string sentence(const std::string& place, const std::string& problem, const std::string& remedy) {
  std::string text = place.empty() ? problem : place + ": " + problem;
  if (!remedy.empty()) text += ". " + remedy;
  return text;
}

}  // namespace

Error::Error(ErrorKind kind, const std::string& place, const std::string& problem, const std::string& remedy)
    : std::runtime_error(sentence(place, problem, remedy)),
      kind_(kind),
      place_(place),
      problem_(problem),
      remedy_(remedy) {}

void refuseInput(const std::string& place, const std::string& problem, const std::string& remedy) {
  throw Error(ErrorKind::Input, place, problem, remedy);
}

Error Error::within(const std::string& outer) const {
  const std::string place = place_.empty() ? outer : outer + ": " + place_;
  return {kind_, place, problem_, remedy_};
}

}  // namespace comet
