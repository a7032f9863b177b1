// Errors that reach a user: what is wrong, where, and what to do about it.
//
// Thrown by every room of core; turned into a message and an exit code at one edge (command line or window).
// Faults of our own are asserts, never an Error.
#pragma once

#include <stdexcept>
#include <string>

namespace comet {

enum class ErrorKind {
  Usage,       // a call or an option that makes no sense
  Input,       // a file or a value that cannot be used
  Write,       // a result that cannot be stored
  Budget,      // more memory or particles than allowed
  Cancelled,   // the user stopped it
  Incomplete,  // a result that is there, but lacks something that was asked for
};

// Places and problems may hold what stands in a file: as texts of an error, what a terminal would obey is
// escaped, and what is quoted is cut after 80 characters.
class Error : public std::runtime_error {
 public:
  // `place` names the file and the spot in it (a JSON pointer, an item and its parameter); it may be empty.
  Error(ErrorKind kind, const std::string& place, const std::string& problem, const std::string& remedy = {});

  ErrorKind kind() const { return kind_; }
  const std::string& place() const { return place_; }
  const std::string& problem() const { return problem_; }
  const std::string& remedy() const { return remedy_; }

  // The same with a way out, if it has none of its own.
  Error withRemedy(const std::string& remedy) const;
  // The same error seen from further out: `outer` is put before its place.
  Error within(const std::string& outer) const;

 private:
  ErrorKind kind_;
  std::string place_;
  std::string problem_;
  std::string remedy_;
};

// Throws Error(Input): for readers, which do little else.
[[noreturn]] void refuseInput(const std::string& place, const std::string& problem,
                              const std::string& remedy = {});

}  // namespace comet
