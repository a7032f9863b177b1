// Bytes as text that JSON can hold (RFC 4648).
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace comet {

std::string encodeBase64(std::string_view bytes);

// Nothing if the text is not base64.
std::optional<std::string> decodeBase64(std::string_view text);

}  // namespace comet
