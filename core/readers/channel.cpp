#include "readers/channel.h"

#include <array>
#include <cerrno>
#include <cstring>
#include <poll.h>
#include <sys/socket.h>
#include <system_error>
#include <unistd.h>
#include <utility>

namespace comet {
namespace {

constexpr int kWaitMilliseconds = 20;

// A byte, and room for what the system says about one descriptor that goes along with it.
class DescriptorMessage {
 public:
  DescriptorMessage() {
    message_.msg_iov = &part_;
    message_.msg_iovlen = 1;
    message_.msg_control = room_.data();
    message_.msg_controllen = room_.size();
  }
  DescriptorMessage(const DescriptorMessage&) = delete;
  DescriptorMessage& operator=(const DescriptorMessage&) = delete;

  msghdr* get() { return &message_; }
  // Null if nothing came along.
  cmsghdr* header() { return CMSG_FIRSTHDR(&message_); }

 private:
  char byte_ = 0;
  iovec part_{&byte_, 1};
  alignas(cmsghdr) std::array<char, CMSG_SPACE(sizeof(int))> room_{};
  msghdr message_{};
};

[[noreturn]] void failWith(const char* what) {
  if (errno == EPIPE || errno == ECONNRESET) throw PeerGone();
  throw std::system_error(errno, std::generic_category(), what);
}

}  // namespace

Channel::~Channel() {
  if (socket_ >= 0) ::close(socket_);
}

Channel::Channel(Channel&& other) noexcept
    : socket_(std::exchange(other.socket_, -1)), whileWaiting_(std::move(other.whileWaiting_)) {}

Channel& Channel::operator=(Channel&& other) noexcept {
  std::swap(socket_, other.socket_);
  std::swap(whileWaiting_, other.whileWaiting_);
  return *this;
}

void Channel::send(const void* bytes, std::size_t count) {
  const char* at = static_cast<const char*>(bytes);
  while (count > 0) {
    const ssize_t sent = ::send(socket_, at, count, MSG_NOSIGNAL);
    if (sent < 0 && errno == EINTR) continue;
    if (sent < 0) failWith("send");
    at += sent;
    count -= static_cast<std::size_t>(sent);
  }
}

void Channel::waitForBytes() {
  if (!whileWaiting_) return;
  pollfd waiting{socket_, POLLIN, 0};
  while (::poll(&waiting, 1, kWaitMilliseconds) == 0) whileWaiting_();
}

void Channel::receive(void* bytes, std::size_t count) {
  char* at = static_cast<char*>(bytes);
  while (count > 0) {
    waitForBytes();
    const ssize_t got = ::recv(socket_, at, count, 0);
    if (got < 0 && errno == EINTR) continue;
    if (got < 0) failWith("receive");
    if (got == 0) throw PeerGone();
    at += got;
    count -= static_cast<std::size_t>(got);
  }
}

void Channel::sendText(std::string_view text) {
  send(static_cast<std::uint64_t>(text.size()));
  send(text.data(), text.size());
}

std::string Channel::receiveText(std::size_t longest) {
  const auto length = receive<std::uint64_t>();
  if (length > longest) throw std::length_error("too long a text");
  std::string text(length, '\0');
  receive(text.data(), text.size());
  return text;
}

void Channel::sendFile(int descriptor) {
  DescriptorMessage message;
  cmsghdr* header = message.header();
  header->cmsg_level = SOL_SOCKET;
  header->cmsg_type = SCM_RIGHTS;
  header->cmsg_len = CMSG_LEN(sizeof descriptor);
  std::memcpy(CMSG_DATA(header), &descriptor, sizeof descriptor);
  while (::sendmsg(socket_, message.get(), MSG_NOSIGNAL) < 0)
    if (errno != EINTR) failWith("send");
}

int Channel::receiveFile() {
  waitForBytes();
  DescriptorMessage message;
  ssize_t got = 0;
  do got = ::recvmsg(socket_, message.get(), MSG_CMSG_CLOEXEC);
  while (got < 0 && errno == EINTR);
  if (got < 0) failWith("receive");
  const cmsghdr* header = message.header();
  if (got == 0 || !header || header->cmsg_type != SCM_RIGHTS) throw PeerGone();
  int descriptor = -1;
  std::memcpy(&descriptor, CMSG_DATA(header), sizeof descriptor);
  return descriptor;
}

}  // namespace comet
