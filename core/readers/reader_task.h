// What a program and its readers say to each other.
#pragma once

#include "readers/channel.h"

#include <cstddef>
#include <cstdint>

namespace comet {

// A request is a task, the file's name and the file itself.
enum class ReaderTask : std::uint8_t { Picture, Mesh, Volumes };

// What an answer, or each piece of a longer one, begins with.
enum class ReaderAnswer : std::uint8_t {
  Result,       // what was asked for follows
  Refused,      // place, problem and remedy
  NoMemory,     // nothing
  FurtherFile,  // the name of a file that is needed too; the program sends whether there is one, and it
};

constexpr std::size_t kLongestText = 4096;
constexpr std::size_t kLargestFile = std::size_t{1} << 30;

// In the host, once: what the libraries set up that may be shared by all readers.
void prepareToRead();
// In a reader: answers requests until the channel is closed.
void readForOthers(Channel& program);

}  // namespace comet
