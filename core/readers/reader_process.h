// The process that files are read in, and the one that such processes come from.
//
// A file may be damaged in a way that ends the library that reads it, or makes it take whatever there is. A
// reader is a process that can do nothing but calculate: it opens no file, has no network and starts nothing
// (by seccomp, Drewry, "SECure COMPuting with filters", 2012), and it has limits on memory. Whatever happens
// in it, the program goes on.
//
// Processes with threads cannot safely be copied: so a host is copied from the program before it has any, and
// makes the readers when they are wanted.
#pragma once

#include "readers/channel.h"

#include <cstddef>
#include <mutex>
#include <optional>
#include <sys/types.h>

namespace comet {

// What a reader may take besides what the program has when it starts.
constexpr std::size_t kReaderMemory = std::size_t{3} << 30;

// A reader of the program's: ended with the object.
class ReaderProcess {
 public:
  ReaderProcess(Channel channel, pid_t id) : channel_(std::move(channel)), id_(id) {}
  ~ReaderProcess();
  ReaderProcess(ReaderProcess&& other) noexcept;
  ReaderProcess& operator=(ReaderProcess&&) = delete;

  Channel& channel() { return channel_; }
  // It has ended by itself.
  void isGone() { id_ = -1; }

 private:
  Channel channel_;
  pid_t id_;
};

class ReaderHost {
 public:
  // To be made before the program has any threads. `prepare` is run once in the host, `work` in each reader,
  // where it must answer whatever comes until the channel is closed.
  ReaderHost(void (*prepare)(), void (*work)(Channel&));
  // Ends all readers.
  ~ReaderHost();
  ReaderHost(const ReaderHost&) = delete;
  ReaderHost& operator=(const ReaderHost&) = delete;

  // From any thread. Throws std::system_error if there can be none, and PeerGone if the host has ended.
  ReaderProcess newReader() const;

 private:
  pid_t id_ = -1;
  mutable std::mutex mutex_;
  mutable std::optional<Channel> channel_;
};

}  // namespace comet
