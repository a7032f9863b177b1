// Plain numbers in a row of bytes, as they are in memory (little-endian), and back.
#pragma once

#include <cstddef>
#include <cstring>
#include <stdexcept>
#include <string>
#include <string_view>
#include <type_traits>

namespace comet {

template <typename Number>
void putNumbers(std::string& bytes, const Number* numbers, std::size_t count) {
  static_assert(std::is_trivially_copyable_v<Number>);
  bytes.append(reinterpret_cast<const char*>(numbers), count * sizeof(Number));
}

template <typename Number>
void putNumber(std::string& bytes, const Number& number) {
  putNumbers(bytes, &number, 1);
}

// What is read cannot be what was written.
struct DamagedBytes : std::runtime_error {
  DamagedBytes() : std::runtime_error("damaged bytes") {}
};

// Takes numbers from the front of the bytes, which must outlive it. Throws DamagedBytes instead of reading
// over their end.
class ByteReader {
 public:
  explicit ByteReader(std::string_view bytes) : bytes_(bytes) {}

  template <typename Number>
  void take(Number* numbers, std::size_t count) {
    static_assert(std::is_trivially_copyable_v<Number>);
    if (count > left() / sizeof(Number)) throw DamagedBytes();
    if (count > 0) std::memcpy(numbers, bytes_.data() + position_, count * sizeof(Number));
    position_ += count * sizeof(Number);
  }
  template <typename Number>
  Number take() {
    Number number{};
    take(&number, 1);
    return number;
  }
  std::size_t left() const { return bytes_.size() - position_; }
  // What has not been taken yet.
  std::string_view rest() const { return bytes_.substr(position_); }

 private:
  std::string_view bytes_;
  std::size_t position_ = 0;
};

}  // namespace comet
