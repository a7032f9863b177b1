// KTX 2.0 files, read field by field as the specification lists them.
#pragma once

#include "support/read.h"

#include <cstdint>
#include <cstring>
#include <gtest/gtest.h>
#include <string>
#include <vector>

namespace comet::test {

struct Ktx2 {
  std::uint32_t format = 0, width = 0, height = 0;
  std::uint32_t colorModel = 0, transfer = 0, flags = 0;  // of the data format descriptor
  std::uint32_t blockWidth = 0, blockBytes = 0;
  std::vector<std::string> levels;  // their bytes, the largest first
};

// Fails the test where the file does not hold to the specification.
inline Ktx2 readKtx2(const std::string& file) {
  const auto number = [&file](std::size_t at) {
    std::uint32_t value = 0;
    if (at + 4 <= file.size()) std::memcpy(&value, file.data() + at, 4);
    return value;
  };
  const auto longNumber = [&number](std::size_t at) {
    return number(at) | static_cast<std::uint64_t>(number(at + 4)) << 32U;
  };
  EXPECT_EQ(file.substr(0, 12), std::string("\xABKTX 20\xBB\r\n\x1A\n"));
  Ktx2 read;
  read.format = number(12);
  EXPECT_EQ(number(16), 1U) << "size of the type, of block-compressed formats";
  read.width = number(20);
  read.height = number(24);
  EXPECT_EQ(number(28), 0U) << "depth, of two-dimensional pictures";
  EXPECT_EQ(number(32), 0U) << "layers, of what is no array";
  EXPECT_EQ(number(36), 1U) << "faces";
  const std::uint32_t levels = number(40);
  EXPECT_EQ(number(44), 0U) << "supercompression";
  const std::uint32_t descriptor = number(48), descriptorBytes = number(52);
  EXPECT_EQ(number(56), descriptor + descriptorBytes) << "keys and values follow the descriptor";
  EXPECT_EQ(longNumber(72), 0U) << "global data of supercompression";
  EXPECT_EQ(descriptor, 80 + 24 * levels);
  EXPECT_EQ(number(descriptor), descriptorBytes);
  EXPECT_EQ(number(descriptor + 8) >> 16U, descriptorBytes - 4);
  const std::uint32_t model = number(descriptor + 12);
  read.colorModel = model & 0xFFU;
  read.transfer = model >> 16U & 0xFFU;
  read.flags = model >> 24U;
  read.blockWidth = (number(descriptor + 16) & 0xFFU) + 1;
  read.blockBytes = number(descriptor + 20) & 0xFFU;
  std::uint64_t end = number(56) + number(60);
  for (std::uint32_t level = levels; level-- > 0;) {
    const std::size_t entry = 80 + 24 * static_cast<std::size_t>(level);
    const std::uint64_t offset = longNumber(entry), size = longNumber(entry + 8);
    EXPECT_EQ(longNumber(entry + 16), size) << "without supercompression";
    EXPECT_EQ(offset % read.blockBytes, 0U) << "levels are aligned to blocks";
    EXPECT_GE(offset, end) << "smaller levels come first";
    EXPECT_LE(offset + size, file.size());
    const auto blocks = [&read, level](std::uint32_t pixels) {
      const std::uint32_t there = std::max(1U, pixels >> level);
      return (there + read.blockWidth - 1) / read.blockWidth;
    };
    EXPECT_EQ(size, static_cast<std::uint64_t>(blocks(read.width)) * blocks(read.height) * read.blockBytes);
    end = offset + size;
    read.levels.insert(read.levels.begin(), file.substr(offset, size));
  }
  EXPECT_EQ(end, file.size());
  return read;
}

}  // namespace comet::test
