// Bytes and open files that go from one process to another.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <stdexcept>
#include <string>
#include <string_view>
#include <type_traits>

namespace comet {

// The other process has ended.
struct PeerGone : std::runtime_error {
  PeerGone() : std::runtime_error("the other process has ended") {}
};

// One end of a connection. Used by one thread at a time. All calls throw PeerGone once the other end is
// closed.
class Channel {
 public:
  // Takes a connected stream socket over.
  explicit Channel(int socket) : socket_(socket) {}
  ~Channel();
  Channel(Channel&& other) noexcept;
  Channel& operator=(Channel&& other) noexcept;

  // Called again and again while nothing comes; it may throw to stop waiting.
  void setWhileWaiting(std::function<void()> call) { whileWaiting_ = std::move(call); }

  void send(const void* bytes, std::size_t count);
  void receive(void* bytes, std::size_t count);

  template <typename Number>
  void send(const Number& number) {
    static_assert(std::is_trivially_copyable_v<Number>);
    send(&number, sizeof number);
  }
  template <typename Number>
  Number receive() {
    static_assert(std::is_trivially_copyable_v<Number>);
    Number number{};
    receive(&number, sizeof number);
    return number;
  }

  void sendText(std::string_view text);
  // Throws std::length_error if more than `longest` bytes come.
  std::string receiveText(std::size_t longest);

  // The other end gets a descriptor of its own for the same open file.
  void sendFile(int descriptor);
  // The caller closes it.
  int receiveFile();

 private:
  void waitForBytes();

  int socket_ = -1;
  std::function<void()> whileWaiting_;
};

}  // namespace comet
