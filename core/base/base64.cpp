#include "base/base64.h"

#include <array>
#include <cstdint>

namespace comet {
namespace {

constexpr std::string_view kDigits = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

std::array<int, 256> digitValues() {
  std::array<int, 256> values{};
  values.fill(-1);
  for (std::size_t i = 0; i < kDigits.size(); ++i)
    values[static_cast<unsigned char>(kDigits[i])] = static_cast<int>(i);
  return values;
}

}  // namespace

std::string encodeBase64(std::string_view bytes) {
  std::string text;
  text.reserve((bytes.size() + 2) / 3 * 4);
  for (std::size_t i = 0; i < bytes.size(); i += 3) {
    const std::size_t count = std::min<std::size_t>(3, bytes.size() - i);
    std::uint32_t group = 0;
    for (std::size_t k = 0; k < 3; ++k)
      group = group << 8 | (k < count ? static_cast<unsigned char>(bytes[i + k]) : 0U);
    for (std::size_t k = 0; k < 4; ++k) text += k <= count ? kDigits[group >> (18 - 6 * k) & 63U] : '=';
  }
  return text;
}

std::optional<std::string> decodeBase64(std::string_view text) {
  static const std::array<int, 256> values = digitValues();
  if (text.size() % 4 != 0) return std::nullopt;
  std::size_t padding = 0;
  while (padding < 2 && padding < text.size() && text[text.size() - 1 - padding] == '=') ++padding;
  std::string bytes;
  bytes.reserve(text.size() / 4 * 3);
  for (std::size_t i = 0; i < text.size(); i += 4) {
    std::uint32_t group = 0;
    for (std::size_t k = 0; k < 4; ++k) {
      const bool isPadding = i + k >= text.size() - padding;
      const int value = isPadding ? 0 : values[static_cast<unsigned char>(text[i + k])];
      if (value < 0) return std::nullopt;
      group = group << 6 | static_cast<std::uint32_t>(value);
    }
    for (int shift = 16; shift >= 0; shift -= 8) bytes += static_cast<char>(group >> shift & 255U);
  }
  for (std::size_t i = 0; i < padding; ++i) bytes.pop_back();
  return bytes;
}

}  // namespace comet
