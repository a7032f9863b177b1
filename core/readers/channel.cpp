#include "readers/channel.h"

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

// Room for what the system says about one descriptor that is sent along.
union ControlRoom {
  cmsghdr aligned;
  char bytes[CMSG_SPACE(sizeof(int))];
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
  char one = 0;
  iovec part{&one, 1};
  ControlRoom room{};
  msghdr message{};
  message.msg_iov = &part;
  message.msg_iovlen = 1;
  message.msg_control = &room;
  message.msg_controllen = sizeof room;
  cmsghdr* header = CMSG_FIRSTHDR(&message);
  header->cmsg_level = SOL_SOCKET;
  header->cmsg_type = SCM_RIGHTS;
  header->cmsg_len = CMSG_LEN(sizeof descriptor);
  std::memcpy(CMSG_DATA(header), &descriptor, sizeof descriptor);
  while (::sendmsg(socket_, &message, MSG_NOSIGNAL) < 0)
    if (errno != EINTR) failWith("send");
}

int Channel::receiveFile() {
  waitForBytes();
  char one = 0;
  iovec part{&one, 1};
  ControlRoom room{};
  msghdr message{};
  message.msg_iov = &part;
  message.msg_iovlen = 1;
  message.msg_control = &room;
  message.msg_controllen = sizeof room;
  ssize_t got = 0;
  do got = ::recvmsg(socket_, &message, MSG_CMSG_CLOEXEC);
  while (got < 0 && errno == EINTR);
  if (got < 0) failWith("receive");
  const cmsghdr* header = CMSG_FIRSTHDR(&message);
  if (got == 0 || !header || header->cmsg_type != SCM_RIGHTS) throw PeerGone();
  int descriptor = -1;
  std::memcpy(&descriptor, CMSG_DATA(header), sizeof descriptor);
  return descriptor;
}

}  // namespace comet
